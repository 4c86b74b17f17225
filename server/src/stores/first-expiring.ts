/** Which pieces go: bins, lots and serial numbers in the order in which they are taken. */
import type { PieceInput, PieceView } from '@terrace/contract';
import { Refusal, applyChange, asQuantity, isShortDated, keyText, writeQuantity, type Quantity, type StockKey } from '@terrace/core';
import { and, eq, ne, sql } from 'drizzle-orm';
import { bin, itemFacts, warehouseOf } from '../catalogue';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { piecesNamed, trackingOf, whereSerialIs } from './tracking';
import { balance } from './schema';
import { lot } from './tracking-schema';

export interface Held {
  readonly key: StockKey;
  readonly bin: string;
  readonly expiry: string | null;
  readonly quantity: Quantity;
}

export interface Take {
  readonly key: StockKey;
  readonly quantity: Quantity;
}

/** What the pieces are taken for: each asks for another life that must be left. */
export type Purpose = 'sell' | 'use' | 'any';

/** Lots whose end is not known are taken last. */
const LAST = '9999-12-31';
/** The lot of a balance, where it has one. */
export const lotOfBalance = and(ne(balance.lot, sql`''`), eq(lot.itemId, balance.itemId), eq(lot.code, balance.lot));
/** First-expiring first, then by lot, bin and serial number. */
export const pickingOrder = [sql`coalesce(${lot.expiry}, ${LAST})`, balance.lot, bin.code, balance.serial];
const inPickingOrder = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({ bin: balance.binId, code: bin.code, lot: balance.lot, serial: balance.serial, quantity: balance.quantity, expiry: lot.expiry })
      .from(balance)
      .innerJoin(bin, eq(bin.id, balance.binId))
      .leftJoin(lot, lotOfBalance)
      .where(and(eq(balance.itemId, $.item), eq(balance.warehouseId, $.warehouse), eq(balance.state, 'available')))
      .orderBy(...pickingOrder),
);

/** Available stock of an item in a warehouse as it is picked: first-expiring first, then bin by bin. */
export function binsHolding(work: Work, item: number, warehouse: number): Held[] {
  return inPickingOrder.all(work, { item, warehouse }).map((row) => ({
    bin: row.code,
    expiry: row.expiry,
    quantity: row.quantity,
    key: { item, warehouse, bin: row.bin, lot: row.lot, serial: row.serial, state: 'available' as const },
  }));
}

/** The lots or serial numbers that may be taken for a purpose, in the order in which they would be. */
export function proposedPieces(work: Work, item: number, warehouse: number, purpose: Purpose, date = work.today): PieceView[] {
  const life = lifeFor(work, item, purpose);
  return binsHolding(work, item, warehouse)
    .filter((each) => life === -Infinity || !isShortDated(each.expiry, date, life))
    .slice(0, MOST_PROPOSED)
    .map((each) => ({ lot: each.key.lot, serial: each.key.serial, bin: each.bin, expiry: each.expiry, quantity: writeQuantity(each.quantity) }));
}

const MOST_PROPOSED = 200;

function namesOf(work: Work, item: number, warehouse: number): string {
  return `${itemFacts(work, item).code} in ${warehouseOf(work, warehouse).code}`;
}

/** The life that must be left for a purpose. */
export function lifeFor(work: Work, item: number, purpose: Purpose): number {
  const rule = trackingOf(work, item);
  return purpose === 'sell' ? rule.sellLife : purpose === 'use' ? rule.useLife : -Infinity;
}

/** What the lines of a document before have taken already, by place. */
type Taken = Map<string, number>;

/** What is there for a line: available stock as it is picked, less what lines before have taken. */
function leftIn(work: Work, item: number, warehouse: number, taken: Taken): Held[] {
  return binsHolding(work, item, warehouse).flatMap((each) => {
    const quantity = each.quantity - (taken.get(keyText(each.key)) ?? 0);
    return quantity > 0 ? [{ ...each, quantity: asQuantity(quantity) }] : [];
  });
}

/** What a line of a document wants, and how its refusal is said. */
export interface Want {
  readonly item: number;
  readonly warehouse: number;
  readonly quantity: Quantity;
  /** Lots or serial numbers that are named for it; else what expires first is taken. */
  readonly pieces?: readonly PieceInput[] | undefined;
  readonly purpose: Purpose;
  readonly date: string;
  readonly at: <T>(act: () => T) => T;
}

/**
 * What all lines of a document take, worked out together: what is named for one line is not taken for another, and each
 * takes from what the others leave. Refuses what {@link takeNamed} and {@link takeFromBins} refuse.
 */
