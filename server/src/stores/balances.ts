/** Quantities on hand, as other files of the stores and lists of other rooms ask for them. */
import { and, eq, ne, sql, type SQL, type SQLWrapper } from 'drizzle-orm';
import { alias, type SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Quantity, StockKey } from '@terrace/core';
import { asQuantity } from '@terrace/core';
import { finerIn, item as items } from '../catalogue';
import { atLeast0, inner, or0, scalar, total } from '../platform/expressions';
import { command, query } from '../platform/query';
import { keepRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { balance, reservation, reservedStock, stockMove } from './schema';
import { lot } from './tracking-schema';

/** The sum of an item's balances that meet a condition, for lists. */
export function sumOfBalances(...where: readonly (SQL | undefined)[]): SQL<Quantity> {
  return scalar(
    inner
      .select({ quantity: total(balance.quantity) })
      .from(balance)
      .where(and(...where)),
  ) as SQL<Quantity>;
}

/** What is reserved of an item, in one warehouse or in all, for lists. */
export function reservedOf(item: SQLiteColumn, warehouse?: SQLiteColumn): SQL<Quantity> {
  return scalar(
    inner
      .select({ quantity: total(reservedStock.quantity) })
      .from(reservedStock)
      .where(and(eq(reservedStock.itemId, item), warehouse && eq(reservedStock.warehouseId, warehouse))),
  ) as SQL<Quantity>;
}

/** What is physically there of an item, in one warehouse or in all, for lists: every state but in transit. */
export const onHandOf = (item: SQLiteColumn, warehouse?: SQLiteColumn): SQL<Quantity> =>
  sumOfBalances(eq(balance.itemId, item), warehouse && eq(balance.warehouseId, warehouse), ne(balance.state, 'inTransit'));

/** Whether stock of a lot is short-dated: on a day it has less than so many days left. */
export const isShort = (today: SQLWrapper, life: SQLWrapper): SQL => sql`${lot.expiry} < date(${today}, '+' || ${life} || ' days')`;

const living = alias(items, 'living_item');
const sellLife = (item: SQLiteColumn): SQL =>
  scalar(
    inner
      .select({ days: or0(living.restLifeDays) })
      .from(living)
      .where(eq(living.id, item)),
  );

/**
 * What is free of an item, in one warehouse or in all, for lists: available, not short-dated on the day, not reserved.
 * {@link stockOf} says the same of one item in one warehouse.
 */
export const freeOf = (item: SQLiteColumn, today: SQLWrapper, warehouse?: SQLiteColumn): SQL<Quantity> => {
  const sellable = scalar(
    inner
      .select({ quantity: total(sql<number>`case when ${isShort(today, sellLife(item))} then 0 else ${balance.quantity} end`) })
      .from(balance)
      .leftJoin(lot, and(ne(balance.lot, sql`''`), eq(lot.itemId, balance.itemId), eq(lot.code, balance.lot)))
      .where(and(eq(balance.itemId, item), warehouse && eq(balance.warehouseId, warehouse), eq(balance.state, 'available'))),
  );
  return atLeast0(sql`${sellable} - ${reservedOf(item, warehouse)}`);
};

const keyMeets = ($: StockKey): SQL | undefined =>
  and(
    eq(balance.itemId, $.item),
    eq(balance.warehouseId, $.warehouse),
    eq(balance.binId, $.bin),
    eq(balance.lot, $.lot),
    eq(balance.serial, $.serial),
    eq(balance.state, $.state),
  );

const quantityAt = query(($: StockKey) => (db) => db.select({ quantity: balance.quantity }).from(balance).where(keyMeets($)));
const drop = command(($: StockKey) => (db) => db.delete(balance).where(keyMeets($)));
const KEY = ['itemId', 'warehouseId', 'binId', 'lot', 'serial', 'state'] as const;

/** What is in a place. */
export function balanceAt(work: Work, key: StockKey): Quantity {
  return quantityAt.one(work, key)?.quantity ?? asQuantity(0);
}

/** Keeps what is in a place; nothing is not kept. */
export function keepBalance(work: Work, key: StockKey, quantity: Quantity): void {
  const { item: itemId, warehouse: warehouseId, bin: binId, lot, serial, state } = key;
  if (quantity === 0) drop.run(work, key);
  else keepRow(work, balance, KEY, { itemId, warehouseId, binId, lot, serial, state, quantity });
}

const everything = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({ quantity: total(balance.quantity) })
      .from(balance)
      .where(eq(balance.itemId, $.itemId)),
);

/** All that is there of an item, in every warehouse and state. */
export function quantityThere(work: Work, itemId: number): Quantity {
  return everything.one(work, { itemId })?.quantity ?? asQuantity(0);
}

type Place = { itemId: number; warehouseId: number };
const isAvailable = ($: Place) => and(eq(balance.itemId, $.itemId), eq(balance.warehouseId, $.warehouseId), eq(balance.state, 'available'));
const available = query(
  ($: Place) => (db) =>
    db
      .select({ quantity: total(balance.quantity) })
      .from(balance)
      .where(isAvailable($)),
);
const availableBut = query(
  ($: Place & { lot: string }) => (db) =>
    db
      .select({ quantity: total(balance.quantity) })
      .from(balance)
      .where(and(isAvailable($), ne(balance.lot, $.lot))),
);

/** What is available of an item in a warehouse, short-dated or not. */
export function availableIn(work: Work, itemId: number, warehouseId: number): Quantity {
  return available.one(work, { itemId, warehouseId })?.quantity ?? asQuantity(0);
}

/** What is available of an item in a warehouse, but for one lot. */
export function availableBesides(work: Work, itemId: number, warehouseId: number, lot: string): Quantity {
  return availableBut.one(work, { itemId, warehouseId, lot })?.quantity ?? asQuantity(0);
}

/** How a unit's narrowing finds quantities of the stores that are finer. */
export const finerStock = [
  ...finerIn(balance, balance.itemId, balance.quantity),
  ...finerIn(stockMove, stockMove.itemId, stockMove.quantity),
  ...finerIn(reservation, reservation.itemId, reservation.quantity),
];
