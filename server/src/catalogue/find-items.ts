/**
 * Finding items by what somebody types or scans: a code or barcode first, then all words in any order, then the same
 * with slips forgiven. What is used often and lately comes first.
 */
import type { ItemChoice } from '@terrace/contract';
import { Refusal, Vocabulary, barcodesOf, plainWords, readElementString, writePrice } from '@terrace/core';
import { and, desc, eq, gte, inArray, lt, ne, sql } from 'drizzle-orm';
import type { Store } from '../platform/database';
import { or0, sameText } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { itemCalledBy } from './customer-items';
import { itemWithBarcode, packsOf } from './item-parts';
import { supplierTerm } from './party-schema';
import { item, itemBarcode, itemUse, unit } from './schema';
import { indexedWords, itemsWithWords } from './word-index';

const MOST = 12;
/** Of very common words only so many are looked at: nobody reads on, and another word narrows them. */
const MOST_RANKED = 400;

interface Known {
  readonly vocabulary: Vocabulary;
  /** How many items the words were read from. */
  items: number;
}
const vocabularies = new WeakMap<Store, Known>();

/** All words of all items, kept in memory; read again when there are more items than before. */
function vocabularyOf(work: Work): Vocabulary {
  const items = highestNumber.one(work)?.n ?? 0;
  let known = vocabularies.get(work.store);
  if (!known) {
    known = { vocabulary: new Vocabulary(), items: -1 };
    vocabularies.set(work.store, known);
  }
  if (known.items !== items) {
    for (const term of indexedWords(work)) known.vocabulary.add(term);
    known.items = items;
  }
  return known.vocabulary;
}

/** Reads the words of all items before the first person mistypes one. */
export function readVocabulary(work: Work): void {
  vocabularyOf(work);
}

const ROW = {
  id: item.id,
  code: item.code,
  description: item.description,
  unit: item.unitCode,
  decimals: unit.decimals,
  sellPrice: item.sellPrice,
  kind: item.kind,
  buyUnit: item.buyUnit,
  sellUnit: item.sellUnit,
};
const USABLE = and(eq(item.active, true), ne(item.kind, 'phantom'));

/** Items whose code, second code, barcode or supplier's code it is. */
const exactly = query(($: { text: string }) => (db) => {
  const named = db
    .select({ id: item.id })
    .from(item)
    .where(sameText(item.code, $.text))
    .union(db.select({ id: item.id }).from(item).where(eq(item.secondCode, $.text)))
    .union(db.select({ id: itemBarcode.itemId }).from(itemBarcode).where(eq(itemBarcode.barcode, $.text)))
    .union(
      db
        .select({ id: supplierTerm.itemId })
        .from(supplierTerm)
        .where(and(eq(supplierTerm.supplierItemCode, $.text), sql`${$.text} <> ''`)),
    );
  return db
    .select(ROW)
    .from(item)
    .innerJoin(unit, eq(unit.code, item.unitCode))
    .where(and(USABLE, inArray(item.id, named)))
    .limit(MOST);
});
const beginningWith = query(
  ($: { from: string; before: string }) => (db) =>
    db
      .select(ROW)
      .from(item)
      .innerJoin(unit, eq(unit.code, item.unitCode))
      .where(and(USABLE, gte(item.code, $.from), lt(item.code, $.before)))
      .orderBy(item.code)
      .limit(MOST),
);
const RECENT_COUNTS = 20;
const havingWords = query(($: { words: string; since: string }) => (db) => {
  const found = itemsWithWords($.words, MOST_RANKED);
  const used = sql`${or0(itemUse.uses)} + case when ${itemUse.last} >= ${$.since} then ${RECENT_COUNTS} else 0 end`;
  return db
    .select(ROW)
    .from(found)
    .innerJoin(item, eq(item.id, found.id))
    .innerJoin(unit, eq(unit.code, item.unitCode))
    .leftJoin(itemUse, eq(itemUse.itemId, item.id))
    .where(USABLE)
    .orderBy(desc(used), sql`length(${item.description})`, item.code)
    .limit(MOST);
});
type FoundRow = ReturnType<typeof exactly.all>[number];
const highestNumber = query(() => (db) => db.select({ n: sql<number>`coalesce(max(${item.id}), 0)` }).from(item));

const RECENT_DAYS = 30;

function recentSince(today: string): string {
  return new Date(Date.parse(today) - RECENT_DAYS * 86_400_000).toISOString().slice(0, 10);
}

/** The words as the index is asked: each whole or as a beginning, and with `meant` also what may have been meant by it. */
function question(words: readonly string[], meant: (word: string) => readonly string[]): string {
  return words
    .map((word) => {
      const forms = [`"${word}"*`, ...meant(word).map((each) => `"${each}"`)];
      return forms.length === 1 ? forms[0] : `(${forms.join(' OR ')})`;
    })
    .join(' AND ');
}

const byNumber = query(
  ($: { id: number }) => (db) =>
    db
      .select(ROW)
      .from(item)
      .innerJoin(unit, eq(unit.code, item.unitCode))
      .where(and(USABLE, eq(item.id, $.id))),
);

/** Rows for a text, best first; what the customer calls so before all. */
function rowsFor(work: Work, text: string, customer: number): FoundRow[] {
  const wanted = text.trim();
  const words = plainWords(wanted);
  const found = new Map<number, FoundRow>();
  const add = (rows: readonly FoundRow[]): void => {
    for (const row of rows) if (found.size < MOST && !found.has(row.id)) found.set(row.id, row);
  };
  const theirs = itemCalledBy(work, customer, wanted);
  if (theirs !== undefined) add(byNumber.all(work, { id: theirs }));
  add(exactly.all(work, { text: wanted }));
  const upper = wanted.toUpperCase();
  if (wanted.length > 1) add(beginningWith.all(work, { from: upper, before: `${upper}\uffff` }));
  if (words.length === 0) return [...found.values()];
  const since = recentSince(work.today);
  if (found.size < MOST) add(havingWords.all(work, { words: question(words, () => []), since }));
  if (found.size === 0) {
    const vocabulary = vocabularyOf(work);
    add(havingWords.all(work, { words: question(words, (word) => vocabulary.meant(word)), since }));
  }
  return [...found.values()];
}

/** The barcode of the item that a scanned element string names; any other text as it is. */
function barcodeWithin(work: Work, text: string): string {
  try {
    const gtin = readElementString(text)?.gtin;
    if (gtin === undefined) return text;
    return barcodesOf(gtin).find((barcode) => itemWithBarcode(work, barcode) !== undefined) ?? text;
  } catch (error) {
    // A broken code names nothing; whoever looks for it as words finds nothing and sees so.
    if (error instanceof Refusal) return text;
    throw error;
  }
}

/** Items for an entry field or the finder; with a customer, by their own numbers too. */
export function findItems(work: Work, text: string, customer = 0): ItemChoice[] {
  if (text.trim() === '') return [];
  const wanted = barcodeWithin(work, text.trim());
  const pack = itemWithBarcode(work, wanted);
  return rowsFor(work, wanted, customer).map((row) => ({
    ...row,
    sellPrice: writePrice(row.sellPrice),
    packs: packsOf(work, row.id),
    scanned: pack?.itemId === row.id ? pack.unit : null,
  }));
}
