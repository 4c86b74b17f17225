/** Order lines that the plan can't serve in time, and what each waits for. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { api } from '@terrace/contract';
import { focusActions } from '../shell/focus.state';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow } from '../ui/grid-cells';
import { OrderChart } from './order-chart';
import { PlanningNav } from './planning-nav';

@Component({
  imports: [Beside, Grid, PlanningNav, OrderChart],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Promises in danger</h1>
    <t-planning-nav />
    <div class="notes"></div>
    <t-beside>
      <t-grid
        list
        name="promises"
        [route]="route"
        [columns]="columns"
        [topics]="['plan']"
        emptyWords="Every confirmed order can be kept."
        (pointed)="point($event)"
        (opened)="open($event)"
      />
      <div record>
        @if (at() !== 0) {
          <t-order-chart [id]="at()" />
        }
      </div>
    </t-beside>
  `,
  styleUrl: './planning.less',
})
export class PromisesPage {
  private readonly router = inject(Router);
  private readonly ngrx = inject(Store);
  protected readonly route = api.planning.listEndangered;
  protected readonly at = signal(0);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'number', title: 'Order', kind: 'code', width: 92 },
    { field: 'customer', title: 'Customer', kind: 'text' },
    { field: 'code', title: 'Item', kind: 'code', width: 104 },
    { field: 'quantity', title: 'Open', kind: 'figure', width: 96, unit: 'unit', hidden: true },
    { field: 'wanted', title: 'Wanted', kind: 'date', width: 76 },
    { field: 'ready', title: 'Ready', kind: 'date', width: 84, lacking: () => 'never' },
    { field: 'daysLate', title: 'Late', kind: 'count', width: 64 },
    { field: 'cause', title: 'Waits for', kind: 'text', width: 148 },
  ];

  protected point(row: GridRow): void {
    this.at.set(Number(row['orderId']));
    this.ngrx.dispatch(focusActions.point({ itemId: Number(row['itemId']), warehouseId: Number(row['warehouseId']) }));
  }

  protected open(row: GridRow): void {
    void this.router.navigate(['/planning/orders', Number(row['orderId'])]);
  }
}
