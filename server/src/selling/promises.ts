/** Promises that are derived again when what they count on changes: stock, what is expected, how long lots last. */
import { and, eq, gt, sql } from 'drizzle-orm';
import { outstanding, promiseOfLots, rederive, writeQuantity, type Quantity } from '@terrace/core';
import { itemFacts } from '../catalogue';
import { query } from '../platform/query';
import { setRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { countedOn, giveUpWhatEnds, itemsThatExpire, livingStock, notePromised, reservation } from '../stores';
import { FROM_STOCK, IN_WORK, stillToShip } from './events';
import { lineRows, orderOf } from './order-view';
import { promiseOfOrder } from './reserve-lines';
import { customerOrder, customerOrderLine as line } from './schema';

const openLines = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({
        id: line.id,
        orderId: line.orderId,
        position: line.position,
        number: customerOrder.number,
        warehouseId: customerOrder.warehouseId,
        quantity: line.quantity,
        shipped: line.shipped,
        cancelled: line.cancelled,
        wanted: line.requiredDate,
        promise: line.promiseDate,
        reserved: sql<Quantity>`coalesce(${reservation.quantity}, 0)`,
      })
      .from(line)
      .innerJoin(customerOrder, eq(customerOrder.id, line.orderId))
      .leftJoin(reservation, and(eq(reservation.holderKind, 'customerOrder'), eq(reservation.holderId, line.id)))
      .where(and(eq(line.itemId, $.itemId), IN_WORK, FROM_STOCK, gt(stillToShip, sql`0`))),
);
export type OpenLine = ReturnType<typeof openLines.all>[number];

/** Lines of orders in work that still want an item, in every warehouse. */
export function openLinesOf(work: Work, itemId: number): OpenLine[] {
  return openLines.all(work, { itemId });
}

/** Derives the promises of all that this work has unsettled; answers the items. */
export function settlePromises(work: Work): number[] {
  const items = [...work.unsettled];
  work.unsettled.clear();
  for (const itemId of items) reviewPromises(work, itemId);
  return items;
}

/** Derives the promises of items of which something expires: with each day less of it lasts until it goes. */
export function reviewWhatExpires(work: Work): void {
  for (const itemId of itemsThatExpire(work)) reviewPromises(work, itemId);
}

/** Derives the promises of an item's lines again, and tells those concerned what has changed. */
export function reviewPromises(work: Work, itemId: number): void {
  const warehouses = new Set(openLines.all(work, { itemId }).map((each) => each.warehouseId));
  const told = new Map<number, string[]>();
  const tell = (orderId: number, sentence: string): void => {
    told.set(orderId, [...(told.get(orderId) ?? []), sentence]);
  };
  for (const warehouseId of warehouses) reviewIn(work, itemId, warehouseId, tell);
  for (const [orderId, sentences] of told) {
    const order = orderOf(work, orderId);
    setRow(work, customerOrder, orderId, { promiseDate: promiseOfOrder(order, lineRows(work, orderId)) });
    const text = `${order.number}: ${sentences.join('; ')}`;
    work.record('customerOrder', orderId, text);
    work.notify('promise', text, { kind: 'customerOrder', id: orderId });
  }
}

type Tell = (orderId: number, sentence: string) => void;

function reviewIn(work: Work, itemId: number, warehouseId: number, tell: Tell): void {
  const { code, unit } = itemFacts(work, itemId);
  const named = (each: OpenLine, quantity: Quantity): string => `line ${each.position}, ${writeQuantity(quantity)} ${unit} of ${code}`;
  const there = (): OpenLine[] => openLines.all(work, { itemId }).filter((each) => each.warehouseId === warehouseId);
  const before = there();
  const given = giveUpWhatEnds(work, itemId, warehouseId);
  for (const lost of given) {
    const each = before.find((one) => lost.kind === 'customerOrder' && one.id === lost.holder);
    if (each) tell(each.orderId, `${named(each, lost.quantity)} will not last until it ships and is reserved no more`);
  }
  const lines = given.length > 0 ? there() : before;
  const waiting = lines.filter((each) => each.reserved < outstanding(each));
  const promised = new Map<number, string | null>();
  // What is reserved wholly can go on the day on which it is wanted.
  for (const each of lines) if (!waiting.includes(each)) promised.set(each.id, each.wanted > work.today ? each.wanted : work.today);
  if (waiting.length > 0) {
    const ids = new Set(waiting.map((each) => each.id));
    const { supplies, demands: all } = countedOn(work, itemId, warehouseId);
    const others = all.filter(({ holder }) => !(holder?.kind === 'customerOrder' && ids.has(holder.id)));
    const lots = livingStock(work, itemId, warehouseId);
    const wishes = waiting.map((each) => ({
      id: each.id,
      wanted: each.wanted,
      quantity: outstanding(each),
      reserved: each.reserved,
      promise: each.promise,
    }));
    const again = rederive(wishes, others, (demands) => promiseOfLots(lots, supplies, demands, work.today), work.today);
    for (const [id, date] of again) promised.set(id, date);
  }
  notePromised(
    work,
    itemId,
    warehouseId,
    waiting.some(({ id }) => (promised.get(id) ?? null) !== null),
  );
  for (const each of lines) {
    const date = promised.get(each.id) ?? null;
    const was = each.promise;
    // A day that has passed stays what was promised, as long as nothing else is known.
    if (date === was || (was !== null && was < work.today && date === work.today)) continue;
    setRow(work, line, each.id, { promiseDate: date });
    tell(each.orderId, `${named(each, outstanding(each))} ${changed(was, date)}`);
  }
}

function changed(was: string | null, date: string | null): string {
  if (date === null) return `can not be promised any more; it was promised for ${was ?? ''}`;
  if (was === null) return `can be promised for ${date}`;
  return `is promised for ${date} instead of ${was}${date > was ? ': it is in danger' : ''}`;
}
