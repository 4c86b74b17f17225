/** Tables of invoices and payments. */
import { index, integer, sqliteTable, text, type AnySQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Amount, Quantity, UnitPrice } from '@terrace/core';
import { customer } from '../catalogue';
import { amountFrom0, quantityFrom0, rateFrom1 } from '../platform/column-kinds';

export const invoice = sqliteTable(
  'invoice',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    customerId: integer()
      .notNull()
      .references(() => customer.id),
    /** A credit note gives back what an invoice charged: its amounts and quantities are below 0. */
    kind: text().$type<'invoice' | 'credit'>().notNull().default('invoice'),
    /** Of a credit note: the invoice, and why. */
    creditOf: integer(),
    reason: text().notNull().default(''),
    /** The customer's order, or the first of several; selling's table, so the reference is stated in `schema.ts`. */
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
    /** What its sums are in, and what one of it was worth in the books' currency on its day; a credit note has its invoice's. */
    currency: text().notNull().default(''),
    rate: rateFrom1(),
    /** The sums in the books' currency, and what of it is closed there. */
    booksNet: amountFrom0(),
    booksTotal: amountFrom0(),
    booksPaid: amountFrom0(),
    entryId: integer(),
    /** The last step of reminding, and its day. */
    reminded: integer().notNull().default(0),
    remindedOn: text(),
    version: integer().notNull().default(1),
  },
  (table) => [
    index('invoice_order').on(table.orderId),
    index('invoice_customer').on(table.customerId, table.state),
    index('invoice_state').on(table.state, table.dueDate),
    index('invoice_credit').on(table.creditOf),
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
    /** In the books' currency. */
    booksAmount: amountFrom0(),
    /** How many of the pieces are free of charge. */
    free: quantityFrom0(),
    /** Of a credit note: the line that it gives back. */
    creditOf: integer(),
  },
  (table) => [
    index('invoice_line_invoice').on(table.invoiceId),
    index('invoice_line_order_line').on(table.orderLineId),
    index('invoice_line_credit').on(table.creditOf),
  ],
);

/** Money that a customer paid, or that went back to them where it is below 0. */
export const payment = sqliteTable(
  'payment',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    customerId: integer()
      .notNull()
      .references(() => customer.id),
    /** The order that it was paid ahead for; selling's table, so the reference is stated in `schema.ts`. */
    orderId: integer(),
    date: text().notNull(),
    amount: integer().$type<Amount>().notNull(),
    /** What it was paid in, what one of that was worth in the books' currency on the day, and the amount there. */
    currency: text().notNull().default(''),
    rate: rateFrom1(),
    booksAmount: amountFrom0(),
    method: text().$type<'transfer' | 'cash' | 'card'>().notNull(),
    /** The drawer that cash went into or came from; the counter's table, so the reference is stated in `schema.ts`. */
    drawerId: integer(),
    /** What they wrote with it. */
    reference: text().notNull().default(''),
    entryId: integer().notNull(),
    reversed: integer({ mode: 'boolean' }).notNull().default(false),
  },
  (table) => [index('payment_customer').on(table.customerId), index('payment_order').on(table.orderId)],
);

/** What closes an invoice: a part of a payment, or of a credit note. */
export const settlement = sqliteTable(
  'settlement',
  {
    id: integer().primaryKey(),
    /** What is closed; a credit note that is paid out is closed too, by an amount below 0. */
    invoiceId: integer()
      .notNull()
      .references(() => invoice.id),
    /** One of the two. */
    paymentId: integer().references(() => payment.id),
    creditId: integer().references((): AnySQLiteColumn => invoice.id),
    date: text().notNull(),
    /** How much of the invoice is closed; what of that is let off for paying early, and not paid. */
    amount: integer().$type<Amount>().notNull(),
    letOff: amountFrom0(),
    /** In the books' currency: what of the invoice is closed, and what that took of the payment or the credit note. */
    books: amountFrom0(),
    booksTaken: amountFrom0(),
    /** Its own entry, where it came after the payment. */
    entryId: integer(),
    reversed: integer({ mode: 'boolean' }).notNull().default(false),
  },
  (table) => [
    index('settlement_invoice').on(table.invoiceId),
    index('settlement_payment').on(table.paymentId),
    index('settlement_credit').on(table.creditId),
  ],
);
