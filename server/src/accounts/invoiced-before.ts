/** What stands on invoices of an order already, so that the next one brings what is left. */
import { and, eq, ne, sql } from 'drizzle-orm';
import { asAmount, splitByWeights, type Amount, type InvoicedBefore, type Quantity, type UnitPrice } from '@terrace/core';
import { total } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { invoice, invoiceLine } from './invoice-schema';

const STANDS = and(eq(invoice.kind, 'invoice'), ne(invoice.state, 'reversed'));
const ofLine = query(
  ($: { lineId: number; price: UnitPrice; discount: number }) => (db) =>
    db
      .select({
        quantity: total(sql<Quantity>`${invoiceLine.quantity} - ${invoiceLine.free}`),
        amount: total(invoiceLine.amount),
      })
      .from(invoiceLine)
      .innerJoin(invoice, eq(invoice.id, invoiceLine.invoiceId))
      .where(and(STANDS, eq(invoiceLine.orderLineId, $.lineId), eq(invoiceLine.price, $.price), eq(invoiceLine.discount, $.discount))),
);

/** What was charged of a line of an order at one price. */
export function lineInvoiced(work: Work, lineId: number, price: UnitPrice, discount: number): InvoicedBefore {
  return ofLine.one(work, { lineId, price, discount }) ?? { quantity: 0 as Quantity, amount: asAmount(0) };
}

const ofOrder = query(
  ($: { orderId: number }) => (db) =>
    db
      .selectDistinct({ id: invoice.id, tax: invoice.tax })
      .from(invoiceLine)
      .innerJoin(invoice, eq(invoice.id, invoiceLine.invoiceId))
      .where(and(STANDS, otherRooms.get().isLineOf(invoiceLine.orderLineId, sql`${$.orderId}`))),
);
const byOrder = query(($: { invoiceId: number }) => (db) => {
  const order = otherRooms.get().orderOfLine(invoiceLine.orderLineId);
  return db
    .select({ orderId: order, net: total(invoiceLine.amount) })
    .from(invoiceLine)
    .where(eq(invoiceLine.invoiceId, $.invoiceId))
    .groupBy(order)
    .orderBy(order);
});

/**
 * What invoices charge of an order, in minor units. The tax of an invoice over several orders belongs to them as what it charges
 * of each does (largest remainder).
 */
export function orderInvoiced(work: Work, orderId: number): { readonly net: Amount; readonly tax: Amount } {
  let [net, tax] = [0, 0];
  for (const each of ofOrder.all(work, { orderId })) {
    const parts = byOrder.all(work, { invoiceId: each.id });
    const at = parts.findIndex((part) => part.orderId === orderId);
    const weights = parts.map((part) => Math.abs(part.net));
    net += parts[at]?.net ?? 0;
    tax += weights.some((weight) => weight > 0) ? (splitByWeights(each.tax, weights)[at] ?? 0) : 0;
  }
  return { net: asAmount(net), tax: asAmount(tax) };
}
