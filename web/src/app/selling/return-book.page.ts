/** Customers' returns, the chosen one beside. */
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { VIEWS, api } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { ReturnPanel } from './return-panel';

@Component({
  imports: [Book, ReturnPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book" [view]="view()">
      <ng-template let-id><t-return-panel [id]="id" /></ng-template>
    </t-book>
  `,
})
export class ReturnBookPage {
  /** The view that the address names. */
  readonly view = input<string>();
  protected readonly book: BookOf = {
    heading: 'Customers’ returns',
    name: 'returns',
    route: api.returns.listReturns,
    topics: ['customerReturn'],
    emptyWords: 'Nothing comes back. A return is agreed on from the order that it left with.',
    page: '/selling/returns',
    others: [{ words: 'Orders', page: '/selling' }],
    columns: [
      { field: 'number', title: 'Return', kind: 'code', width: 96 },
      { field: 'customer', title: 'Customer', kind: 'text' },
      { field: 'items', title: 'Items', kind: 'text', width: 150 },
      { field: 'state', title: 'State', kind: 'state', width: 118 },
      { field: 'reason', title: 'Because', kind: 'text', width: 150, spare: 2 },
      { field: 'date', title: 'Agreed on', kind: 'date', width: 84, spare: 1 },
      { field: 'order', title: 'Order', kind: 'code', width: 88, spare: 3 },
    ],
    views: VIEWS.returns,
  };
}
