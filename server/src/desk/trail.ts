/** Trail and history of a record. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type DocumentKind, type Trail } from '@terrace/contract';
import { and, desc, eq } from 'drizzle-orm';
import { documentFacts } from '../platform/documents';
import { query } from '../platform/query';
import { history, trailLink, user } from '../platform/schema';
import type { Work } from '../platform/work';

const MOST_NODES = 80;
const key = (kind: DocumentKind, id: number): string => `${kind}:${id}`;

const linksFrom = query(
  ($: { kind: DocumentKind; id: number }) => (db) =>
    db
      .select()
      .from(trailLink)
      .where(and(eq(trailLink.fromKind, $.kind), eq(trailLink.fromId, $.id))),
);
const linksTo = query(
  ($: { kind: DocumentKind; id: number }) => (db) =>
    db
      .select()
      .from(trailLink)
      .where(and(eq(trailLink.toKind, $.kind), eq(trailLink.toId, $.id))),
);
const MOST_HISTORY = 200;
const changesOf = query(
  ($: { kind: DocumentKind; id: number }) => (db) =>
    db
      .select({ at: history.at, who: user.name, what: history.what, changes: history.changes })
      .from(history)
      .innerJoin(user, eq(user.id, history.userId))
      .where(and(eq(history.kind, $.kind), eq(history.recordId, $.id)))
      .orderBy(desc(history.id))
      .limit(MOST_HISTORY),
);

/** Everything that led to a document, back to the first, and everything that came from those. */
export function trailOf(work: Work, kind: DocumentKind, id: number): Trail {
  const above = walk(work, [{ kind, id }], 'up');
  const all = walk(work, [...above.values()], 'down', above);
  const nodes = [...all.values()].flatMap((each) => {
    const facts = documentFacts(work, each.kind, each.id);
    return facts ? [{ kind: each.kind, id: each.id, number: facts.number, state: facts.state, date: facts.date, detail: facts.detail }] : [];
  });
  const links = nodes.flatMap((node) =>
    linksFrom
      .all(work, { kind: node.kind, id: node.id })
      .filter((link) => all.has(key(link.toKind, link.toId)))
      .map((link) => ({ from: key(link.fromKind, link.fromId), to: key(link.toKind, link.toId) })),
  );
  return { nodes, links };
}

interface Node {
  readonly kind: DocumentKind;
  readonly id: number;
}

function walk(work: Work, starts: readonly Node[], direction: 'up' | 'down', known: ReadonlyMap<string, Node> = new Map()): Map<string, Node> {
  const seen = new Map(known);
  for (const start of starts) seen.set(key(start.kind, start.id), start);
  const waiting = [...starts];
  for (let node = waiting.shift(); node && seen.size < MOST_NODES; node = waiting.shift()) {
    const links = (direction === 'up' ? linksTo : linksFrom).all(work, { kind: node.kind, id: node.id });
    for (const link of links) {
      const next: Node = direction === 'up' ? { kind: link.fromKind, id: link.fromId } : { kind: link.toKind, id: link.toId };
      if (seen.has(key(next.kind, next.id))) continue;
      seen.set(key(next.kind, next.id), next);
      waiting.push(next);
    }
  }
  return seen;
}

/** Who changed what on a record, newest first. */
export function historyOf(work: Work, kind: DocumentKind, id: number): AnswerOf<typeof api.platform.history> {
  return changesOf.all(work, { kind, id });
}
