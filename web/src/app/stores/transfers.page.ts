/** Transfers between warehouses; the chosen one beside. */
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { VIEWS, api } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { TransferPanel } from './transfer-panel';
import { StoresNav } from './stores-nav';

@Component({
  imports: [Book, TransferPanel, StoresNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book" [named]="id()">
      <t-stores-nav />
      <ng-template let-id><t-transfer-panel [id]="id" /></ng-template>
    </t-book>
  `,
})
export class TransfersPage {
  /** The transfer that the address names. */
  readonly id = input<string>();
  protected readonly book: BookOf = {
    heading: 'Transfers',
    name: 'transfers',
    route: api.stores.listTransfers,
    topics: ['transfer'],
    emptyWords: 'No transfer here. Ask another warehouse for what it has.',
    fresh: { words: 'Ask for a transfer', page: '/stores/transfers/new', right: 'stores.adjust' },
    columns: [
      { field: 'number', title: 'Transfer', kind: 'code', width: 90 },
      { field: 'from', title: 'From', kind: 'text', width: 84 },
      { field: 'to', title: 'To', kind: 'text', width: 84 },
      { field: 'state', title: 'State', kind: 'state' },
      { field: 'shipDate', title: 'Ships', kind: 'date', width: 76 },
      { field: 'dueDate', title: 'Due', kind: 'date', width: 76 },
      { field: 'lines', title: 'Lines', kind: 'count', width: 64 },
      { field: 'late', title: 'Late', kind: 'late', width: 64 },
      { field: 'carrier', title: 'By', kind: 'text', hidden: true },
    ],
    views: VIEWS.transfers,
  };
}
