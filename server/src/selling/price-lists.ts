/** Price lists and their entries. */
import type { api } from '@terrace/contract';
import type { AnswerOf, BodyOf, ListQuery, PriceListView } from '@terrace/contract';
import {
  Refusal,
  asQuantity,
  parseAskedPrice,
  parseQuantity,
  readDecimal,
  toScale,
  writePoints,
  writePrice,
  writeQuantity,
  type PriceBreak,
  type PriceWay,
} from '@terrace/core';
import { and, eq, ne, sql } from 'drizzle-orm';
import { booksCurrency, currencyNamed, customer, customerGroup, customerOf, groupsOf, item, itemFacts, itemGroup, rateOf } from '../catalogue';
import { countOf, inner, orEmpty, same, sameText, scalar } from '../platform/expressions';
import { asFlag, asNumber, asText, list, listPage, mayReferTo } from '../platform/list';
import { query } from '../platform/query';
import { atField } from '../platform/fields';
import { addRow, changeRow, dropRow, dropRows, fetching, orNotFound } from '../platform/rows';
import { assertSeen } from '../platform/versions';
import type { Work } from '../platform/work';
import { priceBreak, priceEntry, priceList } from './price-schema';
import { breaksOf, entryById, priceFor } from './pricing';

const itsCustomer = inner.select({ name: customer.name }).from(customer).where(eq(customer.id, priceList.customerId));
const itsGroup = inner.select({ name: customerGroup.name }).from(customerGroup).where(eq(customerGroup.code, priceList.customerGroup));
const audience = sql`coalesce(${itsCustomer}, ${itsGroup}, 'Everybody')`;

const lists = list<{ id?: number }>(($, has) => ({
  columns: {
    id: asNumber(priceList.id),
    code: asText(priceList.code),
    name: asText(priceList.name),
    currency: asText(priceList.currency),
    customerId: asText(priceList.customerId),
    customerGroup: asText(priceList.customerGroup),
    audience: asText(audience),
    validFrom: asText(priceList.validFrom),
    validTo: asText(priceList.validTo),
    rounding: asText(priceList.rounding),
    entries: asNumber(countOf(priceEntry, eq(priceEntry.listId, priceList.id))),
    active: asFlag(priceList.active),
    version: asNumber(priceList.version),
  },
  from: priceList,
  where: has('id') ? eq(priceList.id, $.id) : undefined,
  find: [priceList.code, priceList.name],
  order: [sql`${priceList.active} desc`, priceList.code],
  tie: [priceList.id],
}));

const inUse = query(
  () => (db) =>
    db
      .select({ id: priceList.id, code: priceList.code, name: priceList.name })
      .from(priceList)
      .where(eq(priceList.active, true))
      .orderBy(priceList.code),
);
const byId = query(($: { id: number }) => (db) => db.select({ id: priceList.id }).from(priceList).where(eq(priceList.id, $.id)));
const codeTaken = query(
  ($: { code: string; except: number }) => (db) =>
    db
      .select({ name: priceList.name })
      .from(priceList)
      .where(and(sameText(priceList.code, $.code), ne(priceList.id, $.except))),
);
const groupByCode = query(
  ($: { code: string }) => (db) => db.select({ code: customerGroup.code }).from(customerGroup).where(eq(customerGroup.code, $.code)),
);
interface Period {
  listId: number;
  itemId: number | null;
  groupCode: string | null;
  validFrom: string | null;
  except: number;
}
const samePeriod = query(
  ($: Period) => (db) =>
    db
      .select({ id: priceEntry.id })
      .from(priceEntry)
      .where(
        and(
          eq(priceEntry.listId, $.listId),
          same(priceEntry.itemId, $.itemId),
          same(priceEntry.groupCode, $.groupCode),
          same(priceEntry.validFrom, $.validFrom),
          ne(priceEntry.id, $.except),
        ),
      ),
);

/** Price lists in use, to choose from. */
export function priceListsInUse(work: Work): { id: number; code: string; name: string }[] {
  return inUse.all(work);
}

export function hasPriceList(work: Work, id: number): boolean {
  return byId.one(work, { id }) !== undefined;
}

export function listPriceLists(work: Work, asked: ListQuery): AnswerOf<typeof api.selling.listPriceLists> {
  return listPage<PriceListView, { id?: number }>(work, lists, asked);
}

export function priceListView(work: Work, id: number): PriceListView {
  const { rows } = listPage<PriceListView, { id?: number }>(work, lists, { offset: 0, limit: 1 }, { id });
  return orNotFound(rows[0], 'price list');
}

type ListInput = BodyOf<typeof api.selling.createPriceList>;

