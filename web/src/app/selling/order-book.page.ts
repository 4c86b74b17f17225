/** The order book: all orders, and the chosen one beside, with the coverage of each line. */
import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router } from '@angular/router';
import { VIEWS, api, figureViews } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { shortDay } from '../ui/format';
import type { GridView } from '../ui/grid-cells';
import { ChosenOrders } from './chosen-orders';
import { OrderPanel } from './order-panel';

const PAID_WORDS: Readonly<Record<string, string>> = { nothing: 'not invoiced', open: 'open', paid: 'paid' };

/** The column that a view which a figure opens adds up to it. */
const FIGURE_OF: Readonly<Record<string, string>> = { toShip: 'toShip', taken: 'net' };

@Component({
  imports: [Book, OrderPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book()" [view]="view()">
      <ng-template let-id let-opened="opened"><t-order-panel [id]="id" [wide]="opened" /></ng-template>
    </t-book>
  `,
})
export class OrderBookPage {
  private readonly router = inject(Router);
  private readonly chosen = inject(ChosenOrders);
  /** The view that the address names. */
  readonly view = input<string>();
  /** The time that a figure was of, which has opened the list. */
  readonly from = input<string>();
  readonly until = input<string>();
  private readonly ofFigure = computed((): readonly GridView[] => {
    const [from, until] = [this.from(), this.until()];
    if (this.view() === 'toShip') return [{ key: 'toShip', title: 'To ship', filter: figureViews.toShip() }];
    if (this.view() !== 'taken' || from === undefined || until === undefined) return [];
    return [{ key: 'taken', title: `Taken ${shortDay(from)} to ${shortDay(until)}`, filter: figureViews.taken(from, until) }];
  });
  protected readonly book = computed((): BookOf => ({
    ...this.always,
    views: [...VIEWS.orders, ...this.ofFigure()],
    // What a figure is made of stands in the list that it opens.
    columns: this.always.columns.map((column) => (column.field === FIGURE_OF[this.view() ?? ''] ? { ...column, hidden: false } : column)),
  }));
  private readonly always: BookOf = {
    heading: 'Order book',
    name: 'orders',
    own: 'customerOrder',
    route: api.selling.listOrders,
    topics: ['customerOrder', 'shipment', 'plan'],
    emptyWords: 'No order matches.',
    page: '/selling/orders',
    fresh: { words: 'New order', page: '/selling/orders/new', key: 'N' },
    opens: { key: 'L', says: 'Open the lines of the chosen order in place, and close them again' },
    begin: 'Enter the first order',
    others: [
      { words: 'Counter', page: '/selling/counter' },
      { words: 'Quotes', page: '/selling/quotes' },
      { words: 'Returns', page: '/selling/returns' },
      { words: 'Tray', page: '/selling/incoming' },
      { words: 'Figures', page: '/selling/figures' },
      { words: 'Free stock', page: '/selling/waiting' },
    ],
    many: {
      words: 'With the chosen …',
      rights: ['selling.confirm', 'selling.edit', 'dispatch.ship', 'accounts.invoice'],
      act: (rows) => {
        this.chosen.take(rows);
        void this.router.navigateByUrl('/selling/many');
      },
    },
    columns: [
      { field: 'number', title: 'Order', kind: 'code', width: 92 },
      { field: 'customer', title: 'Customer', kind: 'text' },
      { field: 'state', title: 'State', kind: 'state', width: 110, spare: 1 },
      { field: 'ready', title: 'Can ship', kind: 'ready', width: 88 },
      { field: 'requiredDate', title: 'Wanted', kind: 'date', width: 66 },
      { field: 'promiseDate', title: 'Promised', kind: 'date', width: 76 },
      { field: 'held', title: 'Held', kind: 'text', width: 90, spare: 4 },
      { field: 'late', title: 'Late', kind: 'late', width: 60, spare: 3 },
      { field: 'endangered', title: 'Plan', kind: 'late', mark: 'in danger', width: 90, spare: 2 },
      { field: 'total', title: 'Total', kind: 'figure', money: true, width: 100 },
      { field: 'currency', title: 'In', kind: 'text', width: 60, hidden: true },
      { field: 'theirTotal', title: 'Their total', kind: 'figure', currency: 'currency', width: 110, hidden: true },
      { field: 'net', title: 'Value', kind: 'figure', money: true, width: 104, hidden: true },
      { field: 'margin', title: 'Margin', kind: 'figure', money: true, width: 108, hidden: true, sortable: false },
      { field: 'toShip', title: 'To ship', kind: 'figure', money: true, width: 104, hidden: true, sortable: false },
      { field: 'paid', title: 'Paid', kind: 'text', width: 90, hidden: true, says: (row) => PAID_WORDS[String(row['paid'])] },
      { field: 'salesPerson', title: 'Sold by', kind: 'text', width: 120, hidden: true },
      { field: 'warehouse', title: 'From', kind: 'text', width: 78, hidden: true },
      { field: 'carrier', title: 'Goes by', kind: 'text', width: 110, hidden: true },
      { field: 'reference', title: 'Their reference', kind: 'text', width: 120, hidden: true },
      { field: 'lines', title: 'Lines', kind: 'count', width: 66, hidden: true },
      { field: 'orderDate', title: 'Entered', kind: 'date', width: 84, hidden: true },
    ],
  };
}
