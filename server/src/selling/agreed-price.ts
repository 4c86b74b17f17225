/** What a line of an order was agreed at: it stays until somebody changes its item, its quantity break or its price. */
import { eq } from 'drizzle-orm';
import type { Quantity, Rate } from '@terrace/core';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { priceFor, type Asked } from './pricing';
import { customerOrder, customerOrderLine } from './schema';

export type AgreedLine = Pick<
  typeof customerOrderLine.$inferSelect,
  'id' | 'itemId' | 'quantity' | 'price' | 'discount' | 'priceSteps' | 'discountReason' | 'requiredDate' | 'byRule'
>;

/** Whether a line that is wanted so is still at the price that was agreed: the same item, and no other quantity break of today's lists. */
export function stillAgreed(
  work: Work,
  kept: Pick<AgreedLine, 'itemId' | 'quantity'>,
  wanted: { readonly itemId: number; readonly quantity: Quantity },
  asked: Omit<Asked, 'itemId' | 'quantity'>,
): boolean {
  if (kept.itemId !== wanted.itemId) return false;
  if (kept.quantity === wanted.quantity) return true;
  const priceOf = (quantity: Quantity): number => priceFor(work, { ...asked, itemId: kept.itemId, quantity }).price;
  return priceOf(kept.quantity) === priceOf(wanted.quantity);
}

const lineOf = query(
  ($: { id: number }) => (db) =>
    db
      .select({ line: customerOrderLine, customerId: customerOrder.customerId, currency: customerOrder.currency, rate: customerOrder.rate })
      .from(customerOrderLine)
      .innerJoin(customerOrder, eq(customerOrder.id, customerOrderLine.orderId))
      .where(eq(customerOrderLine.id, $.id)),
);

/** The line of an order by its id, with the currency of its price, where it is an order of this customer. */
export function agreedLine(
  work: Work,
  id: number,
  customerId: number | null,
): (AgreedLine & { readonly currency: string; readonly rate: Rate }) | null {
  const found = lineOf.one(work, { id });
  return found?.customerId === customerId ? { ...found.line, currency: found.currency, rate: found.rate } : null;
}
