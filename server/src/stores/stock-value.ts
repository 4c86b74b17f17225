/** What stock is worth at the end of any day, by item, group or warehouse: the sum of all changes through it. */
import { and, eq, gt, isNull, lte, ne, or, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import type { AnswerOf, QueryOf } from '@terrace/contract';
import { writeAmount } from '@terrace/core';
import { item, itemGroup, warehouse } from '../catalogue';
import { flag, inner, named, total } from '../platform/expressions';
import { asAmountText, asOptionalNumber, asText, list, listPage, listSum, type Column } from '../platform/list';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { stands } from './moves';
import { accountsLeft } from './reclassify';
import { costPool, stockMove, worthChange } from './schema';

type Asked = QueryOf<typeof api.stores.worth>;
type Answer = AnswerOf<typeof api.stores.worth>;
type Wanted = { day: string; warehouse?: number | undefined };
type Names = { readonly day: string; readonly warehouse: number };
type Has = (name: keyof Wanted) => boolean;

/** The changes through a day, each looked at once: summed by one of their columns first. */
function changesBy(column: SQLiteColumn, $: Names, has: Has, having: SQL | undefined) {
  return inner
    .select({
      key: named(column, 'key'),
      quantity: sql<number>`sum(${worthChange.quantity})`.as('quantity'),
      value: sql<number>`sum(${worthChange.value})`.as('value'),
    })
    .from(worthChange)
    .where(and(lte(worthChange.date, $.day), has('warehouse') ? eq(worthChange.warehouseId, $.warehouse) : undefined))
    .groupBy(column)
    .having(having)
    .as('change');
}

const hasQuantity = sql`sum(${worthChange.quantity}) <> 0`;
const hasValue = sql`sum(${worthChange.value}) <> 0`;

/** The same columns of each of the three. */
const shownAs = (shown: Readonly<Record<'id' | 'name' | 'detail' | 'unit' | 'link' | 'quantity' | 'value', SQL | SQLiteColumn | SQL.Aliased>>) => ({
  id: named(shown.id, 'shown_id'),
  name: named(shown.name, 'name'),
  detail: named(shown.detail, 'detail'),
  unit: named(shown.unit, 'unit'),
  link: named(shown.link, 'link'),
  quantity: named(shown.quantity, 'quantity_kept'),
  value: named(shown.value, 'value_kept'),
});
const none = { unit: sql`''`, link: sql`null`, quantity: sql`0` };

const SUMMED = {
  item: ($: Names, has: Has) => {
    const change = changesBy(worthChange.itemId, $, has, or(hasQuantity, hasValue));
    const { code: name, description: detail, unitCode: unit, id: link } = item;
    return inner
      .select(shownAs({ id: change.key, name, detail, unit, link, quantity: change.quantity, value: change.value }))
      .from(change)
      .innerJoin(item, eq(item.id, change.key))
      .as('worth');
  },
  group: ($: Names, has: Has) => {
    const change = changesBy(worthChange.itemId, $, has, undefined);
    const { code, name } = itemGroup;
    return inner
      .select(shownAs({ ...none, id: code, name: code, detail: name, value: sql`sum(${change.value})` }))
      .from(change)
      .innerJoin(item, eq(item.id, change.key))
      .innerJoin(itemGroup, eq(itemGroup.code, item.groupCode))
      .groupBy(itemGroup.code)
      .having(sql`sum(${change.value}) <> 0`)
      .as('worth');
  },
  warehouse: ($: Names, has: Has) => {
    const change = changesBy(worthChange.warehouseId, $, has, hasValue);
    const { id, code, name } = warehouse;
    return inner
      .select(shownAs({ ...none, id, name: code, detail: name, value: change.value }))
      .from(change)
      .innerJoin(warehouse, eq(warehouse.id, change.key))
      .as('worth');
  },
};

/** Only an item has a quantity, and each of it a cost: what all of it is worth, shared out. */
function columnsOf(worth: ReturnType<(typeof SUMMED)['item']>): Record<string, Column> {
  const quantity = sql`case when ${worth.unit} <> '' then ${worth.quantity} end`;
  const unitCost = sql`case when ${worth.unit} <> '' and ${worth.quantity} > 0 then unit_cost(${worth.value}, ${worth.quantity}) end`;
  return {
    id: asText(sql`cast(${worth.id} as text)`),
    name: asText(worth.name),
    detail: asText(worth.detail),
    unit: asText(worth.unit),
    link: asOptionalNumber(worth.link),
    quantity: { type: 'quantity', of: quantity, written: sql`coalesce(written_quantity(${quantity}), '')` },
    unitCost: { type: 'price', of: unitCost, written: sql`coalesce(written_price(${unitCost}), '')` },
    value: asAmountText(worth.value),
    /** Of all rows as they are narrowed, on each of them: the changes are summed once for both. */
    inAll: { ...asAmountText(sql`sum(${worth.value}) over ()`), afterwards: true },
  };
}

const worthBy = (by: keyof typeof SUMMED) =>
  list<Wanted>(($, has) => {
    const worth = SUMMED[by]($, has);
    return { columns: columnsOf(worth), from: worth, find: [worth.name, worth.detail], order: [sql`${worth.value} desc`], tie: [sql`${worth.name}`] };
  });
const LISTS = { item: worthBy('item'), group: worthBy('group'), warehouse: worthBy('warehouse') };

/** Value by item, group or warehouse at the end of a day. */
export function worthOn(work: Work, asked: Asked): Answer {
  const date = asked.date ?? work.today;
  const wanted = { day: date, warehouse: asked.warehouse };
  const { rows, total: all } = listPage<Answer['rows'][number] & { inAll: string }, Wanted>(work, LISTS[asked.by], asked, wanted);
  const value = rows[0]?.inAll ?? writeAmount(listSum(work, LISTS[asked.by], asked, 'value', wanted));
  return { date, value, total: all, rows: rows.map(({ inAll: _inAll, ...row }) => row) };
}

const pools = query(() => (db) => db.select({ value: total(costPool.value) }).from(costPool));
const poolsByAccount = query(
  () => (db) =>
    db
      .select({ account: itemGroup.inventoryAccount, value: sql<number>`sum(${costPool.value})` })
      .from(costPool)
      .innerJoin(item, eq(item.id, costPool.itemId))
      .innerJoin(itemGroup, eq(itemGroup.code, item.groupCode))
      .groupBy(itemGroup.inventoryAccount)
      .orderBy(itemGroup.inventoryAccount),
);
/** What a receipt brought that was not taken back, and what it was worth: with what became a cost difference. */
export const isReceived = sql`${and(eq(stockMove.documentKind, 'receipt'), eq(stockMove.fromKind, 'supplier'), stands)}`;
export const receivedWorth = sql<number>`${stockMove.value} + ${stockMove.variance}`;
const received = query(
  () => (db) =>
    db
      .select({ value: total(receivedWorth) })
      .from(stockMove)
      .where(isReceived),
);
const intoProduction = sql`${stockMove.toKind} = 'production'`;
const inProcess = query(
  () => (db) =>
    db
      .select({ value: total(sql<number>`case when ${intoProduction} then ${stockMove.value} else -${stockMove.value} - ${stockMove.variance} end`) })
      .from(stockMove)
      .where(and(or(intoProduction, eq(stockMove.fromKind, 'production')), isNull(stockMove.reversalOf), stands)),
);

/** What all stock is worth now; an amount. */
export function stockValue(work: Work): number {
  return pools.one(work)?.value ?? 0;
}

/** What stock is worth now, by the inventory account of its items; nothing for accounts that it has all gone from. */
export function stockValueByAccount(work: Work): { readonly account: string; readonly value: number }[] {
  const values = new Map(accountsLeft(work).map((account) => [account, 0]));
  for (const { account, value } of poolsByAccount.all(work)) values.set(account, value);
  return [...values].map(([account, value]) => ({ account, value })).sort((a, b) => (a.account < b.account ? -1 : 1));
}

/** Worth of goods received, less what was taken back, as the moves say it. */
export function receivedValue(work: Work): number {
  return received.one(work)?.value ?? 0;
}

/** What went into production and has not come out, as the moves say it. */
export function workInProcess(work: Work): number {
  return inProcess.one(work)?.value ?? 0;
}

const atStandard = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({ valued: flag(gt(costPool.quantity, sql`0`)) })
      .from(item)
      .innerJoin(costPool, eq(costPool.itemId, item.id))
      .where(and(eq(item.id, $.itemId), eq(item.costing, 'standard'), ne(costPool.quantity, sql`0`)))
      .limit(1),
);

/** Whether stock of an item is valued at a standard cost. */
export function valuedAtStandard(work: Work, itemId: number): boolean {
  return atStandard.one(work, { itemId })?.valued === true;
}
