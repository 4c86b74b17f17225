/** The trade counter: one field for scanner and keyboard, the basket under it, paying, the receipt and the drawer beside. */
import { ChangeDetectionStrategy, Component, afterNextRender, computed, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type { SaleView } from '@terrace/contract';
import { Choices } from '../client/choices';
import { whenHeard } from '../client/heard';
import { ChoiceField } from '../ui/choice-field';
import { Empty } from '../ui/empty';
import { GroupedPipe } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Labelled } from '../ui/labelled';
import { InCurrencyPipe } from '../ui/money';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { CounterDrawer } from './counter-drawer';
import { CounterReturn } from './counter-return';
import { CounterStore } from './counter.store';
import { ReceiptStrip } from './receipt-strip';

const TAKE_UP = [1, 2, 3, 4, 5, 6, 7, 8, 9] as const;

@Component({
  imports: [
    ChoiceField,
    CounterDrawer,
    CounterReturn,
    Empty,
    GroupedPipe,
    InCurrencyPipe,
    Labelled,
    NzButtonModule,
    ReceiptStrip,
    Refused,
    RouterLink,
    Sheet,
    TextField,
  ],
  providers: [CounterStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './counter.page.html',
  styleUrl: './counter.page.less',
})
export class CounterPage {
  protected readonly store = inject(CounterStore);
  protected readonly choices = inject(Choices);
  private readonly field = viewChild.required<TextField>('field');
  protected readonly typed = signal('');
  /** Whether the drawer is being closed. */
  protected readonly counting = signal(false);
  protected readonly words = computed(() => {
    if (this.store.step() === 'pay') return 'Cash handed over, c for card, t for transfer, a for on account';
    return this.store.lines().length === 0 ? 'Scan, or type a code or words' : 'Next item, or Enter to pay';
  });
  /** The basket as it is priced, a line of it for each that was scanned. */
  protected readonly rows = computed(() => {
    const priced = this.store.priced()?.lines ?? [];
    return this.store.lines().map((line, at) => ({ ...line, priced: priced[at]?.itemId === line.itemId ? priced[at] : null }));
  });

  constructor() {
    effect(() => {
      const warehouse = this.choices.warehouseId();
      untracked(() => {
        if (warehouse > 0) this.store.begin(warehouse);
      });
    });
    // Whatever was done, the next scan goes into the field.
    effect(() => {
      this.store.step();
      this.store.sale();
      this.store.found();
      untracked(() => this.focus());
    });
    afterNextRender(() => this.focus());
    whenHeard(
      () => ['counterSale', 'drawer'],
      () => this.store.loadDrawer(),
    );
    useKeys([
      { key: 'Alt+P', words: 'Put the basket aside', act: () => this.store.park() },
      { key: 'Alt+D', words: 'Count the drawer', act: () => this.counting.update((counting) => !counting) },
      { key: 'Escape', words: 'Back to the basket', act: () => this.back() },
      ...TAKE_UP.map((nth) => ({ key: `Alt+${nth}`, words: `Take up basket ${nth}`, act: () => this.takeUp(nth - 1) })),
    ]);
  }

  private focus(): void {
    setTimeout(() => {
      if (!this.store.receipt() && !this.counting()) this.field().focus();
    });
  }

  /** Enter takes what was typed; the arrows go through the basket. */
  protected key(event: KeyboardEvent): void {
    if (event.key === 'Enter') {
      event.preventDefault();
      this.store.type(this.field().take());
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      this.store.point(this.store.at() + (event.key === 'ArrowUp' ? -1 : 1));
    }
  }

  protected meet(customerId: number): void {
    this.store.meet(customerId);
    this.focus();
  }

  private takeUp(index: number): void {
    const parked = this.store.parked()[index];
    if (parked) this.store.takeUp(parked.id);
  }

  protected counted(): void {
    this.counting.set(false);
    this.store.loadDrawer();
    this.focus();
  }

  protected tookBack(sale: SaleView): void {
    this.store.tookBack(sale);
  }

  protected back(): void {
    this.counting.set(false);
    this.typed.set('');
    this.store.back();
    this.focus();
  }
}
