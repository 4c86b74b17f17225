import '@angular/compiler';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays } from '@terrace/core';
import { reachedBy } from './month-calendar';

const days = fc.integer({ min: 0, max: 5_000 }).map((after) => addDays('2020-01-01', after));

describe('a key in an open calendar', () => {
  it.each([
    ['ArrowLeft', '2027-03-01', '2027-02-28'],
    ['ArrowRight', '2027-12-31', '2028-01-01'],
    ['ArrowUp', '2027-03-03', '2027-02-24'],
    ['ArrowDown', '2027-03-03', '2027-03-10'],
    ['PageDown', '2027-01-31', '2027-02-28'],
    ['PageDown', '2028-01-31', '2028-02-29'],
    ['PageUp', '2027-01-15', '2026-12-15'],
  ])('%s leads from %s to %s', (key, from, to) => {
    expect(reachedBy(key, from)).toBe(to);
  });

  it('leads nowhere where it is another key', () => {
    expect(reachedBy('Enter', '2027-03-01')).toBeNull();
    expect(reachedBy('7', '2027-03-01')).toBeNull();
  });

  it('is taken back by its opposite; a month on is always in the next month', () => {
    fc.assert(
      fc.property(days, (day) => {
        expect(reachedBy('ArrowUp', reachedBy('ArrowDown', day) ?? '')).toBe(day);
        const month = (of: string): number => Number(of.slice(0, 4)) * 12 + Number(of.slice(5, 7));
        expect(month(reachedBy('PageDown', day) ?? '')).toBe(month(day) + 1);
      }),
    );
  });
});
