/** Changing many items at once: in one transaction, all or none. */
import type { api } from '@terrace/contract';
import type { BodyOf, BulkField } from '@terrace/contract';
import { Refusal, type Given } from '@terrace/core';
import { atRow } from '../platform/fields';
import type { Work } from '../platform/work';
import { givenByGroup } from './groups';
import { fieldsOfItem, itemOf } from './item-facts';
import { barcodesOf, packsOf, sizesOf } from './item-parts';
import { changeItem } from './items';

type Changes = BodyOf<typeof api.catalogue.changeItems>['changes'];
type Changed = Parameters<typeof changeItem>[2];

/** What changing one item takes when nothing of it changes: a start for changing a little. */
export function asIs(work: Work, id: number): Changed {
  const item = itemOf(work, id);
  const fields = fieldsOfItem(item);
  const own = (field: Given): string | undefined => (item.follows.includes(field) || fields[field] === '' ? undefined : fields[field]);
  return {
    code: item.code,
    description: item.description,
    group: item.groupCode,
    kind: own('kind') as Changed['kind'],
    unit: own('unit'),
    tracking: own('tracking') as Changed['tracking'],
    costing: own('costing') as Changed['costing'],
    discountCeiling: own('discountCeiling'),
    shelfLifeDays: own('shelfLifeDays'),
    restLifeDays: own('restLifeDays'),
    storageOverhead: own('storageOverhead'),
    secondCode: item.secondCode,
    barcodes: barcodesOf(work, id),
    sellPrice: fields['sellPrice'] ?? '0',
    buyPrice: fields['buyPrice'] ?? '0',
    standardCost: fields['standardCost'] ?? '0',
    sellingNotes: item.sellingNotes,
    manufacturer: item.manufacturer,
    originCountry: item.originCountry,
    commodityCode: item.commodityCode,
    packs: packsOf(work, id),
    buyUnit: item.buyUnit,
    sellUnit: item.sellUnit,
    countUnit: item.countUnit,
    sizes: sizesOf(work, id),
    custom: {},
    version: item.version,
    active: item.active,
  };
}

/** One item's input with some of its fields given as text. In another group, what the stores count and value by stays. */
export function withFields(work: Work, id: number, fields: Readonly<Partial<Record<BulkField, string>>>): Changed {
  const { active, ...texts } = fields;
  const changed: Changed = { ...asIs(work, id), ...texts };
  if (fields.group !== undefined) {
    const given = givenByGroup(work, fields.group);
    const values = fieldsOfItem(itemOf(work, id));
    for (const field of ['kind', 'unit', 'tracking', 'costing'] as const)
      if (changed[field] === undefined && given.get(field)?.value !== values[field]) Object.assign(changed, { [field]: values[field] });
  }
  if (active !== undefined) {
    if (active !== 'yes' && active !== 'no') throw new Refusal('notYesOrNo', `"${active}" is neither yes nor no.`, { field: 'active' });
    changed.active = active === 'yes';
  }
  return changed;
}

/** Changes many items. A refusal names the row and the field, and nothing is changed. */
export function changeItems(work: Work, changes: Changes): { changed: number } {
  let changed = 0;
  changes.forEach(({ id, version, fields }, index) =>
    atRow(`changes.${index}`, () => {
      const input = withFields(work, id, fields);
      if (fields.description?.trim() === '') throw new Refusal('noDescription', 'Give a description.', { field: 'description' });
      if (changeItem(work, id, { ...input, version }, 'changed with others').length > 0) changed += 1;
    }),
  );
  return { changed };
}
