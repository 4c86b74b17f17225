import type { Routes } from '@angular/router';

export const storesRoutes: Routes = [
  { path: '', title: 'Stock · Terrace', loadComponent: () => import('./explorer.page').then((module) => module.ExplorerPage) },
  { path: 'moves', title: 'Stock moves · Terrace', loadComponent: () => import('./moves.page').then((module) => module.MovesPage) },
  { path: 'adjust', title: 'Adjust stock · Terrace', loadComponent: () => import('./adjust.page').then((module) => module.AdjustPage) },
  { path: 'adjustments', title: 'Adjustments · Terrace', loadComponent: () => import('./adjustments.page').then((module) => module.AdjustmentsPage) },
  {
    path: 'adjustments/:id',
    title: 'Adjustment · Terrace',
    loadComponent: () => import('./adjustments.page').then((module) => module.AdjustmentsPage),
  },
  { path: 'lots', title: 'Lots · Terrace', loadComponent: () => import('./lots.page').then((module) => module.LotsPage) },
  { path: 'lots/:id', title: 'Lot · Terrace', loadComponent: () => import('./lot.page').then((module) => module.LotPage) },
  { path: 'serials', title: 'Serial numbers · Terrace', loadComponent: () => import('./serials.page').then((module) => module.SerialsPage) },
  { path: 'serials/:id', title: 'Serial number · Terrace', loadComponent: () => import('./serial.page').then((module) => module.SerialPage) },
  { path: 'trace/:kind/:id', title: 'Trace · Terrace', loadComponent: () => import('./trace.page').then((module) => module.TracePage) },
  { path: 'transfers', title: 'Transfers · Terrace', loadComponent: () => import('./transfers.page').then((module) => module.TransfersPage) },
  {
    path: 'transfers/new',
    title: 'Ask for a transfer · Terrace',
    loadComponent: () => import('./transfer-entry.page').then((module) => module.TransferEntryPage),
  },
  { path: 'transfers/:id', title: 'Transfer · Terrace', loadComponent: () => import('./transfers.page').then((module) => module.TransfersPage) },
  { path: 'worth', title: 'Stock value · Terrace', loadComponent: () => import('./stock-value.page').then((module) => module.WorthPage) },
  { path: 'labels', title: 'Labels · Terrace', loadComponent: () => import('./labels.page').then((module) => module.LabelsPage) },
];
