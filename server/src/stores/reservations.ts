/** Reservations: who holds how much of what is available. */
import { and, desc, eq, exists, isNotNull, lte, ne, sql } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import type { AnswerOf } from '@terrace/contract';
import { addDays, asQuantity, freeStock, holdable, reservable, writeQuantity, type Quantity } from '@terrace/core';
import { assertMayHere, item, warehouse } from '../catalogue';
import { flag, inserted, minus, oneRow, scalar, total } from '../platform/expressions';
import { command, query } from '../platform/query';
import { addRowOnce, dropRow, dropRows, orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';
import { stockEvents } from './events';
import { lifeFor, lotOfBalance } from './first-expiring';
import { shortDatedNow } from './lot-life';
import { trackingOf } from './tracking';
import { lot } from './tracking-schema';
import { balance, promisedUnreserved, reservation, reservedStock, type HolderKind } from './schema';

export interface Holding {
  readonly kind: HolderKind;
  readonly id: number;
  readonly documentId: number;
  readonly documentNumber: string;
  /** The day on which it goes; the one on which it is expected to, unless this says another. */
  readonly date?: string;
}

type Place = { item: number; warehouse: number };

const stock = query(($: Place) => (db) => {
  const here = and(eq(balance.itemId, $.item), eq(balance.warehouseId, $.warehouse));
  const sum = total(balance.quantity);
  return db
    .select({
      onHand: scalar(
        db
          .select({ sum })
          .from(balance)
          .where(and(here, ne(balance.state, 'inTransit'))),
      ).as('onHand'),
      available: scalar(
        db
          .select({ sum })
          .from(balance)
          .where(and(here, eq(balance.state, 'available'))),
      ).as('available'),
      reserved: scalar(
        db
          .select({ sum: total(reservedStock.quantity) })
          .from(reservedStock)
          .where(and(eq(reservedStock.itemId, $.item), eq(reservedStock.warehouseId, $.warehouse))),
      ).as('reserved'),
      lots: flag(
        exists(
          db
            .select({ one: sql`1` })
            .from(balance)
            .where(and(here, ne(balance.lot, sql`''`))),
        ),
      ).as('lots'),
    })
    .from(oneRow);
});

/**
 * Available (not held, rejected, in transit or short-dated) and reserved stock of an item in a warehouse. What is to be
 * used in production may be closer to its end than what is sold.
 */
export function stockOf(
  work: Work,
  itemId: number,
  warehouseId: number,
  purpose: 'sell' | 'use' = 'sell',
): { readonly onHand: Quantity; readonly available: Quantity; readonly reserved: Quantity; readonly free: Quantity } {
  const row = stock.one(work, { item: itemId, warehouse: warehouseId });
  const short = row?.lots === true ? shortDatedNow(work, itemId, warehouseId, lifeFor(work, itemId, purpose)) : 0;
  const available = asQuantity((row?.available ?? 0) - short);
  const reserved = row?.reserved ?? asQuantity(0);
  return { onHand: row?.onHand ?? asQuantity(0), available, reserved, free: freeStock(available, reserved) };
}

interface Holder {
  readonly kind: HolderKind;
  readonly id: number;
}
const isOf = ($: Holder) => and(eq(reservation.holderKind, $.kind), eq(reservation.holderId, $.id));

const reserved = query(($: Holder) => (db) => db.select({ quantity: reservation.quantity }).from(reservation).where(isOf($)));

/** What a holder has reserved. */
export function reservedFor(work: Work, kind: HolderKind, id: number): Quantity {
  return reserved.one(work, { kind, id })?.quantity ?? asQuantity(0);
}

const add = command(
  ($: typeof reservation.$inferInsert) => (db) =>
    db
      .insert(reservation)
      .values({
        itemId: $.itemId,
        warehouseId: $.warehouseId,
        holderKind: $.holderKind,
        holderId: $.holderId,
        documentId: $.documentId,
        documentNumber: $.documentNumber,
        quantity: $.quantity,
      })
      .onConflictDoUpdate({
        target: [reservation.holderKind, reservation.holderId],
        set: { quantity: sql`${reservation.quantity} + ${inserted(reservation.quantity)}` },
      }),
);

/** What somebody is to get though they have not reserved it yet. */
export interface Grant {
  readonly holder: Holding;
  readonly quantity: Quantity;
}

/** How much more of what is free and lasts until then a holder could have, up to what is wanted in all, when others get theirs first. */
export function couldReserve(
  work: Work,
  itemId: number,
  warehouseId: number,
  holder: Holding,
  wanted: Quantity,
  has: Quantity,
  first: readonly Grant[] = [],
): Quantity {
  const most = lastingFor(work, itemId, warehouseId, holder, first);
  const free = (): number =>
    stockOf(work, itemId, warehouseId, holder.kind === 'productionOrder' ? 'use' : 'sell').free - first.reduce((sum, each) => sum + each.quantity, 0);
  return reservable(asQuantity(Math.max(0, most === null ? free() : most - has)), wanted, has);
}

const unreserved = query(
  ($: Place) => (db) =>
    db
      .select({ itemId: promisedUnreserved.itemId })
      .from(promisedUnreserved)
      .where(and(eq(promisedUnreserved.itemId, $.item), eq(promisedUnreserved.warehouseId, $.warehouse))),
);

/** Says whether somebody is promised something of an item here that they have not reserved. */
export function notePromised(work: Work, itemId: number, warehouseId: number, promised: boolean): void {
  if (promised) addRowOnce(work, promisedUnreserved, { itemId, warehouseId });
  else if (unreserved.one(work, { item: itemId, warehouse: warehouseId })) dropRows(work, promisedUnreserved, { itemId, warehouseId });
}

/** Reserves what is free, up to what is wanted in all; returns what the holder then has. Who knows what the holder has says so. */
export function reserveFree(
  work: Work,
  itemId: number,
  warehouseId: number,
  holder: Holding,
  wanted: Quantity,
  has = reservedFor(work, holder.kind, holder.id),
): Quantity {
  const more = couldReserve(work, itemId, warehouseId, holder, wanted, has);
  if (more > 0) {
    const { kind: holderKind, id: holderId, documentId, documentNumber } = holder;
    add.run(work, { itemId, warehouseId, holderKind, holderId, documentId, documentNumber, quantity: more });
    // Nobody else has less by it, unless they are promised what they have not reserved.
    work.touch('stock', itemId, holder.documentNumber, !unreserved.one(work, { item: itemId, warehouse: warehouseId }));
  }
  return asQuantity(has + more);
}

const endsOf = query(
  ($: Place) => (db) =>
    db
      .select({ expiry: lot.expiry, quantity: total(balance.quantity) })
      .from(balance)
      .leftJoin(lot, lotOfBalance)
      .where(and(eq(balance.itemId, $.item), eq(balance.warehouseId, $.warehouse), eq(balance.state, 'available')))
      .groupBy(lot.expiry),
);

/** Available stock by its end; `null` where nothing of it expires. */
function endingStock(work: Work, item: number, warehouse: number): ReturnType<typeof endsOf.all> | null {
  if (trackingOf(work, item).tracking !== 'lot') return null;
  const stock = endsOf.all(work, { item, warehouse });
  return stock.some((each) => each.expiry !== null) ? stock : null;
}

/** The earliest expiry that will do for what goes on a day: what is sold and what is used must have some life left then. */
function neededExpiry(work: Work, item: number, kind: HolderKind, date: string): string | null {
  if (kind === 'transfer') return null;
  return addDays(date > work.today ? date : work.today, lifeFor(work, item, kind === 'productionOrder' ? 'use' : 'sell'));
}

/** On which day each holder's demand goes. */
function daysOfHolders(work: Work, item: number, warehouse: number): ReadonlyMap<string, string> {
  return new Map(
    stockEvents(work, item, warehouse).flatMap(({ holder, date, kind }) =>
      holder && kind === 'demand' ? [[`${holder.kind} ${holder.id}`, date]] : [],
    ),
  );
}

/** What a holder could have in all of stock that lasts until it goes, beside what others hold; `null` where nothing expires. */
function lastingFor(work: Work, item: number, warehouse: number, holder: Holding, first: readonly Grant[]): Quantity | null {
  const stock = endingStock(work, item, warehouse);
  if (stock === null) return null;
  const days = daysOfHolders(work, item, warehouse);
  const needs = ({ kind, id, date }: Pick<Holding, 'kind' | 'id' | 'date'>): string | null =>
    neededExpiry(work, item, kind, date ?? days.get(`${kind} ${id}`) ?? work.today);
  const others = reservationsIn(work, item, warehouse)
    .filter((each) => !(each.kind === holder.kind && each.holder === holder.id))
    .map((each) => ({ needs: needs({ kind: each.kind, id: each.holder }), quantity: each.quantity }));
  const granted = first.map((each) => ({ needs: needs(each.holder), quantity: each.quantity }));
  return holdable(stock, [...others, ...granted], needs(holder));
}

/** A reservation of which a part was given up. */
export interface GivenUp {
  readonly kind: HolderKind;
  readonly holder: number;
  readonly document: string;
  readonly quantity: Quantity;
}

/**
 * Gives up what of an item is held for somebody for whom it will not last until it goes, those who go first keep theirs
 * first; what is given up can be had by whoever goes sooner.
 */
export function giveUpWhatEnds(work: Work, item: number, warehouse: number): GivenUp[] {
  const stock = endingStock(work, item, warehouse);
  if (stock === null) return [];
  const days = daysOfHolders(work, item, warehouse);
  const dayFor = (each: { kind: HolderKind; holder: number }): string => days.get(`${each.kind} ${each.holder}`) ?? work.today;
  const holders = [...reservationsIn(work, item, warehouse)].sort((a, b) => dayFor(a).localeCompare(dayFor(b)) || a.id - b.id);
  const kept: { needs: string | null; quantity: Quantity }[] = [];
  return holders.flatMap((each) => {
    const needs = neededExpiry(work, item, each.kind, dayFor(each));
    const quantity = asQuantity(Math.min(each.quantity, holdable(stock, kept, needs)));
    kept.push({ needs, quantity });
    const over = asQuantity(each.quantity - quantity);
    if (over === 0) return [];
    takeFromReservation(work, each, over);
    return [{ kind: each.kind, holder: each.holder, document: each.document, quantity: over }];
  });
}

const expiringItems = query(
  () => (db) =>
    db
      .selectDistinct({ id: balance.itemId })
      .from(balance)
      .innerJoin(lot, lotOfBalance)
      .where(and(eq(balance.state, 'available'), isNotNull(lot.expiry))),
);

/** Items of which something that is available expires. */
export function itemsThatExpire(work: Work): number[] {
  return expiringItems.all(work).map((each) => each.id);
}

const dropWithin = command(($: Holder & { by: Quantity }) => (db) => db.delete(reservation).where(and(isOf($), lte(reservation.quantity, $.by))));
const lower = command(
  ($: Holder & { by: Quantity }) => (db) =>
    db
      .update(reservation)
      .set({ quantity: minus(reservation.quantity, $.by) })
      .where(isOf($)),
);
const drop = command(($: Holder) => (db) => db.delete(reservation).where(isOf($)));

/** Lowers a holder's reservation by what was taken or given up; never below nothing. */
export function lowerReservation(work: Work, kind: HolderKind, id: number, by: Quantity): void {
  dropWithin.run(work, { kind, id, by });
  lower.run(work, { kind, id, by });
}

/** Gives up all that a holder has reserved. */
export function dropReservation(work: Work, kind: HolderKind, id: number): void {
  drop.run(work, { kind, id });
}

const inWarehouse = query(
  ($: Place) => (db) =>
    db
      .select({
        id: reservation.id,
        document: reservation.documentNumber,
        quantity: reservation.quantity,
        kind: reservation.holderKind,
        holder: reservation.holderId,
      })
      .from(reservation)
      .where(and(eq(reservation.itemId, $.item), eq(reservation.warehouseId, $.warehouse)))
      .orderBy(desc(reservation.id)),
);

/** The reservations of an item in a warehouse, the latest first. */
export function reservationsIn(work: Work, itemId: number, warehouseId: number): ReturnType<typeof inWarehouse.all> {
  return inWarehouse.all(work, { item: itemId, warehouse: warehouseId });
}

const lowerOne = command(
  ($: { id: number; by: Quantity }) => (db) =>
    db
      .update(reservation)
      .set({ quantity: minus(reservation.quantity, $.by) })
      .where(eq(reservation.id, $.id)),
);

/** Takes a part of a reservation away, or all of it. */
export function takeFromReservation(work: Work, held: { readonly id: number; readonly quantity: Quantity }, by: Quantity): void {
  if (by === held.quantity) dropRow(work, reservation, held.id);
  else lowerOne.run(work, { id: held.id, by });
}

const holders = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({
        id: reservation.id,
        warehouse: warehouse.code,
        document: reservation.documentNumber,
        kind: reservation.holderKind,
        documentId: reservation.documentId,
        quantity: reservation.quantity,
      })
      .from(reservation)
      .innerJoin(warehouse, eq(warehouse.id, reservation.warehouseId))
      .where(eq(reservation.itemId, $.itemId))
      .orderBy(reservation.id),
);

