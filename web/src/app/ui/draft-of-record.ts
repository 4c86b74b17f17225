/** What is typed over a record: it begins anew with another version of the record, not whenever the same one is loaded again. */
import { computed, linkedSignal, untracked, type WritableSignal } from '@angular/core';

interface Versioned {
  readonly id: number;
  readonly version: number;
}

export function draftOf<R extends Versioned, T>(record: () => R | null, make: (record: R | null) => T): WritableSignal<T> {
  // A signal of its own, since a source is asked anew with everything it reads: only another text begins anew.
  const version = computed(() => {
    const kept = record();
    return kept === null ? '' : `${kept.id} ${kept.version}`;
  });
  return linkedSignal({ source: version, computation: () => untracked(() => make(record())) });
}
