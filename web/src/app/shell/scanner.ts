/** A scanner to try things with: in the demo company it sends what a real one would to the field in use, or finds it. */
import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type ScanView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';

interface Sample {
  readonly words: string;
  readonly code: string;
}

/** Types a code into a field as a scanner does: all at once, with Enter at its end. */
export function sendScan(field: HTMLElement, code: string): void {
  if (!(field instanceof HTMLInputElement) && !(field instanceof HTMLTextAreaElement)) return;
  field.focus();
  field.value = field instanceof HTMLTextAreaElement && field.value !== '' ? `${field.value}\n${code}` : code;
  field.dispatchEvent(new Event('input', { bubbles: true }));
  field.dispatchEvent(new Event('change', { bubbles: true }));
  field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
}

@Component({
  selector: 't-scanner',
  imports: [NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-label="Scanner to try with">
      <div class="acts">
        <h2>Scanner</h2>
        <button nz-button type="button" class="act small" (mousedown)="$event.preventDefault()" (click)="closed.emit()">Put away</button>
      </div>
      <p class="quiet">Click into a field, then press a code here: it is typed there as a scanner would. With no field in use it is looked up.</p>
      @for (sample of samples(); track sample.code) {
        <button nz-button type="button" class="act sample" (mousedown)="$event.preventDefault()" (click)="scan(sample.code)">
          <b>{{ sample.words }}</b><span class="code">{{ sample.code }}</span>
        </button>
      } @empty {
        <p class="quiet">Nothing here has a barcode yet.</p>
      }
      @if (read(); as said) {
        <p>{{ said }}</p>
      }
    </section>
  `,
  styles: `
    section {
      position: fixed;
      z-index: 50;
      right: 12px;
      bottom: 12px;
      display: grid;
      gap: 6px;
      width: min(340px, 90vw);
      max-height: 70vh;
      overflow: auto;
      padding: 12px;
      background: var(--surface);
      border: 1px solid var(--line-strong);
      box-shadow: 0 4px 18px rgb(0 0 0 / 0.25);
    }
    .acts {
      justify-content: space-between;
    }
    .act.sample {
      display: grid;
      height: auto;
      font-weight: 400;
      gap: 2px;
      padding: 6px 8px;
      text-align: left;
      border: 1px solid var(--line);
      background: var(--raised);
      color: var(--ink);
      cursor: pointer;
      overflow: hidden;
    }
    .sample .code {
      overflow: hidden;
      text-overflow: ellipsis;
      font-size: 12px;
      color: var(--quiet);
    }
    .sample:hover {
      border-color: var(--accent);
    }
  `,
})
export class Scanner {
  private readonly client = inject(ApiClient);
  readonly closed = output();
  protected readonly samples = signal<readonly Sample[]>([]);
  protected readonly read = signal('');

  constructor() {
    this.client.beside(api.stores.scanSamples, {}, []).subscribe((samples) => this.samples.set(samples));
  }

  protected scan(code: string): void {
    const field = document.activeElement;
    if (field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement) {
      sendScan(field, code);
      this.read.set('');
      return;
    }
    this.client.call(api.stores.scan, { query: { text: code } }).subscribe({
      next: (view) => this.read.set(wordsOf(view)),
      error: (error: unknown) => this.read.set(error instanceof Error ? error.message : 'It could not be read.'),
    });
  }
}

/** What a scan says, in words. */
export function wordsOf(view: ScanView): string {
  return [
    view.item ? `${view.item.code} ${view.item.description}` : '',
    view.lot === null ? '' : `lot ${view.lot}`,
    view.serial === null ? '' : `number ${view.serial}`,
    view.expiry === null ? '' : `expires ${view.expiry}`,
    view.quantity === null ? '' : `quantity ${view.quantity}`,
    view.bin === null ? '' : `bin ${view.bin}`,
    view.sscc === null ? '' : `parcel ${view.sscc}`,
  ]
    .filter((part) => part !== '')
    .join(', ');
}
