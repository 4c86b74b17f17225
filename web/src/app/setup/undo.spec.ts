import { describe, expect, it } from 'vitest';
import { undoable } from './undo';

describe('what was just done', () => {
  it('is taken back once, by the way of the latest', () => {
    const done: string[] = [];
    const undo = undoable();
    expect([undo.words(), undo.can()]).toEqual(['', false]);
    undo.did('one', () => done.push('one back'));
    undo.did('two', () => done.push('two back'));
    expect([undo.words(), undo.can()]).toEqual(['two', true]);
    undo.undo();
    undo.undo();
    expect([done, undo.words(), undo.can()]).toEqual([['two back'], '', false]);
  });

  it('has no way back where none is said', () => {
    const undo = undoable();
    undo.did('opened');
    expect([undo.words(), undo.can()]).toEqual(['opened', false]);
  });
});
