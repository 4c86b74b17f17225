/** Suppliers' terms for items. */
import type { api } from '@terrace/contract';
import type { BodyOf, ItemView } from '@terrace/contract';
import {
  Refusal,
  asPrice,
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
import { atField, orNotFound, type Change, type Work } from '../platform/work';
import { readPoints } from './given';
import { readUnitChoice, packsOf } from './item-parts';
import { itemFacts } from './item-facts';
import { booksCurrency, rateOf } from './rates';

interface TermRecord extends Omit<SupplierTerm, 'preferred'> {
  readonly id: number;
  readonly supplier: string;
  readonly supplierItemCode: string;
  readonly supplierDescription: string;
  readonly buyUnit: string | null;
  readonly leadDays: number;
  readonly minimum: number;
  readonly multiple: number;
  readonly preferred: boolean;
  readonly version: number;
}

const TERMS = `select t.id, t.supplier_id as supplierId, s.name as supplier, t.supplier_item_code as supplierItemCode, t.supplier_description as supplierDescription, t.price, t.currency,
    t.discount, t.buy_unit as buyUnit, t.lead_days as leadDays, t.minimum, t.multiple, t.preferred, nullif(t.valid_from, '') as validFrom, t.valid_to as validTo, t.version
  from supplier_term t join supplier s on s.id = t.supplier_id where t.item_id = ? order by t.preferred desc, t.price, t.valid_from desc`;

function recordsOf(work: Work, itemId: number): TermRecord[] {
  return work.rows<Omit<TermRecord, 'preferred' | 'breaks'> & { preferred: number }>(TERMS, itemId).map((each) => ({
    ...each,
    preferred: each.preferred === 1,
    breaks: work
      .rows<{ from: number; price: number }>(
        'select from_quantity as "from", price from term_break where term_id = ? order by from_quantity',
        each.id,
      )
      .map((one): Break => ({ from: asQuantity(one.from), price: asPrice(one.price) })),
  }));
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

/** Keeps terms and says what changed; at most one supplier of an item is preferred. Refuses `periodTaken`, `badPeriod` and figures that the unit can't hold. */
export function keepTerm(work: Work, id: number, input: Input): { readonly added: boolean; readonly changes: Change[]; readonly supplier: string } {
  const { decimals, unit } = itemFacts(work, id);
  const supplier = orNotFound(
    work.row<{ name: string; leadDays: number | null }>('select name, lead_days as leadDays from supplier where id = ?', input.supplierId),
    'supplier',
  );
  const from = input.validFrom ?? '';
  if (input.validTo !== null && input.validTo < from)
    throw new Refusal('badPeriod', `Terms that begin on ${from} can't end on ${input.validTo}.`, { field: 'validTo' });
  const atStart = work.row<{ id: number }>(
    'select id from supplier_term where item_id = ? and supplier_id = ? and valid_from = ?',
    id,
    input.supplierId,
    from,
  );
  const changing = input.id ?? atStart?.id;
  const before =
    changing === undefined
      ? undefined
      : work.row<{ id: number; version: number }>('select * from supplier_term where id = ? and item_id = ?', changing, id);
  if (input.id !== undefined) {
    orNotFound(before, 'supplier’s terms');
    if (input.version !== undefined && before && before.version !== input.version)
      throw new Refusal('staleVersion', `The terms of ${supplier.name} were changed meanwhile: load the item again and repeat what you wanted.`, {
        current: before.version,
      });
    if (atStart && atStart.id !== input.id)
      throw new Refusal('periodTaken', `${supplier.name} has terms that begin on that day already: change those.`, { field: 'validFrom' });
  }
  const leadDays = input.leadDays ?? supplier.leadDays;
  if (leadDays === null)
    throw new Refusal('noLeadTime', `Say how many working days ${supplier.name} takes: without them the plan would order everything for today.`, {
      field: 'leadDays',
    });
  const figure = (field: 'minimum' | 'multiple'): number =>
    atField(field, () => {
      const quantity = parseQuantity(input[field], decimals, `the ${field}`);
      if (quantity < 0) throw new Refusal('negative', `The ${field} can't be below 0.`);
      return quantity;
    });
  if (input.currency !== booksCurrency(work)) atField('currency', () => rateOf(work, input.currency, work.today));
  const codes = [unit, ...packsOf(work, id).map((pack) => pack.code)];
  const values = [
    input.supplierId,
    input.supplierItemCode,
    input.supplierDescription,
    atField('price', () => parseAskedPrice(input.price)),
    input.currency,
    atField('discount', () => readPoints(input.discount, 'A discount')),
    atField('buyUnit', () => readUnitChoice(input.buyUnit, codes, unit)),
    leadDays,
    figure('minimum'),
    figure('multiple'),
    input.preferred ? 1 : 0,
    from,
    input.validTo,
  ];
  const breaksBefore = before ? breaksText(work, before.id) : '';
  const names =
    'supplier_id, supplier_item_code, supplier_description, price, currency, discount, buy_unit, lead_days, minimum, multiple, preferred, valid_from, valid_to';
  const term = before
    ? before.id
    : work.run(
        `insert into supplier_term (item_id, ${names}) values (?, ${names
          .split(',')
          .map(() => '?')
          .join(', ')})`,
        id,
        ...values,
      ).id;
  if (before)
    work.run(
      `update supplier_term set ${names
        .split(',')
        .map((each) => `${each} = ?`)
        .join(', ')} where id = ?`,
      ...values,
      term,
    );
  if (before || input.breaks.length > 0) {
    work.run('delete from term_break where term_id = ?', term);
    input.breaks.forEach((each, index) => {
      const quantity = atField(`breaks.${index}.from`, () => parsePositiveQuantity(each.from, decimals, 'the quantity of a break'));
      const price = atField(`breaks.${index}.price`, () => parseAskedPrice(each.price));
      const { changes } = work.run('insert or ignore into term_break (term_id, from_quantity, price) values (?, ?, ?)', term, quantity, price);
      if (changes === 0) throw new Refusal('sameBreak', `There are two prices from ${each.from} on: keep one.`, { field: `breaks.${index}.from` });
    });
  }
  if (input.preferred)
    work.run('update supplier_term set preferred = 0 where item_id = ? and supplier_id <> ? and preferred = 1', id, input.supplierId);
  if (!before) return { added: true, changes: [], supplier: supplier.name };
  const after = work.row<Record<string, unknown>>('select * from supplier_term where id = ?', term) ?? {};
  const changes = Object.entries(after).flatMap(([field, to]) => {
    const was = (before as unknown as Record<string, unknown>)[field];
    return was === to || field === 'version' ? [] : [{ field, from: wordsOf(field, was), to: wordsOf(field, to) }];
  });
  const breaksAfter = breaksText(work, term);
  if (breaksAfter !== breaksBefore) changes.push({ field: 'breaks', from: breaksBefore, to: breaksAfter });
  if (changes.length > 0) work.run('update supplier_term set version = version + 1 where id = ?', term);
  return { added: false, changes, supplier: supplier.name };
}

function breaksText(work: Work, term: number): string {
  return work
    .rows<{ from: number; price: number }>('select from_quantity as "from", price from term_break where term_id = ? order by from_quantity', term)
    .map((each) => `from ${writeQuantity(each.from)}: ${writePrice(each.price)}`)
    .join('; ');
}

function wordsOf(field: string, value: unknown): string {
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
  const term = orNotFound(
    work.row<{ name: string }>(
      'select s.name from supplier_term t join supplier s on s.id = t.supplier_id where t.id = ? and t.item_id = ?',
      termId,
      id,
    ),
    'supplier’s terms',
  );
  work.run('delete from term_break where term_id = ?', termId);
  work.run('delete from supplier_term where id = ?', termId);
  work.record('item', id, `dropped the terms of ${term.name} for ${itemFacts(work, id).code}`);
}

/** Terms that hold today, with prices in the books' currency; the preferred supplier's first, then the cheapest. */
export interface BuyingTerms extends Offer {
  readonly supplierId: number;
  readonly supplier: string;
  readonly minimum: number;
  readonly multiple: number;
}

/** The terms that hold today of all items, or of one, by item; those of suppliers that are given up are not among them. */
export function validTerms(work: Work, itemId: number | null = null): Map<number, BuyingTerms[]> {
  const breaks = new Map<number, Break[]>();
  const only = itemId === null ? '' : 'where t.item_id = ?';
  const values = itemId === null ? [] : [itemId];
  for (const each of work.rows<{ termId: number; from: number; price: number }>(
    `select b.term_id as termId, b.from_quantity as "from", b.price from term_break b join supplier_term t on t.id = b.term_id ${only} order by b.from_quantity`,
    ...values,
  )) {
    const list = breaks.get(each.termId) ?? [];
    list.push({ from: asQuantity(each.from), price: asPrice(each.price) });
    breaks.set(each.termId, list);
  }
  const books = booksCurrency(work);
  const found = new Map<number, BuyingTerms[]>();
  const rows = work.rows<Omit<TermRecord, 'preferred' | 'breaks'> & { itemId: number; preferred: number }>(
    `select t.id, t.item_id as itemId, t.supplier_id as supplierId, s.name as supplier, t.price, t.currency, t.discount, t.lead_days as leadDays, t.minimum, t.multiple, t.preferred,
       nullif(t.valid_from, '') as validFrom, t.valid_to as validTo
     from supplier_term t join supplier s on s.id = t.supplier_id and s.active = 1 ${only} order by t.item_id, t.preferred desc, t.price, t.valid_from desc`,
    ...values,
  );
  for (const row of rows) {
    if (!holdsOn(row, work.today)) continue;
    const term = { ...row, breaks: breaks.get(row.id) ?? [], preferred: row.preferred === 1 };
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

/**
 * Gives a supplier up: no new order may name them, and where another's terms hold these are preferred from now on, the
 * cheapest of several. Answers the items that nobody sells any more.
 */
export function giveUpSupplier(work: Work, supplierId: number, reason: string): { readonly id: number; readonly code: string }[] {
  const supplier = orNotFound(work.row<{ name: string; active: number }>('select name, active from supplier where id = ?', supplierId), 'supplier');
  if (supplier.active === 0) throw new Refusal('inactiveSupplier', `${supplier.name} is given up already.`);
  const sold = work.rows<{ id: number; code: string; preferred: number }>(
    'select i.id, i.code, max(t.preferred) as preferred from supplier_term t join item i on i.id = t.item_id where t.supplier_id = ? group by i.id order by i.code',
    supplierId,
  );
  work.run('update supplier set active = 0, version = version + 1 where id = ?', supplierId);
  work.record('supplier', supplierId, `gave up ${supplier.name}: ${reason}`);
  return sold.filter(({ id, code, preferred }) => {
    const [next] = validTerms(work, id).get(id) ?? [];
    if (!next) return true;
    if (preferred === 1 && !next.preferred) {
      work.run('update supplier_term set preferred = 0, version = version + 1 where item_id = ? and preferred = 1', id);
      work.run('update supplier_term set preferred = 1, version = version + 1 where item_id = ? and supplier_id = ?', id, next.supplierId);
      work.record('item', id, `buys ${code} from ${next.supplier} now`);
    }
    return false;
  });
}
