import { computed, type WritableSignal } from '@angular/core';

/** A signal over what is kept elsewhere, as in a store: reading looks there, writing goes there. */
export function writable<T>(read: () => T, write: (value: T) => void): WritableSignal<T> {
  const signal = computed(read);
  return Object.assign(signal, {
    set: write,
    update: (change: (value: T) => T): void => write(change(signal())),
    asReadonly: () => signal,
  }) as unknown as WritableSignal<T>;
}
