/** Suppliers' terms for items. */
import type { api } from '@terrace/contract';
import type { BodyOf, ItemView } from '@terrace/contract';
import { and, desc, eq, getTableColumns, ne, sql, type SQL } from 'drizzle-orm';
import {
  Refusal,
  asQuantity,
  buyingPrice,
  holdsOn,
  parsePositiveQuantity,
  parseAskedPrice,
  parseQuantity,
  termOn,
  toBooks,
  writePoints,
  writePrice,
  writeQuantity,
  type Break,
  type Offer,
  type Quantity,
  type SupplierTerm,
  type UnitPrice,
} from '@terrace/core';
import type { Database } from '../platform/database';
import { columnName, flag, plus } from '../platform/expressions';
import { atField } from '../platform/fields';
import { command, query } from '../platform/query';
import { addRow, addRowOnce, changeRow, dropRow, dropRows, fetching, orNotFound, setRow } from '../platform/rows';
import type { Change, Work } from '../platform/work';
import { booksCurrency, currencyNamed, rateOf, rateOn } from './exchange-rates';
import { readPoints } from './group-defaults';
import { readUnitChoice, packsOf } from './item-parts';
import { itemFacts } from './item-facts';
import { supplier, supplierTerm, termBreak } from './party-schema';
import { item } from './schema';

/** The first day of a term; kept as an empty text where nothing is said, so that it can be part of the key. */
const BEGINS = sql<string | null>`nullif(${supplierTerm.validFrom}, '')`;

/** What a term says, without whose it is and from when it holds. */
export const termFields = {
  supplierItemCode: supplierTerm.supplierItemCode,
  supplierDescription: supplierTerm.supplierDescription,
  price: supplierTerm.price,
  currency: supplierTerm.currency,
  discount: supplierTerm.discount,
  buyUnit: supplierTerm.buyUnit,
  leadDays: supplierTerm.leadDays,
  minimum: supplierTerm.minimum,
  multiple: supplierTerm.multiple,
  preferred: supplierTerm.preferred,
};

const terms = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({
        id: supplierTerm.id,
        supplierId: supplierTerm.supplierId,
        supplier: supplier.name,
        ...termFields,
        validFrom: BEGINS,
        validTo: supplierTerm.validTo,
        version: supplierTerm.version,
      })
      .from(supplierTerm)
      .innerJoin(supplier, eq(supplier.id, supplierTerm.supplierId))
      .where(eq(supplierTerm.itemId, $.itemId))
      .orderBy(desc(supplierTerm.preferred), supplierTerm.price, desc(supplierTerm.validFrom)),
);
const breaks = query(
  ($: { termId: number }) => (db) =>
    db.select({ from: termBreak.from, price: termBreak.price }).from(termBreak).where(eq(termBreak.termId, $.termId)).orderBy(termBreak.from),
);

function recordsOf(work: Work, itemId: number): (ReturnType<typeof terms.all>[number] & SupplierTerm)[] {
  return terms.all(work, { itemId }).map((each) => ({ ...each, breaks: breaks.all(work, { termId: each.id }) }));
}

export function termsOf(work: Work, itemId: number): ItemView['terms'] {
  return recordsOf(work, itemId).map((each) => ({
    ...each,
    price: writePrice(each.price),
    discount: writePoints(each.discount),
    minimum: writeQuantity(each.minimum),
    multiple: writeQuantity(each.multiple),
    holds: holdsOn(each, work.today),
    breaks: each.breaks.map((one) => ({ from: writeQuantity(one.from), price: writePrice(one.price) })),
  }));
}

/** What a supplier asks for one base unit on a day, in the books' currency; `null` where no terms of theirs hold. */
export function askedPrice(work: Work, itemId: number, supplierId: number, quantity: Quantity, day = work.today): UnitPrice | null {
  const term = termOn(recordsOf(work, itemId), supplierId, day);
  if (!term) return null;
  const price = buyingPrice(term, quantity);
  return term.currency === booksCurrency(work) ? price : toBooks(price, rateOf(work, term.currency, day));
}

type Input = BodyOf<typeof api.catalogue.setTerm>;

