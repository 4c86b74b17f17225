/** Which record stands beside a list: the one that the address names, until somebody points at another. */
import { effect, signal, untracked, type Signal } from '@angular/core';

export interface Named {
  /** 0 for none. */
  readonly chosen: Signal<number>;
  /** What the list points at; it points at its first row by itself, which counts only where the address names none. */
  readonly point: (id: number) => void;
}

export function namedOrPointed(address: () => string | undefined): Named {
  const chosen = signal(0);
  let named = false;
  effect(() => {
    const id = Number(address() ?? 0);
    untracked(() => {
      named = id !== 0;
      chosen.set(id);
    });
  });
  return {
    chosen,
    point: (id) => {
      if (!named) chosen.set(id);
      named = false;
    },
  };
}
