/** Lots and serial numbers: which an item needs, how they come to be known, and what a document names of them. */
import type { PieceInput } from '@terrace/contract';
import {
  QUANTITY_SCALE,
  Refusal,
  addDays,
  asQuantity,
  assertSerialCount,
  counterOf,
  datesOfLot,
  makeSerials,
  parsePositiveQuantity,
  patternStart,
  readSerials,
  writeQuantity,
  type Quantity,
  type StockKey,
} from '@terrace/core';
import { and, eq, ne, sql } from 'drizzle-orm';
import { bin, item as items, itemFacts, warehouse } from '../catalogue';
import { flag, or0, orEmpty } from '../platform/expressions';
import { query } from '../platform/query';
import { addRow, addRowOnce } from '../platform/rows';
import { balance } from './schema';
import { anyCase, lot as lots, serialNumber, trackingRule } from './tracking-schema';
import { atField, atRow } from '../platform/fields';
import type { Work } from '../platform/work';

export type Tracking = 'none' | 'lot' | 'serial';

export interface TrackingFacts {
  readonly tracking: Tracking;
  readonly expiryNeeded: boolean;
  readonly madeOnNeeded: boolean;
  readonly shelfLife: number | null;
  /** Days of life that must be left to be sold, and to be used. */
  readonly sellLife: number;
  readonly useLife: number;
  readonly warnDays: number;
  readonly serialPattern: string;
  readonly warrantyMonths: number;
}

const trackingFacts = query(
  ($: { item: number }) => (db) =>
    db
      .select({
        tracking: items.tracking,
        expiryNeeded: flag(sql`coalesce(${trackingRule.expiryNeeded}, 0)`),
        madeOnNeeded: flag(sql`coalesce(${trackingRule.madeOnNeeded}, 0)`),
        shelfLife: items.shelfLifeDays,
        sellLife: or0(items.restLifeDays),
        useLife: or0(trackingRule.useLifeDays),
        warnDays: or0(trackingRule.warnDays),
        serialPattern: orEmpty(trackingRule.serialPattern),
        warrantyMonths: or0(trackingRule.warrantyMonths),
      })
      .from(items)
      .leftJoin(trackingRule, eq(trackingRule.itemId, items.id))
      .where(eq(items.id, $.item)),
);

/** How an item's lots or serial numbers are kept. */
export function trackingOf(work: Work, item: number): TrackingFacts {
  const row = trackingFacts.one(work, { item });
  if (!row) throw new Refusal('unknownItem', 'There is no such item: choose one from the list.', { item });
  return row;
}

export const ONE = asQuantity(10 ** QUANTITY_SCALE);

/** Refuses `lotNeeded`, `serialNeeded` and `notTracked` for a key that does not name what the item needs. */
export function assertNamed(code: string, tracking: Tracking, key: StockKey, quantity: Quantity): void {
  if ((tracking === 'lot') !== (key.lot !== ''))
    throw tracking === 'lot'
      ? new Refusal('lotNeeded', `${code} is kept by lot: say which lot.`, { field: 'pieces' })
      : new Refusal('notTracked', `${code} is not kept by lot: leave the lot out.`, { field: 'pieces' });
  if ((tracking === 'serial') !== (key.serial !== ''))
    throw tracking === 'serial'
      ? new Refusal('serialNeeded', `Each piece of ${code} has a serial number: say which.`, { field: 'pieces' })
      : new Refusal('notTracked', `${code} has no serial numbers: leave them out.`, { field: 'pieces' });
  if (tracking === 'serial' && quantity !== ONE)
    throw new Refusal('serialCount', `A serial number stands for one piece, not ${writeQuantity(quantity)}.`, { field: 'pieces' });
}

const placeOfSerial = query(
  ($: { item: number; serial: string }) => (db) =>
    db
      .select({ place: sql<string>`${warehouse.code} || ' ' || ${bin.code}` })
      .from(balance)
      .innerJoin(warehouse, eq(warehouse.id, balance.warehouseId))
      .innerJoin(bin, eq(bin.id, balance.binId))
      .where(and(eq(balance.itemId, $.item), eq(balance.serial, $.serial), ne(balance.serial, sql`''`))),
);
const knownLot = query(
  ($: { item: number; code: string }) => (db) =>
    db
      .select({ id: lots.id, madeOn: lots.madeOn, expiry: lots.expiry, blocked: lots.blocked, blockReason: lots.blockReason })
      .from(lots)
      .where(and(eq(lots.itemId, $.item), eq(lots.code, $.code))),
);
const serialsBeginning = query(
  ($: { item: number; start: string; length: number }) => (db) =>
    db
      .select({ code: serialNumber.code })
      .from(serialNumber)
      .where(and(eq(serialNumber.itemId, $.item), eq(sql`substr(${serialNumber.code}, 1, ${$.length})`, $.start))),
);

