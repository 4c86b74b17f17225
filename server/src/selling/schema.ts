import { sql } from 'drizzle-orm';
import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Amount, CustomerOrderKind, CustomerOrderState, Quantity, UnitPrice } from '@terrace/core';
import { customer, item, paymentTerm, warehouse } from '../catalogue';
import { user } from '../platform/schema';
import { amountFrom0, quantityFrom0, rateFrom1 } from '../platform/column-kinds';

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
    kind: text().$type<CustomerOrderKind>().notNull().default('order'),
    /** Of a quote or a blanket order: the last day on which it holds. */
    validUntil: text(),
    /** How likely a quote becomes an order, in percent. */
    probability: integer().notNull().default(0),
    /** Why a quote was lost. */
    lostReason: text().notNull().default(''),
    /** What of a quote was lost, without tax, in the books' currency. */
    lostNet: amountFrom0(),
    /** Whether freight and the like is charged by rule, as long as it is a draft or an offer. */
    charges: integer({ mode: 'boolean' }).notNull().default(true),
    /** Where it goes, as it was entered; empty for the customer's own address. */
    shipTo: text().notNull().default(''),
    /** How it is to be paid, as agreed: terms by their code, or else days. */
    paymentTerm: text().references(() => paymentTerm.code),
    paymentDays: integer().notNull().default(0),
    /** Who sells it. */
    salesPersonId: integer().references(() => user.id),
    /** Whether it goes as a whole or not at all. */
    complete: integer({ mode: 'boolean' }).notNull().default(false),
    /** The order that it was divided from, the same for all its parts and for that order itself. */
    familyId: integer(),
    /** What its tax is more, or less, than its net and rate say, since it was divided: all parts together have the tax of the whole. */
    taxCorrection: amountFrom0(),
    /** Basis points: the customer's when it was last entered as a draft; it stays when theirs changes. */
    taxRate: integer()
      .notNull()
      .default(sql`0`),
    /** What its prices and sums are in, and what one of it was worth in the books' currency on its day. */
    currency: text().notNull().default(''),
    rate: rateFrom1(),
    /** Without tax, and with. */
    net: amountFrom0(),
    total: integer().$type<Amount>().notNull(),
    /** The same in the books' currency. */
    booksNet: amountFrom0(),
    booksTotal: amountFrom0(),
    version: integer().notNull().default(1),
  },
  (table) => [
    // What is open of orders is counted and paged through all day: of nothing but what that takes.
    index('customer_order_open')
      .on(table.open, table.requiredDate, table.id)
      .where(sql`kind = 'order'`),
    index('customer_order_required').on(table.requiredDate, table.id),
    index('customer_order_customer').on(table.customerId, table.state, table.booksTotal),
    index('customer_order_state').on(table.state),
    index('customer_order_family').on(table.familyId),
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
    /** Whether it is a charge that a rule added. */
    byRule: integer({ mode: 'boolean' }).notNull().default(false),
    /** Why more than the ceiling was given away. */
    discountReason: text().notNull().default(''),
    requiredDate: text().notNull(),
    promiseDate: text(),
    shipped: integer().$type<Quantity>().notNull(),
    invoiced: integer().$type<Quantity>().notNull(),
    cancelled: integer().$type<Quantity>().notNull(),
    /** How many of its pieces are free of charge, and how many of those are on invoices. */
    free: quantityFrom0(),
    freeInvoiced: quantityFrom0(),
    /** Of a quote or a blanket order: what has become orders, and what of that is free of charge. */
    ordered: quantityFrom0(),
    freeOrdered: quantityFrom0(),
    note: text().notNull().default(''),
    /** Where it goes and by whom, if not as the order. */
    shipTo: text().notNull().default(''),
    carrier: text().notNull().default(''),
    /** Whether the supplier ships it: it takes nothing from stock. */
    direct: integer({ mode: 'boolean' }).notNull().default(false),
    /** What it is worth more, or less, than its figures say, since it was divided: all parts together are worth what the whole was. */
    correction: amountFrom0(),
    /** The line that it was divided from. */
    originId: integer(),
    /** The line of a quote or a blanket order that it was made of. */
    quotedLineId: integer(),
  },
  (table) => [
    index('customer_order_line_order').on(table.orderId),
    index('customer_order_line_item').on(table.itemId),
    index('customer_order_line_quoted').on(table.quotedLineId),
  ],
);
