import { and, eq } from 'drizzle-orm';
import { itemInput, supplierInput, type BodyOf, type CustomRecord, type api } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import {
  asIs,
  barcodesOf,
  changeItem,
  createItem,
  createSupplier,
  customField,
  customValue,
  fieldsOfItem,
  fieldsOn,
  itemOf,
  packsOf,
} from '../../catalogue';
import { query } from '../../platform/query';
import type { Change, Work } from '../../platform/work';
import { terms } from './terms';
import { everyId, idCalled, type FileColumn, type FileKind, type Row } from '../kind';

const valuesOfRecords = query(
  ($: { record: CustomRecord }) => (db) =>
    db
      .select({ id: customValue.recordId, field: customValue.fieldId, value: customValue.value })
      .from(customValue)
      .innerJoin(customField, eq(customField.id, customValue.fieldId))
      .where(and(eq(customField.record, $.record), eq(customField.active, true))),
);

const PLAIN: readonly FileColumn[] = [
  { key: 'code', title: 'Code', type: 'text', needed: true, known: ['item', 'item code', 'sku', 'number'] },
  { key: 'description', title: 'Description', type: 'text', needed: true, known: ['name', 'text'] },
  { key: 'group', title: 'Group', type: 'text', needed: true, known: ['item group'] },
  { key: 'kind', title: 'Kind', type: 'text', hint: 'stocked, nonStocked, service, charge or phantom; else the group’s' },
  { key: 'unit', title: 'Unit', type: 'text', hint: 'else the group’s', known: ['base unit'] },
  { key: 'packs', title: 'Packs', type: 'text', hint: 'case=12; pallet=288' },
  { key: 'barcodes', title: 'Barcodes', type: 'text', hint: 'by space; one of a pack as case:4006…', known: ['barcode', 'ean', 'gtin'] },
  { key: 'secondCode', title: 'Second code', type: 'text' },
  { key: 'sellPrice', title: 'Selling price', type: 'number', known: ['price', 'list price'] },
  { key: 'buyPrice', title: 'Buying price', type: 'number' },
  { key: 'standardCost', title: 'Standard cost', type: 'number' },
  { key: 'discountCeiling', title: 'Discount ceiling %', type: 'number', hint: 'else the group’s' },
  { key: 'tracking', title: 'Tracking', type: 'text', hint: 'none, lot or serial; else the group’s' },
  { key: 'costing', title: 'Costing', type: 'text', hint: 'else the group’s' },
  { key: 'shelfLifeDays', title: 'Shelf life days', type: 'whole' },
  { key: 'restLifeDays', title: 'Remaining life days', type: 'whole' },
  { key: 'storageOverhead', title: 'Storage overhead %', type: 'number' },
  { key: 'manufacturer', title: 'Manufacturer', type: 'text' },
  { key: 'originCountry', title: 'Country of origin', type: 'text' },
  { key: 'commodityCode', title: 'Commodity code', type: 'text' },
  { key: 'buyUnit', title: 'Buying unit', type: 'text' },
  { key: 'sellUnit', title: 'Selling unit', type: 'text' },
  { key: 'countUnit', title: 'Counting unit', type: 'text' },
  { key: 'sellingNotes', title: 'Selling notes', type: 'text' },
  { key: 'supplier', title: 'Supplier', type: 'text', hint: 'code; terms by quantity or date have a file of their own', known: ['supplier code'] },
  {
    key: 'supplierName',
    title: 'Supplier’s name',
    type: 'text',
    hint: 'sets the supplier up where there is none with the code',
    known: ['supplier name'],
  },
  { key: 'supplierMail', title: 'Supplier’s mail', type: 'text', hint: 'for one that is set up', known: ['supplier mail', 'supplier email'] },
  { key: 'supplierPrice', title: 'Supplier’s price', type: 'number', known: ['purchase price', 'supplier price'] },
  { key: 'leadDays', title: 'Lead days', type: 'whole', hint: 'working days', known: ['lead time', 'lead time days'] },
  { key: 'active', title: 'Active', type: 'yesNo' },
];
const GIVEN = ['kind', 'unit', 'tracking', 'costing', 'discountCeiling', 'shelfLifeDays', 'restLifeDays', 'storageOverhead'] as const;
const TEXTS = ['secondCode', 'sellingNotes', 'manufacturer', 'originCountry', 'commodityCode', 'buyUnit', 'sellUnit', 'countUnit'] as const;
const PRICES = ['sellPrice', 'buyPrice', 'standardCost'] as const;

/** Columns for the fields that the company added itself. */
export function ownColumns(work: Work, record: 'item' | 'customer' | 'supplier'): FileColumn[] {
  return fieldsOn(work, record).map((field) => ({ key: `own_${field.id}`, title: field.title, type: field.type === 'choice' ? 'text' : field.type }));
}

/** Values of those columns, by the number of their field. */
export function ownValues(work: Work, record: 'item' | 'customer' | 'supplier', row: Row): Record<string, string> {
  return Object.fromEntries(
    fieldsOn(work, record)
      .filter((field) => row.has(`own_${field.id}`))
      .map((field) => [String(field.id), row.get(`own_${field.id}`)]),
  );
}

/** Values of those columns of every record, by record. */
export function ownOf(work: Work, record: 'item' | 'customer' | 'supplier'): Map<number, Record<string, string>> {
  const found = new Map<number, Record<string, string>>();
  for (const { id, field, value } of valuesOfRecords.all(work, { record })) found.set(id, { ...found.get(id), [`own_${field}`]: value });
  return found;
}

