/** What one unit of stock is worth. */
import { and, eq, sql } from 'drizzle-orm';
import { asPrice, unitCostOf, type Amount, type Quantity, type UnitPrice } from '@terrace/core';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { costPool } from './schema';

const sums = { quantity: sql<Quantity | null>`sum(${costPool.quantity})`, value: sql<Amount | null>`sum(${costPool.value})` };
const overAll = query(($: { itemId: number }) => (db) => db.select(sums).from(costPool).where(eq(costPool.itemId, $.itemId)));
const inOne = query(
  ($: { itemId: number; warehouseId: number }) => (db) =>
    db
      .select(sums)
      .from(costPool)
      .where(and(eq(costPool.itemId, $.itemId), eq(costPool.warehouseId, $.warehouseId))),
);

/** The cost of one base unit as the stores value it, in one warehouse or over all; 0 where none is in stock. */
export function stockCost(work: Work, itemId: number, warehouseId?: number): UnitPrice {
  const row = warehouseId === undefined ? overAll.one(work, { itemId }) : inOne.one(work, { itemId, warehouseId });
  return row?.quantity ? unitCostOf(row.value ?? (0 as Amount), row.quantity) : asPrice(0);
}
