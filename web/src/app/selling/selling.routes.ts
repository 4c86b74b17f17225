import type { Routes } from '@angular/router';

export const sellingRoutes: Routes = [
  { path: '', title: 'Order book · Terrace', loadComponent: () => import('./order-book.page').then((module) => module.OrderBookPage) },
  { path: 'orders/new', title: 'New order · Terrace', loadComponent: () => import('./order-entry.page').then((module) => module.OrderEntryPage) },
  { path: 'orders/:id', title: 'Customer order · Terrace', loadComponent: () => import('./order.page').then((module) => module.OrderPage) },
  {
    path: 'orders/:id/change',
    title: 'Change order · Terrace',
    loadComponent: () => import('./order-entry.page').then((module) => module.OrderEntryPage),
  },
];
