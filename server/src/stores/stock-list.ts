/** The stock of all items in all warehouses, and the places of one. */
import { and, eq, exists, ne, or, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import type { AnswerOf, ListQuery } from '@terrace/contract';
import { writeQuantity, type Quantity } from '@terrace/core';
import { bin, item, itemFacts, warehouse } from '../catalogue';
import { inner, or0, scalar } from '../platform/expressions';
import { asAmountText, asNumber, asQuantityText, asText, list, listPage } from '../platform/list';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { freeOf, onHandOf, reservedOf } from './balances';
import { lotOfBalance, pickingOrder } from './first-expiring';
import { otherRooms } from './handed-in';
import { balance, costPool } from './schema';
import { lot, serialNumber } from './tracking-schema';
import { transfersIn, transfersOut } from './transfer-quantities';

function allOf(figures: readonly ((of: SQLiteColumn, where: SQLiteColumn) => SQL<Quantity>)[]): SQL<Quantity> {
  return sql<Quantity>`${sql.join(
    figures.map((figure) => figure(item.id, warehouse.id)),
    sql` + `,
  )}`;
}

const poolHere = and(eq(costPool.itemId, item.id), eq(costPool.warehouseId, warehouse.id));
const value = or0(scalar(inner.select({ value: costPool.value }).from(costPool).where(poolHere)));
const isValued = exists(
  inner
    .select({ one: sql`1` })
    .from(costPool)
    .where(poolHere),
);

const stock = list<{ warehouse?: number | undefined; today: string }>(($, has) => {
  const { expectedIn, expectedOut, isPlanned } = otherRooms.get();
  return {
    columns: {
      id: asText(sql`${item.id} || '-' || ${warehouse.id}`),
      itemId: asNumber(item.id),
      code: asText(item.code),
      description: asText(item.description),
      unit: asText(item.unitCode),
      warehouseId: asNumber(warehouse.id),
      warehouse: asText(warehouse.code),
      onHand: asQuantityText(onHandOf(item.id, warehouse.id)),
      reserved: asQuantityText(reservedOf(item.id, warehouse.id)),
      free: asQuantityText(freeOf(item.id, sql`${$.today}`, warehouse.id)),
      expectedIn: asQuantityText(allOf([...expectedIn, transfersIn])),
      expectedOut: asQuantityText(allOf([...expectedOut, transfersOut])),
      value: asAmountText(value),
    },
    from: item,
    times: warehouse,
    where: and(
      eq(item.kind, 'stocked'),
      or(isValued, isPlanned(item.id, warehouse.id)),
      has('warehouse') ? eq(warehouse.id, $.warehouse) : undefined,
    ),
    find: [item.code, item.description, warehouse.code],
    order: [item.code, warehouse.id],
    tie: [item.id, warehouse.id],
  };
});

export function exploreStock(work: Work, asked: ListQuery & { warehouse?: number | undefined }): AnswerOf<typeof api.stores.explore> {
  return listPage(work, stock, asked, { warehouse: asked.warehouse, today: work.today });
}

const MOST_PLACES = 2000;
const places = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({
        warehouseId: balance.warehouseId,
        warehouse: warehouse.code,
        binId: balance.binId,
        bin: bin.code,
        lot: balance.lot,
        lotId: lot.id,
        expiry: lot.expiry,
        serial: balance.serial,
        serialId: serialNumber.id,
        state: balance.state,
        quantity: balance.quantity,
      })
      .from(balance)
      .innerJoin(warehouse, eq(warehouse.id, balance.warehouseId))
      .innerJoin(bin, eq(bin.id, balance.binId))
      .leftJoin(lot, lotOfBalance)
      .leftJoin(serialNumber, and(ne(balance.serial, sql`''`), eq(serialNumber.itemId, balance.itemId), eq(serialNumber.code, balance.serial)))
      .where(eq(balance.itemId, $.itemId))
      .orderBy(warehouse.id, ...pickingOrder)
      .limit(MOST_PLACES),
);

/** Where an item is: bins, lots, serial numbers and states. */
export function placesOf(work: Work, itemId: number): AnswerOf<typeof api.stores.places> {
  itemFacts(work, itemId);
  return places.all(work, { itemId }).map((each) => ({ ...each, quantity: writeQuantity(each.quantity) }));
}
