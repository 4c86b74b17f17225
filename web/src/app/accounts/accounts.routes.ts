import type { Routes } from '@angular/router';

export const accountsRoutes: Routes = [
  { path: '', title: 'Invoices · Terrace', loadComponent: () => import('./invoice-book.page').then((module) => module.InvoiceBookPage) },
  {
    path: 'invoices/:id',
    title: 'Invoice · Terrace',
    loadComponent: () => import('./invoice-panel').then((module) => module.InvoicePanel),
    data: { wide: true },
  },
  { path: 'journal', title: 'Journal · Terrace', loadComponent: () => import('./journal.page').then((module) => module.JournalPage) },
];
