/** One item with all that belongs to it. */
import type { ItemView } from '@terrace/contract';
import { writePoints, writePrice } from '@terrace/core';
import type { Work } from '../platform/work';
import { bomOf, usesOf } from './bom';
import { customOf } from './custom-fields';
import { givenByGroup } from './groups';
import { otherRooms } from './handed-in';
import { itemOf } from './item-facts';
import { inUse } from './items-in-use';
import { barcodesOf, packsOf, sizesOf } from './item-parts';
import { locksOf } from './locked-fields';
import { substitutesOf } from './substitutes';
import { termsOf } from './terms';

export function itemView(work: Work, id: number): ItemView {
  const item = itemOf(work, id);
  const given = givenByGroup(work, item.groupCode);
  return {
    id,
    code: item.code,
    description: item.description,
    kind: item.kind,
    group: item.groupCode,
    unit: item.unitCode,
    decimals: item.decimals,
    secondCode: item.secondCode,
    barcodes: barcodesOf(work, id),
    tracking: item.tracking,
    costing: item.costing,
    sellPrice: writePrice(item.sellPrice),
    buyPrice: writePrice(item.buyPrice),
    standardCost: writePrice(item.standardCost),
    sellingNotes: item.sellingNotes,
    manufacturer: item.manufacturer,
    originCountry: item.originCountry,
    commodityCode: item.commodityCode,
    storageOverhead: writePoints(item.storageOverhead),
    discountCeiling: item.discountCeiling === null ? null : writePoints(item.discountCeiling),
    shelfLifeDays: item.shelfLifeDays,
    restLifeDays: item.restLifeDays,
    buyUnit: item.buyUnit,
    sellUnit: item.sellUnit,
    countUnit: item.countUnit,
    sizes: sizesOf(work, id),
    origins: Object.fromEntries(item.follows.flatMap((field) => (given.has(field) ? [[field, given.get(field)?.group ?? '']] : []))),
    given: Object.fromEntries(given),
    locks: locksOf(work, id),
    family: item.familyId === null ? null : { id: item.familyId, code: item.family ?? '' },
    variant: item.variant,
    substitutes: substitutesOf(work, id),
    inUse: inUse(work, item),
    custom: customOf(work, 'item', id),
    active: item.active,
    version: item.version,
    packs: packsOf(work, id),
    terms: termsOf(work, id),
    bom: bomOf(work, id),
    usedIn: usesOf(work, id),
    ...otherRooms.get().planning.ofItem(work, id),
  };
}
