import type { Routes } from '@angular/router';

export const setupRoutes: Routes = [
  {
    path: '',
    loadComponent: () => import('./setup-frame').then((module) => module.SetupFrame),
    children: [
      { path: '', title: 'Set-up · Terrace', loadComponent: () => import('./guide.page').then((module) => module.GuidePage) },
      { path: 'people', title: 'People · Terrace', loadComponent: () => import('./people.page').then((module) => module.PeoplePage) },
      { path: 'roles', title: 'Roles · Terrace', loadComponent: () => import('./roles.page').then((module) => module.RolesPage) },
      { path: 'places', title: 'Warehouses and bins · Terrace', loadComponent: () => import('./places.page').then((module) => module.PlacesPage) },
      { path: 'company', title: 'Company · Terrace', loadComponent: () => import('./house.page').then((module) => module.HousePage) },
      { path: 'numbering', title: 'Numbering · Terrace', loadComponent: () => import('./numbering.page').then((module) => module.NumberingPage) },
      {
        path: 'accounts',
        title: 'Accounts and reasons · Terrace',
        loadComponent: () => import('./accounts.page').then((module) => module.AccountsPage),
      },
      { path: 'credit', title: 'Credit limits · Terrace', loadComponent: () => import('./credit.page').then((module) => module.CreditPage) },
      { path: 'backups', title: 'Backups · Terrace', loadComponent: () => import('./backups.page').then((module) => module.BackupsPage) },
      { path: 'rules', title: 'Rules of the house · Terrace', loadComponent: () => import('./rules.page').then((module) => module.RulesPage) },
      { path: 'mail', title: 'Outgoing mail · Terrace', loadComponent: () => import('./mail.page').then((module) => module.MailPage) },
      { path: 'terminals', title: 'Terminals · Terrace', loadComponent: () => import('./terminals.page').then((module) => module.TerminalsPage) },
      { path: 'programs', title: 'Programs · Terrace', loadComponent: () => import('./programs.page').then((module) => module.ProgramsPage) },
      {
        path: 'schedules',
        title: 'Files by themselves · Terrace',
        loadComponent: () => import('./schedules.page').then((module) => module.SchedulesPage),
      },
      { path: 'archive', title: 'Company as a file · Terrace', loadComponent: () => import('./archive.page').then((module) => module.ArchivePage) },
      { path: 'outbox', title: 'Outbox · Terrace', loadComponent: () => import('./outbox.page').then((module) => module.OutboxPage) },
      { path: 'audit', title: 'Audit log · Terrace', loadComponent: () => import('./audit.page').then((module) => module.AuditPage) },
      { path: 'api', title: 'API · Terrace', loadComponent: () => import('./api-trial.page').then((module) => module.ApiTrialPage) },
    ],
  },
];
