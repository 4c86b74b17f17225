/** What one unit of stock is worth. */
import { asAmount, asPrice, asQuantity, unitCostOf, type UnitPrice } from '@terrace/core';
import type { Work } from '../platform/work';

/** The cost of one base unit as the stores value it, in one warehouse or over all; 0 where none is in stock. */
export function stockCost(work: Work, item: number, warehouse?: number): UnitPrice {
  const row = work.row<{ quantity: number | null; value: number | null }>(
    'select sum(quantity) as quantity, sum(value) as value from cost_pool where item_id = ?1 and (?2 is null or warehouse_id = ?2)',
    item,
    warehouse ?? null,
  );
  return row?.quantity ? unitCostOf(asAmount(row.value ?? 0), asQuantity(row.quantity)) : asPrice(0);
}
