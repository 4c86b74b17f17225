/** Lots, serial numbers and what is asked of them. */
import { sql, type SQL } from 'drizzle-orm';
import { index, integer, sqliteTable, text, uniqueIndex, type SQLiteColumn } from 'drizzle-orm/sqlite-core';
import { item } from '../catalogue';

/** What an item asks of its lots and serial numbers, besides the lives that its catalogue entry has. */
export const trackingRule = sqliteTable('tracking_rule', {
  itemId: integer()
    .primaryKey()
    .references(() => item.id),
  expiryNeeded: integer({ mode: 'boolean' }).notNull().default(false),
  madeOnNeeded: integer({ mode: 'boolean' }).notNull().default(false),
  /** Days of life that must be left when it is used in production. */
  useLifeDays: integer().notNull().default(0),
  /** Days before expiry to warn. */
  warnDays: integer().notNull().default(0),
  serialPattern: text().notNull().default(''),
  warrantyMonths: integer().notNull().default(0),
  version: integer().notNull().default(1),
});

/** A code with no difference between capital and small letters. */
export const anyCase = (code: SQLiteColumn): SQL => sql`${code} collate nocase`;

export const lot = sqliteTable(
  'lot',
  {
    id: integer().primaryKey(),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    code: text().notNull(),
    madeOn: text(),
    expiry: text(),
    supplierId: integer(),
    supplierLot: text().notNull().default(''),
    note: text().notNull().default(''),
    blocked: integer({ mode: 'boolean' }).notNull().default(false),
    blockReason: text().notNull().default(''),
    /** When people were last told that it nears its end. */
    warned: text(),
    version: integer().notNull().default(1),
  },
  (table) => [
    uniqueIndex('lot_code').on(table.itemId, table.code),
    index('lot_expiry').on(table.expiry),
    index('lot_by_code').on(table.code),
    index('lot_spelling').on(table.itemId, anyCase(table.code)),
  ],
);

export const serialNumber = sqliteTable(
  'serial_number',
  {
    id: integer().primaryKey(),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    code: text().notNull(),
    madeOn: text(),
    supplierId: integer(),
    warrantyUntil: text(),
    contractUntil: text(),
    contract: text().notNull().default(''),
    note: text().notNull().default(''),
    version: integer().notNull().default(1),
  },
  (table) => [
    uniqueIndex('serial_number_code').on(table.itemId, table.code),
    index('serial_number_by_code').on(table.code),
    index('serial_number_spelling').on(table.itemId, anyCase(table.code)),
  ],
);
