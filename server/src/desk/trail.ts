/** Trail and history of a record. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type DocumentKind, type Trail } from '@terrace/contract';
import type { Work } from '../platform/work';
import { documentFacts } from './documents';

const MOST_NODES = 80;
const key = (kind: DocumentKind, id: number): string => `${kind}:${id}`;

interface Link {
  readonly fromKind: DocumentKind;
  readonly fromId: number;
  readonly toKind: DocumentKind;
  readonly toId: number;
}

const LINKS = 'select from_kind as fromKind, from_id as fromId, to_kind as toKind, to_id as toId from trail_link';

/** Everything that led to a document, back to the first, and everything that came from those. */
export function trailOf(work: Work, kind: DocumentKind, id: number): Trail {
  const above = walk(work, [{ kind, id }], 'up');
  const all = walk(work, [...above.values()], 'down', above);
  const nodes = [...all.values()].flatMap((each) => {
    const facts = documentFacts(work, each.kind, each.id);
    return facts ? [{ kind: each.kind, id: each.id, number: facts.number, state: facts.state, date: facts.date, detail: facts.detail }] : [];
  });
  const links = nodes.flatMap((node) =>
    work
      .rows<Link>(`${LINKS} where from_kind = ? and from_id = ?`, node.kind, node.id)
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
    const links = work.rows<Link>(
      `${LINKS} where ${direction === 'up' ? 'to_kind = ? and to_id = ?' : 'from_kind = ? and from_id = ?'}`,
      node.kind,
      node.id,
    );
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
  return work
    .rows<{ at: string; who: string; what: string; changes: string }>(
      'select h.at, u.name as who, h.what, h.changes from history h join user u on u.id = h.user_id where h.kind = ? and h.record_id = ? order by h.id desc limit 200',
      kind,
      id,
    )
    .map((row) => ({ ...row, changes: JSON.parse(row.changes) as { field: string; from: string; to: string }[] }));
}
