/** What an item in a warehouse is worth, kept with every change of it. */
import {
  Refusal,
  asAmount,
  asPrice,
  asQuantity,
  costingOf,
  writeAmount,
  type Amount,
  type CostLayer,
  type CostPool,
  type Costing,
  type CostingMethod,
  type Move,
  type Quantity,
  type Received,
  type UnitPrice,
} from '@terrace/core';
import { and, desc, eq, gt, isNull, ne, or, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import { inner, or0, scalar, total } from '../platform/expressions';
import { query } from '../platform/query';
import { addRow, dropRows, keepRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { lateCostShare } from './document-schema';
import { stands } from './moves';
import { costLayer, costPool, stockMove, worthChange } from './schema';

export interface CostFacts {
  readonly costing: CostingMethod;
  readonly standardCost: number;
}

/** A move's worth: what its document says, what the stock took, and what became a cost difference. */
export interface Worth {
  /** What the entry of the move posts. */
  readonly worth: Amount;
  /** What the stock's value changed by; the rest of `worth` is variance. */
  readonly stockValue: Amount;
  readonly variance: Amount;
}

export const costingFor = (facts: CostFacts): Costing => costingOf(facts.costing, asPrice(facts.standardCost));

const pool = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({ quantity: costPool.quantity, value: costPool.value })
      .from(costPool)
      .where(and(eq(costPool.itemId, $.item), eq(costPool.warehouseId, $.warehouse))),
);
const layersOf = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({ of: costLayer.moveId, quantity: costLayer.quantity, value: costLayer.value })
      .from(costLayer)
      .where(and(eq(costLayer.itemId, $.item), eq(costLayer.warehouseId, $.warehouse)))
      .orderBy(costLayer.moveId),
);
const poolsWithStock = query(
  ($: { item: number }) => (db) =>
    db
      .select({ warehouse: costPool.warehouseId })
      .from(costPool)
      .where(and(eq(costPool.itemId, $.item), gt(costPool.quantity, sql`0`))),
);

/** The pool of an item in a warehouse, with its layers where the method has some. */
export function poolOf(work: Work, item: number, warehouse: number, method: CostingMethod): CostPool {
  const row = pool.one(work, { item, warehouse });
  const layers: readonly CostLayer[] = method === 'fifo' ? layersOf.all(work, { item, warehouse }) : [];
  return { quantity: row?.quantity ?? asQuantity(0), value: row?.value ?? asAmount(0), layers };
}

const laterWorth = query(
  ($: { item: number; warehouse: number; since: string }) => (db) =>
    db
      .select({ date: worthChange.date, change: total(worthChange.value) })
      .from(worthChange)
      .where(and(eq(worthChange.itemId, $.item), eq(worthChange.warehouseId, $.warehouse), gt(worthChange.date, $.since)))
      .groupBy(worthChange.date)
      .orderBy(desc(worthChange.date)),
);

/**
 * What is taken as of a day before today is worth what it is worth now, and stock bought dearer since makes that more
 * than all of it was worth then. Refuses `worthLessThen`, with the first day on which it can be taken.
 */
function assertWorthThen(work: Work, item: number, warehouse: number, now: Amount, taken: number, date: string): void {
  let worth: number = now;
  for (const { date: day, change } of laterWorth.all(work, { item, warehouse, since: date })) {
    worth -= change;
    if (worth >= taken) continue;
    throw new Refusal(
      'worthLessThen',
      `As of ${date} this takes ${writeAmount(taken)} out of the stock, which was worth only ${writeAmount(worth)} before ${day}. Take ${day} or a later date.`,
      { field: 'date', worth: writeAmount(worth), from: day },
    );
  }
}

/** Keeps a pool as it has become, and on which day it changed by how much. */
function keepPool(work: Work, item: number, warehouse: number, before: CostPool, after: CostPool, date: string): void {
  if (date < work.today && after.value < before.value) assertWorthThen(work, item, warehouse, before.value, before.value - after.value, date);
  keepRow(work, costPool, ['itemId', 'warehouseId'], { itemId: item, warehouseId: warehouse, quantity: after.quantity, value: after.value });
  if (after.quantity !== before.quantity || after.value !== before.value)
    addRow(work, worthChange, {
      date,
      itemId: item,
      warehouseId: warehouse,
      quantity: asQuantity(after.quantity - before.quantity),
      value: asAmount(after.value - before.value),
    });
  if (before.layers !== after.layers) keepLayers(work, item, warehouse, before.layers, after.layers);
}

