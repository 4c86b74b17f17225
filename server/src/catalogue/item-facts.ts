/** Items as they are kept, and what documents need to know of them. */
import { eq, getTableColumns } from 'drizzle-orm';
import { Refusal, writePoints, writePrice } from '@terrace/core';
import { sameText } from '../platform/expressions';
import { query } from '../platform/query';
import { orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';
import { item, itemFamily, itemGroup, unit } from './schema';

const facts = query(
  ($: { id: number }) => (db) =>
    db
      .select({
        id: item.id,
        code: item.code,
        description: item.description,
        kind: item.kind,
        unit: item.unitCode,
        decimals: unit.decimals,
        tracking: item.tracking,
        active: item.active,
        sellPrice: item.sellPrice,
      })
      .from(item)
      .innerJoin(unit, eq(unit.code, item.unitCode))
      .where(eq(item.id, $.id)),
);
export type ItemFacts = NonNullable<ReturnType<typeof facts.one>>;

/** What orders need to know of an item. Refuses `unknownItem`. */
export function itemFacts(work: Work, id: number): ItemFacts {
  const row = facts.one(work, { id });
  if (!row) throw new Refusal('unknownItem', 'There is no such item: choose one from the list.', { item: id });
  return row;
}

/** An item that a new document may name. Refuses `unknownItem` and `inactiveItem`. */
export function usableItem(work: Work, id: number): ItemFacts {
  const facts = itemFacts(work, id);
  if (!facts.active)
    throw new Refusal('inactiveItem', `${facts.code} is inactive: no new document may name it. Make it active, or choose another item.`, {
      item: facts.code,
    });
  return facts;
}

const accounts = query(
  ($: { id: number }) => (db) =>
    db
      .select({
        code: item.code,
        kind: item.kind,
        tracking: item.tracking,
        costing: item.costing,
        standardCost: item.standardCost,
        inventoryAccount: itemGroup.inventoryAccount,
        costOfSalesAccount: itemGroup.costOfSalesAccount,
        revenueAccount: itemGroup.revenueAccount,
      })
      .from(item)
      .innerJoin(itemGroup, eq(itemGroup.code, item.groupCode))
      .where(eq(item.id, $.id)),
);

/** How an item is costed and which accounts it takes from its group. Refuses `notFound`. */
export function accountsOfItem(work: Work, id: number): NonNullable<ReturnType<typeof accounts.one>> {
  return orNotFound(accounts.one(work, { id }), 'item');
}

const accountOfGroup = query(
  ($: { code: string }) => (db) => db.select({ account: itemGroup.inventoryAccount }).from(itemGroup).where(eq(itemGroup.code, $.code)),
);
const inGroup = query(($: { code: string }) => (db) => db.select({ id: item.id }).from(item).where(eq(item.groupCode, $.code)).orderBy(item.id));

/** The account that the stock of a group's items is booked on. Refuses `notFound`. */
export function inventoryAccountOf(work: Work, group: string): string {
  return orNotFound(accountOfGroup.one(work, { code: group }), 'group').account;
}

/** The items of a group itself, without those of groups below it. */
export function itemsOfGroup(work: Work, group: string): number[] {
  return inGroup.all(work, { code: group }).map((each) => each.id);
}

const whole = query(
  ($: { id: number }) => (db) =>
    db
      .select({ ...getTableColumns(item), decimals: unit.decimals, family: itemFamily.code })
      .from(item)
      .innerJoin(unit, eq(unit.code, item.unitCode))
      .leftJoin(itemFamily, eq(itemFamily.id, item.familyId))
      .where(eq(item.id, $.id)),
);
export type ItemRecord = NonNullable<ReturnType<typeof whole.one>>;

/** An item as kept. Refuses `notFound`. */
export function itemOf(work: Work, id: number): ItemRecord {
  return orNotFound(whole.one(work, { id }), 'item');
}

const byCode = query(
  ($: { code: string }) => (db) =>
    db.select({ id: item.id, code: item.code, description: item.description }).from(item).where(sameText(item.code, $.code)),
);

/** The item with a code, whatever its capital letters. */
export function itemByCode(work: Work, code: string): ReturnType<typeof byCode.one> {
  return byCode.one(work, { code });
}

/** Fields of an item as text, for its history and for what an import changes. */
export function fieldsOfItem(record: ItemRecord): Record<string, string> {
  const points = (value: number | null): string => (value === null ? '' : writePoints(value));
  return {
    code: record.code,
    secondCode: record.secondCode ?? '',
    description: record.description,
    kind: record.kind,
    group: record.groupCode,
    unit: record.unitCode,
    tracking: record.tracking,
    costing: record.costing,
    sellPrice: writePrice(record.sellPrice),
    buyPrice: writePrice(record.buyPrice),
    standardCost: writePrice(record.standardCost),
    sellingNotes: record.sellingNotes,
    manufacturer: record.manufacturer,
    originCountry: record.originCountry,
    commodityCode: record.commodityCode,
    storageOverhead: points(record.storageOverhead),
    discountCeiling: points(record.discountCeiling),
    shelfLifeDays: record.shelfLifeDays === null ? '' : String(record.shelfLifeDays),
    restLifeDays: record.restLifeDays === null ? '' : String(record.restLifeDays),
    buyUnit: record.buyUnit ?? '',
    sellUnit: record.sellUnit ?? '',
    countUnit: record.countUnit ?? '',
    active: record.active ? 'yes' : 'no',
  };
}
