/** Purchase orders, the chosen one beside. */
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { VIEWS, api } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { PurchasePanel } from './purchase-panel';

@Component({
  imports: [Book, PurchasePanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book" [view]="view()">
      <ng-template let-id><t-purchase-panel [id]="id" /></ng-template>
    </t-book>
  `,
})
export class PurchaseBookPage {
  /** The view that the address names. */
  readonly view = input<string>();
  protected readonly book: BookOf = {
    heading: 'Purchase orders',
    name: 'purchases',
    own: 'purchaseOrder',
    route: api.buying.listPurchases,
    topics: ['purchaseOrder'],
    emptyWords: 'No purchase order matches.',
    page: '/buying/orders',
    fresh: { words: 'New order', page: '/buying/orders/new', key: 'N', says: 'New purchase order' },
    others: [{ words: 'Straight to customers', page: '/buying/direct' }],
    columns: [
      { field: 'number', title: 'Order', kind: 'code', width: 92 },
      { field: 'supplier', title: 'Supplier', kind: 'text' },
      { field: 'state', title: 'State', kind: 'state', width: 136 },
      { field: 'dueDate', title: 'Next due', kind: 'date', width: 80 },
      { field: 'late', title: 'Late', kind: 'late', width: 70 },
      { field: 'progress', title: 'Lines in', kind: 'text', width: 76, sortable: false },
      { field: 'total', title: 'Total', kind: 'figure', money: true, width: 104 },
      { field: 'warehouse', title: 'To', kind: 'text', width: 78, hidden: true },
      { field: 'orderDate', title: 'Entered', kind: 'date', width: 84, hidden: true },
    ],
    views: VIEWS.purchases,
  };
}
