/** Sales over the counter, the receipt of the chosen one beside. */
import { ChangeDetectionStrategy, Component } from '@angular/core';
import { api } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { SalePanel } from './sale-panel';

@Component({
  imports: [Book, SalePanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book">
      <ng-template let-id><t-sale-panel [id]="id" /></ng-template>
    </t-book>
  `,
})
export class SaleBookPage {
  protected readonly book: BookOf = {
    heading: 'Sales over the counter',
    name: 'counterSales',
    route: api.counter.listSales,
    topics: ['counterSale'],
    emptyWords: 'Nothing was sold over the counter yet.',
    page: '/selling/counter/sales',
    others: [{ words: 'Counter', page: '/selling/counter' }],
    columns: [
      { field: 'number', title: 'Receipt', kind: 'code', width: 96 },
      { field: 'at', title: 'At', kind: 'moment', width: 120 },
      { field: 'customer', title: 'Customer', kind: 'text' },
      { field: 'total', title: 'Total', kind: 'figure', money: true, width: 106 },
      { field: 'cash', title: 'Cash', kind: 'figure', width: 90, spare: 1, says: (row) => (row['cash'] === '0.00' ? '' : undefined) },
      { field: 'who', title: 'Served by', kind: 'text', width: 130, spare: 2 },
    ],
  };
}
