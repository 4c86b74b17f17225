import type { Routes } from '@angular/router';
import { guarded } from './ui/forms/leaving';
import { signedIn } from './shell/signed-in.guard';

export const routes: Routes = [
  { path: 'sign-in', title: 'Sign in · Terrace', loadComponent: () => import('./shell/sign-in.page').then((module) => module.SignInPage) },
  { path: 'found', title: 'Found a company · Terrace', loadComponent: () => import('./shell/found.page').then((module) => module.FoundPage) },
  { path: 'join/:link', title: 'Welcome · Terrace', loadComponent: () => import('./shell/join.page').then((module) => module.JoinPage) },
  {
    path: '',
    canActivate: [signedIn],
    loadComponent: () => import('./shell/frame').then((module) => module.Frame),
    children: [
      { path: '', pathMatch: 'full', redirectTo: 'today' },
      { path: 'today', title: 'Today · Terrace', loadComponent: () => import('./today/today.page').then((module) => module.TodayPage) },
      { path: 'selling', loadChildren: () => import('./selling/selling.routes').then((module) => guarded(module.sellingRoutes)) },
      { path: 'planning', loadChildren: () => import('./planning/planning.routes').then((module) => guarded(module.planningRoutes)) },
      { path: 'buying', loadChildren: () => import('./buying/buying.routes').then((module) => guarded(module.buyingRoutes)) },
      { path: 'production', loadChildren: () => import('./production/production.routes').then((module) => guarded(module.productionRoutes)) },
      { path: 'stores', loadChildren: () => import('./stores/stores.routes').then((module) => guarded(module.storesRoutes)) },
      { path: 'dispatch', loadChildren: () => import('./dispatch/dispatch.routes').then((module) => guarded(module.dispatchRoutes)) },
      { path: 'accounts', loadChildren: () => import('./accounts/accounts.routes').then((module) => guarded(module.accountsRoutes)) },
      { path: 'catalogue', loadChildren: () => import('./catalogue/catalogue.routes').then((module) => guarded(module.catalogueRoutes)) },
      { path: 'set-up', loadChildren: () => import('./setup/setup.routes').then((module) => guarded(module.setupRoutes)) },
      ...guarded([{ path: 'me', title: 'Your account · Terrace', loadComponent: () => import('./shell/me.page').then((module) => module.MePage) }]),
      { path: 'notices', title: 'Notices · Terrace', loadComponent: () => import('./shell/notices.page').then((module) => module.NoticesPage) },
      { path: '**', title: 'Not found · Terrace', loadComponent: () => import('./shell/not-found.page').then((module) => module.NotFoundPage) },
    ],
  },
];
