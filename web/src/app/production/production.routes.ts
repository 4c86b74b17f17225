import type { Routes } from '@angular/router';

export const productionRoutes: Routes = [
  {
    path: '',
    title: 'Production orders · Terrace',
    loadComponent: () => import('./production-book.page').then((module) => module.ProductionBookPage),
  },
  {
    path: 'orders/new',
    title: 'New production order · Terrace',
    loadComponent: () => import('./production-entry.page').then((module) => module.ProductionEntryPage),
  },
  {
    path: 'orders/:id',
    title: 'Production order · Terrace',
    loadComponent: () => import('./production-panel').then((module) => module.ProductionPanel),
    data: { wide: true },
  },
];
