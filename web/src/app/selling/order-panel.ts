/** A customer order: its lines with their coverage, and what can be done with it now. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { NzPopoverModule } from 'ng-zorro-antd/popover';
import { api, type OrderLine, type OrderView } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { pointerOf } from '../shell/pointing';
import type { Act } from '../ui/acts';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { Fold } from '../ui/fold';
import { GroupedPipe, grouped, longDay, readyWords, shortDay } from '../ui/format';
import { LineCell, Lines, type LineColumn } from '../ui/lines';
import { CompanyCurrency, InCurrencyPipe } from '../ui/money';
import { State } from '../ui/state';
import { Tip } from '../ui/tip';
import { OrderStore, isOpen } from './order.store';
import { PriceAgain } from './price-again';
import { QuoteLost } from './quote-lost';
import { QuoteOrder } from './quote-order';
import { quoteColumns, quoteFacts } from './quote-words';

const isLate = (line: OrderLine): boolean => line.late;

/** What a line says beside its item. */
function saidOf({ theirCode, shipTo, carrier, note }: OrderLine): string {
  const parts = [theirCode === '' ? '' : `theirs: ${theirCode}`, shipTo === '' ? '' : `to ${shipTo}`, carrier === '' ? '' : `by ${carrier}`, note];
  return parts.filter(Boolean).join(' · ');
}

/** When all of it was promised, in words. */
function promisedWords(order: OrderView): string {
  if (order.promiseDate) return longDay(order.promiseDate);
  return order.state === 'draft' ? 'when confirmed' : 'not from stock and orders alone';
}

