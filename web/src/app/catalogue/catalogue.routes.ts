import type { Routes } from '@angular/router';

export const catalogueRoutes: Routes = [
  { path: '', title: 'Items · Terrace', loadComponent: () => import('./item-list.page').then((module) => module.ItemListPage) },
  { path: 'items/:id', title: 'Item · Terrace', loadComponent: () => import('./item.page').then((module) => module.ItemPage) },
  {
    path: 'customers',
    title: 'Customers · Terrace',
    loadComponent: () => import('./party-list.page').then((module) => module.PartyListPage),
    data: { kind: 'customers' },
  },
  {
    path: 'suppliers',
    title: 'Suppliers · Terrace',
    loadComponent: () => import('./party-list.page').then((module) => module.PartyListPage),
    data: { kind: 'suppliers' },
  },
];
