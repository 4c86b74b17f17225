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
import { groupsOf } from '../catalogue';
import type { Work } from '../platform/work';
import { priceListView } from './price-lists';
import { currentCost } from './pricing';

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

const ITEMS = `select i.id, i.id as itemId, i.code, i.description, i.sell_price as price from item i
  where i.active = 1 and i.sell_price > 0 and (?1 is null or i.group_code in (select value from json_each(?1))) order by i.code`;
const ENTRIES = `select e.id, i.id as itemId, i.code, i.description, (select b.value from price_break b where b.entry_id = e.id order by b.from_quantity limit 1) as price
  from price_entry e join item i on i.id = e.item_id
  where e.list_id = ?2 and e.way = 'amount' and (?1 is null or i.group_code in (select value from json_each(?1))) order by i.code, e.id`;

function factorOf(percent: string): bigint {
  const value = readDecimal(percent);
  const points = value && toScale(value, 2);
  if (points === null || points <= -10_000n || points > MOST_PERCENT)
    throw new Refusal('badShare', `A change by ${percent} % can't be made: give more than -100 and at most 1000, with two decimals.`, {
      field: 'percent',
    });
  return 10_000n + points;
}

function linesOf(work: Work, query: Query): { readonly lines: Line[]; readonly unchanged: number; readonly scale: (price: UnitPrice) => UnitPrice } {
  const factor = factorOf(query.percent);
  if (query.listId !== undefined) priceListView(work, query.listId);
  const groups =
    query.group === undefined || query.group === ''
      ? null
      : [...groupsOf(work).keys()].filter((code) => lineage(code, groupsOf(work)).some((each) => each.code === query.group));
  const scale = (price: UnitPrice): UnitPrice => roundPrice(asPrice(Number(divideRounded(BigInt(price) * factor, 10_000n))), query.rounding);
  const all = work
    .rows<Omit<Line, 'from' | 'to'> & { price: number }>(
      query.listId === undefined ? ITEMS : ENTRIES,
      groups === null ? null : JSON.stringify(groups),
      ...(query.listId === undefined ? [] : [query.listId]),
    )
    .map(({ price, ...row }) => ({ ...row, from: asPrice(price), to: scale(asPrice(price)) }));
  const lines = all.filter((each) => each.to !== each.from);
  return { lines, unchanged: all.length - lines.length, scale };
}

function printOf(lines: readonly Line[]): string {
  return hash('sha256', lines.map((each) => `${each.id} ${each.from} ${each.to}`).join('\n'), 'base64url');
}

/** What a change would do, with the margin before and after at current cost. */
export function previewPrices(work: Work, query: Query): Preview {
  const { lines, unchanged } = linesOf(work, query);
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
      work.run('update item set sell_price = ?, version = version + 1 where id = ?', line.to, line.id);
      work.record('item', line.id, `changed the price with others by ${words}`, change);
    } else {
      for (const { from, value } of work.rows<{ from: number; value: number }>(
        'select from_quantity as "from", value from price_break where entry_id = ?',
        line.id,
      ))
        work.run('update price_break set value = ? where entry_id = ? and from_quantity = ?', scale(asPrice(value)), line.id, from);
      work.run('update price_entry set version = version + 1 where id = ?', line.id);
    }
  }
  if (body.listId !== undefined)
    work.record('setup', body.listId, `changed ${chosen.length} prices of ${priceListView(work, body.listId).code} by ${words}`);
  return { changed: chosen.length };
}
