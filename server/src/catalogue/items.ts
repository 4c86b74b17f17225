/** Items: the list, one item whole, setting one up and changing it. */
import type { api } from '@terrace/contract';
import { givenFields, type AnswerOf, type BodyOf, type ListQuery } from '@terrace/contract';
import { Refusal, parseAskedPrice, parsePrice, settle, type Given, type Settled } from '@terrace/core';
import { asFlag, asNumber, asPriceText, asQuantityText, asText, listPage, type ListDefinition } from '../platform/list';
import { assertVersion, atField, changesBetween, type Change, type Work } from '../platform/work';
import { customColumns, customFind, keepCustom } from './custom';
import { columnOf, planAs, readGiven } from './given';
import { givenByGroup } from './groups';
import { followRules } from './rules-followed';
import { fieldsOfItem, inUse, itemOf } from './item-facts';
import { barcodesOf, keepBarcodes, keepPacks, keepSizes, packsOf, readUnitChoice, sizesOf } from './item-parts';
import { locksOf, movesOf } from './locks';

function items(work: Work): ListDefinition {
  return {
    columns: {
      id: asNumber('i.id'),
      code: asText('i.code'),
      description: asText('i.description'),
      kind: asText('i.kind'),
      group: asText('i.group_code'),
      unit: asText('i.unit_code'),
      onHand: asQuantityText('coalesce((select sum(b.quantity) from balance b where b.item_id = i.id), 0)'),
      free: asQuantityText(
        "max(0, coalesce((select sum(b.quantity) from balance b where b.item_id = i.id and b.state = 'available'), 0) - coalesce((select sum(r.quantity) from reserved_stock r where r.item_id = i.id), 0))",
      ),
      sellPrice: asPriceText('i.sell_price'),
      buyPrice: asPriceText('i.buy_price'),
      standardCost: asPriceText('i.standard_cost'),
      secondCode: asText('i.second_code'),
      manufacturer: asText('i.manufacturer'),
      originCountry: asText('i.origin_country'),
      commodityCode: asText('i.commodity_code'),
      tracking: asText('i.tracking'),
      discountCeiling: {
        sql: 'i.discount_ceiling',
        type: 'number',
        written: "case when i.discount_ceiling is null then null else printf('%g', i.discount_ceiling / 100.0) end",
      },
      sellingNotes: asText('i.selling_notes'),
      family: asText('(select f.code from item_family f where f.id = i.family_id)'),
      supplier: asText(
        '(select s.name from supplier_term t join supplier s on s.id = t.supplier_id where t.item_id = i.id order by t.preferred desc, t.valid_from desc limit 1)',
      ),
      active: asFlag('i.active'),
      version: asNumber('i.version'),
      ...customColumns(work, 'item', 'i.id'),
    },
    from: 'item i',
    countFrom: 'item i',
    find: ['i.code', 'i.description', "coalesce(i.second_code, '')", 'i.manufacturer', ...customFind(work, 'item', 'i.id')],
    order: 'i.code',
    tie: 'i.id',
  };
}

