import type { Routes } from '@angular/router';

export const planningRoutes: Routes = [
  { path: '', title: 'Planning · Terrace', loadComponent: () => import('./planning.page').then((module) => module.PlanningPage) },
];