function keepLayers(work: Work, item: number, warehouse: number, before: readonly CostLayer[], after: readonly CostLayer[]): void {
  const old = new Map(before.map((layer) => [layer.of, layer]));
  for (const layer of after) {
    const known = old.get(layer.of);
    old.delete(layer.of);
    if (known && known.quantity === layer.quantity && known.value === layer.value) continue;
    keepRow(work, costLayer, ['moveId'], { moveId: layer.of, itemId: item, warehouseId: warehouse, quantity: layer.quantity, value: layer.value });
  }
  for (const gone of old.keys()) dropRows(work, costLayer, { moveId: gone });
}

const goneBack = alias(stockMove, 'gone_back');
/** What late costs have added to what a move brought. */
const addedLate = (moveId: typeof goneBack.id | typeof stockMove.id) =>
  or0(
    scalar(
      inner
        .select({ value: total(lateCostShare.value) })
        .from(lateCostShare)
        .where(eq(lateCostShare.moveId, moveId)),
    ),
  );
const broughtBy = query(
  ($: { move: number }) => (db) =>
    db
      .select({ value: sql<number>`${stockMove.value} + ${addedLate(stockMove.id)}` })
      .from(stockMove)
      .where(eq(stockMove.id, $.move)),
);
/** A move that left since; not what was taken back, nor what only took out again what something else had brought. */
const leftSince = query(
  ($: { item: number; warehouse: number; move: number }) => (db) =>
    db
      .select({ id: stockMove.id })
      .from(stockMove)
      .leftJoin(goneBack, eq(goneBack.id, stockMove.reversalOf))
      .where(
        and(
          eq(stockMove.itemId, $.item),
          gt(stockMove.id, $.move),
          eq(stockMove.fromKind, 'stock'),
          eq(stockMove.fromId, $.warehouse),
          or(ne(stockMove.toKind, 'stock'), ne(stockMove.toId, $.warehouse)),
          stands,
          or(isNull(goneBack.id), sql`${stockMove.value} <> ${goneBack.value} + ${addedLate(goneBack.id)}`),
        ),
      )
      .limit(1),
);

/** What the move that goes back has brought, as long as nothing of the item has left the warehouse since. */
function broughtOf(work: Work, item: number, warehouse: number, move: number): Amount | undefined {
  if (leftSince.one(work, { item, warehouse, move })) return undefined;
  const brought = broughtBy.one(work, { move });
  return brought && asAmount(brought.value);
}

/**
 * Values a move by the item's costing and keeps what is left in its warehouses. `amount` is what it is worth when it
 * comes from outside; `takesBack` the move that it takes back, whose own layer, or worth, goes first.
 */
export function valueMove(
  work: Work,
  facts: CostFacts,
  move: Move & { readonly id: number; readonly amount: Amount; readonly takesBack: number | undefined },
  date: string,
): Worth {
  const from = move.from.kind === 'stock' ? move.from.key.warehouse : null;
  const to = move.to.kind === 'stock' ? move.to.key.warehouse : null;
  if (from === to) return { worth: asAmount(0), stockValue: asAmount(0), variance: asAmount(0) };
  const costing = costingFor(facts);
  let worth = move.amount;
  if (from !== null) {
    const before = poolOf(work, move.item, from, facts.costing);
    const back = move.takesBack === undefined ? undefined : { of: move.takesBack, brought: broughtOf(work, move.item, from, move.takesBack) };
    const issued = costing.issue(before, move.quantity, back);
    keepPool(work, move.item, from, before, issued.pool, date);
    // What rounding leaves when the last piece goes, goes with it.
    worth = asAmount(issued.value + issued.variance);
  }
  if (to === null) return { worth, stockValue: worth, variance: asAmount(0) };
  const before = poolOf(work, move.item, to, facts.costing);
  const received = costing.receive(before, move.quantity, worth, move.id);
  keepPool(work, move.item, to, before, received.pool, date);
  return { worth, stockValue: received.value, variance: received.variance };
}

/** Adds a cost that came late to what is still there; returns what the stock took. */
export function addLateCost(
  work: Work,
  facts: CostFacts,
  place: { readonly item: number; readonly warehouse: number },
  amount: Amount,
  receipt: Received,
  date: string,
): Amount {
  const before = poolOf(work, place.item, place.warehouse, facts.costing);
  const after = costingFor(facts).addLate(before, amount, receipt);
  keepPool(work, place.item, place.warehouse, before, after.pool, date);
  return after.value;
}

/** Makes what is there worth a new standard; returns the change by warehouse. */
export function revaluePools(
  work: Work,
  facts: CostFacts,
  item: number,
  unitCost: UnitPrice,
  date: string,
): { warehouse: number; quantity: Quantity; value: Amount }[] {
  return poolsWithStock.all(work, { item }).map(({ warehouse }) => {
    const before = poolOf(work, item, warehouse, facts.costing);
    const after = costingFor(facts).revalue(before, unitCost);
    keepPool(work, item, warehouse, before, after.pool, date);
    return { warehouse, quantity: before.quantity, value: after.value };
  });
}
