/** Customer invoices, the chosen one beside. */
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { VIEWS, api } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { InvoicePanel } from './invoice-panel';

@Component({
  imports: [Book, InvoicePanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book" [view]="view()">
      <ng-template let-id><t-invoice-panel [id]="id" /></ng-template>
    </t-book>
  `,
})
export class InvoiceBookPage {
  /** The view that the address names. */
  readonly view = input<string>();
  protected readonly book: BookOf = {
    heading: 'Invoices',
    name: 'invoices',
    route: api.accounts.listInvoices,
    topics: ['invoice'],
    emptyWords: 'No invoice matches. Invoices are made from what has shipped.',
    page: '/accounts/invoices',
    others: [
      { words: 'To invoice', page: '/accounts/to-invoice' },
      { words: 'Payments', page: '/accounts/payments' },
      { words: 'Who owes', page: '/accounts/debtors' },
      { words: 'Journal', page: '/accounts/journal' },
    ],
    columns: [
      { field: 'number', title: 'Invoice', kind: 'code', width: 96 },
      { field: 'customer', title: 'Customer', kind: 'text' },
      { field: 'state', title: 'State', kind: 'state', width: 108 },
      { field: 'date', title: 'Date', kind: 'date', width: 66, spare: 1 },
      { field: 'dueDate', title: 'Due', kind: 'date', width: 66 },
      { field: 'total', title: 'Total', kind: 'figure', money: true, width: 106 },
      { field: 'open', title: 'Open', kind: 'figure', money: true, width: 106 },
      { field: 'currency', title: 'In', kind: 'text', width: 60, hidden: true },
      { field: 'theirTotal', title: 'Their total', kind: 'figure', currency: 'currency', width: 110, hidden: true },
      { field: 'order', title: 'Order', kind: 'code', width: 88, spare: 2 },
    ],
    views: VIEWS.invoices,
  };
}