type Given = BodyOf<typeof api.catalogue.createItem>;

function packsFrom(text: string): Given['packs'] {
  return text
    .split(';')
    .map((each) => each.trim())
    .filter(Boolean)
    .map((each) => {
      const [, code, factor] = /^(.+?)\s*=\s*(\d+(?:\.\d+)?)$/.exec(each) ?? [];
      if (code === undefined || factor === undefined)
        throw new Refusal('badPacks', `"${each}" is no pack: write its name and what it holds, such as case=12.`, { field: 'packs' });
      return { code, factor };
    });
}

function barcodesFrom(text: string): Given['barcodes'] {
  return text
    .split(/[\s;]+/)
    .filter(Boolean)
    .map((each) => {
      const at = each.indexOf(':');
      return at < 0 ? { barcode: each, unit: null } : { barcode: each.slice(at + 1), unit: each.slice(0, at) };
    });
}

/** What the file says, over what is there. */
function inputFrom(work: Work, row: Row, before: Given): Given {
  const input: Record<string, unknown> = { ...before };
  for (const field of GIVEN) if (row.has(field)) input[field] = row.get(field) || undefined;
  for (const field of TEXTS) if (row.has(field)) input[field] = row.get(field);
  for (const field of PRICES) if (row.has(field)) input[field] = row.get(field) || '0';
  if (row.has('description')) input['description'] = row.need('description');
  if (row.has('group')) input['group'] = row.need('group');
  if (row.has('packs')) input['packs'] = packsFrom(row.get('packs'));
  if (row.has('barcodes')) input['barcodes'] = barcodesFrom(row.get('barcodes'));
  input['custom'] = ownValues(work, 'item', row);
  const read = itemInput.safeParse(input);
  if (!read.success) {
    const [issue] = read.error.issues;
    throw new Refusal('badInput', issue?.message ?? 'It can’t be read.', { field: String(issue?.path[0] ?? '') });
  }
  return read.data;
}

const NOTHING = itemInput.parse({ code: '-', description: '-', group: '' });

/** The supplier that the row names, set up where it has a name and is not there yet. Refuses `unknownCode`. */
function supplierOf(work: Work, row: Row, source: string): void {
  const code = row.need('supplier');
  if (idCalled(work, 'supplier', code) !== undefined) return;
  if (!row.has('supplierName'))
    throw new Refusal('unknownCode', `There is no supplier "${code}": give its name as well, and it is set up.`, { field: 'supplier' });
  createSupplier(work, supplierInput.parse({ code, name: row.need('supplierName'), email: row.get('supplierMail') }), `set up by ${source}`);
}

/** What the row says of the item's supplier, taken as a file of terms takes it; what it does not say stays. */
function takeTerm(work: Work, row: Row, source: string): readonly Change[] {
  if (!row.has('supplier')) return [];
  supplierOf(work, row, source);
  const { outcome, changes } = terms.take(work, [row.as(TERM, terms.columns(work))], source);
  return outcome === 'added' ? [{ field: 'supplier', from: '', to: row.get('supplier') }] : changes;
}

/** Columns of a file of terms, by what they are called here. */
const TERM = { item: 'code', supplier: 'supplier', price: 'supplierPrice', leadDays: 'leadDays' };

export const items: FileKind = {
  kind: 'items',
  title: 'Items',
  sample: [
    {
      code: 'OAK-BOARD',
      description: 'Oak board, planed',
      group: 'MATERIAL',
      unit: 'm',
      supplier: 'TIMBER',
      supplierName: 'Cragley Timber Yard',
      supplierPrice: '8.40',
      leadDays: '6',
    },
    { code: 'HIVE', description: 'Hive, ten frames', group: 'PRODUCT', sellPrice: '189.00', barcodes: '2000000000017' },
  ],
  columns: (work) => [...PLAIN, ...ownColumns(work, 'item')],
  take: (work, [row], source) => {
    if (!row) throw new RangeError('no row');
    const code = row.need('code');
    const there = idCalled(work, 'item', code);
    if (there === undefined) {
      row.need('description');
      row.need('group');
      createItem(work, inputFrom(work, row, { ...NOTHING, code }), `set up by ${source}`);
      takeTerm(work, row, source);
      return { outcome: 'added', name: code, changes: [] };
    }
    const before = asIs(work, there);
    // A value that only repeats what the group gives goes on following it.
    const now = fieldsOfItem(itemOf(work, there));
    const input = inputFrom(work, row, before);
    for (const field of GIVEN) if (before[field] === undefined && input[field] === now[field]) delete input[field];
    const own = changeItem(
      work,
      there,
      { ...input, version: before.version, active: row.has('active') ? row.get('active') === 'yes' : before.active },
      `changed by ${source}`,
    );
    const changes = [...own, ...takeTerm(work, row, source)];
    return { outcome: changes.length > 0 ? 'changed' : 'same', name: code, changes };
  },
  rows: (work) => {
    const own = ownOf(work, 'item');
    return everyId(work, 'item').map((id) => {
      const item = itemOf(work, id);
      const { shelfLifeDays = '', restLifeDays = '', ...fields } = fieldsOfItem(item);
      return {
        ...fields,
        shelfLifeDays,
        restLifeDays,
        packs: packsOf(work, id)
          .map((each) => `${each.code}=${each.factor}`)
          .join('; '),
        barcodes: barcodesOf(work, id)
          .map((each) => (each.unit === null ? each.barcode : `${each.unit}:${each.barcode}`))
          .join(' '),
        ...own.get(id),
      };
    });
  },
};
