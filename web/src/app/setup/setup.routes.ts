import type { Routes } from '@angular/router';

export const setupRoutes: Routes = [
  { path: '', title: 'Set-up · Terrace', loadComponent: () => import('./setup.page').then((module) => module.SetupPage) },
  { path: 'outbox', title: 'Outbox · Terrace', loadComponent: () => import('./outbox.page').then((module) => module.OutboxPage) },
  { path: 'api', title: 'API · Terrace', loadComponent: () => import('./api-trial.page').then((module) => module.ApiTrialPage) },
];
