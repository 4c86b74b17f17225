/** Production orders, the chosen one beside with its components. */
import { ChangeDetectionStrategy, Component } from '@angular/core';
import { VIEWS, api } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { ProductionPanel } from './production-panel';

@Component({
  imports: [Book, ProductionPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book">
      <ng-template let-id><t-production-panel [id]="id" /></ng-template>
    </t-book>
  `,
})
export class ProductionBookPage {
  protected readonly book: BookOf = {
    heading: 'Production orders',
    name: 'production',
    route: api.production.listProduction,
    topics: ['productionOrder', 'stock'],
    emptyWords: 'No production order matches.',
    page: '/production/orders',
    fresh: { words: 'New order', page: '/production/orders/new', key: 'N', says: 'New production order' },
    columns: [
      { field: 'number', title: 'Order', kind: 'code', width: 88 },
      { field: 'code', title: 'Item', kind: 'code', beside: 'description' },
      { field: 'state', title: 'State', kind: 'state', width: 108 },
      { field: 'quantity', title: 'To make', kind: 'figure', width: 100, unit: 'unit' },
      { field: 'finished', title: 'Finished', kind: 'figure', width: 80 },
      { field: 'startDate', title: 'Start', kind: 'date', width: 66, spare: 1 },
      { field: 'dueDate', title: 'Due', kind: 'date', width: 66 },
      { field: 'late', title: 'Late', kind: 'late', width: 64 },
      { field: 'short', title: 'Short of', kind: 'count', width: 74, sortable: false },
    ],
    views: VIEWS.production,
  };
}
