/** Changing many prices at once: looked at first, then done as it was shown. */
import { hash } from 'node:crypto';
import type { api } from '@terrace/contract';
import type { AnswerOf, BodyOf, QueryOf } from '@terrace/contract';
import {
  Refusal,
  asPrice,
  divideRounded,
  lineage,
  marginOf,
  readDecimal,
  roundPrice,
  toScale,
  writePoints,
  writePrice,
  type UnitPrice,
} from '@terrace/core';
import { and, eq, gt, sql, type SQL } from 'drizzle-orm';
import { groupsOf, item, setSellPrice } from '../catalogue';
import type { Database } from '../platform/database';
import { among, inner, scalar } from '../platform/expressions';
import { query } from '../platform/query';
import { changeRow, keepRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { priceListView } from './price-lists';
import { priceBreak, priceEntry } from './price-schema';
import { breaksOf, currentCost } from './pricing';

type Query = QueryOf<typeof api.selling.previewPrices>;
type Preview = AnswerOf<typeof api.selling.previewPrices>;

const MOST_PERCENT = 100_000n;

interface Line {
  /** Of an item, or of an entry of the list. */
  readonly id: number;
  readonly itemId: number;
  readonly code: string;
  readonly description: string;
  readonly from: UnitPrice;
  readonly to: UnitPrice;
}

const isSold = (db: Database, group?: SQL) =>
  db
    .select({ id: item.id, itemId: item.id, code: item.code, description: item.description, price: item.sellPrice })
    .from(item)
    .where(and(eq(item.active, true), gt(item.sellPrice, sql`0`), group))
    .orderBy(item.code);
const itemsSold = query(() => (db) => isSold(db));
const itemsSoldIn = query(($: { groups: readonly string[] }) => (db) => isSold(db, among(item.groupCode, $.groups)));
const firstBreak = scalar(
  inner.select({ value: priceBreak.value }).from(priceBreak).where(eq(priceBreak.entryId, priceEntry.id)).orderBy(priceBreak.from).limit(1),
);
const isListed = (db: Database, listId: number, group?: SQL) =>
  db
    .select({ id: priceEntry.id, itemId: item.id, code: item.code, description: item.description, price: firstBreak })
    .from(priceEntry)
    .innerJoin(item, eq(item.id, priceEntry.itemId))
    .where(and(eq(priceEntry.listId, listId), eq(priceEntry.way, 'amount'), group))
    .orderBy(item.code, priceEntry.id);
const entriesListed = query(($: { listId: number }) => (db) => isListed(db, $.listId));
const entriesListedIn = query(($: { listId: number; groups: readonly string[] }) => (db) => isListed(db, $.listId, among(item.groupCode, $.groups)));

/** The prices that may change: of items, or of the entries of a list; in some groups only, where any are named. */
function pricesIn(work: Work, listId: number | undefined, groups: readonly string[] | null) {
  if (listId === undefined) return groups === null ? itemsSold.all(work) : itemsSoldIn.all(work, { groups });
  return groups === null ? entriesListed.all(work, { listId }) : entriesListedIn.all(work, { listId, groups });
}

function factorOf(percent: string): bigint {
  const value = readDecimal(percent);
  const points = value && toScale(value, 2);
  if (points === null || points <= -10_000n || points > MOST_PERCENT)
    throw new Refusal('badShare', `A change by ${percent} % can't be made: give more than -100 and at most 1000, with two decimals.`, {
      field: 'percent',
    });
  return 10_000n + points;
}

function linesOf(work: Work, asked: Query): { readonly lines: Line[]; readonly unchanged: number; readonly scale: (price: UnitPrice) => UnitPrice } {
  const factor = factorOf(asked.percent);
  if (asked.listId !== undefined) priceListView(work, asked.listId);
  const groups =
    asked.group === undefined || asked.group === ''
      ? null
      : [...groupsOf(work).keys()].filter((code) => lineage(code, groupsOf(work)).some((each) => each.code === asked.group));
  const scale = (price: UnitPrice): UnitPrice => roundPrice(asPrice(Number(divideRounded(BigInt(price) * factor, 10_000n))), asked.rounding);
  const all = pricesIn(work, asked.listId, groups).map(({ price, ...row }) => {
    const from = asPrice(price ?? 0);
    return { ...row, from, to: scale(from) };
  });
  const lines = all.filter((each) => each.to !== each.from);
  return { lines, unchanged: all.length - lines.length, scale };
}

function printOf(lines: readonly Line[]): string {
  return hash('sha256', lines.map((each) => `${each.id} ${each.from} ${each.to}`).join('\n'), 'base64url');
}

/** What a change would do, with the margin before and after at current cost. */
export function previewPrices(work: Work, asked: Query): Preview {
  const { lines, unchanged } = linesOf(work, asked);
  const points = (price: UnitPrice, cost: UnitPrice): string => {
    const margin = marginOf(price, cost);
    return margin === null ? '' : writePoints(margin);
  };
  return {
    unchanged,
    print: printOf(lines),
    rows: lines.map((each) => {
      const cost = currentCost(work, each.itemId);
      return {
        id: each.id,
        code: each.code,
        description: each.description,
        from: writePrice(each.from),
        to: writePrice(each.to),
        cost: cost > 0 ? writePrice(cost) : '',
        marginFrom: points(each.from, cost),
        marginTo: points(each.to, cost),
      };
    }),
  };
}

/** Changes prices as they were shown, but for those taken out. Refuses `shownOtherwise` where something changed since. */
export function changePrices(work: Work, body: BodyOf<typeof api.selling.changePrices>): { changed: number } {
  const { lines, scale } = linesOf(work, body);
  if (printOf(lines) !== body.print)
    throw new Refusal('shownOtherwise', 'Prices have changed since this was shown: look at it again before you change them.', {});
  const chosen = lines.filter((each) => !body.except.includes(each.id));
  if (chosen.length === 0) throw new Refusal('nothingChanges', 'Nothing would change: choose a price at least.');
  const words = `${body.percent.startsWith('-') ? '' : '+'}${body.percent} %`;
  for (const line of chosen) {
    const change = [{ field: 'price', from: writePrice(line.from), to: writePrice(line.to) }];
    if (body.listId === undefined) {
      setSellPrice(work, line.id, line.to);
      work.record('item', line.id, `changed the price with others by ${words}`, change);
    } else {
      for (const { from, value } of breaksOf(work, line.id))
        keepRow(work, priceBreak, ['entryId', 'from'], { entryId: line.id, from, value: scale(asPrice(value)) });
      changeRow(work, priceEntry, line.id, {});
    }
  }
  if (body.listId !== undefined)
    work.record('setup', body.listId, `changed ${chosen.length} prices of ${priceListView(work, body.listId).code} by ${words}`);
  return { changed: chosen.length };
}
