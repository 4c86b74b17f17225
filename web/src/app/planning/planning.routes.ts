import type { Routes } from '@angular/router';

export const planningRoutes: Routes = [
  { path: '', title: 'Suggestions · Terrace', loadComponent: () => import('./suggestions.page').then((module) => module.SuggestionsPage) },
  { path: 'exceptions', title: 'Exceptions · Terrace', loadComponent: () => import('./exceptions.page').then((module) => module.ExceptionsPage) },
  { path: 'promises', title: 'Promises in danger · Terrace', loadComponent: () => import('./promises.page').then((module) => module.PromisesPage) },
  { path: 'problems', title: 'Data problems · Terrace', loadComponent: () => import('./problems.page').then((module) => module.ProblemsPage) },
  { path: 'since', title: 'Since last time · Terrace', loadComponent: () => import('./since.page').then((module) => module.SincePage) },
  { path: 'forecast', title: 'Forecast · Terrace', loadComponent: () => import('./forecasts.page').then((module) => module.ForecastsPage) },
  { path: 'rules', title: 'Planning rules · Terrace', loadComponent: () => import('./rules.page').then((module) => module.RulesPage) },
  { path: 'what-if', title: 'What if · Terrace', loadComponent: () => import('./what-if.page').then((module) => module.WhatIfPage) },
  {
    path: 'items/:itemId/:warehouseId',
    title: 'Item record · Terrace',
    loadComponent: () => import('./item-record.page').then((module) => module.ItemRecordPage),
  },
  { path: 'orders/:id', title: 'Order chart · Terrace', loadComponent: () => import('./order-chart.page').then((module) => module.OrderChartPage) },
];
