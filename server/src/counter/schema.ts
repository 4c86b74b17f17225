/** Tables of the counter: sales, baskets put aside, drawers. */
import { sql } from 'drizzle-orm';
import { index, integer, sqliteTable, text, uniqueIndex, type AnySQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Amount } from '@terrace/core';
import { invoice, payment } from '../accounts';
import { warehouse } from '../catalogue';
import { user } from '../platform/schema';
import { customerOrder } from '../selling';

const person = () =>
  integer()
    .notNull()
    .references(() => user.id);
const place = () =>
  integer()
    .notNull()
    .references(() => warehouse.id);

export const drawer = sqliteTable(
  'drawer',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    warehouseId: place(),
    openedAt: text().notNull(),
    openedBy: person(),
    /** What it began with. */
    float: integer().$type<Amount>().notNull(),
    closedAt: text(),
    closedBy: integer().references(() => user.id),
    /** What should have been in it when it was counted, what was, and what of that stayed for the next. */
    expected: integer().$type<Amount>(),
    counted: integer().$type<Amount>(),
    left: integer().$type<Amount>(),
    note: text().notNull().default(''),
    version: integer().notNull().default(1),
  },
  (table) => [
    uniqueIndex('drawer_open')
      .on(table.warehouseId)
      .where(sql`${table.closedAt} is null`),
  ],
);

export const counterSale = sqliteTable(
  'counter_sale',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    at: text().notNull(),
    date: text().notNull(),
    userId: person(),
    warehouseId: place(),
    /** The drawer into which its cash went; none where there was no cash. */
    drawerId: integer().references(() => drawer.id),
    orderId: integer()
      .notNull()
      .references(() => customerOrder.id),
    /** Its invoice, or the credit note of a return. */
    invoiceId: integer()
      .notNull()
      .references(() => invoice.id),
    returnOf: integer().references((): AnySQLiteColumn => counterSale.id),
    /** Below 0 for a return. */
    total: integer().$type<Amount>().notNull(),
    /** Cash that was handed over, and handed back; what stayed is their difference. */
    given: integer().$type<Amount>().notNull(),
    change: integer().$type<Amount>().notNull(),
  },
  (table) => [index('counter_sale_drawer').on(table.drawerId), index('counter_sale_order').on(table.orderId)],
);

/** Cash that went into a drawer, or below 0 came out of it, beside its sales. */
export const drawerCash = sqliteTable(
  'drawer_cash',
  {
    id: integer().primaryKey(),
    at: text().notNull(),
    drawerId: integer()
      .notNull()
      .references(() => drawer.id),
    paymentId: integer()
      .notNull()
      .references(() => payment.id),
    amount: integer().$type<Amount>().notNull(),
  },
  (table) => [index('drawer_cash_drawer').on(table.drawerId)],
);

export const parkedSale = sqliteTable('parked_sale', {
  id: integer().primaryKey(),
  at: text().notNull(),
  userId: person(),
  warehouseId: place(),
  words: text().notNull(),
  basket: text({ mode: 'json' }).$type<unknown>().notNull(),
});
