import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  Refusal,
  WorkingCalendar,
  addDays,
  asAmount,
  asQuantity,
  dateOf,
  dayOf,
  divideRounded,
  divideUp,
  extend,
  fromPack,
  parseAmount,
  parsePositiveQuantity,
  parsePrice,
  parseQuantity,
  proportion,
  readDay,
  readDecimal,
  shareOf,
  splitByWeights,
  toScale,
  unitCostOf,
  weekdayOf,
  writeAmount,
  writeDecimal,
  writePrice,
  writeQuantity,
} from './index';

const codeOf = (act: () => unknown): string => {
  try {
    act();
  } catch (error) {
    if (error instanceof Refusal) return error.code;
    throw error;
  }
  return 'accepted';
};

const quantities = fc.integer({ min: -1_000_000_000_000, max: 1_000_000_000_000 }).map(asQuantity);

describe('quantities', () => {
  it('reads decimals exactly and writes them in their shortest form', () => {
    expect(parseQuantity('1.5', 2)).toBe(150_000);
    expect(writeQuantity(parseQuantity('40.00', 0))).toBe('40');
    expect(writeQuantity(parseQuantity('-0.00001', 5))).toBe('-0.00001');
  });

  it('refuses what is no number, too fine, too large or not above nothing', () => {
    expect(codeOf(() => parseQuantity('ten', 0))).toBe('notANumber');
    expect(codeOf(() => parseQuantity('1e3', 0))).toBe('notANumber');
    expect(codeOf(() => parseQuantity('1.5', 0))).toBe('tooFine');
    expect(codeOf(() => parseQuantity('10000000000', 0))).toBe('tooLarge');
    expect(codeOf(() => parsePositiveQuantity('0', 0))).toBe('notPositive');
    expect(codeOf(() => parsePositiveQuantity('-1', 0))).toBe('notPositive');
  });

  it('offers the two nearest that fit', () => {
    expect(() => parseQuantity('2.75', 1)).toThrow(/take 2\.7 or 2\.8/);
    expect(() => parseQuantity('-2.75', 1)).toThrow(/take -2\.8 or -2\.7/);
  });

  it('never becomes finer than its unit, whatever is typed', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 5 }),
        fc.integer({ min: 0, max: 8 }),
        fc.bigInt({ min: 0n, max: 10n ** 12n }),
        (decimals, scale, mantissa) => {
          const text = writeDecimal(mantissa, scale);
          try {
            expect(parseQuantity(text, decimals) % 10 ** (5 - decimals)).toBe(0);
          } catch (error) {
            expect(error).toBeInstanceOf(Refusal);
          }
        },
      ),
    );
  });

  it('comes back as it was written', () => {
    fc.assert(fc.property(quantities, (quantity) => parseQuantity(writeQuantity(quantity), 5) === quantity));
  });

  it('turns packs into base units exactly, or refuses', () => {
    expect(writeQuantity(fromPack(parseQuantity('3', 0), parseQuantity('12', 0), 0))).toBe('36');
    expect(codeOf(() => fromPack(parseQuantity('0.5', 1), parseQuantity('25.5', 1), 1))).toBe('tooFine');
  });
});

describe('decimals', () => {
  it('divides with halves away from zero', () => {
    expect([divideRounded(5n, 2n), divideRounded(-5n, 2n), divideRounded(4n, 3n), divideUp(4n, 3n), divideUp(6n, 3n)]).toEqual([3n, -3n, 1n, 2n, 2n]);
  });

  it('reads plain decimals only', () => {
    for (const text of ['+5', '.5', '5.', '1e3', '', ' 1', '1,5', '--1']) expect(readDecimal(text)).toBeNull();
    expect(readDecimal('2.00')).toEqual({ mantissa: 2n, scale: 0 });
    expect(toScale({ mantissa: 15n, scale: 1 }, 0)).toBeNull();
  });
});

