/** Files in and out: a dry run that shows each row, then all of it or the good rows. */
import { z } from 'zod';
import { route } from '../base/route';
import { idParams, page } from '../base/schemas';

export const importKinds = ['items', 'groups', 'units', 'terms', 'prices', 'customers', 'suppliers', 'boms', 'openingStock'] as const;
export type ImportKind = (typeof importKinds)[number];
export const importStates = ['read', 'trying', 'tried', 'taking', 'taken', 'stopped', 'failed'] as const;
export type ImportState = (typeof importStates)[number];
export const outcomes = ['added', 'changed', 'same', 'refused'] as const;
export type Outcome = (typeof outcomes)[number];

export const importColumn = z.object({ key: z.string(), title: z.string(), needed: z.boolean(), hint: z.string() });

export const importView = z.object({
  id: z.number(),
  number: z.string(),
  kind: z.enum(importKinds),
  fileName: z.string(),
  state: z.enum(importStates),
  /** Rows done and rows in all, of what is running. */
  done: z.number(),
  rows: z.number(),
  counts: z.record(z.enum(outcomes), z.number()),
  /** Headings of the file with some of its values, and the column that each goes to (nothing: left out). */
  headings: z.array(z.object({ heading: z.string(), samples: z.array(z.string()), column: z.string() })),
  columns: z.array(importColumn),
  decimals: z.enum(['point', 'comma']),
  dates: z.enum(['dayFirst', 'monthFirst']),
  problem: z.string(),
});
export type ImportView = z.output<typeof importView>;

export const importRow = z.object({
  /** Number of the row in the file, the headings being row 1. */
  row: z.number(),
  outcome: z.enum(outcomes),
  name: z.string(),
  /** What is refused and why, or old → new. */
  what: z.string(),
  field: z.string(),
});
export type ImportRow = z.output<typeof importRow>;

const importPast = z.object({
  id: z.number(),
  number: z.string(),
  kind: z.enum(importKinds),
  fileName: z.string(),
  at: z.string(),
  who: z.string(),
  state: z.enum(importStates),
  added: z.number(),
  changed: z.number(),
  same: z.number(),
  refused: z.number(),
});

export const bulkRoutes = {
  listImports: route({
    method: 'get',
    path: '/bulk/imports',
    summary: 'Files that came in, latest first',
    right: 'bulk.import',
    answer: z.array(importPast),
  }),
  getImport: route({
    method: 'get',
    path: '/bulk/imports/:id',
    summary: 'A file that came in, and how far it is',
    right: 'bulk.import',
    params: idParams,
    answer: importView,
  }),
  tryImport: route({
    method: 'post',
    path: '/bulk/imports/:id/try',
    summary: 'Dry run: what would be added, changed and refused, row by row',
    right: 'bulk.import',
    params: idParams,
    body: z.object({ mapping: z.record(z.string(), z.string()), decimals: z.enum(['point', 'comma']), dates: z.enum(['dayFirst', 'monthFirst']) }),
    answer: importView,
  }),
  takeImport: route({
    method: 'post',
    path: '/bulk/imports/:id/take',
    summary: 'Take all of it or nothing, or only the good rows',
    right: 'bulk.import',
    params: idParams,
    body: z.object({ goodOnly: z.boolean() }),
    answer: importView,
  }),
  stopImport: route({
    method: 'post',
    path: '/bulk/imports/:id/stop',
    summary: 'Stop what is running; nothing of it stays',
    right: 'bulk.import',
    params: idParams,
    answer: importView,
  }),
  importRows: route({
    method: 'get',
    path: '/bulk/imports/:id/rows',
    summary: 'What the dry run says of each row',
    right: 'bulk.import',
    params: idParams,
    query: z.object({
      outcome: z.enum(outcomes).optional(),
      offset: z.coerce.number().int().min(0).default(0),
      limit: z.coerce.number().int().min(1).max(1000).default(200),
    }),
    answer: page(importRow),
  }),
};
