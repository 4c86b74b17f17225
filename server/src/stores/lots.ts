/** Lots: as of any day, with any minimum life; blocked and freed everywhere at once; warned of in time. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type LotView, type QueryOf } from '@terrace/contract';
import { and, eq, exists, gt, isNotNull, isNull, lte, ne, sql, type SQL } from 'drizzle-orm';
import { Refusal, asQuantity, datesOfLot, remainingLife, usableUntil, writeQuantity, type StockState } from '@terrace/core';
import { bin, item, supplier, warehouse } from '../catalogue';
import { inner, or0, orEmpty } from '../platform/expressions';
import { asFlag, asNumber, asOptionalNumber, asQuantityText, asText, list, listPage, mayReferTo, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { addRow, changeRow, orNotFound, setRow } from '../platform/rows';
import { assertVersion, changesBetween } from '../platform/versions';
import type { Work } from '../platform/work';
import { postMoves } from './post-moves';
import { trackingOf } from './tracking';
import { availableBesides, sumOfBalances } from './balances';
import { relocation } from './document-schema';
import { reservationsIn, takeFromReservation } from './reservations';
import { balance } from './schema';
import { lot, trackingRule } from './tracking-schema';
import { lotsOnTheWay } from './transfer-events';

type Wanted = {
  /** As of this day. */
  asOf: string;
  /** Days of life that must be left; where nothing is said, what the item asks for. */
  life?: number | undefined;
  item?: number | undefined;
  warehouse?: number | undefined;
  /** Lots of which nothing is there, too. */
  gone?: true | undefined;
};

const lots = list<Wanted>(($, has) => {
  const minimum = has('life') ? sql`${$.life}` : or0(item.restLifeDays);
  const remaining = sql`cast(julianday(${lot.expiry}) - julianday(${$.asOf}) as integer)`;
  const here = and(eq(balance.itemId, lot.itemId), eq(balance.lot, lot.code), has('warehouse') ? eq(balance.warehouseId, $.warehouse) : undefined);
  const places = inner
    .select({ places: sql`group_concat(distinct ${warehouse.code} || ' ' || ${bin.code})` })
    .from(balance)
    .innerJoin(warehouse, eq(warehouse.id, balance.warehouseId))
    .innerJoin(bin, eq(bin.id, balance.binId))
    .where(here);
  const there = exists(
    inner
      .select({ one: sql`1` })
      .from(balance)
      .where(here),
  );
  return {
    columns: {
      id: asNumber(lot.id),
      itemId: asNumber(lot.itemId),
      item: asText(item.code),
      description: asText(item.description),
      unit: asText(item.unitCode),
      lot: asText(lot.code),
      supplierLot: asText(lot.supplierLot),
      supplier: asText(orEmpty(supplier.name)),
      madeOn: asText(lot.madeOn),
      expiry: asText(lot.expiry),
      onHand: asQuantityText(sumOfBalances(here, ne(balance.state, 'inTransit'))),
      available: asQuantityText(sumOfBalances(here, eq(balance.state, 'available'))),
      places: asText(sql`coalesce(${places}, '')`),
      remaining: asOptionalNumber(remaining),
      minimum: asNumber(minimum),
      shortFrom: asText(sql`date(${lot.expiry}, '-' || (${minimum} - 1) || ' days')`),
      shortDated: asFlag(sql`${lot.expiry} is not null and ${remaining} < ${minimum}`),
      blocked: asFlag(lot.blocked),
    },
    from: lot,
    joins: [refersTo(item, eq(item.id, lot.itemId)), mayReferTo(supplier, eq(supplier.id, lot.supplierId))],
    where: and(has('gone') ? undefined : there, has('item') ? eq(lot.itemId, $.item) : undefined),
    find: [lot.code, item.code, item.description, lot.supplierLot],
    order: [sql`coalesce(${lot.expiry}, '9999-12-31')`, item.code, lot.code],
    tie: [lot.id],
  };
});

/** Lots as they would be on a day: what remains of their lives, and which would be short-dated. */
export function listLots(work: Work, asked: QueryOf<typeof api.stores.listLots>): AnswerOf<typeof api.stores.listLots> {
  const { item: itemId, warehouse: warehouseId, asOf = work.today, life, gone } = asked;
  return listPage(work, lots, asked, { item: itemId, warehouse: warehouseId, asOf, life, gone: gone === 'true' ? true : undefined });
}

