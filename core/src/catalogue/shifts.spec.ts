import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readShifts, writeShifts, type Shift } from '..';

describe('shifts', () => {
  it('are read one a line: days, ranges of days, and nights that end on the next day', () => {
    expect(readShifts('Early Mon-Fri 6:00-14:00\n\n  Late shift Mon,Wed-Fri 14:00 – 22:00 \nNight Sun-Thu 22:00-06:00')).toEqual([
      { name: 'Early', days: [1, 2, 3, 4, 5], from: '06:00', to: '14:00' },
      { name: 'Late shift', days: [1, 3, 4, 5], from: '14:00', to: '22:00' },
      { name: 'Night', days: [1, 2, 3, 4, 7], from: '22:00', to: '06:00' },
    ]);
  });

  it.each([
    ['Early', /is no shift/],
    ['Early Mon-Fry 06:00-14:00', /“Fry” is no day/],
    ['Early Mon-Fri 06:00-24:30', /24:30 is no time/],
    ['Early Mon-Fri 06:00-14:00\nLate Fri 13:00-20:00', /Early and Late overlap/],
    ['Night Sun 22:00-06:00\nEarly Mon 05:00-13:00', /Night and Early overlap/],
  ])('%j is refused in words', (text, words) => {
    expect(() => readShifts(text)).toThrow(words);
  });

  it('come back as they were written', () => {
    const shift = fc.record({
      days: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }).map((days) => days.sort()),
      from: fc.integer({ min: 0, max: 11 }).map((hour) => `${String(hour).padStart(2, '0')}:00`),
    });
    fc.assert(
      fc.property(shift, ({ days, from }) => {
        const shifts: Shift[] = [{ name: 'One', days, from, to: `${String(Number(from.slice(0, 2)) + 8).padStart(2, '0')}:30` }];
        expect(readShifts(writeShifts(shifts))).toEqual(shifts);
      }),
    );
  });
});
