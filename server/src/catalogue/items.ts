/** Items: the list, one item whole, setting one up and changing it. */
import type { api } from '@terrace/contract';
import { givenFields, type AnswerOf, type BodyOf, type ItemView, type ListQuery } from '@terrace/contract';
import { and, desc, eq, ne, sql } from 'drizzle-orm';
import {
  Refusal,
  parseAskedPrice,
  parsePrice,
  settle,
  type CostingMethod,
  type Given,
  type RuleTexts,
  type Settled,
  type UnitPrice,
} from '@terrace/core';
import { inner, orEmpty, sameText, scalar } from '../platform/expressions';
import { asFlag, asNumber, asPriceText, asQuantityText, asText, list, listPage } from '../platform/list';
import { query } from '../platform/query';
import { addRow, changeRow, setRow } from '../platform/rows';
import { atField } from '../platform/fields';
import { assertVersion, changesBetween } from '../platform/versions';
import type { Change, Work } from '../platform/work';
import { customColumns, keepCustom } from './custom-fields';
import { columnOf, readGiven } from './group-defaults';
import { givenByGroup } from './groups';
import { otherRooms } from './handed-in';
import { accountsOfItem, fieldsOfItem, itemOf } from './item-facts';
import { inUse } from './items-in-use';
import { barcodesOf, keepBarcodes, keepPacks, keepSizes, packsOf, readUnitChoice, sizesOf } from './item-parts';
import { locksOf } from './locked-fields';
import { supplier, supplierTerm } from './party-schema';
import { item, itemFamily } from './schema';
import { unitOf } from './units';

const familyCode = scalar(inner.select({ code: itemFamily.code }).from(itemFamily).where(eq(itemFamily.id, item.familyId)));
const firstSupplier = scalar(
  inner
    .select({ name: supplier.name })
    .from(supplierTerm)
    .innerJoin(supplier, eq(supplier.id, supplierTerm.supplierId))
    .where(eq(supplierTerm.itemId, item.id))
    .orderBy(desc(supplierTerm.preferred), desc(supplierTerm.validFrom))
    .limit(1),
);
const ceilingWords = sql`case when ${item.discountCeiling} is null then null else printf('%g', ${item.discountCeiling} / 100.0) end`;

const items = list<{ today: string }>(($) => ({
  columns: {
    id: asNumber(item.id),
    code: asText(item.code),
    description: asText(item.description),
    kind: asText(item.kind),
    group: asText(item.groupCode),
    unit: asText(item.unitCode),
    onHand: asQuantityText(otherRooms.get().onHand(item.id)),
    free: asQuantityText(otherRooms.get().free(item.id, sql`${$.today}`)),
    sellPrice: asPriceText(item.sellPrice),
    buyPrice: asPriceText(item.buyPrice),
    standardCost: asPriceText(item.standardCost),
    secondCode: asText(item.secondCode),
    manufacturer: asText(item.manufacturer),
    originCountry: asText(item.originCountry),
    commodityCode: asText(item.commodityCode),
    tracking: asText(item.tracking),
    discountCeiling: { of: item.discountCeiling, type: 'number', written: ceilingWords },
    sellingNotes: asText(item.sellingNotes),
    family: asText(familyCode),
    supplier: asText(firstSupplier),
    active: asFlag(item.active),
    version: asNumber(item.version),
  },
  from: item,
  find: [item.code, item.description, orEmpty(item.secondCode), item.manufacturer],
  order: [item.code],
  tie: [item.id],
}));

export function listItems(work: Work, asked: ListQuery): AnswerOf<typeof api.catalogue.listItems> {
  return listPage(work, items, asked, { today: work.today }, { more: customColumns(work, 'item', item.id) });
}

type ItemInput = BodyOf<typeof api.catalogue.createItem>;

/** What was typed of the fields that a group may give. */
function typedOf(work: Work, input: ItemInput): Map<Given, string> {
  const typed = new Map<Given, string>();
  for (const field of givenFields) {
    if (field === 'planning') continue;
    const text = input[field];
    if (text !== undefined && text !== '')
      typed.set(
        field,
        atField(field, () => readGiven(work, field, text)),
      );
  }
  return typed;
}

