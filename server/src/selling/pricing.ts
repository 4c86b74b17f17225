/** What a price is and why: the entries of price lists that may hold, the costs they build on, the rates of the day. */
import {
  BOOKS_RATE,
  asQuantity,
  explainPrice,
  fromBooks,
  lineage,
  type PriceAnswer,
  type PriceBreak,
  type PriceEntry,
  type PriceList,
  type Quantity,
  type Rate,
  type UnitPrice,
} from '@terrace/core';
import { and, eq, isNull, or, sql } from 'drizzle-orm';
import { askedPrice, booksCurrency, customerOf, firstSupplierOf, groupsOf, itemOf, rateOn } from '../catalogue';
import { among } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { stockCost } from '../stores';
import { priceBreak, priceEntry, priceList } from './price-schema';

/** What one unit costs us now: as the stores value it, else what the preferred supplier asks, else the item's buying price. */
export function currentCost(work: Work, itemId: number, warehouse?: number): UnitPrice {
  const here = stockCost(work, itemId, warehouse);
  const worth = here > 0 ? here : stockCost(work, itemId);
  if (worth > 0) return worth;
  const supplier = firstSupplierOf(work, itemId);
  const asked = supplier ? askedPrice(work, itemId, supplier.supplierId, asQuantity(100_000)) : null;
  return asked ?? itemOf(work, itemId).buyPrice;
}

const ENTRY = {
  id: priceEntry.id,
  listId: priceList.id,
  code: priceList.code,
  name: priceList.name,
  currency: priceList.currency,
  listFrom: priceList.validFrom,
  listTo: priceList.validTo,
  rounding: priceList.rounding,
  itemId: priceEntry.itemId,
  groupCode: priceEntry.groupCode,
  way: priceEntry.way,
  validFrom: priceEntry.validFrom,
  validTo: priceEntry.validTo,
};
type Audience = PriceList['audience'];
interface Whose {
  itemId: number;
  /** The item's group and those above it. */
  groups: readonly string[];
  /** A list that counts as made for the customer. */
  listId: number;
  customerId: number;
  customerGroup: string;
}
const entriesIn = query(($: Whose) => (db) => {
  const audience = sql<Audience>`case
    when ${priceList.customerId} is not null or ${priceList.id} = ${$.listId} then 'customer'
    when ${priceList.customerGroup} is not null then 'group'
    else 'everybody' end`;
  return db
    .select({ ...ENTRY, audience })
    .from(priceEntry)
    .innerJoin(priceList, eq(priceList.id, priceEntry.listId))
    .where(
      and(
        eq(priceList.active, true),
        or(eq(priceEntry.itemId, $.itemId), among(priceEntry.groupCode, $.groups), and(isNull(priceEntry.itemId), isNull(priceEntry.groupCode))),
        or(
          eq(priceList.id, $.listId),
          and(isNull(priceList.customerId), isNull(priceList.customerGroup)),
          eq(priceList.customerId, $.customerId),
          eq(priceList.customerGroup, $.customerGroup),
        ),
      ),
    );
});
type EntryRow = ReturnType<typeof entriesIn.all>[number];
const entryOfId = query(
  ($: { id: number }) => (db) =>
    db
      .select({ ...ENTRY, audience: sql<Audience>`'everybody'` })
      .from(priceEntry)
      .innerJoin(priceList, eq(priceList.id, priceEntry.listId))
      .where(eq(priceEntry.id, $.id)),
);
const breaks = query(
  ($: { entryId: number }) => (db) =>
    db.select({ from: priceBreak.from, value: priceBreak.value }).from(priceBreak).where(eq(priceBreak.entryId, $.entryId)).orderBy(priceBreak.from),
);

/** The breaks of an entry, lowest first. */
export function breaksOf(work: Work, entryId: number): PriceBreak[] {
  return breaks.all(work, { entryId });
}

/** `groups` are the item's own group and those above it, in this order. */
function entryOf(work: Work, row: EntryRow, groups: readonly string[] = []): PriceEntry {
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
    ...(row.itemId === null && row.groupCode !== null ? { group: { code: row.groupCode, above: Math.max(0, groups.indexOf(row.groupCode)) } } : {}),
    way: row.way,
    validFrom: row.validFrom,
    validTo: row.validTo,
    breaks: breaksOf(work, row.id),
  };
}

/** One entry by itself, whoever its list is for. */
export function entryById(work: Work, id: number): PriceEntry | undefined {
  const row = entryOfId.one(work, { id });
  return row && entryOf(work, row);
}

export interface Asked {
  readonly itemId: number;
  readonly quantity: Quantity;
  readonly day: string;
  readonly customerId: number | null;
  readonly warehouseId?: number | undefined;
  /** What the price is wanted in: the customer's currency, where nobody says otherwise; without one, that of the books. */
  readonly currency?: string | undefined;
}

/** A price and what it stands beside, all in the currency that was wanted. */
export interface Priced extends Omit<PriceAnswer, 'wanted'> {
  readonly wantedIn: string;
  readonly listPrice: UnitPrice;
  readonly cost: UnitPrice;
  /** Basis points, or none. */
  readonly ceiling: number | null;
}

/** The price of one unit in the currency that is wanted, and why; of the entries given, or of those that are for the customer. */
export function priceFor(work: Work, asked: Asked, only?: PriceEntry): Priced {
  const item = itemOf(work, asked.itemId);
  const books = booksCurrency(work);
  const entries = only ? [only] : entriesFor(work, asked, item.groupCode);
  const wantedIn = asked.currency ?? (asked.customerId === null ? books : customerOf(work, asked.customerId).currency);
  const rates = new Map<string, Rate>();
  for (const code of new Set([wantedIn, ...entries.map(({ list }) => list.currency)])) {
    // A list that is not used needs no rate; one that is, and has none, is refused.
    const rate = code === books ? null : rateOn(work, code, asked.day);
    if (rate !== null) rates.set(code, rate);
  }
  const cost = currentCost(work, asked.itemId, asked.warehouseId);
  const listPrice = item.sellPrice;
  const { wanted, ...answer } = explainPrice(
    {
      wanted: wantedIn,
      quantity: asked.quantity,
      day: asked.day,
      unit: item.unitCode,
      books,
      listPrice,
      cost,
      standardCost: item.standardCost,
      rates,
    },
    entries,
  );
  const own = rates.get(wantedIn) ?? BOOKS_RATE;
  const theirs = (price: UnitPrice): UnitPrice => fromBooks(price, own);
  return { ...answer, price: wanted, wantedIn, listPrice: theirs(listPrice), cost: theirs(cost), ceiling: item.discountCeiling };
}

/** What one costs a customer today, by our lists. */
export function priceToday(work: Work, asked: Pick<Asked, 'itemId' | 'quantity' | 'customerId'>): UnitPrice {
  return priceFor(work, { ...asked, day: work.today }).price;
}

function entriesFor(work: Work, { itemId, customerId }: Asked, group: string): PriceEntry[] {
  const customer = customerId === null ? null : customerOf(work, customerId);
  const groups = lineage(group, groupsOf(work)).map((each) => each.code);
  const given = customer?.priceListId ?? -1;
  return entriesIn
    .all(work, { itemId, groups, listId: given, customerId: customerId ?? -1, customerGroup: customer?.groupCode ?? '' })
    .map((row) => entryOf(work, row, groups));
}