function valuesOf(work: Work, input: ListInput, exceptId: number): Omit<typeof priceList.$inferInsert, 'id'> {
  const taken = codeTaken.one(work, { code: input.code, except: exceptId });
  if (taken) throw new Refusal('codeTaken', `The code ${input.code} belongs to "${taken.name}" already: choose another.`, { field: 'code' });
  if (input.customerId !== null && input.customerGroup !== null)
    throw new Refusal('twoAudiences', 'A list is for one customer, for a group of them, or for everybody: choose one.', { field: 'customerGroup' });
  if (input.customerId !== null) customerOf(work, input.customerId);
  if (input.customerGroup !== null && !groupByCode.one(work, { code: input.customerGroup }))
    throw new Refusal('unknownChoice', `There is no customer group "${input.customerGroup}": choose one from the list.`, { field: 'customerGroup' });
  const currency = currencyNamed(work, input.currency);
  if (currency !== booksCurrency(work)) atField('currency', () => rateOf(work, currency, work.today));
  assertPeriod(input);
  const { code, name, customerId, customerGroup: group, validFrom, validTo, rounding } = input;
  return { code, name, currency, customerId, customerGroup: group, validFrom, validTo, rounding };
}

function assertPeriod({ validFrom, validTo }: { readonly validFrom: string | null; readonly validTo: string | null }): void {
  if (validFrom !== null && validTo !== null && validTo < validFrom)
    throw new Refusal('badPeriod', `What begins on ${validFrom} can't end on ${validTo}.`, { field: 'validTo' });
}

export function createPriceList(work: Work, input: ListInput): number {
  const id = addRow(work, priceList, valuesOf(work, input, 0));
  work.record('setup', id, `set up price list ${input.code}`);
  return id;
}

export function changePriceList(work: Work, id: number, input: ListInput & { version: number; active: boolean }): void {
  const before = priceListView(work, id);
  assertSeen(before, input.version, `Price list ${before.code}`);
  if (currencyNamed(work, input.currency) !== before.currency && before.entries > 0)
    throw new Refusal('hasEntries', `${before.code} has prices in ${before.currency}: its currency stays. Set up another list.`, {
      field: 'currency',
    });
  changeRow(work, priceList, id, { ...valuesOf(work, input, id), active: input.active });
  work.record('setup', id, `changed price list ${input.code}`);
}

/** A break's value as kept: a price for an amount, else basis points. Refuses what makes no sense for the way. */
function readValue(way: PriceWay, text: string): number {
  if (way === 'amount') return parseAskedPrice(text);
  const value = readDecimal(text);
  const points = value && toScale(value, 2);
  if (points === null) throw new Refusal('notANumber', `"${text}" is no percentage: give figures with two decimals at most.`);
  const most = way === 'offList' ? 10_000n : way === 'marginOnCost' ? 9_999n : 1_000_000n;
  if (points < 0n || points > most)
    throw new Refusal(
      'badShare',
      `${text} % makes no price: ${way === 'marginOnCost' ? 'a margin is below 100 %' : `it is from 0 to ${writePoints(Number(most))} %`}.`,
    );
  return Number(points);
}

export function writeValue(way: PriceWay, value: number): string {
  return way === 'amount' ? writePrice(value) : writePoints(value);
}

type EntryInput = BodyOf<typeof api.selling.addPriceEntry>;

function entryValues({ itemId, groupCode, way, validFrom, validTo }: EntryInput) {
  return { itemId, groupCode, way, validFrom, validTo };
}

function assertEntry(work: Work, listId: number, input: EntryInput, exceptId: number): PriceBreak[] {
  if (input.itemId !== null && input.groupCode !== null)
    throw new Refusal('twoTargets', 'A price is for one item, for a group, or for everything.', { field: 'groupCode' });
  const decimals = input.itemId === null ? 5 : atField('itemId', () => itemFacts(work, input.itemId ?? 0).decimals);
  if (input.groupCode !== null && !groupsOf(work).has(input.groupCode))
    throw new Refusal('unknownGroup', `There is no item group "${input.groupCode}": choose one from the list.`, { field: 'groupCode' });
  if (input.way === 'amount' && input.itemId === null)
    throw new Refusal('amountNeedsItem', 'An amount is a price of one item: choose the item, or state a percentage.', { field: 'way' });
  assertPeriod(input);
  const { itemId, groupCode, validFrom } = input;
  const twice = samePeriod.one(work, { listId, itemId, groupCode, validFrom, except: exceptId });
  if (twice) throw new Refusal('entryTaken', 'The list has a price for that from that day on already: change that one.', { field: 'validFrom' });
  const breaks = input.breaks.map((each, index) => ({
    from: atField(`breaks.${index}.from`, () => {
      const from = parseQuantity(each.from, decimals, 'the quantity of a break');
      if (from < 0) throw new Refusal('negative', 'A break can’t begin below 0.');
      return from;
    }),
    value: atField(`breaks.${index}.value`, () => readValue(input.way, each.value)),
  }));
  if (new Set(breaks.map((each) => each.from)).size < breaks.length)
    throw new Refusal('sameBreak', 'Two breaks begin at the same quantity: keep one.', { field: 'breaks' });
  return breaks;
}