const shown = query(
  ($: { id: number }) => (db) =>
    db
      .select({
        id: lot.id,
        itemId: lot.itemId,
        item: item.code,
        description: item.description,
        unit: item.unitCode,
        lot: lot.code,
        supplierLot: lot.supplierLot,
        supplierId: lot.supplierId,
        supplier: orEmpty(supplier.name),
        madeOn: lot.madeOn,
        expiry: lot.expiry,
        note: lot.note,
        blocked: lot.blocked,
        blockReason: lot.blockReason,
        version: lot.version,
      })
      .from(lot)
      .innerJoin(item, eq(item.id, lot.itemId))
      .leftJoin(supplier, eq(supplier.id, lot.supplierId))
      .where(eq(lot.id, $.id)),
);
type LotRecord = NonNullable<ReturnType<typeof shown.one>>;

function lotOf(work: Work, id: number): LotRecord {
  return orNotFound(shown.one(work, { id }), 'lot');
}

const placesOfLot = query(
  ($: { itemId: number; lot: string }) => (db) =>
    db
      .select({ warehouse: warehouse.code, bin: bin.code, state: balance.state, quantity: balance.quantity })
      .from(balance)
      .innerJoin(warehouse, eq(warehouse.id, balance.warehouseId))
      .innerJoin(bin, eq(bin.id, balance.binId))
      .where(and(eq(balance.itemId, $.itemId), eq(balance.lot, $.lot)))
      .orderBy(warehouse.id, bin.code, balance.state),
);
const inState = query(
  ($: { itemId: number; lot: string; state: StockState }) => (db) =>
    db
      .select({ warehouse: balance.warehouseId, bin: balance.binId, quantity: balance.quantity })
      .from(balance)
      .where(and(eq(balance.itemId, $.itemId), eq(balance.lot, $.lot), eq(balance.state, $.state))),
);

export function lotView(work: Work, id: number): LotView {
  const record = lotOf(work, id);
  const rule = trackingOf(work, record.itemId);
  return {
    ...record,
    remaining: record.expiry === null ? null : remainingLife(record.expiry, work.today),
    sellUntil: usableUntil(record.expiry, rule.sellLife),
    useUntil: usableUntil(record.expiry, rule.useLife),
    places: placesOfLot.all(work, { itemId: record.itemId, lot: record.lot }).map((place) => ({ ...place, quantity: writeQuantity(place.quantity) })),
  };
}

/** Corrects dates and notes of a lot. */
export function changeLot(work: Work, id: number, input: BodyOf<typeof api.stores.changeLot>): LotView {
  const record = lotOf(work, id);
  assertVersion(work, 'lot', record, input.version, `Lot ${record.lot}`);
  const { madeOn, expiry } = datesOfLot(record.lot, input, trackingOf(work, record.itemId));
  changeRow(work, lot, id, { madeOn, expiry, supplierLot: input.supplierLot, note: input.note, warned: null });
  const short = (each: LotRecord): Record<string, string | null> => ({
    madeOn: each.madeOn,
    expiry: each.expiry,
    supplierLot: each.supplierLot,
    note: each.note,
  });
  work.record('lot', id, `corrected lot ${record.lot}`, changesBetween(short(record), short(lotOf(work, id))));
  countAnew(work, record);
  return lotView(work, id);
}

/** What a lot can be counted on for has changed, where it is and where it is on the way to. */
function countAnew(work: Work, { itemId, lot: code }: LotRecord): void {
  work.touch('stock', itemId, code);
  for (const { id, number } of lotsOnTheWay(work, itemId)) work.touch('transfer', id, number);
}

type Released = readonly { readonly document: string; readonly quantity: string }[];

/**
 * Blocks a lot: all that is available of it, in every warehouse, is held, and whatever of it comes in later. What was
 * reserved and is no longer covered is released, the latest first; sales hears of it.
 */
export function blockLot(work: Work, id: number, input: BodyOf<typeof api.stores.blockLot>): LotView & { released: Released[number][] } {
  const record = lotOf(work, id);
  assertVersion(work, 'lot', record, input.version, `Lot ${record.lot}`);
  if (record.blocked) throw new Refusal('wrongState', `Lot ${record.lot} is blocked already: ${record.blockReason}.`);
  changeRow(work, lot, id, { blocked: true, blockReason: input.reason });
  const released = [
    ...new Set(inState.all(work, { itemId: record.itemId, lot: record.lot, state: 'available' }).map((each) => each.warehouse)),
  ].flatMap((place) => releaseUncovered(work, record, place));
  moveBetweenStates(work, record, 'available', 'held', input.reason);
  countAnew(work, record);
  work.record('lot', id, `blocked lot ${record.lot}: ${input.reason}`);
  const lost = released.length === 0 ? '' : `; released: ${released.map((each) => each.document).join(', ')}`;
  work.notify('lotBlocked', `Lot ${record.lot} of ${record.item} is blocked: ${input.reason}${lost}`, {
    kind: 'lot',
    id,
  });
  return { ...lotView(work, id), released: [...released] };
}

