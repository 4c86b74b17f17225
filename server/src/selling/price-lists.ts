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
  type PriceWay,
} from '@terrace/core';
import { booksCurrency, groupsOf, itemFacts, rateOf } from '../catalogue';
import { asFlag, asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import { assertSeen, atField, orNotFound, type Work } from '../platform/work';
import { breaksOf, entryById, priceFor } from './pricing';

const lists: ListDefinition = {
  columns: {
    id: asNumber('l.id'),
    code: asText('l.code'),
    name: asText('l.name'),
    currency: asText('l.currency'),
    customerId: { sql: 'l.customer_id', type: 'text' },
    customerGroup: asText('l.customer_group'),
    audience: asText(
      "coalesce((select c.name from customer c where c.id = l.customer_id), (select g.name from customer_group g where g.code = l.customer_group), 'Everybody')",
    ),
    validFrom: asText('l.valid_from'),
    validTo: asText('l.valid_to'),
    rounding: asText('l.rounding'),
    entries: asNumber('(select count(*) from price_entry e where e.list_id = l.id)'),
    active: asFlag('l.active'),
    version: asNumber('l.version'),
  },
  from: 'price_list l',
  find: ['l.code', 'l.name'],
  order: 'l.active desc, l.code',
  tie: 'l.id',
};

export function listPriceLists(work: Work, query: ListQuery): AnswerOf<typeof api.selling.listPriceLists> {
  return listPage(work, lists, query);
}

export function priceListView(work: Work, id: number): PriceListView {
  const { rows } = listPage<PriceListView>(work, { ...lists, where: 'l.id = ?', values: [id] }, { offset: 0, limit: 1 });
  return orNotFound(rows[0], 'price list');
}

type ListInput = BodyOf<typeof api.selling.createPriceList>;

function valuesOf(work: Work, input: ListInput, exceptId: number): (string | number | null)[] {
  const taken = work.row<{ name: string }>('select name from price_list where code = ? collate nocase and id <> ?', input.code, exceptId);
  if (taken) throw new Refusal('codeTaken', `The code ${input.code} belongs to "${taken.name}" already: choose another.`, { field: 'code' });
  if (input.customerId !== null && input.customerGroup !== null)
    throw new Refusal('twoAudiences', 'A list is for one customer, for a group of them, or for everybody: choose one.', { field: 'customerGroup' });
  if (input.customerId !== null) orNotFound(work.row('select 1 from customer where id = ?', input.customerId), 'customer');
  if (input.customerGroup !== null && !work.row('select 1 from customer_group where code = ?', input.customerGroup))
    throw new Refusal('unknownChoice', `There is no customer group "${input.customerGroup}": choose one from the list.`, { field: 'customerGroup' });
  if (input.currency !== booksCurrency(work)) atField('currency', () => rateOf(work, input.currency, work.today));
  assertPeriod(input);
  return [input.code, input.name, input.currency, input.customerId, input.customerGroup, input.validFrom, input.validTo, input.rounding];
}

function assertPeriod({ validFrom, validTo }: { readonly validFrom: string | null; readonly validTo: string | null }): void {
  if (validFrom !== null && validTo !== null && validTo < validFrom)
    throw new Refusal('badPeriod', `What begins on ${validFrom} can't end on ${validTo}.`, { field: 'validTo' });
}

const LIST = ['code', 'name', 'currency', 'customer_id', 'customer_group', 'valid_from', 'valid_to', 'rounding'];

export function createPriceList(work: Work, input: ListInput): number {
  const { id } = work.run(`insert into price_list (${LIST.join(', ')}) values (${LIST.map(() => '?').join(', ')})`, ...valuesOf(work, input, 0));
  work.record('setup', id, `set up price list ${input.code}`);
  return id;
}

export function changePriceList(work: Work, id: number, input: ListInput & { version: number; active: boolean }): void {
  const before = priceListView(work, id);
  assertSeen(before, input.version, `Price list ${before.code}`);
  if (input.currency !== before.currency && before.entries > 0)
    throw new Refusal('hasEntries', `${before.code} has prices in ${before.currency}: its currency stays. Set up another list.`, {
      field: 'currency',
    });
  work.run(
    `update price_list set ${LIST.map((each) => `${each} = ?`).join(', ')}, active = ?, version = version + 1 where id = ?`,
    ...valuesOf(work, input, id),
    input.active ? 1 : 0,
    id,
  );
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

function assertEntry(work: Work, listId: number, input: EntryInput, exceptId: number): { from: number; value: number }[] {
  if (input.itemId !== null && input.groupCode !== null)
    throw new Refusal('twoTargets', 'A price is for one item, for a group, or for everything.', { field: 'groupCode' });
  const decimals = input.itemId === null ? 5 : atField('itemId', () => itemFacts(work, input.itemId ?? 0).decimals);
  if (input.groupCode !== null && !groupsOf(work).has(input.groupCode))
    throw new Refusal('unknownGroup', `There is no item group "${input.groupCode}": choose one from the list.`, { field: 'groupCode' });
  if (input.way === 'amount' && input.itemId === null)
    throw new Refusal('amountNeedsItem', 'An amount is a price of one item: choose the item, or state a percentage.', { field: 'way' });
  assertPeriod(input);
  const twice = work.row<{ id: number }>(
    'select id from price_entry where list_id = ? and item_id is ? and group_code is ? and valid_from is ? and id <> ?',
    listId,
    input.itemId,
    input.groupCode,
    input.validFrom,
    exceptId,
  );
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

function keepBreaks(work: Work, id: number, breaks: readonly { from: number; value: number }[]): void {
  work.run('delete from price_break where entry_id = ?', id);
  for (const each of breaks) work.run('insert into price_break (entry_id, from_quantity, value) values (?, ?, ?)', id, each.from, each.value);
}

export function addPriceEntry(work: Work, listId: number, input: EntryInput, what = 'added a price'): number {
  const list = priceListView(work, listId);
  const breaks = assertEntry(work, listId, input, 0);
  const { id } = work.run(
    'insert into price_entry (list_id, item_id, group_code, way, valid_from, valid_to) values (?, ?, ?, ?, ?, ?)',
    listId,
    input.itemId,
    input.groupCode,
    input.way,
    input.validFrom,
    input.validTo,
  );
  keepBreaks(work, id, breaks);
  work.record('setup', listId, `${what} to ${list.code}`);
  return id;
}

interface EntryRecord {
  readonly id: number;
  readonly listId: number;
  readonly version: number;
}

function recordOf(work: Work, id: number): EntryRecord {
  return orNotFound(work.row<EntryRecord>('select id, list_id as listId, version from price_entry where id = ?', id), 'price');
}

export function changePriceEntry(work: Work, id: number, input: EntryInput & { version: number }, what = 'changed a price'): void {
  const before = recordOf(work, id);
  assertSeen(before, input.version, 'The price');
  const breaks = assertEntry(work, before.listId, input, id);
  work.run(
    'update price_entry set item_id = ?, group_code = ?, way = ?, valid_from = ?, valid_to = ?, version = version + 1 where id = ?',
    input.itemId,
    input.groupCode,
    input.way,
    input.validFrom,
    input.validTo,
    id,
  );
  keepBreaks(work, id, breaks);
  work.record('setup', before.listId, `${what} of ${priceListView(work, before.listId).code}`);
}

export function dropPriceEntry(work: Work, id: number, version: number): void {
  const before = recordOf(work, id);
  assertSeen(before, version, 'The price');
  work.run('delete from price_break where entry_id = ?', id);
  work.run('delete from price_entry where id = ?', id);
  work.record('setup', before.listId, `took a price off ${priceListView(work, before.listId).code}`);
}

const entries: ListDefinition = {
  columns: {
    id: asNumber('e.id'),
    itemId: { sql: 'e.item_id', type: 'text' },
    groupCode: asText('e.group_code'),
    code: asText("coalesce(i.code, e.group_code, '')"),
    description: asText("coalesce(i.description, (select g.name from item_group g where g.code = e.group_code), 'Everything')"),
    way: asText('e.way'),
    validFrom: asText('e.valid_from'),
    validTo: asText('e.valid_to'),
    version: asNumber('e.version'),
  },
  from: 'price_entry e left join item i on i.id = e.item_id',
  where: 'e.list_id = ?',
  find: ["coalesce(i.code, e.group_code, '')", "coalesce(i.description, '')"],
  order: "coalesce(i.code, ' ' || e.group_code, '  ')",
  tie: 'e.id',
};

type EntryRow = AnswerOf<typeof api.selling.listPriceEntries>['rows'][number];

/** Prices of a list, each with what it makes today, what the item costs and what is left. */
export function listPriceEntries(work: Work, listId: number, query: ListQuery): AnswerOf<typeof api.selling.listPriceEntries> {
  priceListView(work, listId);
  const page = listPage<Omit<EntryRow, 'breaks' | 'price' | 'cost' | 'margin'>>(work, { ...entries, values: [listId] }, query);
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
