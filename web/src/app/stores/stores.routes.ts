import type { Routes } from '@angular/router';

export const storesRoutes: Routes = [
  { path: '', title: 'Stock · Terrace', loadComponent: () => import('./explorer.page').then((module) => module.ExplorerPage) },
  { path: 'moves', title: 'Stock moves · Terrace', loadComponent: () => import('./moves.page').then((module) => module.MovesPage) },
  { path: 'adjust', title: 'Adjust stock · Terrace', loadComponent: () => import('./adjust.page').then((module) => module.AdjustPage) },
];
