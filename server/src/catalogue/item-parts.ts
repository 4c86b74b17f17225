/** What an item has several of: barcodes, packs, sizes and weights. */
import type { api } from '@terrace/contract';
import type { BodyOf, ItemView } from '@terrace/contract';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { Refusal, parsePositiveQuantity, writeQuantity } from '@terrace/core';
import { atField } from '../platform/fields';
import { inner, scalar } from '../platform/expressions';
import { query } from '../platform/query';
import { addRow, dropRows, keepRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { item, itemBarcode, packUnit, unitSize } from './schema';

/** The barcode of an item's base unit, not of a pack, as a column of whatever reads items. */
export const plainBarcode = scalar(
  inner
    .select({ barcode: itemBarcode.barcode })
    .from(itemBarcode)
    .where(and(eq(itemBarcode.itemId, item.id), isNull(itemBarcode.unitCode)))
    .orderBy(itemBarcode.barcode)
    .limit(1),
);

type ItemInput = BodyOf<typeof api.catalogue.createItem>;

const packs = query(
  ($: { itemId: number }) => (db) =>
    db.select({ code: packUnit.code, factor: packUnit.factor }).from(packUnit).where(eq(packUnit.itemId, $.itemId)).orderBy(packUnit.factor),
);
const barcodes = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({ barcode: itemBarcode.barcode, unit: itemBarcode.unitCode })
      .from(itemBarcode)
      .where(eq(itemBarcode.itemId, $.itemId))
      .orderBy(itemBarcode.barcode),
);
const sizes = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({ unit: unitSize.unitCode, weight: unitSize.weight, length: unitSize.length, width: unitSize.width, height: unitSize.height })
      .from(unitSize)
      .where(eq(unitSize.itemId, $.itemId))
      .orderBy(sql`${unitSize}.rowid`),
);
const withBarcode = query(
  ($: { barcode: string }) => (db) =>
    db
      .select({ itemId: item.id, code: item.code, unit: itemBarcode.unitCode })
      .from(itemBarcode)
      .innerJoin(item, eq(item.id, itemBarcode.itemId))
      .where(eq(itemBarcode.barcode, $.barcode)),
);

export function packsOf(work: Work, id: number): { code: string; factor: string }[] {
  return packs.all(work, { itemId: id }).map((each) => ({ code: each.code, factor: writeQuantity(each.factor) }));
}

export function barcodesOf(work: Work, id: number): ItemView['barcodes'] {
  return barcodes.all(work, { itemId: id });
}

export function sizesOf(work: Work, id: number): ItemView['sizes'] {
  return sizes.all(work, { itemId: id });
}

/** Whose barcode it is, and the pack that it is printed on; none for the base unit. */
export function itemWithBarcode(
  work: Work,
  barcode: string,
): { readonly itemId: number; readonly code: string; readonly unit: string | null } | undefined {
  return withBarcode.one(work, { barcode });
}

/** One of the item's units, or nothing for its base unit. Refuses `unknownUnit`. */
export function readUnitChoice(text: string | null, codes: readonly string[], unit: string): string | null {
  if (text === null || text === '' || text === unit) return null;
  if (!codes.includes(text)) throw new Refusal('unknownUnit', `It has no pack "${text}": choose ${codes.join(' or ')}, or add the pack.`);
  return text;
}

/** Keeps barcodes, each for one item of the company only. Refuses `barcodeTaken`. */
export function keepBarcodes(work: Work, id: number, given: ItemInput['barcodes'], codes: readonly string[]): void {
  dropRows(work, itemBarcode, { itemId: id });
  given.forEach(({ barcode, unit }, index) => {
    const taken = itemWithBarcode(work, barcode);
    if (taken) throw new Refusal('barcodeTaken', `The barcode ${barcode} belongs to ${taken.code} already.`, { field: `barcodes.${index}.barcode` });
    const of = atField(`barcodes.${index}.unit`, () => readUnitChoice(unit, codes, codes[0] ?? ''));
    addRow(work, itemBarcode, { barcode, itemId: id, unitCode: of });
  });
}

/** Keeps packs, each an exact number of base units. Refuses `sameUnit` and factors that the unit can't hold. */
export function keepPacks(work: Work, id: number, given: ItemInput['packs'], decimals: number, unit: string): void {
  dropRows(work, packUnit, { itemId: id });
  given.forEach((pack, index) => {
    const factor = atField(`packs.${index}.factor`, () => parsePositiveQuantity(pack.factor, decimals, `what a ${pack.code} holds`));
    if (pack.code === unit || given.findIndex((each) => each.code === pack.code) !== index)
      throw new Refusal('sameUnit', `"${pack.code}" names a unit of it already: give the pack a name of its own.`, { field: `packs.${index}.code` });
    addRow(work, packUnit, { itemId: id, code: pack.code, factor });
  });
}

export function keepSizes(work: Work, id: number, given: ItemInput['sizes'], codes: readonly string[]): void {
  dropRows(work, unitSize, { itemId: id });
  given.forEach(({ unit, weight, length, width, height }, index) => {
    if ([weight, length, width, height].every((each) => each === null)) return;
    if (!codes.includes(unit)) throw new Refusal('unknownUnit', `It has no unit "${unit}" to weigh or measure.`, { field: `sizes.${index}.unit` });
    keepRow(work, unitSize, ['itemId', 'unitCode'], { itemId: id, unitCode: unit, weight, length, width, height });
  });
}
