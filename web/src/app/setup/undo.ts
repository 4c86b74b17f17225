/** What was just done in the set-up, and the way back while it is fresh. */
import { signal, type Signal } from '@angular/core';

export interface Undo {
  /** What was done, in words; empty where nothing was. */
  readonly words: Signal<string>;
  /** Whether there is a way back. */
  readonly can: Signal<boolean>;
  /** Says what was done, and how it is taken back. */
  did(words: string, back?: () => void): void;
  /** Takes it back. */
  undo(): void;
}

export function undoable(): Undo {
  const words = signal('');
  const can = signal(false);
  let way: (() => void) | undefined;
  return {
    words: words.asReadonly(),
    can: can.asReadonly(),
    did: (said, back) => {
      words.set(said);
      can.set(back !== undefined);
      way = back;
    },
    undo: () => {
      const back = way;
      way = undefined;
      can.set(false);
      words.set('');
      back?.();
    },
  };
}
