/**
 * The plan calls a line of a document by its number and its place. Places move up when a line above is removed, so that
 * whoever acts on what was seen acts only while nothing of the document has changed since.
 */
import { Refusal } from '@terrace/core';
import { and, desc, eq, gt } from 'drizzle-orm';
import { documentNumbered } from '../platform/documents';
import { query } from '../platform/query';
import { history, user } from '../platform/schema';
import type { Work } from '../platform/work';

const lastChange = query(
  ($: { kind: typeof history.$inferSelect.kind; id: number; historyId: number }) => (db) =>
    db
      .select({ what: history.what, who: user.name })
      .from(history)
      .innerJoin(user, eq(user.id, history.userId))
      .where(and(eq(history.kind, $.kind), eq(history.recordId, $.id), gt(history.id, $.historyId)))
      .orderBy(desc(history.id))
      .limit(1),
);

/** What was seen of a document, by how the plan calls it or a line of it. */
export interface Seen {
  readonly name: string;
  /** Of what was sent, for the refusal. */
  readonly field: string;
}

/** Refuses `staleVersion` where a document has changed since what was seen was read, naming who changed what. */
export function assertAsSeen(work: Work, seen: readonly Seen[], historyId: number): void {
  for (const { name, field } of seen) {
    const [number = ''] = name.split('/');
    const document = documentNumbered(work, number);
    const change = document && lastChange.one(work, { ...document, historyId });
    if (change)
      throw new Refusal('staleVersion', `${number} has changed since you looked: ${change.who} ${change.what}. Look again and choose anew.`, {
        field,
      });
  }
}
