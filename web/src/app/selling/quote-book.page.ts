/** Quotes and blanket orders: what is offered and how long it holds, and the chosen one beside. */
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { VIEWS, api } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { OrderPanel } from './order-panel';

@Component({
  imports: [Book, OrderPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book" [view]="view()">
      <ng-template let-id><t-order-panel [id]="id" /></ng-template>
    </t-book>
  `,
})
export class QuoteBookPage {
  /** The view that the address names. */
  readonly view = input<string>();
  protected readonly book: BookOf = {
    heading: 'Quotes',
    name: 'quotes',
    route: api.selling.listQuotes,
    topics: ['customerOrder'],
    emptyWords: 'No quote matches.',
    page: '/selling/orders',
    fresh: { words: 'New quote', page: '/selling/quotes/new', key: 'N' },
    begin: 'Enter the first quote',
    columns: [
      { field: 'number', title: 'Quote', kind: 'code', width: 84 },
      { field: 'customer', title: 'Customer', kind: 'text' },
      { field: 'state', title: 'State', kind: 'state', width: 100 },
      { field: 'validUntil', title: 'Holds until', kind: 'date', width: 84 },
      { field: 'soon', title: 'Lapses', kind: 'late', mark: 'soon', width: 72, spare: 2 },
      { field: 'lapsed', title: 'Lapsed', kind: 'late', mark: 'lapsed', width: 80, hidden: true },
      { field: 'probability', title: 'Likely %', kind: 'count', width: 84, spare: 1 },
      { field: 'total', title: 'Total', kind: 'figure', money: true, width: 100 },
      { field: 'lostReason', title: 'Lost', kind: 'text', width: 120, hidden: true },
      { field: 'requiredDate', title: 'Wanted', kind: 'date', width: 76, hidden: true },
      { field: 'reference', title: 'Their reference', kind: 'text', width: 120, hidden: true },
      { field: 'orderDate', title: 'Entered', kind: 'date', width: 84, hidden: true },
    ],
    views: VIEWS.quotes,
  };
}
