import { priceEntryInput } from '@terrace/contract';
import { Refusal, writeQuantity } from '@terrace/core';
import { changesBetween } from '../../platform/versions';
import { and, eq, type SQL } from 'drizzle-orm';
import { item } from '../../catalogue';
import type { Database } from '../../platform/database';
import { same } from '../../platform/expressions';
import { query } from '../../platform/query';
import type { Work } from '../../platform/work';
import { addPriceEntry, breaksOf, changePriceEntry, priceEntry, priceList, writeValue } from '../../selling';
import { idByCode, type FileKind, type Row } from '../kind';

const selectEntries = (db: Database, where?: SQL) =>
  db
    .select({
      id: priceEntry.id,
      list: priceList.code,
      item: item.code,
      group: priceEntry.groupCode,
      way: priceEntry.way,
      validFrom: priceEntry.validFrom,
      validTo: priceEntry.validTo,
      version: priceEntry.version,
    })
    .from(priceEntry)
    .innerJoin(priceList, eq(priceList.id, priceEntry.listId))
    .leftJoin(item, eq(item.id, priceEntry.itemId))
    .where(where)
    .orderBy(priceList.code, item.code, priceEntry.groupCode, priceEntry.validFrom);
const everyEntry = query(() => (db) => selectEntries(db));
const entryOfId = query(($: { id: number }) => (db) => selectEntries(db, eq(priceEntry.id, $.id)));
const entryFor = query(
  ($: { listId: number; itemId: number | null; groupCode: string | null; validFrom: string | null }) => (db) =>
    selectEntries(
      db,
      and(
        eq(priceEntry.listId, $.listId),
        same(priceEntry.itemId, $.itemId),
        same(priceEntry.groupCode, $.groupCode),
        same(priceEntry.validFrom, $.validFrom),
      ),
    ),
);
type EntryRow = ReturnType<typeof everyEntry.all>[number];

function written(work: Work, row: EntryRow): Record<string, string> {
  return {
    way: row.way,
    validTo: row.validTo ?? '',
    breaks: breaksOf(work, row.id)
      .map((each) => `${writeQuantity(each.from)}: ${writeValue(row.way, each.value)}`)
      .join('; '),
  };
}

export const prices: FileKind = {
  kind: 'prices',
  title: 'Prices',
  sample: [
    { list: 'SHOPS', item: 'HIVE', way: 'amount', value: '175.00' },
    { list: 'SHOPS', group: 'GOODS', way: 'offList', value: '10' },
  ],
  together: (row: Row) => ['list', 'item', 'group', 'validFrom'].map((key) => row.get(key).toLowerCase()).join('\n'),
  columns: () => [
    { key: 'list', title: 'Price list', type: 'text', needed: true, known: ['list'] },
    { key: 'item', title: 'Item', type: 'text', known: ['code', 'item code'] },
    { key: 'group', title: 'Item group', type: 'text', hint: 'instead of an item; neither is for everything', known: ['group'] },
    { key: 'way', title: 'Way', type: 'text', hint: 'amount, offList, overCost, overStandard or marginOnCost' },
    { key: 'from', title: 'From quantity', type: 'number', hint: 'rows of one price with other quantities are its breaks' },
    { key: 'value', title: 'Value', type: 'number', needed: true, hint: 'a price, or percent', known: ['price', 'percent'] },
    { key: 'validFrom', title: 'Valid from', type: 'date' },
    { key: 'validTo', title: 'Valid to', type: 'date' },
  ],
  take: (work, rows, source) => {
    const [first] = rows;
    if (!first) throw new RangeError('no row');
    const listId = idByCode(work, 'priceList', first, 'list');
    const itemId = first.has('item') ? idByCode(work, 'item', first, 'item') : null;
    const groupCode = first.get('group') || null;
    const validFrom = first.get('validFrom') || null;
    const there = entryFor.one(work, { listId, itemId, groupCode, validFrom });
    const read = priceEntryInput.safeParse({
      itemId,
      groupCode,
      way: first.get('way') || there?.way || 'amount',
      validFrom,
      validTo: first.or('validTo', there?.validTo ?? '') || null,
      breaks: rows.map((row) => ({ from: row.get('from') || '0', value: row.need('value') })),
    });
    if (!read.success) throw new Refusal('badInput', `"${first.get('way')}" is no way to state a price.`, { field: 'way' });
    const name = `${first.get('item') || first.get('group') || 'everything'} in ${first.get('list')}`;
    const reading = (id: number): Record<string, string> => {
      const row = entryOfId.one(work, { id });
      return row ? written(work, row) : {};
    };
    if (!there) {
      addPriceEntry(work, listId, read.data, `${source} added a price`);
      return { outcome: 'added', name, changes: [] };
    }
    const before = written(work, there);
    changePriceEntry(work, there.id, { ...read.data, version: there.version }, `${source} changed a price`);
    const changes = changesBetween(before, reading(there.id));
    return { outcome: changes.length > 0 ? 'changed' : 'same', name, changes };
  },
  rows: (work) =>
    everyEntry.all(work).flatMap((row) =>
      breaksOf(work, row.id).map((each) => ({
        list: row.list,
        item: row.item ?? '',
        group: row.group ?? '',
        way: row.way,
        from: writeQuantity(each.from),
        value: writeValue(row.way, each.value),
        validFrom: row.validFrom ?? '',
        validTo: row.validTo ?? '',
      })),
    ),
};
