import type { Routes } from '@angular/router';

const items = { title: 'Item · Terrace', loadComponent: () => import('./item-edit.page').then((module) => module.ItemEditPage) };
const party = { loadComponent: () => import('./party.page').then((module) => module.PartyPage) };
const parties = { loadComponent: () => import('./party-list.page').then((module) => module.PartyListPage) };

export const catalogueRoutes: Routes = [
  { path: '', title: 'Items · Terrace', loadComponent: () => import('./item-list.page').then((module) => module.ItemListPage) },
  { path: 'new', ...items },
  { path: 'items/:id', title: 'Item · Terrace', loadComponent: () => import('./item.page').then((module) => module.ItemPage) },
  { path: 'items/:id/change', ...items },
  { path: 'customers', title: 'Customers · Terrace', ...parties, data: { kind: 'customers' } },
  { path: 'customers/:id', title: 'Customer · Terrace', ...party, data: { kind: 'customers' } },
  { path: 'suppliers', title: 'Suppliers · Terrace', ...parties, data: { kind: 'suppliers' } },
  { path: 'suppliers/:id', title: 'Supplier · Terrace', ...party, data: { kind: 'suppliers' } },
  { path: 'families', title: 'Families · Terrace', loadComponent: () => import('./family-list.page').then((module) => module.FamilyListPage) },
  { path: 'families/:id', title: 'Family · Terrace', loadComponent: () => import('./family.page').then((module) => module.FamilyPage) },
  { path: 'ground', title: 'Groups and units · Terrace', loadComponent: () => import('./ground.page').then((module) => module.GroundPage) },
  { path: 'files', title: 'Files in and out · Terrace', loadComponent: () => import('../bulk').then((module) => module.ImportPage) },
];
