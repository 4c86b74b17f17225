/** Tables of files that came in. */
import { integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { ImportKind, ImportState } from '@terrace/contract';
import type { Mapping } from './run-import';

export const importRun = sqliteTable('import_run', {
  id: integer().primaryKey(),
  number: text().notNull().unique(),
  kind: text().$type<ImportKind>().notNull(),
  fileName: text().notNull(),
  checksum: text().notNull(),
  at: text().notNull(),
  userId: integer().notNull(),
  state: text().$type<ImportState>().notNull(),
  added: integer().notNull().default(0),
  changed: integer().notNull().default(0),
  same: integer().notNull().default(0),
  refused: integer().notNull().default(0),
});

/** Where the columns of a file went the last time that one with the same headings came. */
export const importMapping = sqliteTable(
  'import_mapping',
  { kind: text().$type<ImportKind>().notNull(), headings: text().notNull(), mapping: text({ mode: 'json' }).$type<Mapping>().notNull() },
  (table) => [primaryKey({ columns: [table.kind, table.headings] })],
);
