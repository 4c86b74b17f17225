import type { Routes } from '@angular/router';

export const sellingRoutes: Routes = [
  { path: '', title: 'Order book · Terrace', loadComponent: () => import('./order-book.page').then((module) => module.OrderBookPage) },
  { path: 'orders/new', title: 'New order · Terrace', loadComponent: () => import('./order-entry.page').then((module) => module.OrderEntryPage) },
  {
    path: 'orders/:id',
    title: 'Customer order · Terrace',
    loadComponent: () => import('./order-panel').then((module) => module.OrderPanel),
    data: { wide: true },
  },
  {
    path: 'orders/:id/change',
    title: 'Change order · Terrace',
    loadComponent: () => import('./order-entry.page').then((module) => module.OrderEntryPage),
  },
  { path: 'orders/:id/divide', title: 'Divide order · Terrace', loadComponent: () => import('./divide.page').then((module) => module.DividePage) },
  {
    path: 'orders/:id/return',
    title: 'Something comes back · Terrace',
    loadComponent: () => import('./return-entry.page').then((module) => module.ReturnEntryPage),
  },
  {
    path: 'incoming',
    title: 'Orders from outside · Terrace',
    loadComponent: () => import('./incoming-book.page').then((module) => module.IncomingBookPage),
  },
  {
    path: 'incoming/:id',
    title: 'Order from outside · Terrace',
    loadComponent: () => import('./incoming-panel').then((module) => module.IncomingPanel),
    data: { wide: true },
  },
  { path: 'figures', title: 'Figures of selling · Terrace', loadComponent: () => import('./figures.page').then((module) => module.FiguresPage) },
  { path: 'counter', title: 'Counter · Terrace', loadComponent: () => import('./counter.page').then((module) => module.CounterPage) },
  {
    path: 'counter/sales',
    title: 'Sales over the counter · Terrace',
    loadComponent: () => import('./sale-book.page').then((module) => module.SaleBookPage),
  },
  {
    path: 'counter/sales/:id',
    title: 'Sale over the counter · Terrace',
    loadComponent: () => import('./sale-panel').then((module) => module.SalePanel),
    data: { wide: true },
  },
  { path: 'returns', title: 'Returns · Terrace', loadComponent: () => import('./return-book.page').then((module) => module.ReturnBookPage) },
  {
    path: 'returns/:id',
    title: 'Return · Terrace',
    loadComponent: () => import('./return-panel').then((module) => module.ReturnPanel),
    data: { wide: true },
  },
  { path: 'quotes', title: 'Quotes · Terrace', loadComponent: () => import('./quote-book.page').then((module) => module.QuoteBookPage) },
  {
    path: 'quotes/new',
    title: 'New quote · Terrace',
    loadComponent: () => import('./order-entry.page').then((module) => module.OrderEntryPage),
    data: { offer: 'quote' },
  },
  { path: 'many', title: 'Many orders · Terrace', loadComponent: () => import('./many.page').then((module) => module.ManyPage) },
  { path: 'many/:id', title: 'Many orders · Terrace', loadComponent: () => import('./run.page').then((module) => module.RunPage) },
  { path: 'waiting', title: 'Free stock for orders · Terrace', loadComponent: () => import('./waiting.page').then((module) => module.WaitingPage) },
  { path: 'prices', title: 'Price lists · Terrace', loadComponent: () => import('./price-list.page').then((module) => module.PriceListPage) },
  { path: 'prices/trial', title: 'Try a price · Terrace', loadComponent: () => import('./price-trial.page').then((module) => module.PriceTrialPage) },
  { path: 'prices/charges', title: 'Charges by rule · Terrace', loadComponent: () => import('./charges.page').then((module) => module.ChargesPage) },
  {
    path: 'prices/change',
    title: 'Change prices · Terrace',
    loadComponent: () => import('./price-change.page').then((module) => module.PriceChangePage),
  },
];
