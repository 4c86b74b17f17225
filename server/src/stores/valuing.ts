/** What an item in a warehouse is worth, kept with every change of it. */
import {
  asAmount,
  asPrice,
  asQuantity,
  costingOf,
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
import type { Work } from '../platform/work';

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

/** The pool of an item in a warehouse, with its layers where the method has some. */
export function poolOf(work: Work, item: number, warehouse: number, method: CostingMethod): CostPool {
  const row = work.row<{ quantity: number; value: number }>(
    'select quantity, value from cost_pool where item_id = ? and warehouse_id = ?',
    item,
    warehouse,
  );
  const layers =
    method === 'fifo'
      ? work
          .rows<{ of: number; quantity: number; value: number }>(
            'select move_id as of, quantity, value from cost_layer where item_id = ? and warehouse_id = ? order by move_id',
            item,
            warehouse,
          )
          .map((layer): CostLayer => ({ of: layer.of, quantity: asQuantity(layer.quantity), value: asAmount(layer.value) }))
      : [];
  return { quantity: asQuantity(row?.quantity ?? 0), value: asAmount(row?.value ?? 0), layers };
}

/** Keeps a pool as it has become, and on which day it changed by how much. */
function keepPool(work: Work, item: number, warehouse: number, before: CostPool, after: CostPool, date: string): void {
  work.run(
    `insert into cost_pool (item_id, warehouse_id, quantity, value) values (?, ?, ?, ?)
     on conflict (item_id, warehouse_id) do update set quantity = excluded.quantity, value = excluded.value`,
    item,
    warehouse,
    after.quantity,
    after.value,
  );
  if (after.quantity !== before.quantity || after.value !== before.value)
    work.run(
      'insert into worth_change (date, item_id, warehouse_id, quantity, value) values (?, ?, ?, ?, ?)',
      date,
      item,
      warehouse,
      after.quantity - before.quantity,
      after.value - before.value,
    );
  if (before.layers !== after.layers) keepLayers(work, item, warehouse, before.layers, after.layers);
}

function keepLayers(work: Work, item: number, warehouse: number, before: readonly CostLayer[], after: readonly CostLayer[]): void {
  const old = new Map(before.map((layer) => [layer.of, layer]));
  for (const layer of after) {
    const known = old.get(layer.of);
    old.delete(layer.of);
    if (known && known.quantity === layer.quantity && known.value === layer.value) continue;
    work.run(
      `insert into cost_layer (move_id, item_id, warehouse_id, quantity, value) values (?, ?, ?, ?, ?)
       on conflict (move_id) do update set quantity = excluded.quantity, value = excluded.value`,
      layer.of,
      item,
      warehouse,
      layer.quantity,
      layer.value,
    );
  }
  for (const gone of old.keys()) work.run('delete from cost_layer where move_id = ?', gone);
}

/**
 * Values a move by the item's costing and keeps what is left in its warehouses. `amount` is what it is worth when it
 * comes from outside; `takesBack` the move that it takes back, whose own layer goes first.
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
    const issued = costing.issue(before, move.quantity, move.takesBack);
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
  const { pool, value } = costingFor(facts).addLate(before, amount, receipt);
  keepPool(work, place.item, place.warehouse, before, pool, date);
  return value;
}

/** Makes what is there worth a new standard; returns the change by warehouse. */
export function revaluePools(
  work: Work,
  facts: CostFacts,
  item: number,
  unitCost: UnitPrice,
  date: string,
): { warehouse: number; quantity: Quantity; value: Amount }[] {
  return work
    .rows<{ warehouse: number }>('select warehouse_id as warehouse from cost_pool where item_id = ? and quantity > 0', item)
    .map(({ warehouse }) => {
      const before = poolOf(work, item, warehouse, facts.costing);
      const { pool, value } = costingFor(facts).revalue(before, unitCost);
      keepPool(work, item, warehouse, before, pool, date);
      return { warehouse, quantity: before.quantity, value };
    });
}