@Component({
  selector: 't-order-panel',
  imports: [
    Fold,
    PriceAgain,
    QuoteLost,
    QuoteOrder,
    NzButtonModule,
    NzPopoverModule,
    Tip,
    DocumentFrame,
    GroupedPipe,
    InCurrencyPipe,
    LineCell,
    Lines,
    RouterLink,
    State,
  ],
  providers: [OrderStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './order-panel.html',
})
export class OrderPanel {
  readonly id = input.required({ transform: numberAttribute });
  /** On a page of its own, with prices; beside a list it keeps to what fits. */
  readonly wide = input(false);
  protected readonly store = inject(OrderStore);
  private readonly router = inject(Router);
  private readonly money = inject(CompanyCurrency);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly point = pointerOf(
    this.store.record,
    (order) => order.warehouseId,
    ({ lines }) => (lines.find((line) => line.goods && line.covered !== 'all reserved' && line.covered !== 'done') ?? lines[0])?.itemId,
  );
  /** Whether the prices of today are looked at. */
  protected readonly pricing = signal(false);
  /** What is asked of a quote: how much of it is ordered, or why it is lost. */
  protected readonly offering = signal<'order' | 'lost' | null>(null);
  protected readonly facts = computed((): readonly Fact[] => {
    const order = this.store.record();
    if (!order) return [];
    if (order.kind !== 'order') return quoteFacts(order, this.wide());
    const plan = order.planned;
    return [
      { title: 'Customer', value: order.customer },
      { title: 'Wanted', value: longDay(order.requiredDate) },
      { title: 'Promised', value: promisedWords(order), trouble: order.late },
      {
        title: 'By the plan',
        value: plan ? longDay(plan.ready) || 'a part has no supply' : '',
        trouble: plan?.endangered ?? false,
        beside: { words: 'what must happen', page: ['/planning/orders', order.id] },
      },
      { title: 'Can ship', value: order.held === '' ? readyWords(order.ready) || '—' : '' },
      { title: 'Held', value: order.held, trouble: true },
      { title: 'Goes by', value: [order.carrier, order.service].filter(Boolean).join(', ') },
      { title: 'Goes to', value: order.shipTo },
      { title: 'Goes', value: order.complete ? 'as a whole or not at all' : '' },
      { title: 'From', value: order.warehouse },
      { title: 'Paid ahead', value: order.paidAhead === '0.00' ? '' : grouped(order.paidAhead), kind: 'money', currency: order.currency },
      {
        title: 'Total',
        value: grouped(order.total),
        kind: 'money',
        currency: order.currency,
        below: this.money.inBooks(grouped(order.booksTotal), order.currency, order.rate),
      },
      { title: 'Their reference', value: order.reference },
      { title: 'To be paid', value: this.wide() ? order.terms : '' },
      { title: 'Sold by', value: this.wide() ? order.salesPerson : '' },
      { title: 'Entered', value: this.wide() ? longDay(order.orderDate) : '' },
    ];
  });
  protected readonly acts = computed((): readonly Act[] => {
    const order = this.store.record();
    if (!order) return [];
    if (order.kind !== 'order') return this.quoteActs(order);
    const { id, version, state } = order;
    const [open, edits, confirms] = [isOpen(state), this.rights().has('selling.edit'), this.rights().has('selling.confirm')];
    const cancellable = ['draft', 'confirmed', 'partShipped'].includes(state);
    return [
      {
        words: 'Let it go on',
        shown: order.held !== '' && cancellable && confirms,
        first: true,
        act: () => this.store.perform(api.selling.letGoOrder, { params: { id }, body: { version } }),
      },
      { words: `Confirm ${order.number}`, shown: state === 'draft' && confirms && order.held === '', first: true, act: () => this.confirm(false) },
      {
        words: 'Go on beyond the credit limit',
        shown: this.store.problem()?.code === 'beyondCredit' && this.asked() !== null,
        act: () => this.asked()?.(true),
      },
      {
        words: 'Confirm only if all is free',
        shown: state === 'draft' && confirms && order.held === '',
        hint: 'Refuses where anything is missing and names who holds it',
        act: () => this.confirm(true),
      },
      {
        words: `Make shipment of ${order.ready === 'all' ? 'all' : 'what is reserved'}`,
        shown: open && order.held === '' && order.ready !== 'nothing' && this.rights().has('dispatch.ship'),
        first: true,
        act: () => this.ship(),
      },
      {
        words: 'Invoice what has shipped',
        shown: order.lines.some((line) => Number(line.shipped) > Number(line.invoiced)) && this.rights().has('accounts.invoice'),
        first: true,
        act: () => this.invoice(),
      },
      {
        words: 'Reserve what is free now',
        shown: open && order.ready !== 'all' && confirms,
        act: () => this.store.perform(api.selling.reserveOrder, { params: { id } }),
      },
      {
        words: state === 'draft' ? 'Print the draft (PDF)' : 'Print the confirmation (PDF)',
        shown: this.wide(),
        paper: `/api/papers/customerOrder/${id}`,
      },
      {
        words: 'Mail the confirmation',
        shown: this.wide() && state !== 'draft' && state !== 'cancelled' && confirms,
        act: () => this.store.perform(api.selling.mailConfirmation, { params: { id }, body: { version } }),
      },
      { words: 'Price it again …', shown: cancellable && edits && this.wide(), act: () => this.pricing.set(true) },
      {
        words: 'Hold …',
        shown: cancellable && confirms && order.held === '',
        asks: {
          heading: `Hold ${order.number}`,
          consequences: 'Nothing goes on with it until somebody lets it go; what is reserved for it stays reserved.',
          action: 'Hold it',
          reasonWanted: true,
        },
        act: (reason) => this.store.perform(api.selling.holdOrder, { params: { id }, body: { version, reason } }),
      },
      { words: 'Change', shown: cancellable && edits, page: ['/selling/orders', id, 'change'] },
      {
        words: 'Something comes back …',
        shown: edits && this.wide() && order.lines.some((line) => line.shipped !== '0'),
        page: ['/selling/orders', id, 'return'],
      },
      { words: 'Divide …', shown: cancellable && edits && this.wide(), page: ['/selling/orders', id, 'divide'] },
      {
        words: `Cancel ${state === 'partShipped' ? 'the rest' : 'the order'}`,
        shown: cancellable && edits,
        asks: {
          heading: `Cancel ${order.number}`,
          consequences: 'What has not shipped is cancelled, and what is reserved for it becomes free for others.',
          action: 'Cancel it',
          reasonWanted: true,
        },
        act: (reason) => this.store.perform(api.selling.cancelOrder, { params: { id }, body: { version, reason } }),
      },
    ];
  });
  /** What it was divided into, each with what can be done with it from here. */
  protected readonly familyColumns = computed((): readonly LineColumn<OrderView['family'][number]>[] => [
    { title: 'Order', cell: 'order' },
    { title: 'State', cell: 'state' },
    { title: 'Promised', value: ({ promiseDate, state }) => (state === 'cancelled' ? '' : shortDay(promiseDate) || '—') },
    { title: 'Total', figure: true, value: ({ total }) => grouped(total) },
    {
      title: 'Join',
      shown: this.store.record()?.family.some((each) => this.mayJoin(each)) ?? false,
      acts: (other) => [
        {
          words: 'Take it back in',
          shown: this.mayJoin(other),
          asks: {
            heading: `Take ${other.number} back into ${this.store.record()?.number ?? ''}`,
            consequences: 'What was divided is one order again, with what is reserved for it; the other is cancelled.',
            action: 'Join them',
          },
          act: () => this.join(other),
        },
      ],
    },
  ]);
  protected readonly columns = computed((): readonly LineColumn<OrderLine>[] => {
    const wide = this.wide();
    if ((this.store.record()?.kind ?? 'order') !== 'order') return quoteColumns(wide);
    return [
      { title: 'Item', item: (line) => line, below: (line) => (wide ? saidOf(line) : '') },
      {
        title: 'Ordered',
        figure: true,
        value: (line) => grouped(line.quantity),
        unit: (line) => line.unit,
        below: (line) => (line.free === '0' ? '' : `${grouped(line.free)} free${wide ? ' of charge' : ''}`),
      },
      { title: 'Covered', cell: 'covered' },
      {
        title: 'Promised',
        trouble: isLate,
        value: (line) => shortDay(line.promiseDate) || (line.goods ? '—' : ''),
        below: (line) => (isLate(line) ? `wanted ${shortDay(line.requiredDate)}` : ''),
      },
      { title: 'Shipped', figure: true, value: (line) => grouped(line.shipped) },
      { title: 'Price', figure: true, shown: wide, cell: 'price' },
      { title: 'Disc. %', figure: true, shown: wide, value: (line) => line.discount },
      { title: 'Amount', figure: true, shown: wide, value: (line) => grouped(line.amount) },
      { title: 'Invoiced', figure: true, shown: wide, value: (line) => grouped(line.invoiced) },
      {
        title: 'Cancelled',
        figure: true,
        shown: wide && this.someCancelled(),
        value: (line) => (line.cancelled === '0' ? '' : grouped(line.cancelled)),
      },
      {
        title: 'Change',
        shown: wide,
        acts: (line) => [
          {
            words: 'Cancel',
            shown: line.outstanding !== '0' && this.mayCancel(),
            asks: {
              heading: `Cancel ${line.outstanding} ${line.code}`,
              consequences:
                'What of the line has not shipped is cancelled, and what is reserved for it becomes free for others. The order is worth less.',
              action: 'Cancel it',
              reasonWanted: true,
            },
            act: (reason) => this.cancelLine(line.id, reason),
          },
        ],
      },
    ];
  });

  private quoteActs(quote: OrderView): readonly Act[] {
    const { id, version, state } = quote;
    const edits = (state === 'offered' || state === 'agreed') && this.rights().has('selling.edit');
    return [
      { words: 'Make an order …', shown: edits && !quote.lapsed && quote.kind === 'quote', first: true, act: () => this.offering.set('order') },
      { words: 'Call off …', shown: edits && !quote.lapsed && quote.kind === 'blanket', first: true, act: () => this.offering.set('order') },
      { words: quote.lapsed ? 'Let it hold longer' : 'Change', shown: edits, first: quote.lapsed, page: ['/selling/orders', id, 'change'] },
      { words: 'Print it (PDF)', shown: this.wide(), paper: `/api/papers/customerOrder/${id}` },
      {
        words: 'Mail it',
        shown: this.wide() && edits && this.rights().has('selling.confirm'),
        act: () => this.store.perform(api.selling.mailConfirmation, { params: { id }, body: { version } }),
      },
      { words: quote.kind === 'quote' ? 'Lost …' : 'End it …', shown: edits, act: () => this.offering.set('lost') },
    ];
  }

  /** A quote was lost: what it is now. */
  protected lost(): void {
    this.offering.set(null);
    this.store.reload();
  }

  private mayJoin({ id, state }: OrderView['family'][number]): boolean {
    const order = this.store.record();
    if (!order || !this.rights().has('selling.edit') || id === order.id) return false;
    const [here, there] = [order.state === 'draft', state === 'draft'];
    return here === there && ['draft', 'confirmed'].includes(state) && ['draft', 'confirmed', 'partShipped'].includes(order.state);
  }

  private join({ id, version }: OrderView['family'][number]): void {
    const order = this.store.record();
    if (!order) return;
    this.store.perform(
      api.selling.joinOrders,
      { params: { id: order.id }, body: { version: order.version, others: [{ id, version }] } },
      () => this.store.load(order.id),
      false,
    );
  }

  private someCancelled(): boolean {
    return this.store.record()?.lines.some((line) => line.cancelled !== '0') ?? false;
  }

  /** Whether a line can be cancelled by itself: of the only one left, the order is. */
  private mayCancel(): boolean {
    const order = this.store.record();
    if (!order || !this.rights().has('selling.edit')) return false;
    return ['draft', 'confirmed', 'partShipped'].includes(order.state) && order.lines.filter((line) => line.outstanding !== '0').length > 1;
  }

  private cancelLine(line: number, reason: string): void {
    const order = this.store.record();
    if (order) this.store.perform(api.selling.cancelLine, { params: { id: order.id, line }, body: { version: order.version, reason } });
  }

  constructor() {
    showRecord(this.id, this.store, () => this.offering.set(null));
  }

  /** What was asked for last that a credit limit may stand against: it can be asked for again, beyond the limit. */
  private readonly asked = signal<((beyondCredit: boolean) => void) | null>(null);

  private withinCredit(act: (beyondCredit: boolean, version: number) => void): void {
    this.asked.set((beyondCredit) => act(beyondCredit, this.store.record()?.version ?? 0));
    this.asked()?.(false);
  }

  private confirm(allOrNothing: boolean): void {
    const params = { id: this.id() };
    this.withinCredit((beyondCredit, version) =>
      this.store.perform(api.selling.confirmOrder, { params, body: { version, allOrNothing, beyondCredit } }),
    );
  }

  protected priceAgain(lines: number[]): void {
    this.pricing.set(false);
    const params = { id: this.id() };
    this.withinCredit((beyondCredit, version) => this.store.perform(api.selling.priceAgain, { params, body: { version, lines, beyondCredit } }));
  }

  private ship(): void {
    this.store.perform(
      api.dispatch.createShipment,
      { body: { orderId: this.id() } },
      (shipment) => void this.router.navigateByUrl(`/dispatch/shipments/${shipment.id}`),
      false,
    );
  }

  private invoice(): void {
    this.store.perform(
      api.selling.invoiceOrder,
      { params: { id: this.id() }, body: {} },
      (invoice) => void this.router.navigateByUrl(`/accounts/invoices/${invoice.id}`),
      false,
    );
  }
}
