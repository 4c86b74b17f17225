import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { noticeKinds, type Notice } from '@terrace/contract';
import { gathered } from './gathered-notices';

const now = new Date(2027, 2, 3, 12);
const at = (day: number, hour: number): string => new Date(2027, 2, day, hour).toISOString();
const notice = (id: number, kind: Notice['kind'], more: Partial<Notice> = {}): Notice => ({
  id,
  kind,
  at: at(3, 9),
  text: `${kind} ${id}`,
  link: null,
  read: false,
  ...more,
});

describe('notices in a list', () => {
  it('are gathered where routine ones of a kind came on one day', () => {
    const lines = gathered(
      [notice(9, 'finished'), notice(8, 'lotBlocked'), notice(7, 'finished'), notice(6, 'shipped'), notice(5, 'finished', { at: at(2, 8) })],
      now,
    );
    expect(lines.map(({ words }) => words)).toEqual(['2 completions today', 'lotBlocked 8', 'shipped 6', 'finished 5']);
  });

  it('name the day where it is not today, and are read when all of them are', () => {
    const yesterday = { at: at(2, 8) };
    const [line] = gathered([notice(2, 'arrived', { ...yesterday, read: true }), notice(1, 'arrived', yesterday)], now);
    expect(line).toMatchObject({ words: '2 deliveries arrived on 2 Mar', read: false });
    const [read] = gathered([notice(2, 'arrived', { ...yesterday, read: true }), notice(1, 'arrived', { ...yesterday, read: true })], now);
    expect(read?.read).toBe(true);
  });

  it('lose none and tell none twice, the newest of each line first', () => {
    const any = fc.array(fc.record({ kind: fc.constantFrom(...noticeKinds), day: fc.integer({ min: 1, max: 4 }) }), { maxLength: 30 });
    fc.assert(
      fc.property(any, (given) => {
        const notices = given.map(({ kind, day }, index) => notice(given.length - index, kind, { at: at(day, 9) }));
        const lines = gathered(notices, now);
        const told = lines.flatMap((line) => line.notices.map(({ id }) => id));
        expect([...told].sort((a, b) => b - a)).toEqual(notices.map(({ id }) => id));
        for (const line of lines) expect(new Set(line.notices.map(({ kind }) => kind)).size).toBe(1);
        expect(lines.map((line) => line.notices[0]?.id)).toEqual(lines.map((line) => Math.max(...line.notices.map(({ id }) => id))));
      }),
    );
  });
});
