/** The keys of the screen in hand: each screen adds its own, `?` shows them all. */
import { DestroyRef, Injectable, inject, signal } from '@angular/core';

export interface Key {
  /** As shown: `N`, `Ctrl+Enter`, `Alt+1`. */
  readonly key: string;
  readonly words: string;
  readonly act: () => void;
}

@Injectable({ providedIn: 'root' })
export class Keys {
  private readonly known = signal<readonly Key[]>([]);
  readonly all = this.known.asReadonly();
  /** Keys of the dialogs that are open, the newest last: behind one, nothing else has keys. */
  private readonly dialogs: (readonly Key[])[] = [];

  /** Adds keys for as long as the caller lives. */
  add(keys: readonly Key[], destroyed: DestroyRef): void {
    this.known.update((known) => [...known, ...keys]);
    destroyed.onDestroy(() => this.known.update((known) => known.filter((each) => !keys.includes(each))));
  }

  /** Adds the keys of a dialog: while the caller lives, only these do anything. */
  addAlone(keys: readonly Key[], destroyed: DestroyRef): void {
    this.dialogs.push(keys);
    destroyed.onDestroy(() => this.dialogs.splice(this.dialogs.indexOf(keys), 1));
  }

  /**
   * Does what a key stands for, and says whether it stands for anything; the newest meaning wins. Plain letters are left
   * to fields being typed in.
   */
  press(event: KeyboardEvent): boolean {
    const target = event.target as HTMLElement | null;
    const typing =
      target !== null &&
      (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName)) &&
      (target as HTMLInputElement).type !== 'checkbox';
    const name = nameOf(event);
    if (typing && !name.includes('+') && name !== 'Esc') return false;
    const found = [...(this.dialogs.at(-1) ?? this.known())].reverse().find((each) => each.key === name);
    if (!found) return false;
    event.preventDefault();
    found.act();
    return true;
  }
}

function nameOf(event: KeyboardEvent): string {
  const key =
    event.key === 'Escape'
      ? 'Esc'
      : event.code.startsWith('Digit') && event.altKey
        ? event.code.slice(5)
        : event.key.length === 1
          ? event.key.toUpperCase()
          : event.key;
  return `${event.ctrlKey || event.metaKey ? 'Ctrl+' : ''}${event.altKey ? 'Alt+' : ''}${key}`;
}

/** Adds keys to the screen that calls this in its constructor. */
export function useKeys(keys: readonly Key[]): void {
  inject(Keys).add(keys, inject(DestroyRef));
}
