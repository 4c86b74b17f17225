/** What the plan counts with, as queries: each over all there is, and over one document, item or figure. */
import { and, eq, gt, inArray, ne, sql, type SQL } from 'drizzle-orm';
import { alias, unionAll, type SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Quantity } from '@terrace/core';
import { IS_EXPECTED, purchaseOrder, purchaseOrderLine, stillToCome } from '../buying';
import { bomLine, calendar, item, unit, warehouse } from '../catalogue';
import type { Database } from '../platform/database';
import { flag } from '../platform/expressions';
import { query } from '../platform/query';
import { IS_OPEN, productionComponent, productionOrder, stillToMake } from '../production';
import { FROM_STOCK, IN_WORK, OPEN_QUOTE, customerOrder, customerOrderLine, stillToShip } from '../selling';
import { UNDER_WAY, balance, lot, lotOfBalance, lotUsableUntil, reservation, stillToBring, trackingRule, transfer, transferLine } from '../stores';
import { forecastFigure, forecastSeries, planFirm, planningRule } from './schema';

type Buildable = Parameters<typeof query>[0] extends ($: never) => (db: never) => infer B ? B : never;

/** A query over everything, and the same over the rows of one number. */
function overAllAndOne<B extends Buildable>(id: SQLiteColumn, build: (db: Database, where?: SQL) => B) {
  return { all: query(() => (db) => build(db)), of: query(($: { id: number }) => (db) => build(db, eq(id, $.id))) };
}

const isPlanned = inArray(item.kind, ['stocked', 'phantom']);
const isStocked = eq(item.kind, 'stocked');

export const calendarCodes = query(() => (db) => db.select({ code: calendar.code }).from(calendar));
export const places = query(() => (db) => db.select({ id: warehouse.id, code: warehouse.code, calendar: warehouse.calendar }).from(warehouse));

export const plannedItems = query(
  () => (db) =>
    db
      .select({ code: item.code, decimals: unit.decimals, phantom: flag(eq(item.kind, 'phantom')) })
      .from(item)
      .innerJoin(unit, eq(unit.code, item.unitCode))
      .where(isPlanned)
      .orderBy(item.code),
);

const source = alias(warehouse, 'source');
export const rules = overAllAndOne(planningRule.itemId, (db, where) =>
  db
    .select({
      itemId: planningRule.itemId,
      item: item.code,
      warehouse: warehouse.code,
      source: planningRule.source,
      from: source.code,
      leadDays: planningRule.leadDays,
      safety: planningRule.safety,
      minimum: planningRule.minimum,
      multiple: planningRule.multiple,
      maximum: planningRule.maximum,
      usable: planningRule.usable,
      fenceDays: planningRule.fenceDays,
      slackDays: planningRule.slackDays,
      // As it is written: what is written alike is read once.
      lotSizing: sql<string>`${planningRule.lotSizing}`,
      demand: planningRule.demand,
      consumeBack: planningRule.consumeBack,
      consumeForward: planningRule.consumeForward,
    })
    .from(planningRule)
    .innerJoin(item, eq(item.id, planningRule.itemId))
    .innerJoin(warehouse, eq(warehouse.id, planningRule.warehouseId))
    .leftJoin(source, eq(source.id, planningRule.fromId))
    // What was given up is bought and made no more, whatever its rules say.
    .where(and(isPlanned, eq(item.active, true), where)),
);

export const stock = overAllAndOne(balance.itemId, (db, where) =>
  db
    .select({ item: item.code, warehouse: warehouse.code, quantity: sql<Quantity>`sum(${balance.quantity})`, usableUntil: lotUsableUntil })
    .from(balance)
    .innerJoin(item, eq(item.id, balance.itemId))
    .innerJoin(warehouse, eq(warehouse.id, balance.warehouseId))
    .leftJoin(lot, lotOfBalance)
    .leftJoin(trackingRule, eq(trackingRule.itemId, item.id))
    .where(and(eq(balance.state, 'available'), isStocked, where))
    .groupBy(item.code, warehouse.code, lotUsableUntil),
);

/** How the plan calls a line of a document: its number, a stroke and its place. */
const lineName = (number: SQLiteColumn, position: SQLiteColumn): SQL<string> => sql<string>`${number} || '/' || ${position}`;
const notLocked = sql<boolean>`0`.mapWith(() => false);

