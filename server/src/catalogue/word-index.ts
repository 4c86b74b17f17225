/** The index of the words of all items: virtual tables that triggers keep (migration 0002), for which Drizzle has no objects. */
import { sql } from 'drizzle-orm';
import { inner } from '../platform/expressions';
import { query, type Source } from '../platform/query';

/** Items whose words answer a question of the full text index, as many as asked for. */
export function itemsWithWords(question: string, most: number) {
  return inner
    .select({ id: sql<number>`item_words.rowid`.as('found_id') })
    .from(sql`item_words`)
    .where(sql`item_words match ${question}`)
    .limit(most)
    .as('found');
}

const terms = query(() => (db) => db.select({ term: sql<string>`term` }).from(sql`item_vocabulary`));

/** Every word that is in the index. */
export function indexedWords(source: Source): string[] {
  return terms.all(source).map((each) => each.term);
}
