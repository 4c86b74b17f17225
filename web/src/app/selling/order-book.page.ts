/** The order book: all orders, and the chosen one beside, with the coverage of each line. */
import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { api } from '@terrace/contract';
import { useKeys } from '../ui/keys';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow, GridView } from '../ui/grid-cells';
import { OrderPanel } from './order-panel';

@Component({
  imports: [Beside, Grid, OrderPanel, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Order book</h1>
    <t-beside>
      <t-grid
        list
        name="orders"
        own="customerOrder"
        [route]="route"
        [columns]="columns"
        [views]="views"
        [view]="view()"
        [topics]="['customerOrder', 'shipment', 'plan']"
        emptyWords="No order is like this."
        (pointed)="chosen.set(+$event.id)"
        (opened)="open($event)"
      >
        <a tool class="act first small" routerLink="/selling/orders/new">New order <kbd>N</kbd></a>
        <a first class="act" routerLink="/selling/orders/new">Enter the first order</a>
      </t-grid>
      <div record>
        @if (chosen(); as id) {
          <t-order-panel [id]="id" />
        }
      </div>
    </t-beside>
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class OrderBookPage {
  readonly view = input<string>();
  private readonly router = inject(Router);
  protected readonly route = api.selling.listOrders;
  protected readonly chosen = signal(0);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'number', title: 'Order', kind: 'code', width: 84 },
    { field: 'customer', title: 'Customer', kind: 'text' },
    { field: 'state', title: 'State', kind: 'state', width: 114 },
    { field: 'ready', title: 'Can ship', kind: 'ready', width: 84 },
    { field: 'requiredDate', title: 'Wanted', kind: 'date', width: 72 },
    { field: 'promiseDate', title: 'Promised', kind: 'date', width: 80 },
    { field: 'late', title: 'Late', kind: 'late', width: 60 },
    { field: 'endangered', title: 'Plan', kind: 'late', mark: 'in danger', width: 92, sortable: false },
    { field: 'total', title: 'Total', kind: 'figure', money: true, width: 104 },
    { field: 'warehouse', title: 'From', kind: 'text', width: 78, hidden: true },
    { field: 'reference', title: 'Their reference', kind: 'text', width: 120, hidden: true },
    { field: 'lines', title: 'Lines', kind: 'count', width: 66, hidden: true },
    { field: 'orderDate', title: 'Entered', kind: 'date', width: 84, hidden: true },
  ];
  protected readonly views: readonly GridView[] = [
    { key: 'open', title: 'Open', filter: { open: { op: 'equals', value: 'true' } } },
    { key: 'drafts', title: 'To confirm', filter: { state: { op: 'equals', value: 'draft' } } },
    { key: 'ready', title: 'Can ship', filter: { ready: { op: 'equals', value: 'all' }, open: { op: 'equals', value: 'true' } } },
    { key: 'late', title: 'Late', filter: { late: { op: 'equals', value: 'true' } } },
    { key: 'all', title: 'All', filter: {} },
  ];

  constructor() {
    useKeys([{ key: 'N', words: 'New order', act: () => void this.router.navigateByUrl('/selling/orders/new') }]);
  }

  protected open(row: GridRow): void {
    void this.router.navigateByUrl(`/selling/orders/${row.id}`);
  }
}