function releaseUncovered(work: Work, record: LotRecord, place: number): Released {
  const left = availableBesides(work, record.itemId, place, record.lot);
  const held = reservationsIn(work, record.itemId, place);
  let over = held.reduce((sum, each) => sum + each.quantity, 0) - left;
  return held.flatMap((each) => {
    if (over <= 0) return [];
    const quantity = asQuantity(Math.min(over, each.quantity));
    over -= quantity;
    takeFromReservation(work, each, quantity);
    return [{ document: each.document, quantity: writeQuantity(quantity) }];
  });
}

/** Frees a lot: what is held of it, in every warehouse, is available again. */
export function freeLot(work: Work, id: number, input: BodyOf<typeof api.stores.freeLot>): LotView {
  const record = lotOf(work, id);
  assertVersion(work, 'lot', record, input.version, `Lot ${record.lot}`);
  if (!record.blocked) throw new Refusal('wrongState', `Lot ${record.lot} is not blocked.`);
  changeRow(work, lot, id, { blocked: false, blockReason: '' });
  moveBetweenStates(work, record, 'held', 'available', input.reason);
  countAnew(work, record);
  work.record('lot', id, `freed lot ${record.lot}: ${input.reason}`);
  return lotView(work, id);
}

function moveBetweenStates(work: Work, record: LotRecord, from: StockState, to: StockState, reason: string): void {
  const held = inState.all(work, { itemId: record.itemId, lot: record.lot, state: from });
  if (held.length === 0) return;
  const number = work.nextNumber('MV');
  const id = addRow(work, relocation, { number, date: work.today, reason, note: `lot ${record.lot}` });
  postMoves(work, {
    document: { kind: 'relocation', id, number },
    date: work.today,
    note: reason,
    moves: held.map(({ warehouse, bin, quantity }) => {
      const key = { item: record.itemId, warehouse, bin, lot: record.lot, serial: '' };
      return {
        item: record.itemId,
        quantity,
        from: { kind: 'stock', key: { ...key, state: from } },
        to: { kind: 'stock', key: { ...key, state: to } },
      };
    }),
    entry: { event: () => ({ kind: 'transfer' }) },
  });
}

const quantityOfLot: SQL<ReturnType<typeof asQuantity>> = sumOfBalances(eq(balance.itemId, lot.itemId), eq(balance.lot, lot.code));
const expiring = query(
  ($: { today: string }) => (db) =>
    db
      .select({ id: lot.id, lot: lot.code, item: item.code, expiry: lot.expiry, unit: item.unitCode, quantity: quantityOfLot })
      .from(lot)
      .innerJoin(item, eq(item.id, lot.itemId))
      .innerJoin(trackingRule, eq(trackingRule.itemId, lot.itemId))
      .where(
        and(
          isNull(lot.warned),
          gt(trackingRule.warnDays, sql`0`),
          isNotNull(lot.expiry),
          lte(lot.expiry, sql`date(${$.today}, '+' || ${trackingRule.warnDays} || ' days')`),
          exists(
            inner
              .select({ one: sql`1` })
              .from(balance)
              .where(and(eq(balance.itemId, lot.itemId), eq(balance.lot, lot.code))),
          ),
        ),
      ),
);

/** Tells people once of each lot in stock that has come within its item's days of warning. Returns how many. */
export function warnOfExpiry(work: Work): number {
  const near = expiring.all(work, { today: work.today });
  for (const each of near) {
    setRow(work, lot, each.id, { warned: work.today });
    const when = (each.expiry ?? '') < work.today ? `expired on ${each.expiry}` : `expires on ${each.expiry}`;
    work.notify('lotChanged', `${writeQuantity(each.quantity)} ${each.unit} of ${each.item}, lot ${each.lot}: ${when}`, {
      kind: 'lot',
      id: each.id,
    });
  }
  return near.length;
}
