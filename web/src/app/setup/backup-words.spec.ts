import { describe, expect, it } from 'vitest';
import { goodWords, sizeWords } from './backup-words';

describe('backups in words', () => {
  it.each([
    [0, '0 bytes'],
    [999, '999 bytes'],
    [1500, '1.5 KB'],
    [3_460_000, '3.5 MB'],
    [468_000_000, '468 MB'],
    [2_000_000_000_000, '2.0 TB'],
  ])('%s bytes', (bytes, words) => expect(sizeWords(bytes)).toBe(words));

  it('say when the last good one was, and where that is long ago', () => {
    const schedule = { on: true, at: '02:00', keep: 7, folder: 'backups' };
    expect(goodWords({ lastGood: null, old: true, schedule, backups: [] })).toBe('there has never been a good one; made at 02:00 every day');
    const words = goodWords({
      lastGood: '2027-03-01T02:00:07.000Z',
      old: true,
      schedule: { ...schedule, on: false },
      backups: [{ name: 'a', bytes: 1 }],
    });
    expect(words).toContain('which is long ago; not made by themselves, one is kept');
  });
});
