/** Order entry, by keyboard alone: the order of the fields is the order of work. */
import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, untracked, viewChild } from '@angular/core';
import { Router } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnyRoute } from '@terrace/contract';
import { Choices } from '../client/choices';
import { useKeys } from '../ui/keys';
import { AvailabilityBeside } from '../ui/availability';
import { CapableBeside } from '../ui/capable';
import { CheckField } from '../ui/check-field';
import { ChoiceField } from '../ui/choice-field';
import { DateField, NumberField } from '../ui/fields';
import { Control, beginsAt, disabled, entryOf, writable } from '../ui/forms';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { Labelled } from '../ui/labelled';
import { itemOf } from '../ui/entry-line';
import { LineEntry } from '../ui/line-entry';
import { OneOfField } from '../ui/one-of';
import { OwnFields } from '../ui/own-fields';
import { Refused } from '../ui/refusal';
import { OrderEntryStore, type EntryState } from './order-entry.store';
import { PriceWhy } from './price-why';
import { InCurrencyPipe } from '../ui/money';
import { Leave } from '../ui/leave';
import { ShipTo } from '../ui/ship-to';
import { TextArea, TextField } from '../ui/text-field';
import { SelectField, SelectOption } from '../ui/select-field';

/** What is entered of an order. */
type OrderDraft = Pick<
  EntryState,
  | 'customerId'
  | 'reference'
  | 'requiredDate'
  | 'warehouseId'
  | 'note'
  | 'carrier'
  | 'service'
  | 'shipTo'
  | 'paymentTerm'
  | 'salesPersonId'
  | 'complete'
  | 'charges'
  | 'kind'
  | 'validUntil'
  | 'probability'
  | 'custom'
  | 'lines'
>;

const NAMES = { order: 'customer order', quote: 'quote', blanket: 'blanket order' } as const;
const OFFERS = [
  { value: 'quote', words: 'A quote' },
  { value: 'blanket', words: 'A blanket order' },
] as const;

/** What can be taken again by a key of its own. */
const AGAIN = [1, 2, 3, 4, 5, 6, 7, 8, 9];

