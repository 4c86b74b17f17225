/** Payments of customers, the chosen one beside. */
import { ChangeDetectionStrategy, Component } from '@angular/core';
import { api } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { PaymentPanel } from './payment-panel';

@Component({
  imports: [Book, PaymentPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book">
      <ng-template let-id><t-payment-panel [id]="id" /></ng-template>
    </t-book>
  `,
})
export class PaymentBookPage {
  protected readonly book: BookOf = {
    heading: 'Payments',
    name: 'payments',
    route: api.accounts.listPayments,
    topics: ['payment'],
    emptyWords: 'No payment matches. Record one as it comes in.',
    page: '/accounts/payments',
    fresh: {
      words: 'Payment received',
      page: '/accounts/payments/new',
      right: 'accounts.pay',
      key: 'N',
      says: 'Record a payment',
    },
    others: [
      { words: 'Invoices', page: '/accounts' },
      { words: 'Who owes', page: '/accounts/debtors' },
    ],
    columns: [
      { field: 'number', title: 'Payment', kind: 'code', width: 96 },
      { field: 'customer', title: 'Customer', kind: 'text' },
      { field: 'date', title: 'Date', kind: 'date', width: 66 },
      { field: 'amount', title: 'Amount', kind: 'figure', money: true, width: 110 },
      { field: 'rest', title: 'Paid ahead', kind: 'figure', money: true, width: 110, says: (row) => (row['rest'] === '0.00' ? '' : undefined) },
      { field: 'currency', title: 'In', kind: 'text', width: 60, hidden: true },
      { field: 'theirAmount', title: 'They paid', kind: 'figure', currency: 'currency', width: 110, hidden: true },
      { field: 'method', title: 'By', kind: 'text', width: 80, spare: 1 },
      { field: 'reference', title: 'They wrote', kind: 'text', width: 130, spare: 2 },
      { field: 'reversed', title: 'Taken back', kind: 'flag', mark: 'taken back', width: 92, spare: 3 },
    ],
  };
}
