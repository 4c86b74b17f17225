/** Adjustments, newest first; the chosen one beside with its slip. */
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { api } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { AdjustmentPanel } from './adjustment-panel';
import { StoresNav } from './stores-nav';

@Component({
  imports: [Book, AdjustmentPanel, StoresNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book" [named]="id()">
      <t-stores-nav />
      <ng-template let-id><t-adjustment-panel [id]="id" /></ng-template>
    </t-book>
  `,
})
export class AdjustmentsPage {
  /** The adjustment that the address names. */
  readonly id = input<string>();
  protected readonly book: BookOf = {
    heading: 'Adjustments',
    name: 'adjustments',
    route: api.stores.listAdjustments,
    topics: ['adjustment'],
    emptyWords: 'Nothing has been adjusted yet.',
    fresh: { words: 'Adjust stock', page: '/stores/adjust', right: 'stores.adjust' },
    columns: [
      { field: 'number', title: 'Adjustment', kind: 'code', width: 104 },
      { field: 'date', title: 'Date', kind: 'date', width: 76 },
      { field: 'warehouse', title: 'In', kind: 'text', width: 78 },
      { field: 'reason', title: 'Reason', kind: 'text' },
      { field: 'items', title: 'Items', kind: 'text' },
      { field: 'value', title: 'Value', kind: 'figure', money: true, width: 116 },
      { field: 'who', title: 'Who', kind: 'text', hidden: true },
      { field: 'reversed', title: 'Taken back', kind: 'flag', width: 96, hidden: true },
    ],
  };
}
