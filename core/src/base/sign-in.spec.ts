import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normalLogin, pauseAfter } from './sign-in';

describe('the one form of a name', () => {
  it('is the same however it is typed', () => {
    for (const typed of ['quill', ' quill', 'QUILL', 'quill\u00a0', '\u2003Quill\t', 'ｑｕｉｌｌ', 'qui\uFB04'.replace('\uFB04', 'll')])
      expect(normalLogin(typed)).toBe('quill');
    expect(normalLogin('Ame\u0301lie')).toBe(normalLogin('AM\u00c9LIE'));
    expect(normalLogin('quil1')).not.toBe('quill');
  });

  it('stays as it is when it is taken again', () => {
    fc.assert(fc.property(fc.string({ unit: 'binary' }), (text) => normalLogin(normalLogin(text)) === normalLogin(text)));
  });
});

describe('the pause after tries that failed', () => {
  const rule = { free: 5, firstMs: 1000, longestMs: 300_000 };

  it('begins after the free ones, doubles, and ends at the longest', () => {
    expect([0, 5, 6, 7, 8, 14, 15, 1_000_000].map((failed) => pauseAfter(failed, rule))).toEqual([0, 0, 1000, 2000, 4000, 256_000, 300_000, 300_000]);
  });

  it('never gets shorter with one more', () => {
    fc.assert(
      fc.property(fc.nat(5000), fc.nat(20), fc.integer({ min: 1, max: 5000 }), (failed, free, firstMs) => {
        const given = { free, firstMs, longestMs: 60_000 };
        return pauseAfter(failed + 1, given) >= pauseAfter(failed, given);
      }),
    );
  });
});