function keepBreaks(work: Work, id: number, breaks: readonly PriceBreak[]): void {
  dropRows(work, priceBreak, { entryId: id });
  for (const each of breaks) addRow(work, priceBreak, { entryId: id, ...each });
}

export function addPriceEntry(work: Work, listId: number, input: EntryInput, what = 'added a price'): number {
  const list = priceListView(work, listId);
  const breaks = assertEntry(work, listId, input, 0);
  const id = addRow(work, priceEntry, { listId, ...entryValues(input) });
  keepBreaks(work, id, breaks);
  work.record('setup', listId, `${what} to ${list.code}`);
  return id;
}

const recordOf = fetching(priceEntry, 'price');

export function changePriceEntry(work: Work, id: number, input: EntryInput & { version: number }, what = 'changed a price'): void {
  const before = recordOf(work, id);
  assertSeen(before, input.version, 'The price');
  const breaks = assertEntry(work, before.listId, input, id);
  changeRow(work, priceEntry, id, entryValues(input));
  keepBreaks(work, id, breaks);
  work.record('setup', before.listId, `${what} of ${priceListView(work, before.listId).code}`);
}

export function dropPriceEntry(work: Work, id: number, version: number): void {
  const before = recordOf(work, id);
  assertSeen(before, version, 'The price');
  dropRows(work, priceBreak, { entryId: id });
  dropRow(work, priceEntry, id);
  work.record('setup', before.listId, `took a price off ${priceListView(work, before.listId).code}`);
}

const code = sql`coalesce(${item.code}, ${priceEntry.groupCode}, '')`;
const groupName = scalar(inner.select({ name: itemGroup.name }).from(itemGroup).where(eq(itemGroup.code, priceEntry.groupCode)));

const entries = list(($: { listId: number }) => ({
  columns: {
    id: asNumber(priceEntry.id),
    itemId: asText(priceEntry.itemId),
    groupCode: asText(priceEntry.groupCode),
    code: asText(code),
    description: asText(sql`coalesce(${item.description}, ${groupName}, 'Everything')`),
    way: asText(priceEntry.way),
    validFrom: asText(priceEntry.validFrom),
    validTo: asText(priceEntry.validTo),
    version: asNumber(priceEntry.version),
  },
  from: priceEntry,
  joins: [mayReferTo(item, eq(item.id, priceEntry.itemId))],
  where: eq(priceEntry.listId, $.listId),
  find: [code, orEmpty(item.description)],
  order: [sql`coalesce(${item.code}, ' ' || ${priceEntry.groupCode}, '  ')`],
  tie: [priceEntry.id],
}));

type EntryRow = AnswerOf<typeof api.selling.listPriceEntries>['rows'][number];

/** Prices of a list, each with what it makes today, what the item costs and what is left. */
export function listPriceEntries(work: Work, listId: number, asked: ListQuery): AnswerOf<typeof api.selling.listPriceEntries> {
  priceListView(work, listId);
  const page = listPage<Omit<EntryRow, 'breaks' | 'price' | 'cost' | 'margin'>, { listId: number }>(work, entries, asked, { listId });
  return { total: page.total, rows: page.rows.map((row) => ({ ...row, ...made(work, row) })) };
}

function made(work: Work, row: Pick<EntryRow, 'id' | 'itemId' | 'way'>): Pick<EntryRow, 'breaks' | 'price' | 'cost' | 'margin'> {
  const breaks = breaksOf(work, row.id);
  const entry = row.itemId === null ? undefined : entryById(work, row.id);
  const written = breaks.map((each) => ({ from: writeQuantity(each.from), value: writeValue(row.way, each.value) }));
  if (!entry || row.itemId === null) return { breaks: written, price: '', cost: '', margin: '' };
  const first = breaks[0]?.from ?? 0;
  // As if it held today: a price that is still to come is looked at, too.
  const always = { ...entry, validFrom: null, validTo: null, list: { ...entry.list, validFrom: null, validTo: null } };
  const priced = priceFor(work, { itemId: row.itemId, quantity: asQuantity(Math.max(first, 1)), day: work.today, customerId: null }, always);
  return {
    breaks: written,
    price: priced.entry ? writePrice(priced.stated) : '',
    cost: priced.cost > 0 ? writePrice(priced.cost) : '',
    margin: priced.entry && priced.margin !== null ? writePoints(priced.margin) : '',
  };
}
