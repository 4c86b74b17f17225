/**
 * Kinds of documents and records as screens speak of them. Each room says of its own in `documents.ts` what people call
 * them, where they are shown and how far their states go; `app/documents.ts` collects what the rooms say.
 */
import type { DocumentKind } from '@terrace/contract';

/** A state in words and how far a document has gone, from 0 to 4 steps. */
export interface StateWords {
  readonly words: string;
  readonly steps: number;
  readonly ended?: boolean;
}

export interface DocumentWords {
  readonly kind: DocumentKind;
  /** What people call one. */
  readonly words: string;
  /** Where one is shown, before its id; `null` where another's page shows it. */
  readonly page: string | null;
}

export interface RoomDocuments {
  readonly kinds: readonly DocumentWords[];
  /** Of its documents and of what it keeps; a state that several rooms have means the same in all. */
  readonly states: Readonly<Record<string, StateWords>>;
}

const kinds = new Map<string, DocumentWords>();
const states = new Map<string, StateWords>();

/** Collects what the rooms say. Throws where two say the same otherwise. */
export function collectDocuments(rooms: readonly RoomDocuments[]): void {
  for (const room of rooms) {
    for (const each of room.kinds) {
      if (kinds.has(each.kind) && kinds.get(each.kind) !== each) throw new RangeError(`two rooms say what a ${each.kind} is`);
      kinds.set(each.kind, each);
    }
    for (const [state, said] of Object.entries(room.states)) {
      const known = states.get(state);
      if (known && (known.words !== said.words || known.steps !== said.steps)) throw new RangeError(`two rooms say otherwise what "${state}" is`);
      states.set(state, said);
    }
  }
}

export function stateWords(state: string): StateWords {
  return states.get(state) ?? { words: state, steps: 0 };
}

export function kindWords(kind: string): string {
  return kinds.get(kind)?.words ?? kind;
}

/** The page of a document, or `null` where it is shown on another's. */
export function pageOf(kind: string, id: number): string | null {
  const page = kinds.get(kind)?.page;
  return page === undefined || page === null ? null : `${page}/${id}`;
}

/** States that documents of every room have. */
export const DRAFT: Readonly<Record<'draft', StateWords>> = { draft: { words: 'draft', steps: 0 } };
export const ENDED: Readonly<Record<'cancelled' | 'reversed', StateWords>> = {
  cancelled: { words: 'cancelled', steps: 0, ended: true },
  reversed: { words: 'taken back', steps: 0, ended: true },
};
