import type { Routes } from '@angular/router';
import { signedIn } from './shell/signed-in.guard';

export const routes: Routes = [
  { path: 'sign-in', title: 'Sign in · Terrace', loadComponent: () => import('./shell/sign-in.page').then((module) => module.SignInPage) },
  {
    path: '',
    canActivate: [signedIn],
    loadComponent: () => import('./shell/frame').then((module) => module.Frame),
    children: [
      { path: '', pathMatch: 'full', redirectTo: 'today' },
      { path: 'today', title: 'Today · Terrace', loadComponent: () => import('./today/today.page').then((module) => module.TodayPage) },
      { path: 'selling', loadChildren: () => import('./selling/selling.routes').then((module) => module.sellingRoutes) },
      { path: 'planning', loadChildren: () => import('./planning/planning.routes').then((module) => module.planningRoutes) },
      { path: 'buying', loadChildren: () => import('./buying/buying.routes').then((module) => module.buyingRoutes) },
      { path: 'production', loadChildren: () => import('./production/production.routes').then((module) => module.productionRoutes) },
      { path: 'stores', loadChildren: () => import('./stores/stores.routes').then((module) => module.storesRoutes) },
      { path: 'dispatch', loadChildren: () => import('./dispatch/dispatch.routes').then((module) => module.dispatchRoutes) },
      { path: 'accounts', loadChildren: () => import('./accounts/accounts.routes').then((module) => module.accountsRoutes) },
      { path: 'catalogue', loadChildren: () => import('./catalogue/catalogue.routes').then((module) => module.catalogueRoutes) },
      { path: 'set-up', loadChildren: () => import('./setup/setup.routes').then((module) => module.setupRoutes) },
      { path: 'notices', title: 'Notices · Terrace', loadComponent: () => import('./shell/notices.page').then((module) => module.NoticesPage) },
      { path: '**', title: 'Not found · Terrace', loadComponent: () => import('./shell/not-found.page').then((module) => module.NotFoundPage) },
    ],
  },
];