const serialSpelt = query(
  ($: { item: number; code: string }) => (db) =>
    db
      .select({ code: serialNumber.code })
      .from(serialNumber)
      .where(and(eq(serialNumber.itemId, $.item), sql`${anyCase(serialNumber.code)} = ${$.code}`, ne(serialNumber.code, $.code))),
);
const lotSpelt = query(
  ($: { item: number; code: string }) => (db) =>
    db
      .select({ code: lots.code })
      .from(lots)
      .where(and(eq(lots.itemId, $.item), sql`${anyCase(lots.code)} = ${$.code}`, ne(lots.code, $.code))),
);

/** Refuses `otherSpelling` for what is known already with other capitals: nobody could tell the two apart on a label. */
function assertSpelling(what: string, code: string, known: { readonly code: string } | undefined): void {
  if (known)
    throw new Refusal('otherSpelling', `${what} ${code} is known as ${known.code} already: write it like that, or look at the piece again.`, {
      known: known.code,
      field: 'pieces',
    });
}

/** A lot of an item, where it is known. */
export function lotNamed(work: Work, item: number, code: string): ReturnType<typeof knownLot.one> {
  return knownLot.one(work, { item, code });
}

/** Where a serial number is now, in words; `null` where we don't have it. */
export function whereSerialIs(work: Work, item: number, serial: string): string | null {
  return placeOfSerial.one(work, { item, serial })?.place ?? null;
}

/** Refuses `serialThere` for a number that is here already. Of two people who scan the same piece the second is told where it is. */
export function assertNowhere(work: Work, item: number, serial: string, code: string): void {
  const place = whereSerialIs(work, item, serial);
  if (place !== null)
    throw new Refusal('serialThere', `${serial} of ${code} is in ${place} already: a number can be in one place only. Check what is on the piece.`, {
      serial,
    });
}

/** A quantity with its lot or serial number. */
export interface Piece {
  readonly lot: string;
  readonly serial: string;
  readonly quantity: Quantity;
}

export interface Origin {
  readonly date: string;
  readonly supplierId?: number;
  /** What a lot is called where nobody gives it a name; a document's number. */
  readonly lotName?: string;
}

interface LotGiven {
  readonly lot: string;
  readonly madeOn: string | null;
  readonly expiry: string | null;
  readonly supplierLot: string;
}

/** Makes a lot known, or checks that what is said of a known one agrees. Refuses `otherLot` where it does not. */
export function keepLot(work: Work, item: number, given: LotGiven, rule: TrackingFacts, origin: Origin): void {
  const known = lotNamed(work, item, given.lot);
  if (known) {
    for (const field of ['madeOn', 'expiry'] as const) {
      if (given[field] !== null && known[field] !== null && given[field] !== known[field])
        throw new Refusal(
          'otherLot',
          `Lot ${given.lot} is known already, with ${field === 'expiry' ? 'expiry' : 'made-on date'} ${known[field]}, not ${given[field]}: one of them is wrong, or it is another lot.`,
          { field },
        );
    }
    return;
  }
  assertSpelling('Lot', given.lot, lotSpelt.one(work, { item, code: given.lot }));
  const dates = datesOfLot(given.lot, given, rule);
  addRow(work, lots, {
    itemId: item,
    code: given.lot,
    madeOn: dates.madeOn,
    expiry: dates.expiry,
    supplierId: origin.supplierId ?? null,
    supplierLot: given.supplierLot,
  });
}

/** Makes serial numbers known. */
export function keepSerials(work: Work, item: number, serials: readonly string[], rule: TrackingFacts, origin: Origin): void {
  for (const serial of serials) {
    assertSpelling('Number', serial, serialSpelt.one(work, { item, code: serial }));
    addRowOnce(work, serialNumber, {
      itemId: item,
      code: serial,
      madeOn: origin.lotName === undefined ? null : origin.date,
      supplierId: origin.supplierId ?? null,
    });
  }
}

/** The next numbers of an item's pattern. Refuses `noPattern`. */
export function nextSerials(work: Work, item: number, count: number, date: string): string[] {
  const { serialPattern: pattern } = trackingOf(work, item);
  const { code } = itemFacts(work, item);
  if (pattern === '')
    throw new Refusal('noPattern', `${code} has no pattern to make serial numbers from: name them, or set a pattern on the item.`, {
      field: 'pieces',
    });
  const start = patternStart(pattern, date);
  const made = serialsBeginning.all(work, { item, start, length: start.length });
  const last = made.reduce((most, each) => Math.max(most, counterOf(pattern, date, each.code) ?? 0), 0);
  return makeSerials(pattern, date, last + 1, count);
}

