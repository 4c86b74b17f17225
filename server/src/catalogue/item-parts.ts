/** What an item has several of: barcodes, packs, sizes and weights. */
import type { api } from '@terrace/contract';
import type { BodyOf, ItemView } from '@terrace/contract';
import { Refusal, parsePositiveQuantity, writeQuantity } from '@terrace/core';
import { atField, type Work } from '../platform/work';

type ItemInput = BodyOf<typeof api.catalogue.createItem>;

export function packsOf(work: Work, id: number): { code: string; factor: string }[] {
  return work
    .rows<{ code: string; factor: number }>('select code, factor from pack_unit where item_id = ? order by factor', id)
    .map((each) => ({ code: each.code, factor: writeQuantity(each.factor) }));
}

export function barcodesOf(work: Work, id: number): ItemView['barcodes'] {
  return work.rows('select barcode, unit_code as unit from item_barcode where item_id = ? order by barcode', id);
}

export function sizesOf(work: Work, id: number): ItemView['sizes'] {
  return work.rows('select unit_code as unit, weight, length, width, height from unit_size where item_id = ? order by rowid', id);
}

/** One of the item's units, or nothing for its base unit. Refuses `unknownUnit`. */
export function readUnitChoice(text: string | null, codes: readonly string[], unit: string): string | null {
  if (text === null || text === '' || text === unit) return null;
  if (!codes.includes(text)) throw new Refusal('unknownUnit', `It has no pack "${text}": choose ${codes.join(' or ')}, or add the pack.`);
  return text;
}

/** Keeps barcodes, each for one item of the company only. Refuses `barcodeTaken`. */
export function keepBarcodes(work: Work, id: number, barcodes: ItemInput['barcodes'], codes: readonly string[]): void {
  work.run('delete from item_barcode where item_id = ?', id);
  barcodes.forEach(({ barcode, unit }, index) => {
    const taken = work.row<{ code: string }>('select i.code from item_barcode b join item i on i.id = b.item_id where b.barcode = ?', barcode);
    if (taken) throw new Refusal('barcodeTaken', `The barcode ${barcode} belongs to ${taken.code} already.`, { field: `barcodes.${index}.barcode` });
    const of = atField(`barcodes.${index}.unit`, () => readUnitChoice(unit, codes, codes[0] ?? ''));
    work.run('insert into item_barcode (barcode, item_id, unit_code) values (?, ?, ?)', barcode, id, of);
  });
}

/** Keeps packs, each an exact number of base units. Refuses `sameUnit` and factors that the unit can't hold. */
export function keepPacks(work: Work, id: number, packs: ItemInput['packs'], decimals: number, unit: string): void {
  work.run('delete from pack_unit where item_id = ?', id);
  packs.forEach((pack, index) => {
    const factor = atField(`packs.${index}.factor`, () => parsePositiveQuantity(pack.factor, decimals, `what a ${pack.code} holds`));
    if (pack.code === unit || packs.findIndex((each) => each.code === pack.code) !== index)
      throw new Refusal('sameUnit', `"${pack.code}" names a unit of it already: give the pack a name of its own.`, { field: `packs.${index}.code` });
    work.run('insert into pack_unit (item_id, code, factor) values (?, ?, ?)', id, pack.code, factor);
  });
}

export function keepSizes(work: Work, id: number, sizes: ItemInput['sizes'], codes: readonly string[]): void {
  work.run('delete from unit_size where item_id = ?', id);
  sizes.forEach(({ unit, weight, length, width, height }, index) => {
    if ([weight, length, width, height].every((each) => each === null)) return;
    if (!codes.includes(unit)) throw new Refusal('unknownUnit', `It has no unit "${unit}" to weigh or measure.`, { field: `sizes.${index}.unit` });
    work.run(
      `insert into unit_size (item_id, unit_code, weight, length, width, height) values (?, ?, ?, ?, ?, ?)
       on conflict (item_id, unit_code) do update set weight = excluded.weight, length = excluded.length, width = excluded.width, height = excluded.height`,
      id,
      unit,
      weight,
      length,
      width,
      height,
    );
  });
}