const fetchSupplier = fetching(supplier, 'supplier');
const termFrom = query(
  ($: { itemId: number; supplierId: number; from: string }) => (db) =>
    db
      .select({ id: supplierTerm.id })
      .from(supplierTerm)
      .where(and(eq(supplierTerm.itemId, $.itemId), eq(supplierTerm.supplierId, $.supplierId), eq(supplierTerm.validFrom, $.from))),
);
const termOfItem = query(
  ($: { id: number; itemId: number }) => (db) =>
    db
      .select()
      .from(supplierTerm)
      .where(and(eq(supplierTerm.id, $.id), eq(supplierTerm.itemId, $.itemId))),
);
const preferNoOther = command(
  ($: { itemId: number; supplierId: number }) => (db) =>
    db
      .update(supplierTerm)
      .set({ preferred: false })
      .where(and(eq(supplierTerm.itemId, $.itemId), ne(supplierTerm.supplierId, $.supplierId), eq(supplierTerm.preferred, true))),
);
const firstTerm = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({ supplierId: supplierTerm.supplierId, leadDays: supplierTerm.leadDays })
      .from(supplierTerm)
      .where(eq(supplierTerm.itemId, $.itemId))
      .orderBy(desc(supplierTerm.preferred), supplierTerm.price)
      .limit(1),
);

/** Whom an item is bought from in the first place, whether their terms hold today or not: preferred, else cheapest. */
export function firstSupplierOf(work: Work, itemId: number): { readonly supplierId: number; readonly leadDays: number } | undefined {
  return firstTerm.one(work, { itemId });
}

/** Keeps terms and says what changed; at most one supplier of an item is preferred. Refuses `periodTaken`, `badPeriod` and figures that the unit can't hold. */
export function keepTerm(work: Work, id: number, input: Input): { readonly added: boolean; readonly changes: Change[]; readonly supplier: string } {
  const { decimals, unit } = itemFacts(work, id);
  const seller = fetchSupplier(work, input.supplierId);
  const from = input.validFrom ?? '';
  if (input.validTo !== null && input.validTo < from)
    throw new Refusal('badPeriod', `Terms that begin on ${from} can't end on ${input.validTo}.`, { field: 'validTo' });
  const atStart = termFrom.one(work, { itemId: id, supplierId: input.supplierId, from });
  const changing = input.id ?? atStart?.id;
  const before = changing === undefined ? undefined : termOfItem.one(work, { id: changing, itemId: id });
  if (input.id !== undefined) {
    orNotFound(before, 'supplier’s terms');
    if (input.version !== undefined && before && before.version !== input.version)
      throw new Refusal('staleVersion', `The terms of ${seller.name} were changed meanwhile: load the item again and repeat what you wanted.`, {
        current: before.version,
      });
    if (atStart && atStart.id !== input.id)
      throw new Refusal('periodTaken', `${seller.name} has terms that begin on that day already: change those.`, { field: 'validFrom' });
  }
  const leadDays = input.leadDays ?? seller.leadDays;
  if (leadDays === null)
    throw new Refusal('noLeadTime', `Say how many working days ${seller.name} takes: without them the plan would order everything for today.`, {
      field: 'leadDays',
    });
  const figure = (field: 'minimum' | 'multiple'): Quantity =>
    atField(field, () => {
      const quantity = parseQuantity(input[field], decimals, `the ${field}`);
      if (quantity < 0) throw new Refusal('negative', `The ${field} can't be below 0.`);
      return quantity;
    });
  const currency = currencyNamed(work, input.currency);
  if (currency !== booksCurrency(work)) atField('currency', () => rateOf(work, currency, work.today));
  const codes = [unit, ...packsOf(work, id).map((pack) => pack.code)];
  const values = {
    supplierId: input.supplierId,
    supplierItemCode: input.supplierItemCode,
    supplierDescription: input.supplierDescription,
    price: atField('price', () => parseAskedPrice(input.price)),
    currency,
    discount: atField('discount', () => readPoints(input.discount, 'A discount')),
    buyUnit: atField('buyUnit', () => readUnitChoice(input.buyUnit, codes, unit)),
    leadDays,
    minimum: figure('minimum'),
    multiple: figure('multiple'),
    preferred: input.preferred,
    validFrom: from,
    validTo: input.validTo,
  };
  const breaksBefore = before ? breaksText(work, before.id) : '';
  const term = before ? before.id : addRow(work, supplierTerm, { itemId: id, ...values });
  if (before) setRow(work, supplierTerm, term, values);
  if (before || input.breaks.length > 0) {
    dropRows(work, termBreak, { termId: term });
    input.breaks.forEach((each, index) => {
      const quantity = atField(`breaks.${index}.from`, () => parsePositiveQuantity(each.from, decimals, 'the quantity of a break'));
      const price = atField(`breaks.${index}.price`, () => parseAskedPrice(each.price));
      if (!addRowOnce(work, termBreak, { termId: term, from: quantity, price }))
        throw new Refusal('sameBreak', `There are two prices from ${each.from} on: keep one.`, { field: `breaks.${index}.from` });
    });
  }
  if (input.preferred) preferNoOther.run(work, { itemId: id, supplierId: input.supplierId });
  if (!before) return { added: true, changes: [], supplier: seller.name };
  const changes = changesOf(before, termOfItem.one(work, { id: term, itemId: id }) ?? before);
  const breaksAfter = breaksText(work, term);
  if (breaksAfter !== breaksBefore) changes.push({ field: 'breaks', from: breaksBefore, to: breaksAfter });
  if (changes.length > 0) changeRow(work, supplierTerm, term, {});
  return { added: false, changes, supplier: seller.name };
}

