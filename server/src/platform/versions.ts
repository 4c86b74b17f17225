/** Versions of records: a write names the one that it saw, and is refused where somebody was there before. */
import { and, desc, eq } from 'drizzle-orm';
import type { DocumentKind } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import { query } from './query';
import { history, user } from './schema';
import type { Change, Work } from './work';

const latestChange = query(
  ($: { kind: DocumentKind; id: number }) => (db) =>
    db
      .select({ at: history.at, what: history.what, changes: history.changes, name: user.name })
      .from(history)
      .innerJoin(user, eq(user.id, history.userId))
      .where(and(eq(history.kind, $.kind), eq(history.recordId, $.id)))
      .orderBy(desc(history.id))
      .limit(1),
);

/** Refuses `staleVersion` for a write that saw an older version, saying who changed what since. */
export function assertVersion(work: Work, kind: DocumentKind, record: { id: number; version: number }, seen: number, name: string): void {
  if (record.version === seen) return;
  const latest = latestChange.one(work, { kind, id: record.id });
  const who = latest ? `${latest.name} changed it meanwhile (${latest.what})` : 'it was changed meanwhile';
  throw new Refusal('staleVersion', `${name} is no longer as you saw it: ${who}. Load it again and repeat what you wanted.`, {
    seen,
    current: record.version,
    who: latest?.name,
    what: latest?.what,
    at: latest?.at,
    changes: latest?.changes ?? [],
  });
}

/** Refuses `staleVersion` for a write that saw an older version of what has no history of its own. */
export function assertSeen(record: { readonly version: number } | undefined, seen: number | undefined, name: string): void {
  if (record && record.version !== seen)
    throw new Refusal(
      'staleVersion',
      `${name} ${seen === undefined ? 'is there already' : 'was changed meanwhile'}: load it again and repeat what you wanted.`,
      { current: record.version },
    );
}

/** What changed between two states of a record, for its history. */
export function changesBetween(before: Readonly<Record<string, unknown>>, after: Readonly<Record<string, unknown>>): Change[] {
  return Object.keys(after).flatMap((field) => {
    const [from, to] = [before[field], after[field]].map((value) =>
      value === null || value === undefined ? '' : typeof value === 'string' ? value : JSON.stringify(value),
    );
    return from === to ? [] : [{ field, from: from ?? '', to: to ?? '' }];
  });
}
