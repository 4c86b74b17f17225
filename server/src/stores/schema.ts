import { sql } from 'drizzle-orm';
import { check, index, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { DocumentKind } from '@terrace/contract';
import type { Amount, Quantity, StockState } from '@terrace/core';
import { bin, item, warehouse } from '../catalogue';
import { amountFrom0 } from '../platform/column-kinds';

type PlaceKind = 'stock' | 'supplier' | 'customer' | 'production' | 'adjustment';

/** Append-only. A place that is ours has its whole key; any other place has the id of the party or document. */
export const stockMove = sqliteTable(
  'stock_move',
  {
    id: integer().primaryKey(),
    at: text().notNull(),
    date: text().notNull(),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    quantity: integer().$type<Quantity>().notNull(),
    value: integer().$type<Amount>().notNull(),
    /** What of its worth the stock did not take: cost beyond the standard. */
    variance: amountFrom0(),
    fromKind: text().$type<PlaceKind>().notNull(),
    fromId: integer().notNull(),
    fromBinId: integer().notNull().default(0),
    fromLot: text().notNull().default(''),
    fromSerial: text().notNull().default(''),
    fromState: text().$type<StockState | ''>().notNull().default(''),
    toKind: text().$type<PlaceKind>().notNull(),
    toId: integer().notNull(),
    toBinId: integer().notNull().default(0),
    toLot: text().notNull().default(''),
    toSerial: text().notNull().default(''),
    toState: text().$type<StockState | ''>().notNull().default(''),
    documentKind: text().$type<DocumentKind>().notNull(),
    documentId: integer().notNull(),
    documentNumber: text().notNull(),
    entryId: integer(),
    reversalOf: integer().unique(),
    userId: integer().notNull(),
    note: text().notNull().default(''),
  },
  (table) => [
    index('stock_move_item').on(table.itemId, table.date),
    index('stock_move_document').on(table.documentKind, table.documentId),
    check('stock_move_quantity', sql`${table.quantity} > 0`),
  ],
);

export const balance = sqliteTable(
  'balance',
  {
    itemId: integer().notNull(),
    warehouseId: integer()
      .notNull()
      .references(() => warehouse.id),
    binId: integer()
      .notNull()
      .references(() => bin.id),
    lot: text().notNull(),
    serial: text().notNull(),
    state: text().$type<StockState>().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.itemId, table.warehouseId, table.binId, table.lot, table.serial, table.state] }),
    check('balance_not_negative', sql`${table.quantity} >= 0`),
    index('balance_serial')
      .on(table.itemId, table.serial)
      .where(sql`${table.serial} <> ''`),
  ],
);

/** What the pieces of an item in a warehouse are worth together. */
export const costPool = sqliteTable(
  'cost_pool',
  {
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
    value: integer().$type<Amount>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.itemId, table.warehouseId] }),
    check('cost_pool_not_negative', sql`${table.quantity} >= 0 and ${table.value} >= 0`),
  ],
);

/** What is left of each receipt of an item that is costed first in, first out. */
export const costLayer = sqliteTable(
  'cost_layer',
  {
    /** The move that brought it. */
    moveId: integer().primaryKey(),
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
    value: integer().$type<Amount>().notNull(),
  },
  (table) => [
    index('cost_layer_item').on(table.itemId, table.warehouseId, table.moveId),
    check('cost_layer_there', sql`${table.quantity} > 0 and ${table.value} >= 0`),
  ],
);

/**
 * Append-only: each change of what an item in a warehouse is worth, by a move, a late cost or a new standard. Their sum
 * through a day is the value on that day.
 */
export const worthChange = sqliteTable(
  'worth_change',
  {
    id: integer().primaryKey(),
    date: text().notNull(),
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
    value: integer().$type<Amount>().notNull(),
  },
  (table) => [index('worth_change_item').on(table.itemId, table.warehouseId, table.date, table.quantity, table.value)],
);

export type HolderKind = 'customerOrder' | 'productionOrder' | 'transfer';

export const reservation = sqliteTable(
  'reservation',
  {
    id: integer().primaryKey(),
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    holderKind: text().$type<HolderKind>().notNull(),
    /** Order line or component. */
    holderId: integer().notNull(),
    documentId: integer().notNull(),
    documentNumber: text().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
  },
  (table) => [
    uniqueIndex('reservation_holder').on(table.holderKind, table.holderId),
    index('reservation_item').on(table.itemId, table.warehouseId),
    check('reservation_positive', sql`${table.quantity} > 0`),
  ],
);

/** What is reserved of an item in a warehouse in all; the database keeps it with every change of a reservation. */
export const reservedStock = sqliteTable(
  'reserved_stock',
  {
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.warehouseId] }), check('reserved_stock_not_negative', sql`${table.quantity} >= 0`)],
);

/**
 * Where somebody is promised something that they have not reserved: whoever reserves there may take what that counts on. It may stand
 * longer than it is so; it is never missing where it is.
 */
export const promisedUnreserved = sqliteTable(
  'promised_unreserved',
  {
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.warehouseId] })],
);

export const adjustment = sqliteTable('adjustment', {
  id: integer().primaryKey(),
  number: text().notNull().unique(),
  date: text().notNull(),
  warehouseId: integer().notNull(),
  reason: text().notNull(),
  note: text().notNull(),
  reversed: integer({ mode: 'boolean' }).notNull().default(false),
});
