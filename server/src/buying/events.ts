/** What suppliers are to deliver. */
import { and, eq, gt, inArray, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Quantity } from '@terrace/core';
import { finerIn } from '../catalogue';
import { atLeast0, countOf, inner, scalar, total } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import type { StockEvent } from '../stores';
import { purchaseOrder, purchaseOrderLine as line } from './schema';

/** What of a line is still to come. */
export const stillToCome = sql<Quantity>`${line.quantity} - ${line.received} - ${line.cancelled}`;
/** States in which a purchase order is still expected. */
export const IS_EXPECTED = inArray(purchaseOrder.state, ['draft', 'approved', 'sent', 'partReceived']);

const openLines = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({
        orderId: purchaseOrder.id,
        document: sql<string>`${purchaseOrder.number} || '/' || ${line.position}`,
        quantity: stillToCome,
        date: line.dueDate,
      })
      .from(line)
      .innerJoin(purchaseOrder, eq(purchaseOrder.id, line.orderId))
      .where(and(eq(line.itemId, $.item), eq(purchaseOrder.warehouseId, $.warehouse), IS_EXPECTED, gt(stillToCome, sql`0`))),
);

/** What orders bring of an item into a warehouse, for lists. */
export const orderedIn = (item: SQLiteColumn, warehouse: SQLiteColumn): SQL<Quantity> =>
  scalar(
    inner
      .select({ quantity: total(atLeast0<Quantity>(stillToCome)) })
      .from(line)
      .innerJoin(purchaseOrder, eq(purchaseOrder.id, line.orderId))
      .where(and(eq(line.itemId, item), eq(purchaseOrder.warehouseId, warehouse), IS_EXPECTED)),
  ) as SQL<Quantity>;

export function buyingEvents(work: Work, item: number, warehouse: number): StockEvent[] {
  return openLines.all(work, { item, warehouse }).map((row) => ({
    date: row.date,
    kind: 'supply',
    quantity: row.quantity,
    document: row.document,
    firm: true,
    link: { kind: 'purchaseOrder', id: row.orderId },
    holder: null,
  }));
}

const openNaming = query(
  ($: { itemId: number }) => (db) =>
    db
      .selectDistinct({ number: purchaseOrder.number })
      .from(line)
      .innerJoin(purchaseOrder, eq(purchaseOrder.id, line.orderId))
      .where(and(eq(line.itemId, $.itemId), IS_EXPECTED, gt(stillToCome, sql`0`))),
);

/** Numbers of the purchase orders that still expect an item. */
export function openPurchasesOf(work: Work, itemId: number): string[] {
  return openNaming.all(work, { itemId }).map((each) => each.number);
}

/** How many purchase orders with a supplier are open, for lists. */
export const openPurchasesWith = (supplier: SQLiteColumn): SQL<number> =>
  countOf(purchaseOrder, and(eq(purchaseOrder.supplierId, supplier), IS_EXPECTED));

/** How a unit's narrowing finds quantities of purchase orders that are finer. */
export const finerPurchases = finerIn(line, line.itemId, line.quantity);