function settled(work: Work, input: ItemInput): Settled {
  const outcome = settle(typedOf(work, input), givenByGroup(work, input.group));
  if (!outcome.values.has('unit'))
    throw new Refusal('noUnit', `Group ${input.group} gives no unit: say in which unit ${input.code} is counted.`, { field: 'unit' });
  return outcome;
}

/** What is kept of an item in its own row. */
function valuesOf(input: ItemInput, { values, follows }: Settled): Omit<typeof item.$inferInsert, 'id'> {
  const price = (field: 'sellPrice' | 'buyPrice' | 'standardCost', what: string): UnitPrice =>
    atField(field, () => parseAskedPrice(input[field], what));
  const number = (field: 'discountCeiling' | 'shelfLifeDays' | 'restLifeDays' | 'storageOverhead'): number | null =>
    columnOf(field, values.get(field)) as number | null;
  return {
    code: input.code,
    secondCode: input.secondCode === '' ? null : input.secondCode,
    description: input.description,
    kind: (values.get('kind') ?? 'stocked') as ItemView['kind'],
    groupCode: input.group,
    unitCode: values.get('unit') ?? '',
    tracking: (values.get('tracking') ?? 'none') as ItemView['tracking'],
    costing: (values.get('costing') ?? 'movingAverage') as CostingMethod,
    sellPrice: price('sellPrice', 'the selling price'),
    buyPrice: price('buyPrice', 'the buying price'),
    standardCost: price('standardCost', 'the standard cost'),
    sellingNotes: input.sellingNotes,
    manufacturer: input.manufacturer,
    originCountry: input.originCountry.toUpperCase(),
    commodityCode: input.commodityCode,
    storageOverhead: number('storageOverhead') ?? 0,
    discountCeiling: number('discountCeiling'),
    shelfLifeDays: number('shelfLifeDays'),
    restLifeDays: number('restLifeDays'),
    follows: [...follows],
  };
}

/** Sets up an item and gives its number. Refuses `codeTaken`, `barcodeTaken`, `unknownUnit`, `unknownGroup`, `noUnit`. */
export function createItem(work: Work, input: ItemInput, what = `set up ${input.code}`): number {
  const outcome = settled(work, input);
  assertCodeFree(work, input.code, 0);
  const id = addRow(work, item, valuesOf(input, outcome));
  keepParts(work, id, input, outcome.values.get('unit') ?? '');
  const planning = outcome.values.get('planning');
  keepPlanned(work, id, planning);
  keepCustom(work, 'item', id, input.custom);
  work.record('item', id, what);
  return id;
}

function keepParts(work: Work, id: number, input: ItemInput, unit: string): void {
  const decimals = unitOf(work, unit)?.decimals ?? 0;
  keepPacks(work, id, input.packs, decimals, unit);
  const codes = [unit, ...input.packs.map((pack) => pack.code)];
  keepBarcodes(work, id, input.barcodes, codes);
  keepSizes(work, id, input.sizes, codes);
  const choice = (field: 'buyUnit' | 'sellUnit' | 'countUnit'): string | null => atField(field, () => readUnitChoice(input[field], codes, unit));
  const [buyUnit, sellUnit, countUnit] = [choice('buyUnit'), choice('sellUnit'), choice('countUnit')];
  if (buyUnit !== null || sellUnit !== null || countUnit !== null || input.packs.length > 0) setRow(work, item, id, { buyUnit, sellUnit, countUnit });
}

/** Plans an item as its group says, where it does; its rules take what is said further up. */
function keepPlanned(work: Work, id: number, way: string | undefined): void {
  const { planning } = otherRooms.get();
  if (way !== undefined) planning.planAs(work, id, way);
  planning.follow(work, [id]);
}

type Changed = BodyOf<typeof api.catalogue.changeItem>;

