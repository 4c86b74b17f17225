/** What customers' orders take from stock, by the date on which it is promised or wanted. */
import { and, eq, exists, gt, gte, inArray, lt, notInArray, sql, type SQL, type SQLWrapper } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Quantity } from '@terrace/core';
import { finerIn, item } from '../catalogue';
import { allOf, atLeast0, countOf, inner, scalar, total } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import type { StockEvent } from '../stores';
import { customerOrder, customerOrderLine as line } from './schema';

/** What of a line is still to ship. */
export const stillToShip = sql<Quantity>`${line.quantity} - ${line.shipped} - ${line.cancelled}`;
/** Whether it is a commitment: quotes and blanket orders are kept beside orders. */
export const IS_ORDER = sql`${customerOrder.kind} = 'order'`;
/** Whether it is taken from stock: what a supplier ships is not. */
export const FROM_STOCK = eq(line.direct, false);
export const IN_WORK = inArray(customerOrder.state, ['confirmed', 'partShipped']);

/** Whether a line is goods, for lists: as `isGoods` of core says it. */
export const IS_GOODS = notInArray(item.kind, ['service', 'charge']);

/**
 * Whether a line of an order is late: something of it is still to ship, and its day has passed, or it is promised for a
 * later day than it is wanted, or not promised at all.
 */
export const isLateLine = (today: SQLWrapper): SQL =>
  sql`${stillToShip} > 0 and (${line.promiseDate} is null or ${line.promiseDate} > ${line.requiredDate} or ${line.requiredDate} < ${today})`;

/** Whether an order in work has a line that is late, for lists. */
export const hasLateLine = (today: SQLWrapper): SQL =>
  allOf(
    sql`${customerOrder.open} = 1`,
    sql`${IN_WORK}`,
    exists(
      inner
        .select({ one: sql`1` })
        .from(line)
        .innerJoin(item, eq(item.id, line.itemId))
        .where(and(eq(line.orderId, customerOrder.id), isLateLine(today), IS_GOODS)),
    ),
  );

const openLines = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({
        id: line.id,
        orderId: customerOrder.id,
        document: sql<string>`${customerOrder.number} || '/' || ${line.position}`,
        quantity: atLeast0<Quantity>(stillToShip),
        promiseDate: line.promiseDate,
        requiredDate: line.requiredDate,
      })
      .from(line)
      .innerJoin(customerOrder, eq(customerOrder.id, line.orderId))
      .where(and(eq(line.itemId, $.item), eq(customerOrder.warehouseId, $.warehouse), IN_WORK, FROM_STOCK, gt(stillToShip, sql`0`))),
);

/** What orders take of an item out of a warehouse, for lists. */
export const orderedOut = (itemId: SQLiteColumn, warehouse: SQLiteColumn): SQL<Quantity> =>
  scalar(
    inner
      .select({ quantity: total(atLeast0<Quantity>(stillToShip)) })
      .from(line)
      .innerJoin(customerOrder, eq(customerOrder.id, line.orderId))
      .where(and(eq(line.itemId, itemId), eq(customerOrder.warehouseId, warehouse), IN_WORK, FROM_STOCK)),
  ) as SQL<Quantity>;

export function sellingEvents(work: Work, itemId: number, warehouse: number): StockEvent[] {
  return openLines.all(work, { item: itemId, warehouse }).map((row) => ({
    date: row.promiseDate ?? row.requiredDate,
    waits: row.promiseDate === null,
    kind: 'demand',
    quantity: row.quantity,
    document: row.document,
    firm: true,
    link: { kind: 'customerOrder', id: row.orderId },
    holder: { kind: 'customerOrder', id: row.id },
  }));
}

const openNaming = query(
  ($: { itemId: number }) => (db) =>
    db
      .selectDistinct({ number: customerOrder.number })
      .from(line)
      .innerJoin(customerOrder, eq(customerOrder.id, line.orderId))
      .where(and(eq(line.itemId, $.itemId), IS_ORDER, eq(customerOrder.open, true), gt(stillToShip, sql`0`))),
);

/** Numbers of the customers' orders that still want an item. */
export function openOrdersOf(work: Work, itemId: number): string[] {
  return openNaming.all(work, { itemId }).map((each) => each.number);
}

const openBy = query(
  ($: { customerId: number }) => (db) =>
    db
      .select({ number: customerOrder.number })
      .from(customerOrder)
      .where(and(eq(customerOrder.customerId, $.customerId), eq(customerOrder.open, true)))
      .orderBy(customerOrder.id)
      .limit(MOST_NAMED),
);
const MOST_NAMED = 5;

/** Numbers of the first open orders, quotes and blanket orders of a customer. */
export function openOrdersBy(work: Work, customerId: number): string[] {
  return openBy.all(work, { customerId }).map((each) => each.number);
}

/** How many orders of a customer are open, for lists. */
export const openOrdersWith = (customer: SQLiteColumn): SQL<number> =>
  countOf(customerOrder, and(eq(customerOrder.customerId, customer), IS_ORDER, eq(customerOrder.open, true)));

/** The number of an order, for lists. */
export const orderNumber = (order: SQLiteColumn): SQL<string | null> =>
  scalar(inner.select({ number: customerOrder.number }).from(customerOrder).where(eq(customerOrder.id, order)));

/** The order of a line, and its number, for lists; and whether a line is of an order. */
export const orderOfLine = (of: SQLiteColumn): SQL<number | null> =>
  scalar(inner.select({ orderId: line.orderId }).from(line).where(eq(line.id, of)));
export const orderOfLineNumber = (of: SQLiteColumn): SQL<string | null> =>
  scalar(
    inner.select({ number: customerOrder.number }).from(line).innerJoin(customerOrder, eq(customerOrder.id, line.orderId)).where(eq(line.id, of)),
  );
export const isLineOf = (of: SQLiteColumn, orderId: SQLWrapper): SQL =>
  inArray(of, inner.select({ id: line.id }).from(line).where(eq(line.orderId, orderId)));

/** How a unit's narrowing finds quantities of orders that are finer. */
export const finerOrders = finerIn(line, line.itemId, line.quantity);

/** What customers wanted of an item in a warehouse, day by day: from the first day up to the day before the last. */
export const orderedInPast = query(
  ($: { itemId: number; warehouseId: number; from: string; through: string }) => (db) =>
    db
      .select({ date: line.requiredDate, quantity: sql<number>`sum(${line.quantity} - ${line.cancelled})` })
      .from(line)
      .innerJoin(customerOrder, eq(customerOrder.id, line.orderId))
      .where(
        and(
          eq(line.itemId, $.itemId),
          eq(customerOrder.warehouseId, $.warehouseId),
          FROM_STOCK,
          IS_ORDER,
          notInArray(customerOrder.state, ['draft', 'cancelled']),
          gte(line.requiredDate, $.from),
          lt(line.requiredDate, $.through),
        ),
      )
      .groupBy(line.requiredDate),
);
