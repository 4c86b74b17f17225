/** What production brings in, and the components that it takes. */
import { and, eq, gt, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Quantity } from '@terrace/core';
import { atLeast0, inner, scalar, total } from '../platform/expressions';
import { query } from '../platform/query';
import { finerIn, workingDayAfter } from '../catalogue';
import type { Work } from '../platform/work';
import type { StockEvent } from '../stores';
import { IS_OPEN, stillToMake } from './progress';
import { productionComponent, productionOrder } from './schema';

const stillToTake = sql<Quantity>`${productionComponent.needed} - ${productionComponent.issued}`;
const inWarehouse = (warehouse: SQLiteColumn | number) => and(eq(productionOrder.warehouseId, warehouse), IS_OPEN);

const toMake = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({ id: productionOrder.id, document: productionOrder.number, quantity: stillToMake, date: productionOrder.dueDate })
      .from(productionOrder)
      .where(and(eq(productionOrder.itemId, $.item), inWarehouse($.warehouse), gt(stillToMake, sql`0`))),
);
const toTakeOut = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({
        id: productionComponent.id,
        orderId: productionOrder.id,
        document: sql<string>`${productionOrder.number} || '/' || ${productionComponent.position}`,
        quantity: stillToTake,
        date: productionOrder.startDate,
        offsetDays: productionComponent.offsetDays,
      })
      .from(productionComponent)
      .innerJoin(productionOrder, eq(productionOrder.id, productionComponent.orderId))
      .where(and(eq(productionComponent.itemId, $.item), inWarehouse($.warehouse), gt(stillToTake, sql`0`))),
);

/** What production brings of an item into a warehouse, and what it takes out, for lists. */
export const madeIn = (item: SQLiteColumn, warehouse: SQLiteColumn): SQL<Quantity> =>
  scalar(
    inner
      .select({ quantity: total(atLeast0<Quantity>(stillToMake)) })
      .from(productionOrder)
      .where(and(eq(productionOrder.itemId, item), inWarehouse(warehouse))),
  ) as SQL<Quantity>;
export const takenOut = (item: SQLiteColumn, warehouse: SQLiteColumn): SQL<Quantity> =>
  scalar(
    inner
      .select({ quantity: total(atLeast0<Quantity>(stillToTake)) })
      .from(productionComponent)
      .innerJoin(productionOrder, eq(productionOrder.id, productionComponent.orderId))
      .where(and(eq(productionComponent.itemId, item), inWarehouse(warehouse))),
  ) as SQL<Quantity>;

/** The number of an order, for lists. */
export const productionNumber = (order: SQLiteColumn): SQL<string | null> =>
  scalar(inner.select({ number: productionOrder.number }).from(productionOrder).where(eq(productionOrder.id, order)));

export function productionEvents(work: Work, item: number, warehouse: number): StockEvent[] {
  return [
    ...toMake.all(work, { item, warehouse }).map((row): StockEvent => ({
      date: row.date,
      kind: 'supply',
      quantity: row.quantity,
      document: row.document,
      firm: true,
      link: { kind: 'productionOrder', id: row.id },
      holder: null,
    })),
    ...toTakeOut.all(work, { item, warehouse }).map((row): StockEvent => ({
      date: workingDayAfter(work, warehouse, row.date, row.offsetDays),
      kind: 'demand',
      quantity: row.quantity,
      document: row.document,
      firm: true,
      link: { kind: 'productionOrder', id: row.orderId },
      holder: { kind: 'productionOrder', id: row.id },
    })),
  ];
}

const openMaking = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({ number: productionOrder.number })
      .from(productionOrder)
      .where(and(eq(productionOrder.itemId, $.itemId), IS_OPEN)),
);

/** Numbers of the production orders that still make an item. */
export function openProductionOf(work: Work, itemId: number): string[] {
  return openMaking.all(work, { itemId }).map((each) => each.number);
}

/** How a unit's narrowing finds quantities of production that are finer. */
export const finerProduction = [
  ...finerIn(productionOrder, productionOrder.itemId, productionOrder.quantity),
  ...finerIn(productionComponent, productionComponent.itemId, productionComponent.needed),
];