function breaksText(work: Work, term: number): string {
  return breaks
    .all(work, { termId: term })
    .map((each) => `from ${writeQuantity(each.from)}: ${writePrice(each.price)}`)
    .join('; ');
}

type TermRow = typeof supplierTerm.$inferSelect;

/** What changed of a term, each field in the name of its column. */
function changesOf(before: TermRow, after: TermRow): Change[] {
  return Object.entries(getTableColumns(supplierTerm)).flatMap(([field, column]) => {
    const [was, is] = [before[field as keyof TermRow], after[field as keyof TermRow]];
    return was === is || field === 'version' ? [] : [{ field: columnName(column), from: wordsOf(field, was), to: wordsOf(field, is) }];
  });
}

function wordsOf(field: string, value: unknown): string {
  if (typeof value === 'boolean') return value ? '1' : '0';
  if (typeof value !== 'number') return typeof value === 'string' ? value : '';
  if (field === 'price') return writePrice(value);
  if (field === 'discount') return writePoints(value);
  if (field === 'minimum' || field === 'multiple') return writeQuantity(value);
  return String(value);
}

/** Sets a supplier's terms for an item. */
export function setTerm(work: Work, id: number, input: Input): void {
  const { supplier, changes } = keepTerm(work, id, input);
  work.record('item', id, `set the terms of ${supplier} for ${itemFacts(work, id).code}`, changes);
}

/** Drops terms. */
export function dropTerm(work: Work, id: number, termId: number): void {
  const term = orNotFound(termOfItem.one(work, { id: termId, itemId: id }), 'supplier’s terms');
  const { name } = fetchSupplier(work, term.supplierId);
  dropRows(work, termBreak, { termId });
  dropRow(work, supplierTerm, termId);
  work.record('item', id, `dropped the terms of ${name} for ${itemFacts(work, id).code}`);
}

/** Terms that hold today, with prices in the books' currency; the preferred supplier's first, then the cheapest. */
export interface BuyingTerms extends Offer {
  readonly supplierId: number;
  readonly supplier: string;
  readonly minimum: number;
  readonly multiple: number;
}

const breaksWithTerms = (db: Database, where?: SQL) =>
  db
    .select({ termId: termBreak.termId, from: termBreak.from, price: termBreak.price })
    .from(termBreak)
    .innerJoin(supplierTerm, eq(supplierTerm.id, termBreak.termId))
    .where(where)
    .orderBy(termBreak.from);
const allBreaks = query(() => (db) => breaksWithTerms(db));
const breaksOfItem = query(($: { itemId: number }) => (db) => breaksWithTerms(db, eq(supplierTerm.itemId, $.itemId)));
const termsOfActive = (db: Database, where?: SQL) =>
  db
    .select({
      id: supplierTerm.id,
      itemId: supplierTerm.itemId,
      supplierId: supplierTerm.supplierId,
      supplier: supplier.name,
      price: supplierTerm.price,
      currency: supplierTerm.currency,
      discount: supplierTerm.discount,
      leadDays: supplierTerm.leadDays,
      minimum: supplierTerm.minimum,
      multiple: supplierTerm.multiple,
      preferred: supplierTerm.preferred,
      validFrom: BEGINS,
      validTo: supplierTerm.validTo,
    })
    .from(supplierTerm)
    .innerJoin(supplier, and(eq(supplier.id, supplierTerm.supplierId), eq(supplier.active, true)))
    .where(where)
    .orderBy(supplierTerm.itemId, desc(supplierTerm.preferred), supplierTerm.price, desc(supplierTerm.validFrom));
const activeTerms = query(() => (db) => termsOfActive(db));
const activeTermsOfItem = query(($: { itemId: number }) => (db) => termsOfActive(db, eq(supplierTerm.itemId, $.itemId)));

