/** Documents of the stores: transfers, moves between places, late costs, new standards. */
import { check, index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { sql } from 'drizzle-orm';
import type { Amount, Quantity, UnitPrice } from '@terrace/core';
import { item, warehouse } from '../catalogue';
import { quantityFrom0 } from '../platform/column-kinds';

export const transfer = sqliteTable(
  'transfer',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    fromId: integer()
      .notNull()
      .references(() => warehouse.id),
    toId: integer()
      .notNull()
      .references(() => warehouse.id),
    date: text().notNull(),
    shipDate: text().notNull(),
    dueDate: text().notNull(),
    carrier: text().notNull().default(''),
    note: text().notNull().default(''),
    state: text().$type<'requested' | 'shipped' | 'partReceived' | 'received' | 'cancelled'>().notNull(),
    version: integer().notNull().default(1),
  },
  (table) => [index('transfer_state').on(table.state)],
);

export const transferLine = sqliteTable(
  'transfer_line',
  {
    id: integer().primaryKey(),
    transferId: integer()
      .notNull()
      .references(() => transfer.id),
    position: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    quantity: integer().$type<Quantity>().notNull(),
    shipped: quantityFrom0(),
    received: quantityFrom0(),
    /** Shipped and never arrived. */
    lost: quantityFrom0(),
  },
  (table) => [
    index('transfer_line_transfer').on(table.transferId),
    index('transfer_line_item').on(table.itemId),
    check('transfer_line_whole', sql`${table.received} + ${table.lost} <= ${table.shipped}`),
  ],
);

/** What of a line is on the way, by lot and serial number. */
export const transferPiece = sqliteTable(
  'transfer_piece',
  {
    id: integer().primaryKey(),
    lineId: integer()
      .notNull()
      .references(() => transferLine.id),
    lot: text().notNull(),
    serial: text().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
    arrived: quantityFrom0(),
  },
  (table) => [index('transfer_piece_line').on(table.lineId), check('transfer_piece_whole', sql`${table.arrived} <= ${table.quantity}`)],
);

/** Moves between bins and between states. */
export const relocation = sqliteTable('relocation', {
  id: integer().primaryKey(),
  number: text().notNull().unique(),
  date: text().notNull(),
  reason: text().notNull(),
  note: text().notNull().default(''),
  reversed: integer({ mode: 'boolean' }).notNull().default(false),
});

export const lateCost = sqliteTable(
  'late_cost',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    date: text().notNull(),
    receiptId: integer().notNull(),
    what: text().$type<'invoiceDifference' | 'landedCost'>().notNull(),
    amount: integer().$type<Amount>().notNull(),
    /** Of the amount, what stock took; the rest is a cost difference. */
    inStock: integer().$type<Amount>().notNull(),
    note: text().notNull().default(''),
    reversalOf: integer().unique(),
  },
  (table) => [index('late_cost_receipt').on(table.receiptId)],
);

/** What each receipt's move got of a late cost. */
export const lateCostShare = sqliteTable(
  'late_cost_share',
  {
    id: integer().primaryKey(),
    lateCostId: integer()
      .notNull()
      .references(() => lateCost.id),
    moveId: integer().notNull(),
    amount: integer().$type<Amount>().notNull(),
    value: integer().$type<Amount>().notNull(),
  },
  (table) => [index('late_cost_share_cost').on(table.lateCostId), index('late_cost_share_move').on(table.moveId)],
);

export const revaluation = sqliteTable(
  'revaluation',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    date: text().notNull(),
    itemId: integer().notNull(),
    before: integer().$type<UnitPrice>().notNull(),
    after: integer().$type<UnitPrice>().notNull(),
    value: integer().$type<Amount>().notNull(),
    note: text().notNull().default(''),
  },
  (table) => [index('revaluation_item').on(table.itemId)],
);

/** Stock whose worth went to another inventory account, because its item or its group did. */
export const reclassification = sqliteTable('reclassification', {
  id: integer().primaryKey(),
  number: text().notNull().unique(),
  date: text().notNull(),
  /** Why, in words. */
  note: text().notNull(),
});

export const reclassifiedItem = sqliteTable(
  'reclassified_item',
  {
    id: integer().primaryKey(),
    reclassificationId: integer()
      .notNull()
      .references(() => reclassification.id),
    itemId: integer().notNull(),
    fromAccount: text().notNull(),
    toAccount: text().notNull(),
    value: integer().$type<Amount>().notNull(),
    /** The last stock move before it: what came earlier was booked on the account before. */
    lastMove: integer().notNull(),
  },
  (table) => [index('reclassified_item_item').on(table.itemId, table.lastMove)],
);
