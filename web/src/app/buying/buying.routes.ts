import type { Routes } from '@angular/router';

export const buyingRoutes: Routes = [
  { path: '', title: 'Purchase orders · Terrace', loadComponent: () => import('./purchase-book.page').then((module) => module.PurchaseBookPage) },
  {
    path: 'direct',
    title: 'Straight to customers · Terrace',
    loadComponent: () => import('./direct.page').then((module) => module.DirectPage),
  },
  {
    path: 'orders/new',
    title: 'New purchase order · Terrace',
    loadComponent: () => import('./purchase-entry.page').then((module) => module.PurchaseEntryPage),
  },
  {
    path: 'orders/:id',
    title: 'Purchase order · Terrace',
    loadComponent: () => import('./purchase-panel').then((module) => module.PurchasePanel),
    data: { wide: true },
  },
  {
    path: 'orders/:id/change',
    title: 'Change purchase order · Terrace',
    loadComponent: () => import('./purchase-entry.page').then((module) => module.PurchaseEntryPage),
  },
];