const foreignCurrencies = query(
  ($: { books: string }) => (db) =>
    db
      .selectDistinct({ code: supplierTerm.currency })
      .from(supplierTerm)
      .innerJoin(supplier, and(eq(supplier.id, supplierTerm.supplierId), eq(supplier.active, true)))
      .where(ne(supplierTerm.currency, $.books))
      .orderBy(supplierTerm.currency),
);

/** Currencies that suppliers ask for and that have no exchange rate today: what is asked in them can't be compared. */
export function currenciesWithoutRate(work: Work): string[] {
  return foreignCurrencies
    .all(work, { books: booksCurrency(work) })
    .map(({ code }) => code)
    .filter((code) => rateOn(work, code, work.today) === null);
}

/**
 * The terms that hold today of all items, or of one, by item; those of suppliers that are given up are not among them, nor those
 * in a currency that has no exchange rate yet: see {@link currenciesWithoutRate}.
 */
export function validTerms(work: Work, itemId: number | null = null): Map<number, BuyingTerms[]> {
  const breaksOfTerm = new Map<number, Break[]>();
  for (const { termId, ...each } of itemId === null ? allBreaks.all(work) : breaksOfItem.all(work, { itemId })) {
    const list = breaksOfTerm.get(termId) ?? [];
    list.push(each);
    breaksOfTerm.set(termId, list);
  }
  const books = booksCurrency(work);
  const unpriced = new Set(currenciesWithoutRate(work));
  const found = new Map<number, BuyingTerms[]>();
  for (const row of itemId === null ? activeTerms.all(work) : activeTermsOfItem.all(work, { itemId })) {
    if (!holdsOn(row, work.today) || unpriced.has(row.currency)) continue;
    const term = { ...row, breaks: breaksOfTerm.get(row.id) ?? [] };
    const list = found.get(row.itemId) ?? [];
    if (list.some((each) => each.supplierId === row.supplierId)) continue;
    const inBooks = (quantity: Quantity): UnitPrice => {
      const price = buyingPrice(term, quantity);
      return term.currency === books ? price : toBooks(price, rateOf(work, term.currency, work.today));
    };
    list.push({
      supplierId: row.supplierId,
      supplier: row.supplier,
      preferred: term.preferred,
      leadDays: row.leadDays,
      minimum: row.minimum,
      multiple: row.multiple,
      prices: [{ from: 0, price: inBooks(asQuantity(0)) }, ...term.breaks.map((each) => ({ from: each.from, price: inBooks(each.from) }))],
    });
    found.set(row.itemId, list);
  }
  return found;
}

const soldBy = query(
  ($: { supplierId: number }) => (db) =>
    db
      .select({ id: item.id, code: item.code, preferred: flag(sql`max(${supplierTerm.preferred})`) })
      .from(supplierTerm)
      .innerJoin(item, eq(item.id, supplierTerm.itemId))
      .where(eq(supplierTerm.supplierId, $.supplierId))
      .groupBy(item.id)
      .orderBy(item.code),
);
const preferNone = command(
  ($: { itemId: number }) => (db) =>
    db
      .update(supplierTerm)
      .set({ preferred: false, version: plus(supplierTerm.version, 1) })
      .where(and(eq(supplierTerm.itemId, $.itemId), eq(supplierTerm.preferred, true))),
);
const prefer = command(
  ($: { itemId: number; supplierId: number }) => (db) =>
    db
      .update(supplierTerm)
      .set({ preferred: true, version: plus(supplierTerm.version, 1) })
      .where(and(eq(supplierTerm.itemId, $.itemId), eq(supplierTerm.supplierId, $.supplierId))),
);

/**
 * Gives a supplier up: no new order may name them, and where another's terms hold these are preferred from now on, the
 * cheapest of several. Answers the items that nobody sells any more.
 */
export function giveUpSupplier(work: Work, supplierId: number, reason: string): { readonly id: number; readonly code: string }[] {
  const seller = fetchSupplier(work, supplierId);
  if (!seller.active) throw new Refusal('inactiveSupplier', `${seller.name} is given up already.`);
  const sold = soldBy.all(work, { supplierId });
  changeRow(work, supplier, supplierId, { active: false });
  work.record('supplier', supplierId, `gave up ${seller.name}: ${reason}`);
  return sold.filter(({ id, code, preferred }) => {
    const [next] = validTerms(work, id).get(id) ?? [];
    if (!next) return true;
    if (preferred && !next.preferred) {
      preferNone.run(work, { itemId: id });
      prefer.run(work, { itemId: id, supplierId: next.supplierId });
      work.record('item', id, `buys ${code} from ${next.supplier} now`);
    }
    return false;
  });
}
