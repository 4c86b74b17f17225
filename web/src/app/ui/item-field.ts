/** A field that finds an item by code, barcode or words in any order. */
import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, DestroyRef, inject, input, linkedSignal, output, signal, viewChild } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { NzInputModule } from 'ng-zorro-antd/input';
import { Subject, debounceTime, of, switchMap } from 'rxjs';
import { api, type ItemChoice } from '@terrace/contract';
import { ApiClient } from '../client/api-client';

const WAIT_MS = 80;

@Component({
  selector: 't-item-field',
  imports: [NzInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      #box
      nz-input
      class="box"
      role="combobox"
      autocomplete="off"
      [attr.aria-label]="label()"
      [attr.aria-expanded]="choices().length > 0"
      aria-controls="item-choices"
      [attr.aria-invalid]="!!refused()"
      [title]="refused() ?? ''"
      [placeholder]="placeholder()"
      [value]="text()"
      (input)="type(box.value)"
      (keydown)="key($event)"
      (blur)="leave()"
    />
    @if (choices().length > 0) {
      <ul id="item-choices" role="listbox" aria-label="Items found">
        @for (choice of choices(); track choice.id; let index = $index) {
          <li role="option" [attr.aria-selected]="index === at()" [class.at]="index === at()" (mousedown)="$event.preventDefault(); take(choice)">
            <span class="code">{{ choice.code }}</span><span>{{ choice.description }}</span
            ><span class="quiet">{{ choice.unit }}</span>
          </li>
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
      z-index: 30;
      left: 0;
      min-width: 380px;
      margin: 2px 0 0;
      padding: 2px;
      list-style: none;
      background: var(--surface);
      border: 1px solid var(--line-strong);
      box-shadow: 0 4px 14px rgb(0 0 0 / 0.18);
    }
    li {
      display: grid;
      grid-template-columns: 110px 1fr auto;
      gap: 10px;
      padding: 4px 8px;
      cursor: pointer;
      font-size: 13px;
    }
    li.at {
      background: var(--chosen);
    }
  `,
})
export class ItemField {
  readonly code = input('');
  readonly label = input('Item');
  readonly placeholder = input('code, barcode or words');
  readonly refused = input<string | undefined>();
  readonly taken = output<ItemChoice>();
  private readonly client = inject(ApiClient);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  private readonly wanted = new Subject<string>();
  protected readonly text = linkedSignal(() => this.code());
  protected readonly choices = signal<readonly ItemChoice[]>([]);
  protected readonly at = signal(0);
  private waitingForEnter = false;

  constructor() {
    this.wanted
      .pipe(
        debounceTime(WAIT_MS),
        switchMap((text) => (text.trim() === '' ? of([]) : this.client.beside(api.catalogue.findItems, { query: { text } }, []))),
        takeUntilDestroyed(inject(DestroyRef)),
      )
      .subscribe((found) => {
        this.choices.set(found);
        this.at.set(0);
        if (this.waitingForEnter) this.takeFirst();
      });
  }

  focus(): void {
    this.box().nativeElement.focus();
  }

  protected type(text: string): void {
    this.text.set(text);
    this.waitingForEnter = false;
    this.choices.set([]);
    this.wanted.next(text);
  }

  protected key(event: KeyboardEvent): void {
    const count = this.choices().length;
    if (event.key === 'ArrowDown' && count > 0) this.at.update((at) => (at + 1) % count);
    else if (event.key === 'ArrowUp' && count > 0) this.at.update((at) => (at + count - 1) % count);
    else if (event.key === 'Escape' && count > 0) this.choices.set([]);
    else if (event.key === 'Enter' && this.text().trim() !== '' && !event.ctrlKey) {
      if (this.text() === this.code() && count === 0) return;
      // A scanner sends its Enter before the answer can be here.
      this.waitingForEnter = true;
      if (count > 0) this.takeFirst();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  protected take(choice: ItemChoice): void {
    this.text.set(choice.code);
    this.choices.set([]);
    this.waitingForEnter = false;
    this.taken.emit(choice);
  }

  protected leave(): void {
    this.choices.set([]);
  }

  private takeFirst(): void {
    const choice = this.choices()[this.at()];
    if (choice) this.take(choice);
  }
}
