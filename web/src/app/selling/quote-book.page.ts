/** Quotes and blanket orders: what is offered and how long it holds, and the chosen one beside. */
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { VIEWS, api, figureViews } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { shortDay } from '../ui/format';
import type { GridColumn, GridView } from '../ui/grid-cells';
import { OrderPanel } from './order-panel';
import { lostWords } from './quote-words';

/** Among what was lost stands why and how much, and not what is still to come of it. */
function ofLost({ spare, ...column }: GridColumn): GridColumn {
  if (column.field === 'lostReason' || column.field === 'lost') return { ...column, hidden: false };
  if (column.field === 'soon' || column.field === 'probability' || column.field === 'validUntil') return { ...column, hidden: true };
  return spare === undefined ? column : { ...column, spare };
}

@Component({
  imports: [Book, OrderPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book()" [view]="view()">
      <ng-template let-id><t-order-panel [id]="id" /></ng-template>
    </t-book>
  `,
})
export class QuoteBookPage {
  /** The view that the address names. */
  readonly view = input<string>();
  /** The time that a figure was of, which has opened the list. */
  readonly from = input<string>();
  readonly until = input<string>();
  private readonly ofFigure = computed((): readonly GridView[] => {
    const [from, until] = [this.from(), this.until()];
    if (this.view() !== 'lostThen' || from === undefined || until === undefined) return [];
    return [{ key: 'lostThen', title: `Lost ${shortDay(from)} to ${shortDay(until)}`, filter: figureViews.lost(from, until) }];
  });
  protected readonly book = computed((): BookOf => ({
    ...this.always,
    views: [...VIEWS.quotes, ...this.ofFigure()],
    columns: this.view()?.startsWith('lost') === true ? this.always.columns.map(ofLost) : this.always.columns,
  }));
  private readonly always: BookOf = {
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
      {
        field: 'lostReason',
        title: 'Lost',
        kind: 'text',
        width: 150,
        spare: 3,
        says: ({ lostReason, state }) => lostWords(String(lostReason), String(state)),
      },
      { field: 'lost', title: 'Lost worth', kind: 'figure', money: true, width: 130, hidden: true },
      { field: 'requiredDate', title: 'Wanted', kind: 'date', width: 76, hidden: true },
      { field: 'reference', title: 'Their reference', kind: 'text', width: 120, hidden: true },
      { field: 'orderDate', title: 'Entered', kind: 'date', width: 84, hidden: true },
    ],
  };
}
