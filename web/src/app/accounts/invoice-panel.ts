/** A customer invoice: its lines, what is paid, and what is open. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { writeAmount } from '@terrace/core';
import { api, paymentMethods, type BodyIn, type InvoiceView } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import type { Act } from '../ui/acts';
import { CheckField } from '../ui/check-field';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { DateField, NumberField } from '../ui/fields';
import { Control, entryOf, overRecord } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { GroupedPipe, grouped, longDay, LongDayPipe } from '../ui/format';
import { LineCell, Lines, type LineColumn } from '../ui/lines';
import { CompanyCurrency, InCurrencyPipe } from '../ui/money';
import { withRecord } from '../ui/record.store';
import { SelectField, SelectOption } from '../ui/select-field';
import { typedAmount } from '../ui/typed-amount';
import { REMINDED_WORDS } from './account-words';
import { CONTRARY } from './contrary';
import { CreditNote } from './credit-note';
import { CashField, drawerIn } from './cash-field';
import { SettleForm } from './settle-form';

const InvoiceStore = signalStore(withRecord<InvoiceView>(api.accounts.getInvoice, 'invoice'));

interface PaymentDraft {
  readonly amount: string;
  readonly method: (typeof paymentMethods)[number];
  /** Where cash goes; 0 for the bank. */
  readonly drawerId: number;
  /** Empty for today. */
  readonly date: string;
  /** With what is let off for paying early. */
  readonly early: boolean;
}
const bodyOf = ({ date, ...draft }: PaymentDraft): BodyIn<typeof api.accounts.payInvoice> => ({
  ...draft,
  drawerId: drawerIn(draft),
  ...(date === '' ? {} : { date }),
});

