/** Items that may be the same thing under another code: looked for before one is saved. */
import type { api } from '@terrace/contract';
import type { AnswerOf, QueryOf } from '@terrace/contract';
import { likeness, nearlySame, plainWords } from '@terrace/core';
import { eq } from 'drizzle-orm';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { supplierTerm } from './party-schema';
import { item, itemBarcode } from './schema';
import { itemsWithWords } from './word-index';

type Like = AnswerOf<typeof api.catalogue.likeItems>[number];

const ROW = { id: item.id, code: item.code, description: item.description, group: item.groupCode, active: item.active };
const withBarcode = query(
  ($: { barcode: string }) => (db) =>
    db.select(ROW).from(itemBarcode).innerJoin(item, eq(item.id, itemBarcode.itemId)).where(eq(itemBarcode.barcode, $.barcode)),
);
const calledBySupplier = query(
  ($: { code: string }) => (db) =>
    db.selectDistinct(ROW).from(supplierTerm).innerJoin(item, eq(item.id, supplierTerm.itemId)).where(eq(supplierTerm.supplierItemCode, $.code)),
);
/** Candidates that share a word; those that share most of them are the ones compared by trigrams. */
const MOST_CANDIDATES = 3000;
const sharingWords = query(($: { words: string }) => (db) => {
  const found = itemsWithWords($.words, MOST_CANDIDATES);
  return db.select(ROW).from(found).innerJoin(item, eq(item.id, found.id));
});
const MOST = 8;

type Row = Omit<Like, 'why'>;

/** Items with the same barcode, the same supplier's code, or nearly the same description, likeliest first. */
export function likeItems(work: Work, asked: QueryOf<typeof api.catalogue.likeItems>): Like[] {
  const found = new Map<number, Like>();
  const add = (rows: readonly Row[], why: (row: Row) => string): void => {
    for (const row of rows) if (row.id !== asked.except && !found.has(row.id)) found.set(row.id, { ...row, why: why(row) });
  };
  for (const barcode of asked.barcodes.split(/\s+/).filter(Boolean)) add(withBarcode.all(work, { barcode }), () => `has the barcode ${barcode}`);
  const supplierCode = asked.supplierCode.trim();
  if (supplierCode !== '') add(calledBySupplier.all(work, { code: supplierCode }), () => `is what a supplier calls ${supplierCode}`);
  const words = plainWords(asked.description).filter((word) => word.length > 2);
  if (words.length > 0) {
    // A word spelt a little differently is left out by one of the pairs only.
    const pairs =
      words.length < 3
        ? words.map((word) => `"${word.slice(0, Math.max(3, word.length - 2))}"*`)
        : words.flatMap((a, index) => words.slice(index + 1).map((b) => `("${a}"* AND "${b}"*)`));
    const near = sharingWords.all(work, { words: pairs.slice(0, 30).join(' OR ') }).filter((row) => nearlySame(row.description, asked.description));
    near.sort((a, b) => likeness(b.description, asked.description) - likeness(a.description, asked.description));
    add(near, () => 'has nearly the same description');
  }
  return [...found.values()].slice(0, MOST);
}
