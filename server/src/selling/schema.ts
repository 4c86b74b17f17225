import { sql } from 'drizzle-orm';
import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Amount, CustomerOrderState, Quantity, UnitPrice } from '@terrace/core';
import { customer, item, warehouse } from '../catalogue';

export const customerOrder = sqliteTable(
  'customer_order',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    customerId: integer()
      .notNull()
      .references(() => customer.id),
    reference: text().notNull(),
    warehouseId: integer()
      .notNull()
      .references(() => warehouse.id),
    orderDate: text().notNull(),
    requiredDate: text().notNull(),
    promiseDate: text(),
    state: text().$type<CustomerOrderState>().notNull(),
    /** True while anything of it is still to be done. */
    open: integer({ mode: 'boolean' }).notNull().default(true),
    note: text().notNull(),
    /** By whom it goes, and how: the customer's when it was entered. */
    carrier: text().notNull().default(''),
    service: text().notNull().default(''),
    /** Why nothing goes on with it; empty where it does. */
    held: text().notNull().default(''),
    /** Basis points: the customer's when it was last entered as a draft; it stays when theirs changes. */
    taxRate: integer()
      .notNull()
      .default(sql`0`),
    /** Without tax, and with. */
    net: integer()
      .$type<Amount>()
      .notNull()
      .default(sql`0`),
    total: integer().$type<Amount>().notNull(),
    version: integer().notNull().default(1),
  },
  (table) => [
    index('customer_order_open').on(table.open, table.requiredDate, table.id),
    index('customer_order_required').on(table.requiredDate, table.id),
    index('customer_order_customer').on(table.customerId, table.state, table.total),
    index('customer_order_state').on(table.state),
  ],
);

export const customerOrderLine = sqliteTable(
  'customer_order_line',
  {
    id: integer().primaryKey(),
    orderId: integer()
      .notNull()
      .references(() => customerOrder.id),
    position: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    quantity: integer().$type<Quantity>().notNull(),
    price: integer().$type<UnitPrice>().notNull(),
    /** Basis points. */
    discount: integer().notNull(),
    /** How the price came about, a sentence a step. */
    priceSteps: text({ mode: 'json' }).$type<string[]>().notNull().default([]),
    /** Why more than the ceiling was given away. */
    discountReason: text().notNull().default(''),
    requiredDate: text().notNull(),
    promiseDate: text(),
    shipped: integer().$type<Quantity>().notNull(),
    invoiced: integer().$type<Quantity>().notNull(),
    cancelled: integer().$type<Quantity>().notNull(),
  },
  (table) => [index('customer_order_line_order').on(table.orderId), index('customer_order_line_item').on(table.itemId)],
);
