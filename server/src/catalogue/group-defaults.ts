/** Values that a group may give: read from text, kept in the item's own columns. */
import { and, eq, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import { Refusal, readDecimal, toScale, writePoints, type Given } from '@terrace/core';
import { costings, itemKinds, trackings } from '@terrace/contract';
import { command } from '../platform/query';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { item } from './schema';
import { unitOf } from './units';
import { warehouseIdOf } from './warehouses';

type Kept = Exclude<Given, 'planning'>;

const COLUMNS = {
  kind: item.kind,
  unit: item.unitCode,
  tracking: item.tracking,
  costing: item.costing,
  discountCeiling: item.discountCeiling,
  shelfLifeDays: item.shelfLifeDays,
  restLifeDays: item.restLifeDays,
  storageOverhead: item.storageOverhead,
} satisfies Record<Kept, SQLiteColumn>;
const WORDS: Readonly<Partial<Record<Given, readonly string[]>>> = { kind: itemKinds, tracking: trackings, costing: costings };
const PLANNING = /^(?:none|(buy|make) in (\S+?)(?:, (\d{1,3}) days)?)$/;

/** A share in percent as basis points, from 0 to 100. */
export function readPoints(text: string, what: string): number {
  const value = readDecimal(text);
  const points = value && toScale(value, 2);
  if (points === null || points < 0n || points > 10_000n)
    throw new Refusal('badShare', `${what} of ${text} % can't be: it is from 0 to 100, with two decimals at most.`);
  return Number(points);
}

function readDays(text: string, what: string): number {
  if (!/^\d{1,5}$/.test(text)) throw new Refusal('badDays', `${what} is a whole number of days, not "${text}".`);
  return Number(text);
}

/** Checks a value and gives it in its one form. Refuses what the field can't hold. */
export function readGiven(work: Work, field: Given, text: string): string {
  const words = WORDS[field];
  if (words && !words.includes(text)) throw new Refusal('unknownWord', `"${text}" is none of ${words.join(', ')}.`);
  if (field === 'unit' && !unitOf(work, text))
    throw new Refusal('unknownUnit', `There is no unit "${text}": choose one from the list.`, { field: 'unit' });
  if (field === 'discountCeiling') return writePoints(readPoints(text, 'A ceiling'));
  if (field === 'storageOverhead') return writePoints(readPoints(text, 'Storage overhead'));
  if (field === 'shelfLifeDays') return String(readDays(text, 'Shelf life'));
  if (field === 'restLifeDays') return String(readDays(text, 'Remaining life'));
  if (field === 'planning') {
    const said = PLANNING.test(text) ? readWayOfPlanning(text) : null;
    if (said === null || (said.warehouse !== undefined && warehouseIdOf(work, said.warehouse) === undefined))
      throw new Refusal(
        'badPlanning',
        `"${text}" is no way to plan: write "buy in WORKS", "make in WORKS, 3 days" or "none", with a warehouse that there is.`,
      );
  }
  return text;
}

interface WayOfPlanning {
  readonly source: 'buy' | 'make' | undefined;
  readonly warehouse: string | undefined;
  readonly days: number | undefined;
}

/** What "make in WORKS, 3 days" says; nothing of what does not read so. */
export function readWayOfPlanning(text: string): WayOfPlanning {
  const [, source, warehouse, days] = PLANNING.exec(text) ?? [];
  return { source: source as WayOfPlanning['source'], warehouse, days: days === undefined ? undefined : Number(days) };
}

/** The value as its column keeps it. */
export function columnOf(field: Kept, text: string | undefined): string | number | null {
  if (text === undefined) return field === 'storageOverhead' ? 0 : null;
  if (field === 'discountCeiling' || field === 'storageOverhead') return readPoints(text, 'It');
  if (field === 'shelfLifeDays' || field === 'restLifeDays') return Number(text);
  return text;
}

const differs = (column: SQLiteColumn, value: unknown): SQL => sql`${column} is not ${value}`;

/** One command a field: an item gets the value where it has another. */
const store = Object.fromEntries(
  Object.entries(COLUMNS).map(([field, column]) => [
    field,
    command(
      ($: { id: number; value: string | number | null }) => (db) =>
        db
          .update(item)
          .set({ [column.name]: $.value })
          .where(and(eq(item.id, $.id), differs(column, $.value))),
    ),
  ]),
) as Record<Kept, ReturnType<typeof command<{ id: number; value: string | number | null }>>>;

/** Puts a value into an item; says whether anything changed. */
export function storeGiven(work: Work, id: number, field: Given, text: string): boolean {
  if (field === 'planning') return otherRooms.get().planning.planAs(work, id, text);
  return store[field].run(work, { id, value: columnOf(field, text) }).changes > 0;
}
