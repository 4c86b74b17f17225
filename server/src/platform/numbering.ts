/** How documents are numbered: by kind, as the company has it, else as Terrace proposes. */
import { and, eq, ne, or, sql } from 'drizzle-orm';
import { documentNumber, stemOf, type Numbering } from '@terrace/core';
import { plus } from './expressions';
import { query, type Source } from './query';
import { numbering, sequence } from './schema';

/** The first running number where nothing else is said; with the year before it, it begins at 1. */
const FIRST = 1001;

const kept = query(($: { kind: string }) => (db) => db.select().from(numbering).where(eq(numbering.kind, $.kind)));
const others = query(
  ($: { kind: string; prefix: string }) => (db) =>
    db
      .select({ kind: sequence.kind })
      .from(sequence)
      .where(and(ne(sequence.kind, $.kind), or(eq(sequence.prefix, $.prefix), sql`${sequence.prefix} like ${$.prefix} || '-%'`)))
      .limit(1),
);
const nextOf = query(($: { stem: string }) => (db) => db.select({ next: sequence.next }).from(sequence).where(eq(sequence.prefix, $.stem)));
const taken = query(
  ($: { stem: string; kind: string; after: number; first: number }) => (db) =>
    db
      .insert(sequence)
      .values({ prefix: $.stem, kind: $.kind, next: $.after, given: $.first })
      .onConflictDoUpdate({ target: sequence.prefix, set: { next: plus(sequence.next, 1), given: plus(sequence.given, 1) } })
      .returning({ next: sequence.next }),
);

/** How documents of a kind are numbered; a kind goes by the prefix that is proposed for it, such as `INV`. */
export function numberingOf(source: Source, kind: string): Numbering {
  const { prefix = kind, width = 4, byYear = false } = kept.one(source, { kind }) ?? {};
  return { prefix, width, byYear };
}

/** The kind of document that has had a prefix, where that is another than this one. */
export function hadBy(source: Source, kind: string, prefix: string): string | undefined {
  return others.one(source, { kind, prefix })?.kind;
}

const firstOf = ({ byYear }: Numbering): number => (byYear ? 1 : FIRST);

/** The running number that the next document gets. */
export function nextRunning(source: Source, how: Numbering, date: string): number {
  return nextOf.one(source, { stem: stemOf(how, date) })?.next ?? firstOf(how);
}

/** Takes the next number of a kind of document. */
export function takeNumber(source: Source, kind: string, date: string): string {
  const how = numberingOf(source, kind);
  const stem = stemOf(how, date);
  const after = firstOf(how) + 1;
  return documentNumber(stem, (taken.one(source, { stem, kind, after, first: 1 })?.next ?? after) - 1, how.width);
}
