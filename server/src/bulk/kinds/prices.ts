import { priceEntryInput } from '@terrace/contract';
import { Refusal, writeQuantity } from '@terrace/core';
import { changesBetween } from '../../platform/work';
import type { Work } from '../../platform/work';
import { addPriceEntry, breaksOf, changePriceEntry, writeValue } from '../../selling';
import { idByCode, type FileKind, type Row } from '../kind';

interface EntryRow {
  readonly id: number;
  readonly list: string;
  readonly item: string | null;
  readonly group: string | null;
  readonly way: 'amount';
  readonly validFrom: string | null;
  readonly validTo: string | null;
  readonly version: number;
}

const ENTRY = `select e.id, l.code as list, i.code as item, e.group_code as "group", e.way, e.valid_from as validFrom, e.valid_to as validTo, e.version
  from price_entry e join price_list l on l.id = e.list_id left join item i on i.id = e.item_id`;

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
    const listId = idByCode(work, 'price_list', first, 'list');
    const itemId = first.has('item') ? idByCode(work, 'item', first, 'item') : null;
    const groupCode = first.get('group') || null;
    const validFrom = first.get('validFrom') || null;
    const there = work.row<EntryRow>(
      `${ENTRY} where e.list_id = ? and e.item_id is ? and e.group_code is ? and e.valid_from is ?`,
      listId,
      itemId,
      groupCode,
      validFrom,
    );
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
      const row = work.row<EntryRow>(`${ENTRY} where e.id = ?`, id);
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
    work.rows<EntryRow>(`${ENTRY} order by l.code, i.code, e.group_code, e.valid_from`).flatMap((row) =>
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
