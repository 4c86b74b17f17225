/** Items that may be the same thing under another code: looked for before one is saved. */
import type { api } from '@terrace/contract';
import type { AnswerOf, QueryOf } from '@terrace/contract';
import { likeness, nearlySame, plainWords } from '@terrace/core';
import type { Work } from '../platform/work';

type Like = AnswerOf<typeof api.catalogue.likeItems>[number];

const ROW = 'i.id, i.code, i.description, i.group_code as "group", i.active';
/** Candidates that share a word; those that share most of them are the ones compared by trigrams. */
const CANDIDATES = `select ${ROW} from (select rowid as id from item_words where item_words match ? limit 3000) f join item i on i.id = f.id`;
const MOST = 8;

interface Row extends Omit<Like, 'active' | 'why'> {
  readonly active: number;
}

/** Items with the same barcode, the same supplier's code, or nearly the same description, likeliest first. */
export function likeItems(work: Work, query: QueryOf<typeof api.catalogue.likeItems>): Like[] {
  const found = new Map<number, Like>();
  const add = (rows: readonly Row[], why: (row: Row) => string): void => {
    for (const row of rows) if (row.id !== query.except && !found.has(row.id)) found.set(row.id, { ...row, active: row.active === 1, why: why(row) });
  };
  for (const barcode of query.barcodes.split(/\s+/).filter(Boolean))
    add(
      work.rows<Row>(`select ${ROW} from item_barcode b join item i on i.id = b.item_id where b.barcode = ?`, barcode),
      () => `has the barcode ${barcode}`,
    );
  if (query.supplierCode.trim() !== '')
    add(
      work.rows<Row>(
        `select distinct ${ROW} from supplier_term t join item i on i.id = t.item_id where t.supplier_item_code = ?`,
        query.supplierCode.trim(),
      ),
      () => `is what a supplier calls ${query.supplierCode.trim()}`,
    );
  const words = plainWords(query.description).filter((word) => word.length > 2);
  if (words.length > 0) {
    // A word spelt a little differently is left out by one of the pairs only.
    const pairs =
      words.length < 3
        ? words.map((word) => `"${word.slice(0, Math.max(3, word.length - 2))}"*`)
        : words.flatMap((a, index) => words.slice(index + 1).map((b) => `("${a}"* AND "${b}"*)`));
    const near = work.rows<Row>(CANDIDATES, pairs.slice(0, 30).join(' OR ')).filter((row) => nearlySame(row.description, query.description));
    near.sort((a, b) => likeness(b.description, query.description) - likeness(a.description, query.description));
    add(near, () => 'has nearly the same description');
  }
  return [...found.values()].slice(0, MOST);
}
