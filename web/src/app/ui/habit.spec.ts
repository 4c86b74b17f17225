/** Figures and days by habit: written, and read as they are written. */
import fc from 'fast-check';
import { afterEach, describe, expect, it } from 'vitest';
import { habitNames } from '@terrace/core';
import { grouped, shortDay } from './format';
import { useHabit } from './habit';
import { readTypedDate, readTypedNumber, shownFigure } from './number-and-date-input';

afterEach(() => useHabit('point'));

describe('figures by habit', () => {
  it.each([
    ['point', '1,250', '1250'],
    ['point', '1.250', '1.25'],
    ['comma', '1,250', '1.25'],
    ['comma', '1.250', '1250'],
    ['comma', '1.250,5', '1250.5'],
    ['space', '1 250,5', '1250.5'],
    ['apostrophe', '1’250.5', '1250.5'],
  ] as const)('%s reads %s as %s', (name, typed, text) => {
    useHabit(name);
    expect(readTypedNumber(typed)).toEqual({ text });
  });

  it('are read as they are shown, in fields and in lists, whatever the habit', () => {
    const figure = fc.tuple(fc.boolean(), fc.nat(99_999_999), fc.nat(99_999)).map(([minus, whole, part]) => {
      const fraction = String(part).replace(/0+$/, '');
      return `${minus && whole > 0 ? '-' : ''}${whole}${fraction === '' ? '' : `.${fraction}`}`;
    });
    fc.assert(
      fc.property(fc.constantFrom(...habitNames), figure, (name, text) => {
        useHabit(name);
        expect(readTypedNumber(shownFigure(text))).toEqual({ text });
        expect(readTypedNumber(grouped(text).replace('−', '-'))).toEqual({ text });
      }),
    );
  });

  it('have the month before the day where that is the habit, written and typed', () => {
    useHabit('monthFirst');
    expect(shortDay('2027-03-12')).toBe('Mar 12');
    expect(readTypedDate('3/12/27', '2027-03-01')).toEqual({ text: '2027-03-12' });
    expect(readTypedDate('12.3.27', '2027-03-01')).toEqual({ text: '2027-03-12' });
    useHabit('comma');
    expect(shortDay('2027-03-12')).toBe('12 Mar');
    expect(readTypedDate('12/3/27', '2027-03-01')).toEqual({ text: '2027-03-12' });
  });
});
