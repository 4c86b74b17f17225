/** A payment: what it closes, and what of it is paid ahead. */
import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { signalStore } from '@ngrx/signals';
import { Store } from '@ngrx/store';
import { api, type PaymentView } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import type { Act } from '../ui/acts';
import { DocumentFrame, showRecord, type Fact } from '../ui/document';
import { grouped, longDay } from '../ui/format';
import { LineCell, Lines, type LineColumn } from '../ui/lines';
import { CompanyCurrency } from '../ui/money';
import { withRecord } from '../ui/record.store';
import { CONTRARY } from './contrary';
import { SettleForm } from './settle-form';

const PaymentStore = signalStore(withRecord<PaymentView>(api.accounts.getPayment, 'payment'));
type Closed = PaymentView['settled'][number];

@Component({
  selector: 't-payment-panel',
  imports: [DocumentFrame, LineCell, Lines, RouterLink, SettleForm],
  providers: [PaymentStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-document
      kind="payment"
      [store]="store"
      [state]="store.record()?.reversed ? 'reversed' : 'received'"
      [facts]="facts()"
      [acts]="acts()"
      [wide]="wide()"
    >
      @if (store.record(); as payment) {
        @if (settling()) {
          <t-settle-form
            [customerId]="payment.customerId"
            [left]="payment.rest"
            [busy]="store.busy()"
            (sent)="settle(payment.id, $event)"
            (dropped)="settling.set(false)"
          />
        }
        <section class="pane">
          <h2>{{ payment.settled.length === 0 ? 'It closes no invoice yet' : 'What it closes' }}</h2>
          @if (payment.settled.length > 0) {
            <t-lines [lines]="payment.settled" [columns]="columns">
              <ng-template tCell="invoice" [of]="payment.settled" let-each>
                <a class="code" [routerLink]="['/accounts/invoices', each.invoiceId]">{{ each.number }}</a>
              </ng-template>
            </t-lines>
          }
        </section>
      }
    </t-document>
  `,
})
export class PaymentPanel {
  readonly id = input.required({ transform: numberAttribute });
  readonly wide = input(false);
  protected readonly store = inject(PaymentStore);
  private readonly currency = inject(CompanyCurrency);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly settling = signal(false);
  private readonly may = computed(() => this.rights().has('accounts.pay') && this.store.record()?.reversed === false);
  protected readonly facts = computed((): readonly Fact[] => {
    const payment = this.store.record();
    if (!payment) return [];
    return [
      { title: 'Customer', value: payment.customer, page: ['/accounts/customers', payment.customerId] },
      { title: 'Date', value: longDay(payment.date) },
      { title: 'By', value: payment.method },
      {
        title: 'Amount',
        value: grouped(payment.amount),
        kind: 'money',
        currency: payment.currency,
        below: this.currency.inBooks(grouped(payment.booksAmount), payment.currency, payment.rate),
      },
      { title: 'Paid ahead', value: payment.rest === '0.00' ? '' : grouped(payment.rest), kind: 'money', currency: payment.currency },
      { title: 'Ahead of', value: payment.order, kind: 'code', page: ['/selling/orders', payment.orderId ?? 0] },
      { title: 'They wrote', value: payment.reference },
    ];
  });
  protected readonly acts = computed((): readonly Act[] => {
    const payment = this.store.record();
    if (!payment) return [];
    return [
      {
        words: 'Close invoices with the rest',
        shown: this.may() && Number(payment.rest) > 0 && !this.settling(),
        first: true,
        act: () => this.settling.set(true),
      },
      {
        words: 'Take back',
        shown: this.may(),
        asks: { heading: `Take ${payment.number} back`, ...CONTRARY },
        act: () => this.store.perform(api.accounts.reversePayment, { params: { id: payment.id } }),
      },
    ];
  });
  protected readonly columns: readonly LineColumn<Closed>[] = [
    { title: 'Invoice', cell: 'invoice' },
    { title: 'On', value: (each) => longDay(each.date) },
    { title: 'Closed', figure: true, value: (each) => grouped(each.amount), unit: () => this.store.record()?.currency ?? '' },
    { title: 'Let off', figure: true, value: (each) => (each.letOff === '0.00' ? '' : grouped(each.letOff)) },
    { title: 'State', quiet: true, value: (each) => (each.reversed ? 'taken back' : '') },
  ];

  constructor() {
    showRecord(this.id, this.store, () => this.settling.set(false));
  }

  protected settle(id: number, settle: { invoiceId: number; amount: string; letOff: string }[]): void {
    this.store.perform(api.accounts.settlePayment, { params: { id }, body: { settle } }, () => this.settling.set(false));
  }
}
