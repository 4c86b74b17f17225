import type { Routes } from '@angular/router';

export const accountsRoutes: Routes = [
  { path: '', title: 'Invoices · Terrace', loadComponent: () => import('./invoice-book.page').then((module) => module.InvoiceBookPage) },
  {
    path: 'invoices/:id',
    title: 'Invoice · Terrace',
    loadComponent: () => import('./invoice-panel').then((module) => module.InvoicePanel),
    data: { wide: true },
  },
  { path: 'to-invoice', title: 'To invoice · Terrace', loadComponent: () => import('./to-invoice.page').then((module) => module.ToInvoicePage) },
  { path: 'payments', title: 'Payments · Terrace', loadComponent: () => import('./payment-book.page').then((module) => module.PaymentBookPage) },
  {
    path: 'payments/new',
    title: 'Payment received · Terrace',
    loadComponent: () => import('./payment-entry.page').then((module) => module.PaymentEntryPage),
  },
  {
    path: 'payments/:id',
    title: 'Payment · Terrace',
    loadComponent: () => import('./payment-panel').then((module) => module.PaymentPanel),
    data: { wide: true },
  },
  { path: 'debtors', title: 'Who owes what · Terrace', loadComponent: () => import('./debtor-book.page').then((module) => module.DebtorBookPage) },
  {
    path: 'customers/:id',
    title: 'Account of a customer · Terrace',
    loadComponent: () => import('./customer-account').then((module) => module.CustomerAccountPanel),
  },
  { path: 'reminders', title: 'Reminders · Terrace', loadComponent: () => import('./reminders.page').then((module) => module.RemindersPage) },
  { path: 'journal', title: 'Journal · Terrace', loadComponent: () => import('./journal.page').then((module) => module.JournalPage) },
];