@Component({
  selector: 't-invoice-panel',
  imports: [
    CashField,
    CheckField,
    Control,
    CreditNote,
    DateField,
    DocumentFrame,
    GroupedPipe,
    InCurrencyPipe,
    Labelled,
    LineCell,
    Lines,
    LongDayPipe,
    NumberField,
    RouterLink,
    SelectField,
    SelectOption,
    SettleForm,
  ],
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
  protected readonly draft = signal<PaymentDraft>({ amount: '', method: 'transfer', drawerId: 0, date: '', early: false });
  /** What is being entered beside: giving something back, or closing invoices with a credit note. */
  protected readonly beside = signal<'credit' | 'settle' | ''>('');
  protected readonly entry = entryOf({
    part: () => `payment of ${this.store.record()?.id ?? 0}`,
    draft: this.draft,
    problem: this.store.problem,
    route: () => (this.payable() ? (this.credit() ? api.accounts.refundCredit : api.accounts.payInvoice) : null),
    body: (draft) => (this.credit() ? this.refundOf(draft) : bodyOf(draft)),
  });
  protected readonly methods = paymentMethods;
  /** Whether it is cash that a drawer can hold. */
  protected readonly inCash = computed(
    () => this.payable() && this.draft().method === 'cash' && this.store.record()?.currency === this.currency.code(),
  );

  protected readonly payable = computed(() => this.store.record()?.state === 'open' && this.rights().has('accounts.pay'));
  /** A credit note that is used up is not paid by anybody. */
  protected readonly stateOf = computed(() => {
    const state = this.store.record()?.state ?? '';
    return this.credit() && state === 'paid' ? 'usedUp' : state;
  });
  protected readonly credit = computed(() => this.store.record()?.kind === 'credit');
  protected readonly facts = computed((): readonly Fact[] => {
    const invoice = this.store.record();
    if (!invoice) return [];
    return [
      { title: 'Customer', value: invoice.customer, page: ['/accounts/customers', invoice.customerId] },
      { title: 'Order', value: invoice.order, kind: 'code', page: ['/selling/orders', invoice.orderId] },
      { title: 'Date', value: longDay(invoice.date) },
      ...(invoice.kind === 'credit'
        ? [
            { title: 'Gives back', value: invoice.creditOf, kind: 'code' as const, page: ['/accounts/invoices', invoice.creditOfId ?? 0] },
            { title: 'Why', value: invoice.reason },
          ]
        : [
            {
              title: 'Due',
              value: longDay(invoice.dueDate),
              trouble: invoice.overdue,
              ...(invoice.remindedOn === null ? {} : { below: `${REMINDED_WORDS[invoice.reminded] ?? ''} ${longDay(invoice.remindedOn)}` }),
            },
          ]),
      {
        title: 'Total',
        value: grouped(invoice.total),
        kind: 'money',
        currency: invoice.currency,
        below: this.currency.inBooks(grouped(invoice.booksTotal), invoice.currency, invoice.rate),
      },
      { title: 'Open', value: grouped(invoice.open), kind: 'money', currency: invoice.currency },
    ];
  });
  protected readonly acts = computed((): readonly Act[] => {
    const invoice = this.store.record();
    if (!invoice) return [];
    const { id, version } = invoice;
    return [
      {
        words: `${this.credit() ? 'Pay out' : 'Record'} ${this.currency.behind(grouped(this.draft().amount), invoice.currency)}`,
        shown: this.payable() && this.beside() === '',
        first: true,
        act: () => this.pay(id),
      },
      { words: 'Close invoices with it', shown: this.payable() && this.credit() && this.beside() === '', act: () => this.beside.set('settle') },
      {
        words: 'Give back',
        shown: !this.credit() && invoice.state !== 'reversed' && this.beside() === '' && this.rights().has('accounts.invoice'),
        act: () => this.beside.set('credit'),
      },
      { words: 'Print (PDF)', paper: `/api/papers/invoice/${id}` },
      { words: 'Take along (UBL)', paper: `/api/papers/ubl/${id}`, shown: this.wide() && invoice.state !== 'reversed' },
      {
        words: 'Take back',
        shown: this.mayTakeBack(invoice) && this.rights().has('accounts.invoice'),
        asks: { heading: `Take ${invoice.number} back`, ...CONTRARY },
        act: () => this.store.perform(api.accounts.reverseInvoice, { params: { id }, body: { version } }),
      },
    ];
  });
  protected readonly columns: readonly LineColumn<InvoiceView['lines'][number]>[] = [
    { title: 'Item', item: (line) => line, below: (line) => line.order },
    { title: 'Quantity', figure: true, value: (line) => grouped(line.quantity), unit: (line) => line.unit },
    { title: 'Price', figure: true, value: (line) => grouped(line.price) },
    { title: 'Disc. %', figure: true, value: (line) => line.discount },
    {
      title: 'Amount',
      figure: true,
      value: (line) => grouped(line.amount),
      below: (line) => (line.creditedAmount === '0.00' ? '' : `${grouped(line.creditedAmount)} given back`),
    },
  ];
  protected readonly paymentColumns: readonly LineColumn<InvoiceView['payments'][number]>[] = [
    { cell: 'document' },
    { value: (each) => longDay(each.date) },
    { value: (each) => each.method },
    { figure: true, value: (each) => grouped(each.amount), unit: () => this.store.record()?.currency ?? '' },
    {
      quiet: true,
      value: (each) => (each.reversed ? 'taken back' : each.letOff === '0.00' ? '' : `${grouped(each.letOff)} of it let off`),
      acts: (each) => [
        {
          words: 'Take back',
          shown: !each.reversed && each.kind === 'payment' && this.rights().has('accounts.pay'),
          asks: { heading: 'Take the payment back', ...CONTRARY },
          act: () => this.store.perform(api.accounts.reversePayment, { params: { id: each.documentId } }, () => this.store.reload(), false),
        },
      ],
    },
  ];

  constructor() {
    showRecord(this.id, this.store, () => this.beside.set(''));
    overRecord(this.entry, this.store.record, ({ open }) => ({
      amount: open.replace('-', ''),
      method: this.draft().method,
      drawerId: 0,
      date: '',
      early: false,
    }));
  }

  private refundOf({ amount, method, drawerId, date }: PaymentDraft): BodyIn<typeof api.accounts.refundCredit> {
    return { version: this.store.record()?.version ?? 0, amount, method, drawerId: drawerIn({ method, drawerId }), ...(date === '' ? {} : { date }) };
  }

  private pay(id: number): void {
    const done = (): void => this.entry.settle();
    if (this.credit()) this.store.perform(api.accounts.refundCredit, { params: { id }, body: this.refundOf(this.draft()) }, done);
    else this.store.perform(api.accounts.payInvoice, { params: { id }, body: bodyOf(this.draft()) }, done);
  }

  /** An invoice on which nothing is paid; a credit note that is not paid out: what it closed is open again. */
  private mayTakeBack({ kind, state, paid, payments }: InvoiceView): boolean {
    if (kind === 'invoice') return state === 'open' && paid === '0.00';
    return state !== 'reversed' && payments.every((each) => each.reversed || each.kind === 'credit');
  }

  /** With what is let off for paying early the whole rest is paid. */
  protected takeOff(early: boolean): void {
    const { open, letOff } = this.store.record() ?? { open: '0', letOff: '0' };
    this.draft.update((draft) => ({ ...draft, early, amount: early ? writeAmount(typedAmount(open) - typedAmount(letOff)) : open }));
  }

  protected settle(id: number, version: number, settle: { invoiceId: number; amount: string; letOff: string }[]): void {
    this.store.perform(api.accounts.settleCredit, { params: { id }, body: { version, settle } }, () => this.beside.set(''));
  }
}