/** Who holds reserved stock of an item. */
export function holdersOf(work: Work, itemId: number): AnswerOf<typeof api.stores.holders> {
  return holders.all(work, { itemId }).map((each) => ({ ...each, quantity: writeQuantity(each.quantity) }));
}

const heldBy = query(
  ($: { id: number }) => (db) =>
    db
      .select({
        itemId: reservation.itemId,
        warehouseId: reservation.warehouseId,
        code: item.code,
        quantity: reservation.quantity,
        kind: reservation.holderKind,
        documentId: reservation.documentId,
        document: reservation.documentNumber,
      })
      .from(reservation)
      .innerJoin(item, eq(item.id, reservation.itemId))
      .where(eq(reservation.id, $.id)),
);

/** Releases a reservation, so that somebody else can have the stock. */
export function releaseReservation(work: Work, id: number): { released: string } {
  const held = orNotFound(heldBy.one(work, { id }), 'reservation');
  assertMayHere(work, 'stores.release', held.warehouseId);
  dropRow(work, reservation, id);
  const released = writeQuantity(held.quantity);
  const what = `released ${released} ${held.code} held for ${held.document}`;
  work.record(held.kind, held.documentId, what);
  work.notify('released', `${work.actor.name} ${what}`, { kind: held.kind, id: held.documentId });
  work.touch('stock', held.itemId, held.document);
  work.keptFree.add(held.itemId);
  return { released };
}