export const purchases = overAllAndOne(purchaseOrder.id, (db, where) =>
  db
    .select({
      id: lineName(purchaseOrder.number, purchaseOrderLine.position),
      item: item.code,
      warehouse: warehouse.code,
      date: purchaseOrderLine.dueDate,
      quantity: stillToCome,
      locked: notLocked,
    })
    .from(purchaseOrderLine)
    .innerJoin(purchaseOrder, eq(purchaseOrder.id, purchaseOrderLine.orderId))
    .innerJoin(item, eq(item.id, purchaseOrderLine.itemId))
    .innerJoin(warehouse, eq(warehouse.id, purchaseOrder.warehouseId))
    .where(and(IS_EXPECTED, gt(stillToCome, sql`0`), isStocked, where)),
);

export const production = overAllAndOne(productionOrder.id, (db, where) =>
  db
    .select({
      id: productionOrder.number,
      item: item.code,
      warehouse: warehouse.code,
      date: productionOrder.dueDate,
      quantity: stillToMake,
      locked: notLocked,
    })
    .from(productionOrder)
    .innerJoin(item, eq(item.id, productionOrder.itemId))
    .innerJoin(warehouse, eq(warehouse.id, productionOrder.warehouseId))
    .where(and(IS_OPEN, gt(stillToMake, sql`0`), where)),
);

export const transfersComing = overAllAndOne(transfer.id, (db, where) =>
  db
    .select({
      id: lineName(transfer.number, transferLine.position),
      item: item.code,
      warehouse: warehouse.code,
      date: transfer.dueDate,
      quantity: stillToBring,
      locked: flag(ne(transfer.state, 'requested')),
    })
    .from(transferLine)
    .innerJoin(transfer, eq(transfer.id, transferLine.transferId))
    .innerJoin(item, eq(item.id, transferLine.itemId))
    .innerJoin(warehouse, eq(warehouse.id, transfer.toId))
    .where(and(UNDER_WAY, sql`${transferLine.quantity} > ${transferLine.received} + ${transferLine.lost}`, where)),
);

export const transfersLeaving = overAllAndOne(transfer.id, (db, where) =>
  db
    .select({
      id: lineName(transfer.number, transferLine.position),
      item: item.code,
      warehouse: warehouse.code,
      date: transfer.shipDate,
      quantity: transferLine.quantity,
    })
    .from(transferLine)
    .innerJoin(transfer, eq(transfer.id, transferLine.transferId))
    .innerJoin(item, eq(item.id, transferLine.itemId))
    .innerJoin(warehouse, eq(warehouse.id, transfer.fromId))
    .where(and(eq(transfer.state, 'requested'), where)),
);

export const orders = overAllAndOne(customerOrder.id, (db, where) =>
  db
    .select({
      id: lineName(customerOrder.number, customerOrderLine.position),
      item: item.code,
      warehouse: warehouse.code,
      date: customerOrderLine.requiredDate,
      quantity: stillToShip,
    })
    .from(customerOrderLine)
    .innerJoin(customerOrder, eq(customerOrder.id, customerOrderLine.orderId))
    .innerJoin(item, eq(item.id, customerOrderLine.itemId))
    .innerJoin(warehouse, eq(warehouse.id, customerOrder.warehouseId))
    .where(and(IN_WORK, FROM_STOCK, gt(stillToShip, sql`0`), isStocked, where)),
);

/** What is likely to be ordered: quotes that hold, on the day on which they are wanted. */
export const quotes = overAllAndOne(customerOrder.id, (db, where) =>
  db
    .select({
      id: lineName(customerOrder.number, customerOrderLine.position),
      item: item.code,
      warehouse: warehouse.code,
      date: customerOrderLine.requiredDate,
      quantity: notOrdered,
      probability: customerOrder.probability,
      validUntil: customerOrder.validUntil,
    })
    .from(customerOrderLine)
    .innerJoin(customerOrder, eq(customerOrder.id, customerOrderLine.orderId))
    .innerJoin(item, eq(item.id, customerOrderLine.itemId))
    .innerJoin(warehouse, eq(warehouse.id, customerOrder.warehouseId))
    .where(and(OPEN_QUOTE, FROM_STOCK, gt(notOrdered, sql`0`), isStocked, where)),
);
const notOrdered = sql<Quantity>`${customerOrderLine.quantity} - ${customerOrderLine.cancelled} - ${customerOrderLine.ordered}`;

