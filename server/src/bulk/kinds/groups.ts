import { GIVEN, Refusal, type Given } from '@terrace/core';
import { asc } from 'drizzle-orm';
import { itemGroup, saveGroup } from '../../catalogue';
import { query } from '../../platform/query';
import { changesBetween } from '../../platform/versions';
import type { FileColumn, FileKind, Row } from '../kind';

const everyGroup = query(() => (db) => db.select().from(itemGroup).orderBy(asc(itemGroup.code)));
type GroupRow = ReturnType<typeof everyGroup.all>[number];

const ACCOUNTS = ['inventoryAccount', 'costOfSalesAccount', 'revenueAccount'] as const;
const TITLES: Readonly<Partial<Record<Given, readonly [title: string, hint: string]>>> = {
  planning: ['Planned', 'buy in MAIN, make in MAIN; else as the group above'],
  kind: ['Kind of its items', 'stocked, nonStocked, service, charge or phantom'],
  unit: ['Unit of its items', ''],
  tracking: ['Tracking', 'none, lot or serial'],
  costing: ['Costing', 'movingAverage, fifo, standard …'],
  discountCeiling: ['Discount ceiling %', ''],
  shelfLifeDays: ['Shelf life days', ''],
  restLifeDays: ['Remaining life days', ''],
  storageOverhead: ['Storage overhead %', ''],
};

const COLUMNS: readonly FileColumn[] = [
  { key: 'code', title: 'Code', type: 'text', needed: true, known: ['group', 'group code'] },
  { key: 'name', title: 'Name', type: 'text', needed: true },
  { key: 'parent', title: 'Above', type: 'text', hint: 'the group that it belongs to', known: ['parent', 'group above'] },
  { key: 'inventoryAccount', title: 'Stock account', type: 'text', hint: 'else that of the group above' },
  { key: 'costOfSalesAccount', title: 'Cost of sales account', type: 'text', hint: 'else that of the group above' },
  { key: 'revenueAccount', title: 'Sales account', type: 'text', hint: 'else that of the group above' },
  ...GIVEN.map((key): FileColumn => {
    const [title, hint] = TITLES[key] ?? [key, ''];
    return { key, title, type: 'text', ...(hint === '' ? {} : { hint }) };
  }),
];

function written({ code, name, parent, defaults, inventoryAccount, costOfSalesAccount, revenueAccount }: GroupRow): Record<string, string> {
  return { code, name, parent: parent ?? '', inventoryAccount, costOfSalesAccount, revenueAccount, ...defaults };
}

/** The account that the row names, or that of the group above. Refuses `missing` where there is neither. */
function accountOf(row: Row, key: (typeof ACCOUNTS)[number], before: GroupRow | undefined, above: GroupRow | undefined): string {
  const account = row.or(key, before?.[key] ?? above?.[key] ?? '');
  if (account === '') throw new Refusal('missing', 'There is no group above to take the accounts from: name all three.', { field: key });
  return account;
}

export const groups: FileKind = {
  kind: 'groups',
  title: 'Item groups',
  sample: [
    { code: 'TIMBER', name: 'Timber', parent: 'MATERIAL', unit: 'm', planning: 'buy in MAIN' },
    { code: 'HIVES', name: 'Hives', parent: 'PRODUCT', planning: 'make in MAIN', discountCeiling: '15' },
  ],
  columns: () => COLUMNS,
  take: (work, [row], source) => {
    if (!row) throw new RangeError('no row');
    const code = row.need('code');
    const all = everyGroup.all(work);
    const before = all.find((each) => each.code === code);
    const parent = row.or('parent', before?.parent ?? '') || null;
    const above = all.find((each) => each.code === parent);
    const defaults = Object.fromEntries(GIVEN.map((key) => [key, row.or(key, before?.defaults[key] ?? '')]));
    const [inventoryAccount, costOfSalesAccount, revenueAccount] = ACCOUNTS.map((key) => accountOf(row, key, before, above));
    const input = {
      code,
      name: row.or('name', before?.name ?? '') || row.need('name'),
      parent,
      inventoryAccount: inventoryAccount ?? '',
      costOfSalesAccount: costOfSalesAccount ?? '',
      revenueAccount: revenueAccount ?? '',
      defaults,
      planning: before?.planning ?? {},
      ...(before ? { version: before.version } : {}),
    };
    const { planning: _planning, version: _version, defaults: given, ...fields } = { version: 0, ...input };
    const kept = Object.fromEntries(Object.entries(given).filter(([, value]) => value !== ''));
    const changes = before ? changesBetween(written(before), { ...fields, parent: parent ?? '', ...kept }) : [];
    if (before && changes.length === 0) return { outcome: 'same', name: code, changes };
    saveGroup(work, input);
    work.record('setup', 0, `item group ${code} by ${source}`);
    return { outcome: before ? 'changed' : 'added', name: code, changes };
  },
  rows: (work) => everyGroup.all(work).map(written),
};
