import '@angular/compiler';
import type { DestroyRef } from '@angular/core';
import { describe, expect, it } from 'vitest';
import { Keys, type Key } from './keys';

const pressed = (keys: Keys, key: string): boolean =>
  keys.press({ key, code: '', target: null, preventDefault: () => undefined } as unknown as KeyboardEvent);
/** Something that lives until it is told to end. */
function living(): { readonly ref: DestroyRef; readonly end: () => void } {
  const ends: (() => void)[] = [];
  return { ref: { onDestroy: (end: () => void) => ends.push(end) } as unknown as DestroyRef, end: () => ends.forEach((each) => each()) };
}

describe('keys', () => {
  it('mean what the newest screen says, and behind a dialog nothing', () => {
    const keys = new Keys();
    const said: string[] = [];
    const key = (name: string, words: string): Key => ({ key: name, words, act: () => said.push(words) });
    const [screen, dialog, over] = [living(), living(), living()];
    keys.add([key('N', 'new order'), key('Esc', 'back')], screen.ref);
    expect(pressed(keys, 'n')).toBe(true);
    keys.addAlone([key('Esc', 'leave it')], dialog.ref);
    expect(pressed(keys, 'n')).toBe(false);
    pressed(keys, 'Escape');
    keys.addAlone([key('Esc', 'the upper one')], over.ref);
    pressed(keys, 'Escape');
    over.end();
    pressed(keys, 'Escape');
    dialog.end();
    pressed(keys, 'Escape');
    pressed(keys, 'n');
    expect(said).toEqual(['new order', 'leave it', 'the upper one', 'leave it', 'back', 'new order']);
    // What the screen can do is still told while the dialog is open.
    expect(keys.all().map((each) => each.key)).toEqual(['N', 'Esc']);
  });
});
