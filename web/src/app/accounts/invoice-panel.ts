/** A customer invoice: its lines, what is paid, and what is open. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, paymentMethods, type BodyIn, type InvoiceView } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import type { Act } from '../ui/acts';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { DateField, NumberField } from '../ui/fields';
import { Control, entryOf, overRecord } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { GroupedPipe, grouped, longDay, LongDayPipe } from '../ui/format';
import { Lines, type LineColumn } from '../ui/lines';
import { CompanyCurrency, InCurrencyPipe } from '../ui/money';
import { withRecord } from '../ui/record.store';
import { SelectField, SelectOption } from '../ui/select-field';

const InvoiceStore = signalStore(withRecord<InvoiceView>(api.accounts.getInvoice, 'invoice'));

interface PaymentDraft {
  readonly amount: string;
  readonly method: (typeof paymentMethods)[number];
  /** Empty for today. */
  readonly date: string;
}
const bodyOf = ({ date, ...draft }: PaymentDraft): BodyIn<typeof api.accounts.payInvoice> => ({ ...draft, ...(date === '' ? {} : { date }) });

const CONTRARY = { consequences: 'A contrary entry is posted; nothing is deleted.', action: 'Take it back' };

@Component({
  selector: 't-invoice-panel',
  imports: [Control, DateField, Labelled, SelectField, SelectOption, DocumentFrame, GroupedPipe, InCurrencyPipe, Lines, LongDayPipe, NumberField],
  providers: [InvoiceStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './invoice-panel.html',
})
export class InvoicePanel {
  readonly id = input.required({ transform: numberAttribute });
  readonly wide = input(false);
  protected readonly store = inject(InvoiceStore);
  private readonly currency = inject(CompanyCurrency);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  private readonly draft = signal<PaymentDraft>({ amount: '', method: 'transfer', date: '' });
  protected readonly entry = entryOf({
    part: () => `payment of ${this.store.record()?.id ?? 0}`,
    draft: this.draft,
    problem: this.store.problem,
    route: () => (this.payable() ? api.accounts.payInvoice : null),
    body: bodyOf,
  });
  protected readonly methods = paymentMethods;
  protected readonly payable = computed(() => this.store.record()?.state === 'open' && this.rights().has('accounts.pay'));
  protected readonly facts = computed((): readonly Fact[] => {
    const invoice = this.store.record();
    if (!invoice) return [];
    return [
      { title: 'Customer', value: invoice.customer },
      { title: 'Order', value: invoice.order, kind: 'code', page: ['/selling/orders', invoice.orderId] },
      { title: 'Date', value: longDay(invoice.date) },
      { title: 'Due', value: longDay(invoice.dueDate), trouble: invoice.overdue },
      { title: 'Total', value: grouped(invoice.total), kind: 'money' },
      { title: 'Open', value: grouped(invoice.open), kind: 'money' },
    ];
  });
  protected readonly acts = computed((): readonly Act[] => {
    const invoice = this.store.record();
    if (!invoice) return [];
    const { id, version } = invoice;
    return [
      {
        words: `Record ${this.currency.behind(grouped(this.draft().amount))}`,
        shown: this.payable(),
        first: true,
        act: () => this.store.perform(api.accounts.payInvoice, { params: { id }, body: bodyOf(this.draft()) }, () => this.entry.settle()),
      },
      { words: 'Print (PDF)', paper: `/api/papers/invoice/${id}` },
      {
        words: 'Take back',
        shown: invoice.state === 'open' && invoice.paid === '0.00' && this.rights().has('accounts.invoice'),
        asks: { heading: `Take ${invoice.number} back`, ...CONTRARY },
        act: () => this.store.perform(api.accounts.reverseInvoice, { params: { id }, body: { version } }),
      },
    ];
  });
  protected readonly columns: readonly LineColumn<InvoiceView['lines'][number]>[] = [
    { title: 'Item', item: (line) => line },
    { title: 'Quantity', figure: true, value: (line) => grouped(line.quantity), unit: (line) => line.unit },
    { title: 'Price', figure: true, value: (line) => grouped(line.price) },
    { title: 'Disc. %', figure: true, value: (line) => line.discount },
    { title: 'Amount', figure: true, value: (line) => grouped(line.amount) },
  ];
  protected readonly paymentColumns: readonly LineColumn<InvoiceView['payments'][number]>[] = [
    { code: true, value: (each) => each.number },
    { value: (each) => longDay(each.date) },
    { value: (each) => each.method },
    { figure: true, value: (each) => grouped(each.amount), unit: () => this.currency.code() },
    {
      quiet: true,
      value: (each) => (each.reversed ? 'taken back' : ''),
      acts: (each) => [
        {
          words: 'Take back',
          shown: !each.reversed && this.rights().has('accounts.pay'),
          asks: { heading: 'Take the payment back', ...CONTRARY },
          act: () => this.store.perform(api.accounts.reversePayment, { params: { id: each.id } }),
        },
      ],
    },
  ];

  constructor() {
    showRecord(this.id, this.store);
    overRecord(this.entry, this.store.record, ({ open }) => ({ amount: open, method: this.draft().method, date: '' }));
  }
}
