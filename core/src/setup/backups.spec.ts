import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { backupsToDrop, isBackupDue, isBackupOld } from './backups';

const HOUR = 3_600_000;
const MINUTE = 60_000;
const NIGHT = { at: '02:00', keep: 7 };

describe('a backup', () => {
  it.each([
    ['never made', null, 9 * 60, true],
    ['made yesterday at three, at nine', -30, 9 * 60, true],
    ['made this morning at three, at nine', -6, 9 * 60, false],
    ['made yesterday at three, at one in the night', -22, 60, false],
    ['made two days ago, at one in the night', -46, 60, true],
  ])('%s', (_, hoursAgo, minutes, due) => {
    const now = Date.UTC(2027, 2, 1, 12);
    expect(isBackupDue(NIGHT, hoursAgo === null ? null : now + hoursAgo * HOUR, now, minutes)).toBe(due);
  });

  it('is made once a day, whenever it is looked at', () => {
    const begin = Date.UTC(2027, 2, 1);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }), fc.integer({ min: 1, max: 50 }), (hour, minute, step) => {
        const at = `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`;
        let last = begin;
        const made: number[] = [];
        for (let now = begin + MINUTE; now < begin + 5 * 24 * HOUR; now += step * MINUTE)
          if (isBackupDue({ at, keep: 7 }, last, now, ((now - begin) / MINUTE) % 1440)) made.push((last = now));
        expect(made.length).toBeGreaterThanOrEqual(4);
        expect(made.length).toBeLessThanOrEqual(5);
        for (const moment of made) expect(((moment - begin) / MINUTE - (hour * 60 + minute)) % 1440).toBeLessThan(step);
      }),
    );
  });

  it('is old after two days, and where there is none', () => {
    expect([isBackupOld(null, 0), isBackupOld(0, 48 * HOUR), isBackupOld(0, 48 * HOUR + 1)]).toEqual([true, false, true]);
  });

  it('stays while it is among the latest', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.stringMatching(/^terrace-2027[01]\d-\d{6}\.backup$/), { maxLength: 20 }),
        fc.integer({ min: 1, max: 9 }),
        (names, keep) => {
          const dropped = backupsToDrop(names, keep);
          const kept = names.filter((name) => !dropped.includes(name));
          expect(kept).toHaveLength(Math.min(keep, names.length));
          for (const name of dropped) expect(kept.every((each) => each > name)).toBe(true);
        },
      ),
    );
  });
});
