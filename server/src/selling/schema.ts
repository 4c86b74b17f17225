import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Amount, CustomerOrderState, Quantity, UnitPrice } from '@terrace/core';
import { customer } from '../catalogue/party-schema';
import { item, warehouse } from '../catalogue/schema';

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
    total: integer().$type<Amount>().notNull(),
    version: integer().notNull().default(1),
  },
  (table) => [
    index('customer_order_open').on(table.open, table.requiredDate, table.id),
    index('customer_order_required').on(table.requiredDate, table.id),
    index('customer_order_customer').on(table.customerId),
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

export const invoice = sqliteTable(
  'invoice',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    customerId: integer()
      .notNull()
      .references(() => customer.id),
    orderId: integer()
      .notNull()
      .references(() => customerOrder.id),
    date: text().notNull(),
    dueDate: text().notNull(),
    state: text().$type<'open' | 'paid' | 'reversed'>().notNull(),
    net: integer().$type<Amount>().notNull(),
    tax: integer().$type<Amount>().notNull(),
    total: integer().$type<Amount>().notNull(),
    paid: integer().$type<Amount>().notNull(),
    entryId: integer(),
    version: integer().notNull().default(1),
  },
  (table) => [index('invoice_order').on(table.orderId), index('invoice_state').on(table.state, table.dueDate)],
);

export const invoiceLine = sqliteTable(
  'invoice_line',
  {
    id: integer().primaryKey(),
    invoiceId: integer()
      .notNull()
      .references(() => invoice.id),
    orderLineId: integer()
      .notNull()
      .references(() => customerOrderLine.id),
    itemId: integer().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
    price: integer().$type<UnitPrice>().notNull(),
    discount: integer().notNull(),
    amount: integer().$type<Amount>().notNull(),
  },
  (table) => [index('invoice_line_invoice').on(table.invoiceId)],
);

export const payment = sqliteTable('payment', {
  id: integer().primaryKey(),
  number: text().notNull().unique(),
  invoiceId: integer()
    .notNull()
    .references(() => invoice.id),
  date: text().notNull(),
  amount: integer().$type<Amount>().notNull(),
  method: text().$type<'transfer' | 'cash' | 'card'>().notNull(),
  entryId: integer().notNull(),
  reversed: integer({ mode: 'boolean' }).notNull().default(false),
});
