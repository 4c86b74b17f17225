import { sql } from 'drizzle-orm';
import { check, index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { DocumentKind } from '@terrace/contract';
import type { Amount, ControlUse } from '@terrace/core';

export const account = sqliteTable('account', { code: text().primaryKey(), name: text().notNull() });

/** Which account is used for what, where that is not the one that was proposed. */
export const accountUse = sqliteTable('account_use', {
  use: text().$type<ControlUse>().primaryKey(),
  account: text()
    .notNull()
    .references(() => account.code),
});

/** Append-only, like its lines. */
export const journalEntry = sqliteTable(
  'journal_entry',
  {
    id: integer().primaryKey(),
    at: text().notNull(),
    date: text().notNull(),
    event: text().notNull(),
    documentKind: text().$type<DocumentKind>().notNull(),
    documentId: integer().notNull(),
    documentNumber: text().notNull(),
    reversalOf: integer().unique(),
    userId: integer().notNull(),
  },
  (table) => [index('journal_entry_document').on(table.documentKind, table.documentId)],
);

export const journalLine = sqliteTable(
  'journal_line',
  {
    id: integer().primaryKey(),
    entryId: integer()
      .notNull()
      .references(() => journalEntry.id),
    account: text()
      .notNull()
      .references(() => account.code),
    debit: integer().$type<Amount>().notNull(),
    credit: integer().$type<Amount>().notNull(),
  },
  (table) => [
    index('journal_line_entry').on(table.entryId),
    index('journal_line_account').on(table.account),
    check('journal_line_one_side', sql`(${table.debit} = 0) <> (${table.credit} = 0) and ${table.debit} >= 0 and ${table.credit} >= 0`),
  ],
);
