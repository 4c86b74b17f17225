/** Stock of lots by the day until which it may be used, and what of it will be left over. */
import { asQuantity, lossesOf, usableUntil, type LivingStock, type Quantity } from '@terrace/core';
import { and, eq, ne, sql } from 'drizzle-orm';
import { total } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { isShort } from './balances';
import { stockEvents, type StockEvent } from './events';
import { lotOfBalance } from './first-expiring';
import { balance } from './schema';
import { trackingOf } from './tracking';
import { lot } from './tracking-schema';

const byLot = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({ lot: balance.lot, id: lot.id, expiry: lot.expiry, quantity: total(balance.quantity) })
      .from(balance)
      .leftJoin(lot, lotOfBalance)
      .where(and(eq(balance.itemId, $.item), eq(balance.warehouseId, $.warehouse), eq(balance.state, 'available')))
      .groupBy(balance.lot),
);

interface LotStock extends LivingStock {
  readonly id: number | null;
}

/** Available stock by lot; what has neither lot nor expiry lasts. The life that counts is the one for selling, where there is none the one for using. */
export function livingStock(work: Work, item: number, warehouse: number): LotStock[] {
  const rows = byLot.all(work, { item, warehouse });
  if (rows.every((row) => row.expiry === null)) return rows.map((row) => ({ ...row, usableUntil: null }));
  const { sellLife, useLife } = trackingOf(work, item);
  const life = sellLife > 0 ? sellLife : useLife;
  return rows.map((row) => ({ lot: row.lot, id: row.id, quantity: row.quantity, usableUntil: usableUntil(row.expiry, life) }));
}

/** All that is expected to come and go, and the lots that will be short-dated before anybody takes them. */
export function eventsWithLosses(work: Work, item: number, warehouse: number): StockEvent[] {
  const events = stockEvents(work, item, warehouse);
  return [...events, ...lossesAmong(work, item, warehouse, events)];
}

/** What of lots will be short-dated before anybody takes it, as far as all that comes and goes says so. */
export function lossesAmong(work: Work, item: number, warehouse: number, events: readonly StockEvent[]): StockEvent[] {
  const stock = livingStock(work, item, warehouse);
  const firm = events.filter((each) => each.firm);
  const losses = lossesOf(
    stock,
    firm.filter((each) => each.kind === 'supply'),
    firm.filter((each) => each.kind === 'demand'),
    work.today,
  );
  const lots = new Map(stock.map((each) => [each.lot, each.id]));
  return losses.map((loss): StockEvent => {
    const id = lots.get(loss.lot) ?? null;
    return {
      date: loss.date,
      kind: 'demand',
      quantity: loss.quantity,
      document: `lot ${loss.lot} short-dated`,
      firm: true,
      link: id === null ? null : { kind: 'lot', id },
      holder: null,
    };
  });
}

const shortDated = query(
  ($: { item: number; warehouse: number; today: string; life: number }) => (db) =>
    db
      .select({ quantity: total(balance.quantity) })
      .from(balance)
      .innerJoin(lot, and(eq(lot.itemId, balance.itemId), eq(lot.code, balance.lot)))
      .where(
        and(
          eq(balance.itemId, $.item),
          eq(balance.warehouseId, $.warehouse),
          eq(balance.state, 'available'),
          ne(balance.lot, sql`''`),
          isShort(sql`${$.today}`, sql`${$.life}`),
        ),
      ),
);

/** Available stock that is short-dated today for a life. */
export function shortDatedNow(work: Work, item: number, warehouse: number, life: number): Quantity {
  return shortDated.one(work, { item, warehouse, today: work.today, life })?.quantity ?? asQuantity(0);
}
