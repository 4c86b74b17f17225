import type { Routes } from '@angular/router';

export const setupRoutes: Routes = [
  { path: '', title: 'Set-up · Terrace', loadComponent: () => import('./setup.page').then((module) => module.SetupPage) },
  { path: 'outbox', title: 'Outbox · Terrace', loadComponent: () => import('./outbox.page').then((module) => module.OutboxPage) },
  { path: 'audit', title: 'Audit log · Terrace', loadComponent: () => import('./audit.page').then((module) => module.AuditPage) },
  { path: 'api', title: 'API · Terrace', loadComponent: () => import('./api-trial.page').then((module) => module.ApiTrialPage) },
];