export function listItems(work: Work, query: ListQuery): AnswerOf<typeof api.catalogue.listItems> {
  return listPage(work, items(work), query);
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

/** The columns of an item in the order of {@link INSERT}. */
function valuesOf(input: ItemInput, { values, follows }: Settled): (string | number | null)[] {
  const price = (field: 'sellPrice' | 'buyPrice' | 'standardCost', what: string): number => atField(field, () => parseAskedPrice(input[field], what));
  return [
    input.code,
    input.secondCode === '' ? null : input.secondCode,
    input.description,
    values.get('kind') ?? 'stocked',
    input.group,
    values.get('unit') ?? '',
    values.get('tracking') ?? 'none',
    values.get('costing') ?? 'movingAverage',
    price('sellPrice', 'the selling price'),
    price('buyPrice', 'the buying price'),
    price('standardCost', 'the standard cost'),
    input.sellingNotes,
    input.manufacturer,
    input.originCountry.toUpperCase(),
    input.commodityCode,
    columnOf('storageOverhead', values.get('storageOverhead')),
    columnOf('discountCeiling', values.get('discountCeiling')),
    columnOf('shelfLifeDays', values.get('shelfLifeDays')),
    columnOf('restLifeDays', values.get('restLifeDays')),
    JSON.stringify(follows),
  ];
}

const COLUMNS =
  'code, second_code, description, kind, group_code, unit_code, tracking, costing, sell_price, buy_price, standard_cost, selling_notes, manufacturer, origin_country, commodity_code, storage_overhead, discount_ceiling, shelf_life_days, rest_life_days, follows';
const INSERT = `insert into item (${COLUMNS}) values (${COLUMNS.split(',')
  .map(() => '?')
  .join(', ')})`;
const UPDATE = `update item set ${COLUMNS.split(',')
  .map((each) => `${each} = ?`)
  .join(', ')}, active = ?, version = version + 1 where id = ?`;

/** Sets up an item and gives its number. Refuses `codeTaken`, `barcodeTaken`, `unknownUnit`, `unknownGroup`, `noUnit`. */
export function createItem(work: Work, input: ItemInput, what = `set up ${input.code}`): number {
  const outcome = settled(work, input);
  assertCodeFree(work, input.code, 0);
  const { id } = work.run(INSERT, ...valuesOf(input, outcome));
  keepParts(work, id, input, outcome.values.get('unit') ?? '');
  const planning = outcome.values.get('planning');
  if (planning !== undefined) planAs(work, id, planning);
  followRules(work, [id]);
  keepCustom(work, 'item', id, input.custom);
  work.record('item', id, what);
  return id;
}

function keepParts(work: Work, id: number, input: ItemInput, unit: string): void {
  const decimals = work.row<{ decimals: number }>('select decimals from unit where code = ?', unit)?.decimals ?? 0;
  keepPacks(work, id, input.packs, decimals, unit);
  const codes = [unit, ...input.packs.map((pack) => pack.code)];
  keepBarcodes(work, id, input.barcodes, codes);
  keepSizes(work, id, input.sizes, codes);
  const choice = (field: 'buyUnit' | 'sellUnit' | 'countUnit'): string | null => atField(field, () => readUnitChoice(input[field], codes, unit));
  const [buy, sell, count] = [choice('buyUnit'), choice('sellUnit'), choice('countUnit')];
  if (buy !== null || sell !== null || count !== null || input.packs.length > 0)
    work.run('update item set buy_unit = ?, sell_unit = ?, count_unit = ? where id = ?', buy, sell, count, id);
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
    const moves = movesOf(work, id);
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
  work.run(UPDATE, ...valuesOf(input, { ...outcome, follows }), input.active ? 1 : 0, id);
  keepParts(work, id, input, outcome.values.get('unit') ?? '');
  const planning = outcome.follows.includes('planning') ? outcome.values.get('planning') : undefined;
  if (planning !== undefined) planAs(work, id, planning);
  followRules(work, [id]);
  const after = itemOf(work, id);
  const changes = [...changesBetween(fieldsOfItem(before), fieldsOfItem(after)), ...keepCustom(work, 'item', id, input.custom)];
  const partsAfter = parts();
  if (partsAfter !== partsBefore) changes.push({ field: 'barcodes, packs and sizes', from: partsBefore, to: partsAfter });
  const left = before.active === 1 && !input.active ? inUse(work, before) : [];
  work.record(
    'item',
    id,
    what ?? (left.length > 0 ? `made ${after.code} inactive in spite of ${left.join(', ')}` : `changed ${after.code}`),
    changes,
  );
  return changes;
}

function assertCodeFree(work: Work, code: string, exceptId: number): void {
  const taken = work.row<{ description: string }>('select description from item where code = ? collate nocase and id <> ?', code, exceptId);
  if (taken) throw new Refusal('codeTaken', `The code ${code} belongs to "${taken.description}" already: choose another.`, { field: 'code' });
}