describe('money', () => {
  it('extends quantity by price, less discount, rounded once', () => {
    expect(writeAmount(extend(parseQuantity('3', 0), parsePrice('9.99')))).toBe('29.97');
    expect(writeAmount(extend(parseQuantity('1', 0), parsePrice('0.005')))).toBe('0.01');
    expect(writeAmount(extend(parseQuantity('10', 0), parsePrice('12.50'), 500))).toBe('118.75');
  });

  it('does not overflow: the largest quantity at a large price', () => {
    expect(writeAmount(extend(parseQuantity('100000000', 0), parsePrice('99.99')))).toBe('9999000000.00');
  });

  it('writes prices with two decimals at least', () => {
    expect([writePrice(parsePrice('0.018')), writePrice(parsePrice('5')), writePrice(parsePrice('5.5'))]).toEqual(['0.018', '5.00', '5.50']);
  });

  it('has amounts come back as they were written', () => {
    fc.assert(fc.property(fc.integer({ min: -(10 ** 12), max: 10 ** 12 }).map(asAmount), (amount) => parseAmount(writeAmount(amount)) === amount));
  });

  it('gives a part its share and the whole all of it', () => {
    expect(proportion(asAmount(100), parseQuantity('1', 0), parseQuantity('3', 0))).toBe(33);
    expect(shareOf(asAmount(1005), 2000)).toBe(201);
    expect(writePrice(unitCostOf(asAmount(1000), parseQuantity('3', 0)))).toBe('3.333333');
  });
});

describe('splitting', () => {
  it('loses nothing and stays within one of each share', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -1_000_000, max: 1_000_000 }),
        fc.array(fc.integer({ min: 0, max: 1000 }), { minLength: 1, maxLength: 12 }),
        (total, weights) => {
          const sum = weights.reduce((all, each) => all + each, 0);
          fc.pre(sum > 0);
          const parts = splitByWeights(total, weights);
          expect(parts.reduce((all, each) => all + each, 0)).toBe(total);
          parts.forEach((part, index) => expect(Math.abs(part - (total * (weights[index] ?? 0)) / sum)).toBeLessThan(1));
        },
      ),
    );
  });

  it('gives what is left over to the largest remainders', () => {
    expect(splitByWeights(100, [1, 1, 1])).toEqual([34, 33, 33]);
    expect(() => splitByWeights(1, [0])).toThrow(RangeError);
  });
});

describe('calendars', () => {
  const calendar = new WorkingCalendar({ code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: ['2027-03-29'] });
  const back = (date: string, count: number): string => dateOf(calendar.back(dayOf(date), count));
  const ahead = (date: string, count: number): string => dateOf(calendar.ahead(dayOf(date), count));

  it('counts working days only', () => {
    expect(back('2027-03-30', 1)).toBe('2027-03-26');
    expect(ahead('2027-03-26', 1)).toBe('2027-03-30');
    expect(back('2027-03-28', 0)).toBe('2027-03-28');
    expect(dateOf(calendar.onOrBefore(dayOf('2027-03-29')))).toBe('2027-03-26');
    expect(dateOf(calendar.onOrAfter(dayOf('2027-03-27')))).toBe('2027-03-30');
  });

  it('goes ahead and back to the same working day', () => {
    fc.assert(
      fc.property(fc.integer({ min: 20_000, max: 25_000 }), fc.integer({ min: 0, max: 60 }), (day, count) => {
        const start = calendar.onOrAfter(day);
        expect(calendar.back(calendar.ahead(start, count), count)).toBe(start);
      }),
    );
  });

  it('knows real days only', () => {
    for (const text of ['2027-02-29', '2027-13-01', '2027-00-10', '2200-01-01', '27-01-01', '']) expect(readDay(text)).toBeNull();
    expect(dateOf(dayOf('2028-02-29'))).toBe('2028-02-29');
    expect(weekdayOf(dayOf('2027-03-01'))).toBe(1);
    expect(addDays('2027-12-31', 1)).toBe('2028-01-01');
  });

  it('refuses a calendar on which nobody ever works', () => {
    fc.assert(
      fc.property(fc.integer({ min: 20_000, max: 22_000 }), fc.integer({ min: 0, max: 60 }), (from, steps) => {
        const to = calendar.ahead(from, steps);
        expect(calendar.between(from, to)).toBe(steps);
        expect(calendar.between(to, from)).toBe(0);
      }),
    );
    expect(() => new WorkingCalendar({ code: 'NONE', workdays: [], holidays: [] })).toThrow(/no working days/);
  });
});
