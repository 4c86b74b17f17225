/** Tables of invoices and payments. */
import { sql } from 'drizzle-orm';
import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Amount, Quantity, UnitPrice } from '@terrace/core';
import { customer } from '../catalogue';

export const invoice = sqliteTable(
  'invoice',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    customerId: integer()
      .notNull()
      .references(() => customer.id),
    /** The customer's order; selling's table, so the reference is stated in `schema.ts`. */
    orderId: integer().notNull(),
    date: text().notNull(),
    dueDate: text().notNull(),
    /** How it was agreed to be paid, in words. */
    terms: text().notNull().default(''),
    /** The last day of a discount for early payment, and the discount in basis points. */
    discountUntil: text(),
    discount: integer().notNull().default(0),
    state: text().$type<'open' | 'paid' | 'reversed'>().notNull(),
    net: integer().$type<Amount>().notNull(),
    tax: integer().$type<Amount>().notNull(),
    total: integer().$type<Amount>().notNull(),
    paid: integer().$type<Amount>().notNull(),
    entryId: integer(),
    version: integer().notNull().default(1),
  },
  (table) => [
    index('invoice_order').on(table.orderId),
    index('invoice_customer').on(table.customerId, table.state),
    index('invoice_state').on(table.state, table.dueDate),
  ],
);

export const invoiceLine = sqliteTable(
  'invoice_line',
  {
    id: integer().primaryKey(),
    invoiceId: integer()
      .notNull()
      .references(() => invoice.id),
    /** A line of the customer's order; likewise. */
    orderLineId: integer().notNull(),
    itemId: integer().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
    price: integer().$type<UnitPrice>().notNull(),
    discount: integer().notNull(),
    amount: integer().$type<Amount>().notNull(),
    /** How many of the pieces are free of charge. */
    free: integer()
      .$type<Quantity>()
      .notNull()
      .default(sql`0`),
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
