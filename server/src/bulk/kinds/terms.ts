import { termInput } from '@terrace/contract';
import { Refusal, writePoints, writePrice, writeQuantity } from '@terrace/core';
import { and, eq, type SQL } from 'drizzle-orm';
import { firstSupplierOf, item, keepTerm, supplier, supplierTerm, termBreak, termFields } from '../../catalogue';
import type { Database } from '../../platform/database';
import { query } from '../../platform/query';
import type { Work } from '../../platform/work';
import { idByCode, type FileKind } from '../kind';

const BREAK = /^(\d+(?:\.\d+)?)\s*:\s*(\d+(?:\.\d+)?)$/;

function breaksFrom(text: string): { from: string; price: string }[] {
  return text
    .split(';')
    .map((each) => each.trim())
    .filter(Boolean)
    .map((each) => {
      const [, from, price] = BREAK.exec(each) ?? [];
      if (from === undefined || price === undefined)
        throw new Refusal('badBreaks', `"${each}" is no break: write the quantity and its price, such as 100: 1.85.`, { field: 'breaks' });
      return { from, price };
    });
}

const selectTerms = (db: Database, where?: SQL) =>
  db
    .select({
      id: supplierTerm.id,
      item: item.code,
      supplier: supplier.code,
      ...termFields,
      validFrom: supplierTerm.validFrom,
      validTo: supplierTerm.validTo,
    })
    .from(supplierTerm)
    .innerJoin(item, eq(item.id, supplierTerm.itemId))
    .innerJoin(supplier, eq(supplier.id, supplierTerm.supplierId))
    .where(where)
    .orderBy(item.code, supplier.code, supplierTerm.validFrom);
const everyTerm = query(() => (db) => selectTerms(db));
const termFrom = query(
  ($: { itemId: number; supplierId: number; validFrom: string }) => (db) =>
    selectTerms(db, and(eq(supplierTerm.itemId, $.itemId), eq(supplierTerm.supplierId, $.supplierId), eq(supplierTerm.validFrom, $.validFrom))),
);
const breaksOf = query(
  ($: { termId: number }) => (db) =>
    db.select({ from: termBreak.from, price: termBreak.price }).from(termBreak).where(eq(termBreak.termId, $.termId)).orderBy(termBreak.from),
);
type TermRow = ReturnType<typeof everyTerm.all>[number];

function written(work: Work, row: TermRow): Record<string, string> {
  const breaks = breaksOf.all(work, { termId: row.id });
  return {
    item: row.item,
    supplier: row.supplier,
    supplierItemCode: row.supplierItemCode,
    supplierDescription: row.supplierDescription,
    price: writePrice(row.price),
    currency: row.currency,
    discount: writePoints(row.discount),
    buyUnit: row.buyUnit ?? '',
    leadDays: String(row.leadDays),
    minimum: writeQuantity(row.minimum),
    multiple: writeQuantity(row.multiple),
    preferred: row.preferred ? 'yes' : 'no',
    validFrom: row.validFrom,
    validTo: row.validTo ?? '',
    breaks: breaks.map((each) => `${writeQuantity(each.from)}: ${writePrice(each.price)}`).join('; '),
  };
}

export const terms: FileKind = {
  kind: 'terms',
  title: 'Suppliers’ terms',
  sample: [
    {
      item: 'OAK-BOARD',
      supplier: 'TIMBER',
      supplierItemCode: 'T-4410',
      price: '8.40',
      leadDays: '6',
      minimum: '20',
      multiple: '10',
      preferred: 'yes',
    },
    { item: 'SMOKER', supplier: 'METAL', price: '17.80', leadDays: '10', breaks: '50: 16.90; 200: 15.80' },
  ],
  columns: () => [
    { key: 'item', title: 'Item', type: 'text', needed: true, known: ['code', 'item code', 'our code'] },
    { key: 'supplier', title: 'Supplier', type: 'text', needed: true, known: ['supplier code', 'vendor'] },
    { key: 'supplierItemCode', title: 'Supplier’s code', type: 'text', known: ['their code', 'supplier item'] },
    { key: 'supplierDescription', title: 'Supplier’s description', type: 'text' },
    { key: 'price', title: 'Price', type: 'number', needed: true, hint: 'of one base unit' },
    { key: 'currency', title: 'Currency', type: 'text' },
    { key: 'discount', title: 'Discount %', type: 'number' },
    { key: 'buyUnit', title: 'Buying unit', type: 'text' },
    {
      key: 'leadDays',
      title: 'Lead days',
      type: 'whole',
      hint: 'working days; the plan orders by it; empty for the supplier’s own',
      known: ['lead time', 'lead time days'],
    },
    { key: 'minimum', title: 'Minimum', type: 'number' },
    { key: 'multiple', title: 'Multiple', type: 'number' },
    { key: 'preferred', title: 'Preferred', type: 'yesNo' },
    { key: 'validFrom', title: 'Valid from', type: 'date' },
    { key: 'validTo', title: 'Valid to', type: 'date' },
    { key: 'breaks', title: 'Breaks', type: 'text', hint: '100: 1.85; 500: 1.70' },
  ],
  take: (work, [row], source) => {
    if (!row) throw new RangeError('no row');
    const itemId = idByCode(work, 'item', row, 'item');
    const supplierId = idByCode(work, 'supplier', row, 'supplier');
    const there = termFrom.one(work, { itemId, supplierId, validFrom: row.get('validFrom') });
    const before: Record<string, string> = there ? written(work, there) : {};
    const cell = (key: string, otherwise: string): string => row.or(key, before[key] ?? otherwise) || otherwise;
    const fresh = !there && !firstSupplierOf(work, itemId);
    const { added, changes } = keepTerm(
      work,
      itemId,
      termInput.parse({
        supplierId,
        supplierItemCode: cell('supplierItemCode', ''),
        supplierDescription: cell('supplierDescription', ''),
        price: there ? cell('price', '0') : row.need('price'),
        currency: cell('currency', ''),
        discount: cell('discount', '0'),
        buyUnit: cell('buyUnit', '') || null,
        leadDays: cell('leadDays', '') === '' ? undefined : Number(cell('leadDays', '')),
        minimum: cell('minimum', '0'),
        multiple: cell('multiple', '0'),
        preferred: cell('preferred', fresh ? 'yes' : 'no') === 'yes',
        validFrom: row.get('validFrom') || null,
        validTo: cell('validTo', '') || null,
        breaks: breaksFrom(cell('breaks', '')),
      }),
    );
    if (added || changes.length > 0) work.record('item', itemId, `terms of ${row.get('supplier')} by ${source}`, changes);
    return { outcome: added ? 'added' : changes.length > 0 ? 'changed' : 'same', name: `${row.get('item')} from ${row.get('supplier')}`, changes };
  },
  rows: (work) => everyTerm.all(work).map((row) => written(work, row)),
};
