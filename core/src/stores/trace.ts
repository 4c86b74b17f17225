/**
 * Tracing: what something was made from, down to suppliers' lots, and where it went, up to customers. Everything
 * follows from stock moves. Pieces with a lot or serial number are told apart by it; pieces without are taken in the
 * order in which they came, and what rests on that order alone is marked as likely.
 */
import { asQuantity, type Quantity } from '../base';

/** One move over our threshold or through production, as tracing needs it. */
export interface TraceMove {
  readonly id: number;
  readonly item: number;
  /** Lot or serial number; '' where the item has none. */
  readonly piece: string;
  readonly quantity: Quantity;
  readonly direction: 'in' | 'out';
  /** The other side: a supplier or customer, an adjustment, or one report of production. */
  readonly other: { readonly kind: 'supplier' | 'customer' | 'adjustment' | 'completion'; readonly id: number };
}

/** Pieces that belong together: a lot, a serial number, or what came by one move of an item without either. */
export interface Batch {
  readonly key: string;
  readonly item: number;
  readonly piece: string;
}

/** Goods passing from one batch or party to another. */
export interface Passage {
  readonly move: number;
  readonly batch: string;
  readonly direction: 'in' | 'out';
  readonly other: TraceMove['other'];
  readonly quantity: Quantity;
  /** Whether only the order of use says so. */
  readonly likely: boolean;
}

export interface Flow {
  readonly batches: readonly Batch[];
  readonly passages: readonly Passage[];
}

/** The key of a batch of pieces with a lot or serial number. */
export function batchKey(item: number, piece: string): string {
  return `${item}/${piece}`;
}

/** Sorts the moves of one item, in the order in which they were posted, into batches. */
export function flowOf(moves: readonly TraceMove[]): Flow {
  const batches = new Map<string, Batch>();
  const passages: Passage[] = [];
  const queue: { key: string; left: number }[] = [];
  for (const move of moves) {
    const { item, piece, quantity, direction, other } = move;
    const passage = { move: move.id, direction, other };
    if (piece !== '') {
      const key = batchKey(item, piece);
      batches.set(key, { key, item, piece });
      passages.push({ ...passage, batch: key, quantity, likely: false });
    } else if (direction === 'in') {
      const key = `${item}/@${move.id}`;
      batches.set(key, { key, item, piece: '' });
      passages.push({ ...passage, batch: key, quantity, likely: false });
      queue.push({ key, left: quantity });
    } else {
      let left: number = quantity;
      while (left > 0) {
        const [first] = queue;
        if (!first) break;
        const taken = Math.min(left, first.left);
        passages.push({ ...passage, batch: first.key, quantity: asQuantity(taken), likely: queue.length > 1 });
        first.left -= taken;
        left -= taken;
        if (first.left === 0) queue.shift();
      }
    }
  }
  return { batches: [...batches.values()], passages };
}

export interface TraceNode {
  readonly key: string;
  readonly kind: 'batch' | 'supplier' | 'customer' | 'adjustment';
  readonly item: number | null;
  readonly piece: string;
  readonly party: number | null;
  /** Steps from where the tracing began; below zero towards suppliers. */
  readonly level: number;
}

export interface TraceEdge {
  readonly from: string;
  readonly to: string;
  readonly quantity: Quantity;
  readonly likely: boolean;
  /** The first move that shows it. */
  readonly move: number;
  /** What each move that shows it brought of it. */
  readonly parts: readonly { readonly move: number; readonly quantity: Quantity }[];
}

export interface Trace {
  readonly nodes: readonly TraceNode[];
  readonly edges: readonly TraceEdge[];
}

export interface TraceSource {
  /** Passages of a batch. */
  readonly passagesOf: (batch: Batch) => readonly Passage[];
  /** What went into, or came out of, one report of production. */
  readonly sideOf: (completion: number, direction: 'in' | 'out') => readonly { readonly batch: Batch; readonly passage: Passage }[];
}

const MOST_NODES = 5000;

/** Follows a batch both ways. `complete` is false where the picture would have over 5,000 places and was cut there. */
export function traceBatch(start: Batch, source: TraceSource): Trace & { readonly complete: boolean } {
  const nodes = new Map<string, TraceNode>();
  const edges = new Map<string, TraceEdge>();
  const node = (batch: Batch, level: number): boolean => {
    if (nodes.has(batch.key)) return false;
    nodes.set(batch.key, { key: batch.key, kind: 'batch', item: batch.item, piece: batch.piece, party: null, level });
    return nodes.size < MOST_NODES;
  };
  const edge = (from: string, to: string, quantity: Quantity, likely: boolean, move: number): void => {
    const key = `${from}>${to}`;
    const kept = edges.get(key);
    edges.set(key, {
      from,
      to,
      quantity: asQuantity((kept?.quantity ?? 0) + quantity),
      likely: likely || kept?.likely === true,
      move: kept?.move ?? move,
      parts: [...(kept?.parts ?? []), { move, quantity }],
    });
  };
  const party = (passage: Passage, level: number): string => {
    const { kind, id } = passage.other;
    const key = `${kind}:${id}`;
    if (kind !== 'completion' && !nodes.has(key)) nodes.set(key, { key, kind, item: null, piece: '', party: id, level });
    return key;
  };
  const follow = (direction: 'in' | 'out'): void => {
    const step = direction === 'in' ? -1 : 1;
    const waiting: { batch: Batch; level: number }[] = [{ batch: start, level: 0 }];
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const { batch, level } = next;
      for (const passage of source.passagesOf(batch)) {
        if (passage.direction !== direction) continue;
        if (passage.other.kind !== 'completion') {
          const key = party(passage, level + step);
          const [from, to] = direction === 'in' ? [key, batch.key] : [batch.key, key];
          edge(from, to, passage.quantity, passage.likely, passage.move);
          continue;
        }
        // Into production on the way out, out of production on the way in: the other side of the same report.
        for (const { batch: other, passage: there } of source.sideOf(passage.other.id, direction)) {
          const [from, to] = direction === 'in' ? [other.key, batch.key] : [batch.key, other.key];
          const used = direction === 'in' ? there : passage;
          if (!edges.has(`${from}>${to}`) || direction === 'out') edge(from, to, used.quantity, used.likely || passage.likely, used.move);
          if (node(other, level + step)) waiting.push({ batch: other, level: level + step });
        }
      }
    }
  };
  node(start, 0);
  follow('in');
  follow('out');
  return { nodes: [...nodes.values()], edges: [...edges.values()], complete: nodes.size < MOST_NODES };
}
