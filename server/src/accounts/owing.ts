/** What a customer owes, for lists: what is open on their invoices less their credit notes and what they paid ahead, in the books' currency. */
import { and, eq, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Amount } from '@terrace/core';
import { inner, or0, scalar, total } from '../platform/expressions';
import { invoice, payment, settlement } from './invoice-schema';

/** What is open on a customer's invoices and, below 0, credit notes. */
export const openOf = (customerId: SQLiteColumn, ...more: SQL[]): SQL<Amount> =>
  or0(
    scalar(
      inner
        .select({ sum: total(sql<Amount>`${invoice.booksTotal} - ${invoice.booksPaid}`) })
        .from(invoice)
        .where(and(eq(invoice.customerId, customerId), eq(invoice.state, 'open'), ...more)),
    ),
  );

/** What a customer has paid and no invoice has taken. */
export function aheadOf(customerId: SQLiteColumn): SQL<Amount> {
  const received = scalar(
    inner
      .select({ sum: total(payment.booksAmount) })
      .from(payment)
      .where(and(eq(payment.customerId, customerId), eq(payment.reversed, false))),
  );
  const taken = scalar(
    inner
      .select({ sum: total(settlement.booksTaken) })
      .from(settlement)
      .innerJoin(payment, eq(payment.id, settlement.paymentId))
      .where(and(eq(payment.customerId, customerId), eq(payment.reversed, false), eq(settlement.reversed, false))),
  );
  return sql<Amount>`(${received} - ${taken})`;
}

export const owesOn = (customerId: SQLiteColumn): SQL<Amount> => sql<Amount>`(${openOf(customerId)} - ${aheadOf(customerId)})`;
