/**
 * Finding items by what somebody types or scans: a code or barcode first, then all words in any order, then the same
 * with slips forgiven. What is used often and lately comes first.
 */
import type { ItemChoice } from '@terrace/contract';
import { Refusal, Vocabulary, barcodesOf, plainWords, readElementString, writePrice } from '@terrace/core';
import type { Store } from '../platform/database';
import type { Work } from '../platform/work';
import { packsOf } from './item-parts';

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
  const items = work.row<{ n: number }>('select coalesce(max(id), 0) as n from item')?.n ?? 0;
  let known = vocabularies.get(work.store);
  if (!known) {
    known = { vocabulary: new Vocabulary(), items: -1 };
    vocabularies.set(work.store, known);
  }
  if (known.items !== items) {
    for (const { term } of work.rows<{ term: string }>('select term from item_vocabulary')) known.vocabulary.add(term);
    known.items = items;
  }
  return known.vocabulary;
}

/** Reads the words of all items before the first person mistypes one. */
export function readVocabulary(work: Work): void {
  vocabularyOf(work);
}

interface FoundRow {
  readonly id: number;
  readonly code: string;
  readonly description: string;
  readonly unit: string;
  readonly decimals: number;
  readonly sellPrice: number;
  readonly kind: string;
  readonly buyUnit: string | null;
  readonly sellUnit: string | null;
}

const ROW =
  'i.id, i.code, i.description, i.unit_code as unit, u.decimals, i.sell_price as sellPrice, i.kind, i.buy_unit as buyUnit, i.sell_unit as sellUnit';
const USABLE = "i.active = 1 and i.kind <> 'phantom'";
const EXACT = `select ${ROW} from item i join unit u on u.code = i.unit_code
  where ${USABLE} and i.id in (select id from item where code = ?1 collate nocase union select id from item where second_code = ?1
    union select item_id from item_barcode where barcode = ?1 union select item_id from supplier_term where supplier_item_code = ?1 and ?1 <> '') limit ${MOST}`;
const BEGINS = `select ${ROW} from item i join unit u on u.code = i.unit_code where ${USABLE} and i.code >= ?1 and i.code < ?2 order by i.code limit ${MOST}`;
const WORDS = `select ${ROW} from (select rowid as id from item_words where item_words match ? limit ${MOST_RANKED}) f join item i on i.id = f.id join unit u on u.code = i.unit_code
  left join item_use p on p.item_id = i.id where ${USABLE} order by coalesce(p.uses, 0) + case when p.last >= ? then 20 else 0 end desc, length(i.description), i.code limit ${MOST}`;

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

/** Rows for a text, best first. */
function rowsFor(work: Work, text: string): FoundRow[] {
  const wanted = text.trim();
  const words = plainWords(wanted);
  const found = new Map<number, FoundRow>();
  const add = (rows: readonly FoundRow[]): void => {
    for (const row of rows) if (found.size < MOST && !found.has(row.id)) found.set(row.id, row);
  };
  add(work.rows<FoundRow>(EXACT, wanted));
  const upper = wanted.toUpperCase();
  if (wanted.length > 1) add(work.rows<FoundRow>(BEGINS, upper, `${upper}\uffff`));
  if (words.length === 0) return [...found.values()];
  const since = recentSince(work.today);
  if (found.size < MOST)
    add(
      work.rows<FoundRow>(
        WORDS,
        question(words, () => []),
        since,
      ),
    );
  if (found.size === 0) {
    const vocabulary = vocabularyOf(work);
    const asked = question(words, (word) => vocabulary.meant(word));
    add(work.rows<FoundRow>(WORDS, asked, since));
  }
  return [...found.values()];
}

/** The barcode of the item that a scanned element string names; any other text as it is. */
function barcodeWithin(work: Work, text: string): string {
  try {
    const gtin = readElementString(text)?.gtin;
    if (gtin === undefined) return text;
    return barcodesOf(gtin).find((barcode) => work.row('select 1 from item_barcode where barcode = ?', barcode) !== undefined) ?? text;
  } catch (error) {
    // A broken code names nothing; whoever looks for it as words finds nothing and sees so.
    if (error instanceof Refusal) return text;
    throw error;
  }
}

/** Items for an entry field or the finder. */
export function findItems(work: Work, text: string): ItemChoice[] {
  if (text.trim() === '') return [];
  const wanted = barcodeWithin(work, text.trim());
  const pack = work.row<{ item: number; unit: string | null }>(
    'select item_id as item, unit_code as unit from item_barcode where barcode = ?',
    wanted,
  );
  return rowsFor(work, wanted).map((row) => ({
    ...row,
    sellPrice: writePrice(row.sellPrice),
    packs: packsOf(work, row.id),
    scanned: pack?.item === row.id ? pack.unit : null,
  }));
}
