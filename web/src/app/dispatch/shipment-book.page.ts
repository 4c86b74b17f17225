/** Shipments, the chosen one beside. */
import { ChangeDetectionStrategy, Component } from '@angular/core';
import { VIEWS, api } from '@terrace/contract';
import { Book, type BookOf } from '../ui/book';
import { ShipmentPanel } from './shipment-panel';

@Component({
  imports: [Book, ShipmentPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book">
      <ng-template let-id><t-shipment-panel [id]="id" /></ng-template>
    </t-book>
  `,
})
export class ShipmentBookPage {
  protected readonly book: BookOf = {
    heading: 'Shipments',
    name: 'shipments',
    route: api.dispatch.listShipments,
    topics: ['shipment'],
    emptyWords: 'No shipment matches. Shipments are made from orders that can ship.',
    page: '/dispatch/shipments',
    columns: [
      { field: 'number', title: 'Shipment', kind: 'code', width: 100 },
      { field: 'customer', title: 'Customer', kind: 'text' },
      { field: 'order', title: 'Order', kind: 'code', width: 96 },
      { field: 'state', title: 'State', kind: 'state', width: 112 },
      { field: 'date', title: 'Date', kind: 'date', width: 84 },
      { field: 'lines', title: 'Lines', kind: 'count', width: 68 },
      { field: 'warehouse', title: 'From', kind: 'text', width: 80 },
      { field: 'carrier', title: 'Carrier', kind: 'text', width: 120, hidden: true },
    ],
    views: VIEWS.shipments,
  };
}
