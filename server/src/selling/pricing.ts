/** What a price is and why: the entries of price lists that may hold, the costs they build on, the rates of the day. */
import type { api } from '@terrace/contract';
import type { AnswerOf, QueryOf } from '@terrace/contract';
import {
  asPrice,
  asQuantity,
  explainPrice,
  lineage,
  parsePositiveQuantity,
  writePoints,
  writePrice,
  type PriceAnswer,
  type PriceBreak,
  type PriceEntry,
  type PriceList,
  type Quantity,
  type Rate,
  type UnitPrice,
} from '@terrace/core';
import { askedPrice, booksCurrency, customerOf, groupsOf, itemOf, rateOf } from '../catalogue';
import { atField, type Work } from '../platform/work';
import { stockCost } from '../stores';

/** What one unit costs us now: as the stores value it, else what the preferred supplier asks, else the item's buying price. */
export function currentCost(work: Work, itemId: number, warehouse?: number): UnitPrice {
  const here = stockCost(work, itemId, warehouse);
  const worth = here > 0 ? here : stockCost(work, itemId);
  if (worth > 0) return worth;
  const supplier = work.row<{ id: number }>(
    'select supplier_id as id from supplier_term where item_id = ? order by preferred desc, price limit 1',
    itemId,
  );
  const asked = supplier ? askedPrice(work, itemId, supplier.id, asQuantity(100_000)) : null;
  return asked ?? asPrice(itemOf(work, itemId).buyPrice);
}

interface EntryRow {
  readonly id: number;
  readonly listId: number;
  readonly code: string;
  readonly name: string;
  readonly currency: string;
  readonly audience: PriceList['audience'];
  readonly listFrom: string | null;
  readonly listTo: string | null;
  readonly rounding: PriceList['rounding'];
  readonly itemId: number | null;
  readonly groupCode: string | null;
  readonly way: PriceEntry['way'];
  readonly validFrom: string | null;
  readonly validTo: string | null;
}

const ENTRY = `e.id, l.id as listId, l.code, l.name, l.currency, l.valid_from as listFrom, l.valid_to as listTo, l.rounding,
  e.item_id as itemId, e.group_code as groupCode, e.way, e.valid_from as validFrom, e.valid_to as validTo`;
const ENTRIES = `select ${ENTRY}, case when l.customer_id is not null or l.id = ?3 then 'customer' when l.customer_group is not null then 'group' else 'everybody' end as audience
  from price_entry e join price_list l on l.id = e.list_id
  where l.active = 1 and (e.item_id = ?1 or e.group_code in (select value from json_each(?2)) or (e.item_id is null and e.group_code is null))
    and (l.id = ?3 or (l.customer_id is null and l.customer_group is null) or l.customer_id = ?4 or l.customer_group = ?5)`;

/** The breaks of an entry, lowest first. */
export function breaksOf(work: Work, entryId: number): PriceBreak[] {
  return work
    .rows<{ from: number; value: number }>(
      'select from_quantity as "from", value from price_break where entry_id = ? order by from_quantity',
      entryId,
    )
    .map((each) => ({ from: asQuantity(each.from), value: each.value }));
}

function entryOf(work: Work, row: EntryRow): PriceEntry {
  return {
    id: row.id,
    list: {
      id: row.listId,
      code: row.code,
      name: row.name,
      currency: row.currency,
      audience: row.audience,
      validFrom: row.listFrom,
      validTo: row.listTo,
      rounding: row.rounding,
    },
    target: row.itemId !== null ? 'item' : row.groupCode !== null ? 'group' : 'everything',
    way: row.way,
    validFrom: row.validFrom,
    validTo: row.validTo,
    breaks: breaksOf(work, row.id),
  };
}

/** One entry by itself, whoever its list is for. */
export function entryById(work: Work, id: number): PriceEntry | undefined {
  const row = work.row<EntryRow>(
    `select ${ENTRY}, 'everybody' as audience from price_entry e join price_list l on l.id = e.list_id where e.id = ?`,
    id,
  );
  return row && entryOf(work, row);
}

export interface Asked {
  readonly itemId: number;
  readonly quantity: Quantity;
  readonly day: string;
  readonly customerId: number | null;
  readonly warehouseId?: number | undefined;
}

export interface Priced extends PriceAnswer {
  readonly listPrice: UnitPrice;
  readonly cost: UnitPrice;
  /** Basis points, or none. */
  readonly ceiling: number | null;
}

/** The price of one unit and why; of the entries given, or of those that are for the customer. */
export function priceFor(work: Work, asked: Asked, only?: PriceEntry): Priced {
  const item = itemOf(work, asked.itemId);
  const books = booksCurrency(work);
  const entries = only ? [only] : entriesFor(work, asked, item.groupCode);
  const rates = new Map<string, Rate>();
  for (const { list } of entries)
    if (list.currency !== books && !rates.has(list.currency)) rates.set(list.currency, rateOf(work, list.currency, asked.day));
  const cost = currentCost(work, asked.itemId, asked.warehouseId);
  const listPrice = asPrice(item.sellPrice);
  const answer = explainPrice(
    { quantity: asked.quantity, day: asked.day, unit: item.unitCode, books, listPrice, cost, standardCost: asPrice(item.standardCost), rates },
    entries,
  );
  return { ...answer, listPrice, cost, ceiling: item.discountCeiling };
}

function entriesFor(work: Work, { itemId, customerId }: Asked, group: string): PriceEntry[] {
  const customer = customerId === null ? null : customerOf(work, customerId);
  const groups = lineage(group, groupsOf(work)).map((each) => each.code);
  return work
    .rows<EntryRow>(ENTRIES, itemId, JSON.stringify(groups), customer?.priceListId ?? -1, customerId ?? -1, customer?.groupCode ?? '')
    .map((row) => entryOf(work, row));
}

/** The answer of the price trial and of the order line in hand. */
export function explained(work: Work, query: QueryOf<typeof api.selling.explainPrice>): AnswerOf<typeof api.selling.explainPrice> {
  const item = itemOf(work, query.itemId);
  const quantity = atField('quantity', () => parsePositiveQuantity(query.quantity, item.decimals, `the quantity of ${item.code}`));
  const priced = priceFor(work, {
    itemId: query.itemId,
    quantity,
    day: query.date ?? work.today,
    customerId: query.customerId ?? null,
    warehouseId: query.warehouseId,
  });
  return {
    price: writePrice(priced.price),
    stated: writePrice(priced.stated),
    currency: priced.currency,
    list: priced.entry ? { id: priced.entry.list.id, code: priced.entry.list.code } : null,
    steps: [...priced.steps],
    listPrice: writePrice(priced.listPrice),
    cost: writePrice(priced.cost),
    margin: priced.margin === null ? '' : writePoints(priced.margin),
    ceiling: priced.ceiling === null ? null : writePoints(priced.ceiling),
  };
}
