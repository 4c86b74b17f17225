import type { Routes } from '@angular/router';

export const dispatchRoutes: Routes = [
  { path: '', title: 'Shipments · Terrace', loadComponent: () => import('./shipment-book.page').then((module) => module.ShipmentBookPage) },
  {
    path: 'shipments/:id',
    title: 'Shipment · Terrace',
    loadComponent: () => import('./shipment-panel').then((module) => module.ShipmentPanel),
    data: { wide: true },
  },
];
