/** The stock explorer: what there is of every item in every warehouse, and beside it where, who holds it and when it changes. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { api } from '@terrace/contract';
import { Choices } from '../client/choices';
import { focusActions } from '../shell/focus.state';
import { sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow } from '../ui/grid-cells';
import { StockPanel } from './stock-panel';
import { StoresNav } from './stores-nav';
import { CheckField } from '../ui/check-field';

@Component({
  imports: [CheckField, Beside, Grid, StockPanel, StoresNav, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Stock</h1>
    <t-stores-nav />
    <t-beside>
      <t-grid
        list
        name="stock"
        [route]="route"
        [query]="query()"
        [columns]="columns"
        [topics]="['stock']"
        emptyWords="Nothing is kept here yet."
        (pointed)="point($event)"
        (opened)="point($event)"
      >
        <t-check [checked]="everywhere()" (checkedChange)="everywhere.set($event)" tool class="quiet">all warehouses</t-check>
        @if (rights().has('stores.adjust')) {
          <a tool class="act first small" routerLink="/stores/adjust">Adjust stock</a>
        }
      </t-grid>
      <div record>
        @if (at(); as place) {
          <t-stock-panel [itemId]="place.itemId" [warehouseId]="place.warehouseId" />
        }
      </div>
    </t-beside>
  `,
  styles: ':host { display: grid; grid-template-rows: auto 1fr; height: 100%; } t-beside { min-height: 0; }',
})
export class ExplorerPage {
  private readonly store = inject(Store);
  private readonly choices = inject(Choices);
  protected readonly rights = this.store.selectSignal(sessionFeature.selectRights);
  protected readonly route = api.stores.explore;
  protected readonly everywhere = signal(true);
  protected readonly query = computed(() => ({ warehouse: this.everywhere() ? undefined : this.choices.warehouseId() || undefined }));
  protected readonly at = signal<{ itemId: number; warehouseId: number } | null>(null);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'code', title: 'Item', kind: 'code', beside: 'description' },
    { field: 'warehouse', title: 'In', kind: 'text', width: 70 },
    { field: 'onHand', title: 'On hand', kind: 'figure', width: 112, unit: 'unit' },
    { field: 'reserved', title: 'Reserved', kind: 'figure', width: 84 },
    { field: 'free', title: 'Free', kind: 'figure', width: 80 },
    { field: 'expectedIn', title: 'To come', kind: 'figure', width: 84 },
    { field: 'expectedOut', title: 'To go', kind: 'figure', width: 80 },
    { field: 'value', title: 'Value', kind: 'figure', money: true, width: 100, hidden: true },
  ];

  protected point(row: GridRow): void {
    const place = { itemId: Number(row['itemId']), warehouseId: Number(row['warehouseId']) };
    this.at.set(place);
    this.store.dispatch(focusActions.point(place));
  }
}