/**
 * Changes an item and says what changed. Refuses `locked` for unit, tracking and costing once stock has moved, besides
 * what setting up refuses. What still has stock or open documents may become inactive, and its history says so.
 */
export function changeItem(work: Work, id: number, input: Changed, what?: string): Change[] {
  const before = itemOf(work, id);
  assertVersion(work, 'item', before, input.version, before.code);
  const outcome = settled(work, input);
  const follows =
    before.follows.includes('planning') && !outcome.follows.includes('planning') ? [...outcome.follows, 'planning' as const] : outcome.follows;
  for (const [field, was] of [
    ['unit', before.unitCode],
    ['tracking', before.tracking],
    ['costing', before.costing],
  ] as const) {
    const now = outcome.values.get(field) ?? was;
    if (now === was) continue;
    const moves = otherRooms.get().firstMoves(work, id);
    if (moves.length > 0)
      throw new Refusal(
        'locked',
        `The ${field} of ${before.code} stays ${was}: stock of it has moved (${moves.join(', ')}). Set up a new item and make this one inactive.`,
        {
          field,
          moves,
        },
      );
  }
  const standardLock = locksOf(work, id)['standardCost'];
  if (standardLock !== undefined && parsePrice(input.standardCost) !== before.standardCost)
    throw new Refusal('locked', `The standard cost of ${before.code} can't be changed here. ${standardLock}`, { field: 'standardCost' });
  assertCodeFree(work, input.code, id);
  const parts = (): string => JSON.stringify([barcodesOf(work, id), packsOf(work, id), sizesOf(work, id)]);
  const partsBefore = parts();
  const from = accountsOfItem(work, id).inventoryAccount;
  changeRow(work, item, id, { ...valuesOf(input, { ...outcome, follows }), active: input.active });
  const to = accountsOfItem(work, id).inventoryAccount;
  otherRooms.get().reclassify(work, [{ itemId: id, from, to }], `${before.code} went from group ${before.groupCode} to ${input.group}`);
  keepParts(work, id, input, outcome.values.get('unit') ?? '');
  const planning = outcome.follows.includes('planning') ? outcome.values.get('planning') : undefined;
  keepPlanned(work, id, planning);
  const after = itemOf(work, id);
  const changes = [...changesBetween(fieldsOfItem(before), fieldsOfItem(after)), ...keepCustom(work, 'item', id, input.custom)];
  const partsAfter = parts();
  if (partsAfter !== partsBefore) changes.push({ field: 'barcodes, packs and sizes', from: partsBefore, to: partsAfter });
  const left = before.active && !input.active ? inUse(work, before) : [];
  work.record(
    'item',
    id,
    what ?? (left.length > 0 ? `made ${after.code} inactive in spite of ${left.join(', ')}` : `changed ${after.code}`),
    changes,
  );
  return changes;
}

const codeTaken = query(
  ($: { code: string; except: number }) => (db) =>
    db
      .select({ description: item.description })
      .from(item)
      .where(and(sameText(item.code, $.code), ne(item.id, $.except))),
);

function assertCodeFree(work: Work, code: string, exceptId: number): void {
  const taken = codeTaken.one(work, { code, except: exceptId });
  if (taken) throw new Refusal('codeTaken', `The code ${code} belongs to "${taken.description}" already: choose another.`, { field: 'code' });
}

/** Gives an item a new standard cost; what is in stock has been valued by it already. */
export function setStandard(work: Work, id: number, standardCost: UnitPrice): void {
  changeRow(work, item, id, { standardCost });
}

/** Gives an item a new selling price. */
export function setSellPrice(work: Work, id: number, sellPrice: UnitPrice): void {
  changeRow(work, item, id, { sellPrice });
}

/** Keeps which fields of an item take their value from its group. */
export function setFollows(work: Work, id: number, follows: Given[]): void {
  setRow(work, item, id, { follows });
}

/** Keeps how an item is planned where its rules do not say it. */
export function changePlanning(work: Work, id: number, planning: RuleTexts): void {
  changeRow(work, item, id, { planning });
}
