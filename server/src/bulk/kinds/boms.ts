import { bomInput } from '@terrace/contract';
import { changesBetween } from '../../platform/versions';
import type { Work } from '../../platform/work';
import { eq } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import { bomLine, item, itemView, keepBom } from '../../catalogue';
import { query } from '../../platform/query';
import { idByCode, type FileKind } from '../kind';

const parent = alias(item, 'parent');
const everyLine = query(
  () => (db) =>
    db
      .select({
        item: parent.code,
        component: item.code,
        quantity: bomLine.quantity,
        scrap: bomLine.scrap,
        offsetDays: bomLine.offsetDays,
        validFrom: bomLine.validFrom,
        validTo: bomLine.validTo,
      })
      .from(bomLine)
      .innerJoin(parent, eq(parent.id, bomLine.itemId))
      .innerJoin(item, eq(item.id, bomLine.componentId))
      .orderBy(parent.code, bomLine.position),
);

function lines(work: Work, id: number): string {
  return itemView(work, id)
    .bom.map((line) => [line.component, line.quantity, line.scrap, line.offsetDays, line.validFrom ?? '', line.validTo ?? ''].join(' '))
    .join('; ');
}

export const boms: FileKind = {
  kind: 'boms',
  title: 'Bills of materials',
  sample: [
    { item: 'HIVE', component: 'OAK-BOARD', quantity: '6.5', scrap: '0.05' },
    { item: 'HIVE', component: 'FRAME', quantity: '10' },
  ],
  together: (row) => row.get('item').toLowerCase(),
  columns: () => [
    {
      key: 'item',
      title: 'Item',
      type: 'text',
      needed: true,
      hint: 'what is made; all its rows together are its whole list',
      known: ['parent', 'product'],
    },
    { key: 'component', title: 'Component', type: 'text', needed: true },
    { key: 'quantity', title: 'Quantity', type: 'number', needed: true, hint: 'for one' },
    { key: 'scrap', title: 'Scrap allowance', type: 'number', hint: '0.05 for 5 % on top', known: ['scrap', 'scrap share'] },
    { key: 'offsetDays', title: 'Days after start', type: 'whole' },
    { key: 'validFrom', title: 'Valid from', type: 'date' },
    { key: 'validTo', title: 'Valid to', type: 'date' },
  ],
  take: (work, rows, source) => {
    const [first] = rows;
    if (!first) throw new RangeError('no row');
    const id = idByCode(work, 'item', first, 'item');
    const before = lines(work, id);
    const input = bomInput.parse({
      lines: rows.map((row) => ({
        componentId: idByCode(work, 'item', row, 'component'),
        quantity: row.need('quantity'),
        scrap: row.get('scrap') || '0',
        offsetDays: Number(row.get('offsetDays') || '0'),
        validFrom: row.get('validFrom') || null,
        validTo: row.get('validTo') || null,
      })),
    });
    keepBom(work, id, input.lines);
    const after = lines(work, id);
    const changes = changesBetween({ components: before }, { components: after });
    if (changes.length > 0) work.record('item', id, `what it is made from, by ${source}`, changes);
    return { outcome: changes.length === 0 ? 'same' : before === '' ? 'added' : 'changed', name: first.get('item'), changes };
  },
  rows: (work) =>
    everyLine.all(work).map((row) => ({ ...row, offsetDays: String(row.offsetDays), validFrom: row.validFrom ?? '', validTo: row.validTo ?? '' })),
};
