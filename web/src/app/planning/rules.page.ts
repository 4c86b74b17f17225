/** How every item is planned in each warehouse; many changed at once, in the list. */
import { ChangeDetectionStrategy, Component, inject, signal, viewChild } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { ItemPanel } from '../catalogue';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow, GridView } from '../ui/grid-cells';
import { ListEditsPanel } from '../ui/list-edits-panel';
import { PlanningNav } from './planning-nav';
import { RulesStore } from './rules.store';

@Component({
  imports: [NzButtonModule, Beside, Grid, ItemPanel, ListEditsPanel, PlanningNav],
  providers: [RulesStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Planning rules</h1>
    <t-planning-nav />
    <div class="notes"></div>
    <t-beside>
      <t-grid
        list
        name="planning-rules"
        [route]="route"
        [columns]="columns"
        [views]="views"
        [topics]="['item']"
        [several]="store.editing()"
        [editing]="store.editing()"
        [pending]="store.pending()"
        emptyWords="No item is planned anywhere like this."
        (pointed)="point($event)"
        (selected)="store.choose($event)"
        (edited)="store.type($event)"
      >
        @if (rights().has('catalogue.edit')) {
          <button
            nz-button
            tool
            type="button"
            class="act small"
            [attr.aria-pressed]="store.editing()"
            (click)="store.editing() ? store.leave() : store.begin()"
          >
            {{ store.editing() ? 'Stop editing' : 'Edit in the list' }}
          </button>
        }
      </t-grid>
      <div record>
        @if (store.editing()) {
          <t-list-edits-panel [store]="store" [columns]="editable" (all)="grid().chooseLoaded()">
            <p class="quiet">
              A safety stock is a quantity, “10 days” of demand or “95 % served” from stock. Lot sizing is “lot-for-lot”, “200 each time”, “5 days”,
              “50 below 20”, “up to 100 below 20” or “cheapest at 25 an order and 0.01 a day”. An emptied figure is taken from the item or its group.
            </p>
          </t-list-edits-panel>
        } @else if (itemId()) {
          <t-item-panel [id]="itemId()" />
        }
      </div>
    </t-beside>
  `,
  styleUrl: './planning.less',
})
export class RulesPage {
  protected readonly store = inject(RulesStore);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly route = api.planning.listRules;
  protected readonly grid = viewChild.required(Grid);
  protected readonly itemId = signal(0);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'code', title: 'Item', kind: 'code', width: 96 },
    { field: 'warehouse', title: 'In', kind: 'text', width: 66 },
    { field: 'source', title: 'Source', kind: 'text', width: 148, editable: true },
    {
      field: 'leadDays',
      title: 'Lead',
      kind: 'text',
      width: 74,
      editable: true,
      says: (row) => (row['source'] === 'buy' && row['leadDays'] === '0' ? 'supplier’s' : undefined),
    },
    { field: 'safety', title: 'Safety stock', kind: 'text', width: 96, editable: true },
    { field: 'sizing', title: 'Lot sizing', kind: 'text', width: 120, editable: true },
    { field: 'follows', title: 'Inherited', kind: 'text', sortable: false },
    { field: 'safetyStock', title: 'Safety stock is', kind: 'figure', width: 116, unit: 'unit', hidden: true },
    { field: 'minimum', title: 'Minimum order', kind: 'text', width: 110, editable: true, hidden: true },
    { field: 'multiple', title: 'Order multiple', kind: 'text', width: 110, editable: true, hidden: true },
    { field: 'maximum', title: 'Maximum order', kind: 'text', width: 114, editable: true, hidden: true },
    { field: 'usable', title: 'Yield', kind: 'text', width: 70, editable: true, hidden: true },
    { field: 'slackDays', title: 'Slack, days', kind: 'text', width: 90, editable: true, hidden: true },
    { field: 'fenceDays', title: 'Time fence, days', kind: 'text', width: 136, editable: true, hidden: true },
    { field: 'demand', title: 'Demand counted', kind: 'text', width: 116, editable: true, hidden: true },
    { field: 'consumeBack', title: 'Forecast consumed back, days', kind: 'text', width: 176, editable: true, hidden: true },
    { field: 'consumeForward', title: 'Forecast consumed ahead, days', kind: 'text', width: 182, editable: true, hidden: true },
    { field: 'group', title: 'Group', kind: 'text', width: 96, hidden: true },
    { field: 'description', title: 'Description', kind: 'text', hidden: true },
  ];
  protected readonly editable = this.columns.filter((column) => column.editable === true);
  protected readonly views: readonly GridView[] = [
    { key: 'all', title: 'All', filter: {} },
    { key: 'buy', title: 'Bought', filter: { source: { op: 'equals', value: 'buy' } } },
    { key: 'make', title: 'Made', filter: { source: { op: 'equals', value: 'make' } } },
    { key: 'transfer', title: 'Brought over', filter: { source: { op: 'contains', value: 'transfer' } } },
  ];

  protected point(row: GridRow): void {
    this.itemId.set(Number(row['itemId']));
  }
}