/**
 * What comes in, by lot or serial number, as a document names it; lots and numbers that are new become known. Refuses
 * what the item's rule asks for and is missing, and where the pieces are not as many as the quantity.
 */
export function piecesComing(work: Work, item: number, quantity: Quantity, pieces: readonly PieceInput[] | undefined, origin: Origin): Piece[] {
  const rule = trackingOf(work, item);
  const { code, decimals } = itemFacts(work, item);
  if (rule.tracking === 'none') {
    if (pieces && pieces.length > 0)
      throw new Refusal('notTracked', `${code} has neither lots nor serial numbers: leave them out.`, { field: 'pieces' });
    return [{ lot: '', serial: '', quantity }];
  }
  if (rule.tracking === 'serial') {
    const named = readSerials((pieces ?? []).map((piece) => piece.serials ?? '').join('\n'));
    const serials =
      named.length === 0 && origin.lotName !== undefined && rule.serialPattern !== '' ? nextSerials(work, item, quantity / ONE, origin.date) : named;
    atField('pieces', () => assertSerialCount(code, serials, quantity, ONE));
    for (const serial of serials) atField('pieces', () => assertNowhere(work, item, serial, code));
    keepSerials(work, item, serials, rule, origin);
    return serials.map((serial) => ({ lot: '', serial, quantity: ONE }));
  }
  const given: readonly PieceInput[] = pieces && pieces.length > 0 ? pieces : origin.lotName === undefined ? [] : [{ lot: origin.lotName }];
  if (given.length === 0) throw new Refusal('lotNeeded', `${code} is kept by lot: say which lot comes in.`, { field: 'pieces' });
  const read = given.map((piece, index): Piece => {
    const field = `pieces.${index}`;
    const lot = piece.lot?.trim() ?? '';
    if (lot === '') throw new Refusal('lotNeeded', `${code} is kept by lot: say which lot comes in.`, { field: `${field}.lot` });
    const { quantity: text } = piece;
    const part =
      text === undefined && given.length === 1
        ? quantity
        : atField(`${field}.quantity`, () => parsePositiveQuantity(text ?? '', decimals, `the quantity of lot ${lot}`));
    // What we make ourselves is made today, unless somebody says otherwise.
    const madeOn = piece.madeOn ?? (origin.lotName === undefined ? null : origin.date);
    atRow(field, () => keepLot(work, item, { lot, madeOn, expiry: piece.expiry ?? null, supplierLot: piece.supplierLot ?? '' }, rule, origin));
    return { lot, serial: '', quantity: part };
  });
  assertSum(code, read, quantity);
  return read;
}

function assertSum(code: string, pieces: readonly Piece[], quantity: Quantity): void {
  const sum = pieces.reduce((all, piece) => all + piece.quantity, 0);
  if (sum === quantity) return;
  throw new Refusal(
    'lotSum',
    `The lots of ${code} come to ${writeQuantity(sum)}, the line says ${writeQuantity(quantity)}: ${writeQuantity(Math.abs(sum - quantity))} too ${sum > quantity ? 'many' : 'few'}.`,
    { field: 'pieces' },
  );
}

/** What goes out by the names that a document gives, as wanted quantities of lots or serial numbers. */
export function piecesNamed(work: Work, item: number, quantity: Quantity, pieces: readonly PieceInput[]): Piece[] {
  const { tracking } = trackingOf(work, item);
  const { code, decimals } = itemFacts(work, item);
  if (tracking === 'none') throw new Refusal('notTracked', `${code} has neither lots nor serial numbers: leave them out.`, { field: 'pieces' });
  if (tracking === 'serial') {
    const serials = readSerials(pieces.map((piece) => piece.serials ?? '').join('\n'));
    atField('pieces', () => assertSerialCount(code, serials, quantity, ONE));
    return serials.map((serial) => ({ lot: '', serial, quantity: ONE }));
  }
  const read = pieces.map((piece, index) => ({
    lot: piece.lot ?? '',
    serial: '',
    quantity:
      piece.quantity === undefined && pieces.length === 1
        ? quantity
        : atField(`pieces.${index}.quantity`, () => parsePositiveQuantity(piece.quantity ?? '', decimals, `the quantity of lot ${piece.lot ?? ''}`)),
  }));
  assertSum(code, read, quantity);
  return read;
}

/** The day through which a warranty of so many months from a day lasts. */
export function warrantyEnd(from: string, months: number): string | null {
  if (months === 0) return null;
  const [year = 0, month = 0, day = 0] = from.split('-').map(Number);
  const last = new Date(Date.UTC(year, month - 1 + months + 1, 0)).getUTCDate();
  const date = new Date(Date.UTC(year, month - 1 + months, Math.min(day, last))).toISOString().slice(0, 10);
  return addDays(date, -1);
}