@Component({
  imports: [
    CheckField,
    Control,
    ShipTo,
    NzButtonModule,
    TextArea,
    SelectField,
    SelectOption,
    TextField,
    Leave,
    InCurrencyPipe,
    ChoiceField,
    DateField,
    LineEntry,
    AvailabilityBeside,
    CapableBeside,
    Labelled,
    NumberField,
    OneOfField,
    OwnFields,
    PriceWhy,
    Refused,
    GroupedPipe,
    ShortDayPipe,
  ],
  providers: [OrderEntryStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './order-entry.page.html',
  styleUrl: '../ui/entry.less',
})
export class OrderEntryPage {
  readonly id = input<string>();
  /** Whether a quote is entered and no order. */
  readonly offer = input<'quote'>();
  protected readonly store = inject(OrderEntryStore);
  protected readonly choices = inject(Choices);
  private readonly router = inject(Router);
  private readonly customer = viewChild.required<ChoiceField>('customer');
  private readonly lines = viewChild.required(LineEntry);
  private readonly form = viewChild.required<ElementRef<HTMLElement>>('header');
  private readonly changes = viewChild<ElementRef<HTMLElement>>('changes');
  protected readonly quantityInHand = computed(() => this.store.lines()[this.store.at()]?.quantity ?? '');

  /** When the line in hand is wanted: on a day of its own, or with the order. */
  protected readonly dateInHand = computed(() => this.store.lines()[this.store.at()]?.date || this.store.requiredDate());

  /** The line that was refused for its ceiling, where somebody who may can give a reason; else -1. */
  protected readonly beyond = computed(() => {
    const problem = this.store.problem();
    if (problem?.code !== 'overCeiling' || problem.details['reasonNeeded'] !== true) return -1;
    return Number(/^lines\.(\d+)\./.exec(Object.keys(problem.fields)[0] ?? '')?.[1] ?? -1);
  });

  private readonly draft = writable(
    (): OrderDraft => ({
      customerId: this.store.customerId(),
      reference: this.store.reference(),
      requiredDate: this.store.requiredDate(),
      warehouseId: this.store.warehouseId(),
      note: this.store.note(),
      carrier: this.store.carrier(),
      service: this.store.service(),
      shipTo: this.store.shipTo(),
      paymentTerm: this.store.paymentTerm(),
      salesPersonId: this.store.salesPersonId(),
      complete: this.store.complete(),
      charges: this.store.charges(),
      kind: this.store.kind(),
      validUntil: this.store.validUntil(),
      probability: this.store.probability(),
      custom: this.store.custom(),
      lines: this.store.lines(),
    }),
    (draft) => this.store.set(draft),
  );
  protected readonly entry = entryOf({
    draft: this.draft,
    problem: this.store.problem,
    route: () => this.route(),
    body: () => this.store.body(),
    ready: () => !this.store.awaited(),
    shape: (path) => disabled(path.warehouseId, () => !['draft', 'offered', 'agreed'].includes(this.store.order()?.state ?? 'draft')),
  });

  constructor() {
    // What is loaded is not typed.
    effect(() => {
      if (this.store.order()) untracked(() => this.entry.over(this.draft()));
    });
    effect(() => {
      const id = Number(this.id() ?? 0);
      if (id > 0) untracked(() => this.store.load(id));
    });
    effect(() => {
      const customer = this.store.customerId();
      untracked(() => this.store.meet(customer));
    });
    effect(() => {
      const draft = this.draft();
      untracked(() => this.store.charge(draft));
    });
    effect(() => {
      const warehouse = this.choices.warehouseId();
      untracked(() => {
        if (!this.store.order()) this.entry.preset({ warehouseId: warehouse });
      });
    });
    effect(() => {
      const kind = this.offer();
      untracked(() => {
        if (kind !== undefined && !this.store.order()) this.entry.preset({ kind });
      });
    });
    // Whoever saves from far below is shown what follows from it.
    effect(() => this.changes()?.nativeElement.scrollIntoView({ block: 'center' }));
    beginsAt(this.entry, this.customer);
    useKeys([
      { key: 'Ctrl+Enter', words: 'Save and confirm', act: () => this.save(true) },
      { key: 'Ctrl+S', words: 'Save as a draft', act: () => this.save(false) },
      { key: 'Alt+Enter', words: 'More of the line in hand', act: () => this.lines().unfold() },
      ...AGAIN.map((nth) => ({ key: `Alt+${nth}`, words: `Take what they bought before, number ${nth}`, act: () => this.again(nth - 1) })),
    ]);
  }

  /** Takes what the customer ordered before as one more line, as many as then and at today's price. */
  protected again(at: number): void {
    const bought = this.store.bought()[at];
    if (!bought) return;
    this.lines().addItem({ item: itemOf(bought, bought.price), quantity: bought.quantity, discount: bought.discount });
  }

  protected readonly kinds = OFFERS;
  /** What is entered, in words. */
  protected readonly named = computed(() => NAMES[this.store.kind()]);

  private route(): AnyRoute {
    const { createOrder, changeOrder, createQuote, changeQuote } = api.selling;
    if (this.store.kind() === 'order') return this.store.order() ? changeOrder : createOrder;
    return this.store.order() ? changeQuote : createQuote;
  }

  /** How the price of the line in hand came about; a line without an item has none. */
  protected readonly pricedInHand = computed(() => (this.store.lines()[this.store.at()]?.item ? this.store.priced() : null));

  /** Enter goes on through the header, then into the lines. */
  protected next(event: Event): void {
    event.preventDefault();
    const fields = [...this.form().nativeElement.querySelectorAll<HTMLElement>('input')];
    const from = event.target as HTMLElement;
    const following = fields[fields.findIndex((each) => from.contains(each)) + 1];
    if (following) following.focus();
    else this.lines().start();
  }

  protected save(confirm: boolean, beyondCredit = false): void {
    (document.activeElement as HTMLElement | null)?.blur();
    this.store.save(
      confirm,
      (order) => {
        this.entry.settle();
        void this.router.navigateByUrl(`/selling/orders/${order.id}`);
      },
      beyondCredit,
    );
  }

  protected reason(reason: string): void {
    const at = this.beyond();
    this.store.set({ lines: this.store.lines().map((line, index) => (index === at ? { ...line, reason } : line)) });
  }

  protected fromElsewhere(warehouseId: number): void {
    this.store.set({ warehouseId });
    this.store.point(this.store.at());
  }
}
