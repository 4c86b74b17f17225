/** Shipments, the chosen one beside. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { api } from '@terrace/contract';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridView } from '../ui/grid-cells';
import { ShipmentPanel } from './shipment-panel';

@Component({
  imports: [Beside, Grid, ShipmentPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Shipments</h1>
    <t-beside>
      <t-grid
        list
        name="shipments"
        [route]="route"
        [columns]="columns"
        [views]="views"
        [topics]="['shipment']"
        emptyWords="No shipment is like this. Shipments are made from orders that can ship."
        (pointed)="chosen.set(+$event.id)"
        (opened)="open(+$event.id)"
      />
      <div record>
        @if (chosen(); as id) {
          <t-shipment-panel [id]="id" />
        }
      </div>
    </t-beside>
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class ShipmentBookPage {
  private readonly router = inject(Router);
  protected readonly route = api.dispatch.listShipments;
  protected readonly chosen = signal(0);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'number', title: 'Shipment', kind: 'code', width: 100 },
    { field: 'customer', title: 'Customer', kind: 'text' },
    { field: 'order', title: 'Order', kind: 'code', width: 96 },
    { field: 'state', title: 'State', kind: 'state', width: 112 },
    { field: 'date', title: 'Date', kind: 'date', width: 84 },
    { field: 'lines', title: 'Lines', kind: 'count', width: 68 },
    { field: 'warehouse', title: 'From', kind: 'text', width: 80 },
    { field: 'carrier', title: 'Carrier', kind: 'text', width: 120, hidden: true },
  ];
  protected readonly views: readonly GridView[] = [
    { key: 'all', title: 'All', filter: {} },
    { key: 'pick', title: 'To pick', filter: { state: { op: 'among', value: ['draft', 'picking'] } } },
    { key: 'shipped', title: 'Shipped', filter: { state: { op: 'equals', value: 'shipped' } } },
  ];

  protected open(id: number): void {
    void this.router.navigateByUrl(`/dispatch/shipments/${id}`);
  }
}
