import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rebased } from './rebase';

const draft = fc.record({ code: fc.string(), price: fc.string(), packs: fc.array(fc.string()), custom: fc.dictionary(fc.string(), fc.string()) });

describe('a draft on a fresh base', () => {
  it('keeps what was typed and takes the rest', () => {
    const base = { code: 'A', price: '1', packs: [] as string[] };
    expect(rebased(base, { ...base, price: '2' }, { code: 'B', price: '9', packs: ['case'] })).toEqual({ code: 'B', price: '2', packs: ['case'] });
  });
  it('does so with each part of a field that has some', () => {
    const base = { custom: { 1: 'blue', 2: 'oak', 3: 'old' } as Record<number, string> };
    expect(rebased(base, { custom: { 1: 'red', 2: 'oak' } }, { custom: { 1: 'blue', 2: 'ash', 3: 'old', 4: 'new' } })).toEqual({
      custom: { 1: 'red', 2: 'ash', 4: 'new' },
    });
  });
  it('is the fresh one where nothing was typed, and the typed one where nothing was changed', () => {
    fc.assert(
      fc.property(draft, draft, (base, other) => {
        expect(rebased(base, structuredClone(base), other)).toEqual(other);
        expect(rebased(base, other, structuredClone(base))).toEqual(other);
      }),
    );
  });
});
