/**
 * Kinds of documents and records: each room says of its own what the platform must know, and nothing central lists them
 * by hand. The trail, the finder, links, numbers and the check read what the rooms have said.
 */
import type { DocumentKind } from '@terrace/contract';
import { desc, eq, type SQL } from 'drizzle-orm';
import type { SQLiteColumn, SQLiteTable } from 'drizzle-orm/sqlite-core';
import { inner, named } from './expressions';
import { asNumber, asText, list, listRows, type List } from './list';
import type { DocumentPaper } from './paper';
import { query, type Query } from './query';
import type { Work } from './work';

type Expression = SQLiteColumn | SQL | SQL.Aliased;

/** What is said of a document wherever one is named. */
export interface DocumentFacts {
  readonly id: number;
  readonly number: string;
  readonly state: string | null;
  readonly date: string | null;
  readonly detail: string;
}

export interface DocumentSpec {
  readonly kind: DocumentKind;
  /** Its own table. */
  readonly table: SQLiteTable & { readonly id: SQLiteColumn };
  /** What its numbers begin with; none where people name it. */
  readonly prefix: string | null;
  /** Which of them took a number of their own, where not all did: parts of a document have its number and one more. */
  readonly ownNumber?: SQL;
  /** Numbers of another kind that some of them took. */
  readonly alsoNumbered?: readonly { readonly prefix: string; readonly which: SQL }[];
  readonly facts: Readonly<Record<'number' | 'state' | 'date' | 'detail', Expression>>;
  /** Tables that the facts are taken from besides its own. */
  readonly joins?: readonly { readonly table: SQLiteTable; readonly on: SQL }[];
  /** The paper that is printed of it, and who may see that. */
  readonly paper?: DocumentPaper;
  /** Its place among what the finder looks through; none where it is not looked for. */
  readonly found?: number;
}

interface Collected {
  readonly spec: DocumentSpec;
  readonly numbered: Query<{ number: string }, { id: number }>;
  readonly one: Query<{ id: number }, DocumentFacts>;
  readonly all: List<Record<never, never>>;
}

const collected = new Map<DocumentKind, Collected>();

/** Collects what a room says of its kinds; once per process. */
export function collectDocuments(specs: readonly DocumentSpec[]): void {
  for (const spec of specs)
    if (!collected.has(spec.kind)) collected.set(spec.kind, { spec, numbered: numberedOf(spec), one: factsOfOne(spec), all: factsOfAll(spec) });
}

/** All kinds that have been said. */
export function documentSpecs(): DocumentSpec[] {
  return [...collected.values()].map((each) => each.spec);
}

/** The paper of a kind; none where it has none, or is no kind. */
export function paperOfKind(kind: string): DocumentPaper | undefined {
  return documentSpecs().find((spec) => spec.kind === kind)?.paper;
}

function selected({ table, facts, joins = [] }: DocumentSpec) {
  const { number, state, date, detail } = facts;
  let built = inner
    .select({
      id: named(table.id, 'id'),
      number: named(number, 'number'),
      state: named(state, 'state'),
      date: named(date, 'date'),
      detail: named(detail, 'detail'),
    })
    .from(table as SQLiteTable)
    .$dynamic();
  for (const join of joins) built = built.innerJoin(join.table, join.on);
  return built;
}

function factsOfOne(spec: DocumentSpec): Query<{ id: number }, DocumentFacts> {
  return query(($: { id: number }) => (db) => {
    const { number, state, date, detail } = spec.facts;
    let built = db
      .select({ id: spec.table.id, number: number as SQL<string>, state: state as SQL, date: date as SQL, detail: detail as SQL })
      .from(spec.table as SQLiteTable)
      .$dynamic();
    for (const join of spec.joins ?? []) built = built.innerJoin(join.table, join.on);
    return built.where(eq(spec.table.id, $.id));
  }) as unknown as Query<{ id: number }, DocumentFacts>;
}

function numberedOf({ table, facts }: DocumentSpec): Query<{ number: string }, { id: number }> {
  return query(
    ($: { number: string }) => (db) =>
      db
        .select({ id: table.id as unknown as SQL<number> })
        .from(table as SQLiteTable)
        .where(eq(facts.number as SQLiteColumn, $.number)),
  );
}

function factsOfAll(spec: DocumentSpec): List<Record<never, never>> {
  return list(() => {
    const document = selected(spec).as('document');
    const { id, number, state, date, detail } = document;
    return {
      columns: { id: asNumber(id), number: asText(number), state: asText(state), date: asText(date), detail: asText(detail) },
      from: document,
      find: [number, detail],
      order: [],
      tie: [desc(id)],
    };
  });
}

/** A document's facts, or `undefined` where there is none. */
export function documentFacts(work: Work, kind: DocumentKind, id: number): DocumentFacts | undefined {
  return collected.get(kind)?.one.one(work, { id });
}

/**
 * The document that has a number, of these kinds or of any that Terrace numbers. Companies number as they like, and have
 * numbered otherwise before: what a number looks like says nothing, and no two kinds have ever had the same beginning.
 */
export function documentNumbered(
  work: Work,
  number: string,
  kinds?: readonly DocumentKind[],
): { readonly kind: DocumentKind; readonly id: number } | undefined {
  for (const { spec, numbered } of collected.values()) {
    if (spec.prefix === null || (kinds && !kinds.includes(spec.kind))) continue;
    const found = numbered.one(work, { number });
    if (found) return { kind: spec.kind, id: found.id };
  }
  return undefined;
}

/** Documents whose number or description has all the words; the newest first. */
export function findDocuments(work: Work, kind: DocumentKind, words: readonly string[], most: number): DocumentFacts[] {
  const all = collected.get(kind)?.all;
  return all ? listRows<DocumentFacts>(work, all, { find: words.join(' '), offset: 0, limit: most }) : [];
}
