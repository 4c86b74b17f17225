/** One field to find or scan anything: number, code, barcode, name or words. */
import { ChangeDetectionStrategy, Component, inject, signal, viewChild } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Router } from '@angular/router';
import { Subject, debounceTime, of, switchMap } from 'rxjs';
import { api, type Found } from '@terrace/contract';
import { State } from '../ui/state';
import { kindWords, pageOf } from '../ui/documents';
import { ApiClient } from '../client/api-client';
import { TextField } from '../ui/text-field';

const WAIT_MS = 100;

@Component({
  selector: 't-finder',
  imports: [TextField, State],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-text
      #box
      type="search"
      role="combobox"
      label="Find or scan anything"
      controls="found"
      [expanded]="open()"
      placeholder="Find or scan anything   /"
      (valueChange)="type($event)"
      (keydown)="key($event)"
      (focusout)="open.set(false)"
      (focusin)="box.select()"
    />
    @if (open()) {
      <ul id="found" role="listbox" aria-label="Found">
        @for (each of found(); track each.kind + each.id; let index = $index) {
          <li role="option" [attr.aria-selected]="index === at()" [class.at]="index === at()" (mousedown)="$event.preventDefault(); go(each)">
            <span class="quiet">{{ words(each.kind) }}</span><span class="code">{{ each.title }}</span
            ><span class="detail">{{ each.detail }}</span>
            @if (each.state; as state) {
              <t-state [state]="state" />
            }
          </li>
        } @empty {
          <li class="quiet" role="option" aria-selected="false">Nothing has all these words.</li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      position: relative;
      display: block;
    }
    ul {
      position: absolute;
      z-index: 40;
      top: 32px;
      left: 0;
      right: 0;
      min-width: min(560px, 90vw);
      max-height: 70vh;
      overflow: auto;
      margin: 0;
      padding: 2px;
      list-style: none;
      background: var(--surface);
      border: 1px solid var(--line-strong);
      box-shadow: 0 4px 14px rgb(0 0 0 / 0.18);
    }
    li {
      display: grid;
      grid-template-columns: 110px 120px 1fr auto;
      gap: 10px;
      padding: 5px 8px;
      cursor: pointer;
      font-size: 13px;
    }
    li.at {
      background: var(--chosen);
    }
    .detail {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
  `,
})
export class Finder {
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly box = viewChild.required<TextField>('box');
  private readonly wanted = new Subject<string>();
  protected readonly found = signal<readonly Found[]>([]);
  protected readonly at = signal(0);
  protected readonly open = signal(false);
  protected readonly words = kindWords;
  private enterPressed = false;

  constructor() {
    this.wanted
      .pipe(
        debounceTime(WAIT_MS),
        switchMap((text) => (text.trim() === '' ? of(null) : this.client.beside(api.platform.find, { query: { text } }, null))),
        takeUntilDestroyed(),
      )
      .subscribe((found) => {
        this.found.set(found ?? []);
        this.at.set(0);
        this.open.set(found !== null);
        const [first] = found ?? [];
        if (this.enterPressed && first) this.go(first);
      });
  }

  focus(): void {
    this.box().focus();
  }

  protected type(text: string): void {
    this.enterPressed = false;
    this.wanted.next(text);
  }

  protected key(event: KeyboardEvent): void {
    const count = this.found().length;
    if (event.key === 'ArrowDown' && count > 0) this.at.update((at) => (at + 1) % count);
    else if (event.key === 'ArrowUp' && count > 0) this.at.update((at) => (at + count - 1) % count);
    else if (event.key === 'Escape') this.open.set(false);
    else if (event.key === 'Enter') {
      const chosen = this.open() ? this.found()[this.at()] : undefined;
      if (chosen) this.go(chosen);
      else this.enterPressed = true;
    } else return;
    event.preventDefault();
  }

  protected go(found: Found): void {
    this.box().leave();
    this.open.set(false);
    this.enterPressed = false;
    const page = pageOf(found.kind, found.id) ?? (found.kind === 'supplier' ? '/catalogue/suppliers' : '/catalogue/customers');
    void this.router.navigateByUrl(page);
  }
}