export function takeForAll(work: Work, wants: readonly Want[]): Take[][] {
  const taken: Taken = new Map();
  const takes = new Map<Want, Take[]>();
  const isNamed = ({ pieces }: Want): boolean => pieces !== undefined && pieces.length > 0;
  for (const want of [...wants.filter(isNamed), ...wants.filter((each) => !isNamed(each))]) {
    const { item, warehouse, quantity, pieces = [], purpose, date, at } = want;
    const parts = at(() =>
      isNamed(want)
        ? takeNamed(work, item, warehouse, quantity, pieces, purpose, date, taken)
        : takeFromBins(work, item, warehouse, quantity, purpose, date, taken),
    );
    for (const { key, quantity: part } of parts) taken.set(keyText(key), (taken.get(keyText(key)) ?? 0) + part);
    takes.set(want, parts);
  }
  return wants.map((want) => takes.get(want) ?? []);
}

/**
 * Splits a quantity over what is there: first-expiring first, short-dated lots never. Serial numbers are left to be
 * named where `serials` says so. Refuses `notEnough`, naming item and warehouse, and `serialNeeded`.
 */
function takeFromBins(work: Work, item: number, warehouse: number, wanted: Quantity, purpose: Purpose, date: string, before: Taken): Take[] {
  const held = leftIn(work, item, warehouse, before);
  const life = held.some((each) => each.expiry !== null) ? lifeFor(work, item, purpose) : 0;
  const good = held.filter((each) => life === -Infinity || !isShortDated(each.expiry, date, life));
  const taken: Take[] = [];
  let left: number = wanted;
  for (const each of good) {
    if (left === 0) break;
    const quantity = asQuantity(Math.min(left, each.quantity));
    taken.push({ key: each.key, quantity });
    left -= quantity;
  }
  if (left > 0) {
    const short = held.filter((each) => !good.includes(each));
    const name = namesOf(work, item, warehouse);
    if (short.length > 0) {
      const lots = [...new Set(short.map((each) => each.key.lot))].join(', ');
      throw new Refusal(
        'shortDated',
        `${writeQuantity(wanted)} of ${name} can't be taken: only ${writeQuantity(wanted - left)} will do, since on ${date} lot ${lots} has less than ${life} days left.`,
        { there: writeQuantity(wanted - left), lots },
      );
    }
    applyChange(asQuantity(wanted - left), asQuantity(-wanted), name);
  }
  return taken;
}

/**
 * The pieces that a document names, from wherever in the warehouse they are. Refuses `serialElsewhere`, `notEnough` of a
 * lot, and `shortDated`.
 */
function takeNamed(
  work: Work,
  item: number,
  warehouse: number,
  wanted: Quantity,
  pieces: readonly PieceInput[],
  purpose: Purpose,
  date: string,
  before: Taken,
): Take[] {
  const held = leftIn(work, item, warehouse, before);
  const life = lifeFor(work, item, purpose);
  const name = namesOf(work, item, warehouse);
  const left = new Map(held.map((each) => [each, each.quantity as number]));
  return piecesNamed(work, item, wanted, pieces).flatMap((piece) =>
    atField('pieces', () => {
      const what = piece.serial === '' ? `lot ${piece.lot}` : piece.serial;
      const matching = held.filter((each) => each.key.lot === piece.lot && each.key.serial === piece.serial);
      const [first] = matching;
      if (!first && piece.serial !== '') {
        if (binsHolding(work, item, warehouse).some((each) => each.key.serial === piece.serial))
          throw new Refusal('serialTwice', `${piece.serial} is named for two lines: there is one of it.`, { serial: piece.serial });
        const place = whereSerialIs(work, item, piece.serial);
        throw new Refusal(
          'serialElsewhere',
          place === null
            ? `${piece.serial} is not in stock: it has left, or it never came. Scan it again.`
            : `${piece.serial} is in ${place} and not available there for this.`,
          { serial: piece.serial },
        );
      }
      if (first && life !== -Infinity && isShortDated(first.expiry, date, life))
        throw new Refusal(
          'shortDated',
          `Lot ${piece.lot} expires on ${first.expiry ?? ''}: on ${date} it has less than ${life} days left. Take another lot.`,
          {
            lot: piece.lot,
          },
        );
      let wantedHere: number = piece.quantity;
      const taken: Take[] = [];
      for (const each of matching) {
        const quantity = Math.min(wantedHere, left.get(each) ?? 0);
        if (quantity === 0) continue;
        taken.push({ key: each.key, quantity: asQuantity(quantity) });
        left.set(each, (left.get(each) ?? 0) - quantity);
        wantedHere -= quantity;
      }
      if (wantedHere > 0) applyChange(asQuantity(piece.quantity - wantedHere), asQuantity(-piece.quantity), `${what} of ${name}`);
      return taken;
    }),
  );
}
