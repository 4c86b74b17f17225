/** Where what was shipped was charged: the lines of invoices that are of an order's line. */
import { and, eq, ne } from 'drizzle-orm';
import { asQuantity, type Quantity } from '@terrace/core';
import { creditedOf, invoice, invoiceLine } from '../accounts';
import { query } from '../platform/query';
import type { Work } from '../platform/work';

const lines = query(
  ($: { orderLineId: number }) => (db) =>
    db
      .select({ line: invoiceLine })
      .from(invoiceLine)
      .innerJoin(invoice, eq(invoice.id, invoiceLine.invoiceId))
      .where(and(eq(invoiceLine.orderLineId, $.orderLineId), eq(invoice.kind, 'invoice'), ne(invoice.state, 'reversed')))
      .orderBy(invoiceLine.id),
);

/** The invoice lines of an order's line, and how many pieces of each are not given back yet. */
export function invoicedLines(work: Work, orderLineId: number): { readonly line: typeof invoiceLine.$inferSelect; readonly left: Quantity }[] {
  return lines.all(work, { orderLineId }).map(({ line }) => ({ line, left: asQuantity(line.quantity - creditedOf(work, line.id).quantity) }));
}