const stillToTake = sql<Quantity>`${productionComponent.needed} - ${productionComponent.issued}`;
export const components = overAllAndOne(productionOrder.id, (db, where) =>
  db
    .select({
      id: lineName(productionOrder.number, productionComponent.position),
      item: item.code,
      warehouseId: warehouse.id,
      warehouse: warehouse.code,
      date: productionOrder.startDate,
      offsetDays: productionComponent.offsetDays,
      quantity: stillToTake,
    })
    .from(productionComponent)
    .innerJoin(productionOrder, eq(productionOrder.id, productionComponent.orderId))
    .innerJoin(item, eq(item.id, productionComponent.itemId))
    .innerJoin(warehouse, eq(warehouse.id, productionOrder.warehouseId))
    .where(and(IS_OPEN, gt(stillToTake, sql`0`), isStocked, where)),
);

/** Suggestions that somebody keeps. */
export const kept = overAllAndOne(planFirm.id, (db, where) =>
  db
    .select({
      id: planFirm.number,
      kind: planFirm.kind,
      itemId: item.id,
      item: item.code,
      decimals: unit.decimals,
      warehouseId: warehouse.id,
      warehouse: warehouse.code,
      from: source.code,
      quantity: planFirm.quantity,
      placeBy: planFirm.placeBy,
      due: planFirm.due,
    })
    .from(planFirm)
    .innerJoin(item, eq(item.id, planFirm.itemId))
    .innerJoin(unit, eq(unit.code, item.unitCode))
    .innerJoin(warehouse, eq(warehouse.id, planFirm.warehouseId))
    .leftJoin(source, eq(source.id, planFirm.fromId))
    .where(where),
);

const figure = sql<Quantity>`coalesce(${forecastFigure.typed}, ${forecastFigure.computed})`;
const figures = (db: Database, where?: SQL) =>
  db
    .select({
      item: item.code,
      warehouse: warehouse.code,
      decimals: unit.decimals,
      start: forecastFigure.start,
      quantity: figure,
      period: forecastSeries.period,
    })
    .from(forecastFigure)
    .innerJoin(forecastSeries, and(eq(forecastSeries.itemId, forecastFigure.itemId), eq(forecastSeries.warehouseId, forecastFigure.warehouseId)))
    .innerJoin(item, eq(item.id, forecastFigure.itemId))
    .innerJoin(unit, eq(unit.code, item.unitCode))
    .innerJoin(warehouse, eq(warehouse.id, forecastFigure.warehouseId))
    .where(and(gt(figure, sql`0`), where));
export const forecast = {
  all: query(() => (db) => figures(db)),
  of: query(
    ($: { itemId: number; warehouseId: number }) => (db) =>
      figures(db, and(eq(forecastFigure.itemId, $.itemId), eq(forecastFigure.warehouseId, $.warehouseId))),
  ),
};

const parent = alias(item, 'parent');
export const boms = overAllAndOne(bomLine.itemId, (db, where) =>
  db
    .select({
      parent: parent.code,
      component: item.code,
      quantity: bomLine.quantity,
      scrap: bomLine.scrap,
      offsetDays: bomLine.offsetDays,
      from: bomLine.validFrom,
      to: bomLine.validTo,
    })
    .from(bomLine)
    .innerJoin(parent, eq(parent.id, bomLine.itemId))
    .innerJoin(item, eq(item.id, bomLine.componentId))
    .where(and(isPlanned, where))
    .orderBy(bomLine.itemId, bomLine.position),
);
export const componentIds = query(
  ($: { itemId: number }) => (db) => db.select({ id: bomLine.componentId }).from(bomLine).where(eq(bomLine.itemId, $.itemId)),
);

/** Stock that is kept for a line, by the line's name. */
export const reserved = query(() => (db) => {
  const held = (
    kind: typeof reservation.$inferSelect.holderKind,
    line: typeof customerOrderLine | typeof productionComponent | typeof transferLine,
  ) =>
    db
      .select({ demand: lineName(reservation.documentNumber, line.position), quantity: reservation.quantity })
      .from(reservation)
      .innerJoin(line, eq(line.id, reservation.holderId))
      .where(eq(reservation.holderKind, kind));
  return unionAll(held('customerOrder', customerOrderLine), held('productionOrder', productionComponent), held('transfer', transferLine));
});
