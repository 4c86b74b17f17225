/** A field that finds an item by code, barcode or words in any order. */
import { OverlayModule } from '@angular/cdk/overlay';
import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, DestroyRef, inject, input, linkedSignal, output, signal, viewChild } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { NzInputModule } from 'ng-zorro-antd/input';
import { Subject, debounceTime, of, switchMap } from 'rxjs';
import { api, type ItemChoice } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { FoundList, FoundRow } from './found-list';

const WAIT_MS = 80;

@Component({
  selector: 't-item-field',
  imports: [FoundList, FoundRow, NzInputModule, OverlayModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      #box
      cdkOverlayOrigin
      #origin="cdkOverlayOrigin"
      nz-input
      class="box"
      role="combobox"
      autocomplete="off"
      [attr.aria-label]="label()"
      [attr.aria-controls]="list.shown() ? list.id : null"
      [attr.aria-expanded]="list.shown()"
      [attr.aria-activedescendant]="list.reachedId()"
      [attr.aria-invalid]="!!refused()"
      [placeholder]="placeholder()"
      [value]="text()"
      (input)="type(box.value)"
      (keydown)="key($event)"
      (blur)="leave()"
    />
    <t-found-list #list [found]="choices()" [open]="choices().length > 0" [origin]="origin" label="Items found" width="380px" (taken)="take($event)">
      <ng-template tFound [of]="choices()" let-choice
        ><span class="item"
          ><span class="code">{{ choice.code }}</span
          ><span>{{ choice.description }}</span
          ><span class="quiet">{{ choice.unit }}</span></span
        ></ng-template
      >
    </t-found-list>
  `,
  styles: `
    :host {
      display: block;
    }
    .item {
      display: grid;
      grid-template-columns: 110px 1fr auto;
      gap: 10px;
    }
  `,
})
export class ItemField {
  readonly code = input('');
  readonly label = input('Item');
  readonly placeholder = input('code, barcode or words');
  readonly refused = input<string | undefined>();
  /** The customer by whose own numbers it may be called. */
  readonly customer = input(0);
  readonly taken = output<ItemChoice>();
  private readonly client = inject(ApiClient);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  private readonly wanted = new Subject<string>();
  protected readonly text = linkedSignal(() => this.code());
  protected readonly choices = signal<readonly ItemChoice[]>([]);
  private readonly list = viewChild.required<FoundList<ItemChoice>>('list');
  private waitingForEnter = false;

  constructor() {
    this.wanted
      .pipe(
        debounceTime(WAIT_MS),
        switchMap((text) =>
          text.trim() === ''
            ? of([])
            : this.client.beside(api.catalogue.findItems, { query: { text, ...(this.customer() > 0 ? { customer: this.customer() } : {}) } }, []),
        ),
        takeUntilDestroyed(inject(DestroyRef)),
      )
      .subscribe((found) => {
        this.choices.set(found);
        if (this.waitingForEnter && found[0]) this.take(found[0]);
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
    if (this.list().move(event)) {
      event.stopPropagation();
      return;
    }
    if (event.key === 'Escape' && count > 0) this.choices.set([]);
    else if (event.key === 'Enter' && this.text().trim() !== '' && !event.ctrlKey) {
      if (this.text() === this.code() && count === 0) return;
      // A scanner sends its Enter before the answer can be here.
      this.waitingForEnter = true;
      if (count > 0) this.takeReached();
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

  private takeReached(): void {
    const choice = this.list().reached(this.choices());
    if (choice) this.take(choice);
  }
}
