import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dateOf, writeDecimal } from '@terrace/core';
import { readTypedDate, readTypedNumber } from './number-and-date-input';

const today = '2027-03-01';
const number = (typed: string): string => {
  const read = readTypedNumber(typed, [
    { code: 'case', factor: '12' },
    { code: 'drum', factor: '25.5' },
  ]);
  return 'text' in read ? read.text : 'wrong';
};
const date = (typed: string): string => {
  const read = readTypedDate(typed, today);
  return 'text' in read ? read.text : 'wrong';
};

describe('numbers as people type them', () => {
  it.each([
    ['1250.5', '1250.5'],
    ['1.250,5', '1250.5'],
    ['1,250.5', '1250.5'],
    ['1,250', '1250'],
    ['1,25', '1.25'],
    ['1.25', '1.25'],
    ['1 250', '1250'],
    ['1.250.000', '1250000'],
    ['-3,5', '-3.5'],
    ['.5', '0.5'],
    ['3 case', '36'],
    ['3 ca', '36'],
    ['2 drum', '51'],
    ['=12*4', '48'],
    ['=(2+3)*4-1', '19'],
    ['=10/4', '2.5'],
    ['=-3+5', '2'],
    ['=1,5*2', '3'],
    ['=1.250,5/5', '250.1'],
    ['=10/3*3', '10'],
    ['=1/-4', '-0.25'],
    ['', ''],
  ])('%s is %s', (typed, expected) => expect(number(typed)).toBe(expected));

  it.each(['ten', '3 boxes', '1,2,3', '1.2.3', '=2+', '=2*(3', '=1/0', '=alert(1)', '--2', '=10/3', '=1 2*3'])('%s is no number', (typed) =>
    expect(number(typed)).toBe('wrong'),
  );

  it('reads every plain decimal as itself', () => {
    fc.assert(
      fc.property(fc.bigInt({ min: -(10n ** 12n), max: 10n ** 12n }), fc.integer({ min: 0, max: 5 }), (mantissa, scale) => {
        expect(number(writeDecimal(mantissa, scale))).toBe(writeDecimal(mantissa, scale));
      }),
    );
  });
});

describe('calculations', () => {
  it('say of what does not come out even that it does not', () => {
    expect(readTypedNumber('=10/3')).toEqual({ wrong: expect.stringContaining('does not come out even') as string });
  });

  it('come out exactly, in whatever way a figure is typed', () => {
    const figure = fc.tuple(fc.integer({ min: 0, max: 99_999 }), fc.integer({ min: 0, max: 3 }));
    fc.assert(
      fc.property(figure, figure, fc.constantFrom('.', ','), ([one, scale], [other, places], mark) => {
        const typed = (mantissa: number, decimals: number): string => writeDecimal(BigInt(mantissa), decimals).replace('.', mark);
        // Three decimals behind a comma are thousands, as everywhere.
        fc.pre(mark === '.' || (scale < 3 && places < 3));
        expect(number(`=${typed(one, scale)}*${typed(other, places)}`)).toBe(writeDecimal(BigInt(one) * BigInt(other), scale + places));
      }),
    );
  });
});

describe('dates as people type them', () => {
  it.each([
    ['today', '2027-03-01'],
    ['tomorrow', '2027-03-02'],
    ['fri', '2027-03-05'],
    ['mon', '2027-03-08'],
    ['thursday', '2027-03-04'],
    ['+5', '2027-03-06'],
    ['+2w', '2027-03-15'],
    ['-1', '2027-02-28'],
    ['wk 14', '2027-04-05'],
    ['w9', '2027-03-01'],
    ['12 mar', '2027-03-12'],
    ['12.3.', '2027-03-12'],
    ['12/3/27', '2027-03-12'],
    ['3 jan', '2028-01-03'],
    ['2027-04-01', '2027-04-01'],
    ['', ''],
  ])('%s is %s', (typed, expected) => expect(date(typed)).toBe(expected));

  it.each(['soon', '30 feb', '2027-02-30', 'wk 60', '12 foo', '32/1', '13.13.'])('%s is no date', (typed) => expect(date(typed)).toBe('wrong'));

  it('reads every date as itself', () => {
    fc.assert(
      fc.property(fc.integer({ min: 11_000, max: 80_000 }), (day) => {
        expect(date(dateOf(day))).toBe(dateOf(day));
      }),
    );
  });
});
