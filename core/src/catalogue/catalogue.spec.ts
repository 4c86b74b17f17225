import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asPrice, asQuantity, Refusal } from '../base';
import {
  Vocabulary,
  buyingPrice,
  decimalSignOf,
  forgiven,
  givenBy,
  guardCell,
  likeness,
  moved,
  nearlySame,
  readDateCell,
  readNumberCell,
  readYesNoCell,
  settle,
  slips,
  termOn,
  unguardCell,
  variantsOf,
  type Given,
  type Group,
} from '.';

const word = fc.stringMatching(/^[a-z]{4,12}$/);

describe('likeness of descriptions', () => {
  it('sees the same words in another order, another case and with accents as one', () => {
    expect(likeness('Hive roof, steel', 'STEEL hive róof')).toBe(1);
    expect(nearlySame('Honey jar 500 g', 'Honey jar, 500 g')).toBe(true);
    expect(nearlySame('Hive tool, steel', 'Hive tools, steel')).toBe(true);
  });
  it('does not take two sizes of one thing, or two things, for doubles', () => {
    expect(nearlySame('Wood screw 4 x 40', 'Wood screw 4 x 60')).toBe(false);
    expect(nearlySame('Smoker with guard', 'Bee suit, white')).toBe(false);
    expect(likeness('', 'anything')).toBe(0);
  });
  it('is symmetric, between 0 and 1, and 1 with itself', () => {
    fc.assert(
      fc.property(fc.string(), word, (a, b) => {
        expect(likeness(a, b)).toBe(likeness(b, a));
        expect(likeness(a, b)).toBeGreaterThanOrEqual(0);
        expect(likeness(b, b)).toBe(1);
      }),
    );
  });
});

describe('words with slips', () => {
  it.each([
    ['smoker', 'smoker', 0],
    ['smokre', 'smoker', 1],
    ['smker', 'smoker', 1],
    ['smooker', 'smoker', 1],
    ['extracter', 'extractor', 1],
  ])('%s is %s with %i', (typed, meant, count) => expect(slips(typed, meant, 2)).toBe(count));
  it('is symmetric and never says fewer than the difference in length', () => {
    fc.assert(
      fc.property(word, word, (a, b) => {
        expect(slips(a, b, 12)).toBe(slips(b, a, 12));
        expect(slips(a, b, 12)).toBeGreaterThanOrEqual(Math.abs(a.length - b.length));
      }),
    );
  });
  it('finds a word back from any one slip in it', () => {
    fc.assert(
      fc.property(fc.uniqueArray(word, { minLength: 1, maxLength: 30 }), fc.nat(), fc.nat(), (words, which, where) => {
        const known = new Vocabulary();
        words.forEach((each) => known.add(each));
        const meant = words[which % words.length] ?? '';
        const at = where % meant.length;
        const typed = meant.slice(0, at) + meant.slice(at + 1);
        fc.pre(!known.has(typed) && forgiven(typed) > 0);
        const nearest = known.meant(typed);
        expect(nearest.length).toBeGreaterThan(0);
        expect(slips(typed, nearest[0] ?? '', 3)).toBeLessThanOrEqual(Math.max(1, slips(typed, meant, 3)));
      }),
    );
  });
  it('forgives nothing in short words and figures', () => {
    const known = new Vocabulary();
    known.add('lid');
    known.add('4000123');
    expect(known.meant('lit')).toEqual([]);
    expect(known.meant('4000124')).toEqual([]);
  });
});

const groups = new Map<string, Group>([
  ['ALL', { code: 'ALL', name: 'Everything', parent: null, defaults: { unit: 'each', costing: 'movingAverage', discountCeiling: '10' } }],
  ['WEAR', { code: 'WEAR', name: 'Clothing', parent: 'ALL', defaults: { discountCeiling: '20', shelfLifeDays: '400' } }],
  ['FEED', { code: 'FEED', name: 'Feed', parent: 'ALL', defaults: { unit: 'kg', tracking: 'lot' } }],
]);

describe('defaults of a group', () => {
  it('come from the nearest group that states them, and say which', () => {
    const given = givenBy('WEAR', groups);
    expect(given.get('discountCeiling')).toEqual({ value: '20', group: 'WEAR' });
    expect(given.get('unit')).toEqual({ value: 'each', group: 'ALL' });
    expect(given.has('tracking')).toBe(false);
  });
  it('fill what was not typed; what was typed stays', () => {
    const { values, follows } = settle(new Map<Given, string>([['unit', 'pair']]), givenBy('WEAR', groups));
    expect(values.get('unit')).toBe('pair');
    expect(follows).toEqual(['costing', 'discountCeiling', 'shelfLifeDays']);
  });
  it('ask, when an item moves, for each value that would differ', () => {
    const { values, follows } = settle(new Map<Given, string>([['shelfLifeDays', '30']]), givenBy('WEAR', groups));
    expect(moved(values, follows, givenBy('FEED', groups))).toEqual([
      { field: 'unit', from: 'each', to: 'kg', follows: true },
      { field: 'tracking', from: '', to: 'lot', follows: false },
      { field: 'discountCeiling', from: '20', to: '10', follows: true },
    ]);
  });
  it('refuse a group above itself', () => {
    const circle = new Map<string, Group>([
      ['A', { code: 'A', name: '', parent: 'B', defaults: {} }],
      ['B', { code: 'B', name: '', parent: 'A', defaults: {} }],
    ]);
    expect(() => givenBy('A', circle)).toThrow(Refusal);
  });
});

describe('variants of a family', () => {
  const size = { name: 'Size', values: ['S', 'M', 'L'].map((code) => ({ code, name: code.toLowerCase() })) };
  const colour = {
    name: 'Colour',
    values: [
      { code: 'WHT', name: 'white' },
      { code: 'OLV', name: 'olive' },
    ],
  };
  it('are all combinations, each with its own code', () => {
    const made = variantsOf('SUIT', 'Bee suit', [size, colour]);
    expect(made).toHaveLength(6);
    expect(made[1]).toEqual({ code: 'SUIT-S-OLV', description: 'Bee suit, s, olive', values: { Size: 'S', Colour: 'OLV' } });
    expect(new Set(made.map((each) => each.code)).size).toBe(6);
  });
  it.each([
    ['noAttribute', []],
    ['noAttribute', [{ name: 'Size', values: [] }]],
    [
      'sameValue',
      [
        {
          name: 'Size',
          values: [
            { code: 's', name: '' },
            { code: 'S', name: '' },
          ],
        },
      ],
    ],
    ['tooManyVariants', Array.from({ length: 9 }, (_, index) => ({ ...colour, name: `N${index}` }))],
  ])('refuse %s', (code, attributes) => {
    expect(() => variantsOf('X', 'x', attributes)).toThrow(expect.objectContaining({ code }) as Error);
  });
});

describe('suppliers’ terms', () => {
  const term = {
    supplierId: 1,
    preferred: true,
    price: asPrice(2_000_000),
    discount: 500,
    currency: 'EUR',
    validFrom: null,
    validTo: '2027-02-28',
    breaks: [{ from: asQuantity(10_000_000), price: asPrice(1_800_000) }],
  };
  it('hold between their first and last day, the latest start first', () => {
    const later = { ...term, validFrom: '2027-02-01', validTo: null };
    expect(termOn([term, later], 1, '2027-01-31')).toBe(term);
    expect(termOn([term, later], 1, '2027-02-01')).toBe(later);
    expect(termOn([term], 1, '2027-03-01')).toBeUndefined();
  });
  it('price a quantity by the highest break reached, less the discount', () => {
    expect(buyingPrice(term, asQuantity(9_900_000))).toBe(1_900_000);
    expect(buyingPrice(term, asQuantity(10_000_000))).toBe(1_710_000);
  });
});

describe('cells of a sheet', () => {
  const point = { decimals: 'point', dates: 'dayFirst' } as const;
  const comma = { decimals: 'comma', dates: 'dayFirst' } as const;
  it.each([
    ['1,250.5', point, '1250.5'],
    ['1.250,5', comma, '1250.5'],
    ['1250,5', comma, '1250.5'],
    ["1'250.5", point, '1250.5'],
    ['-0.5', point, '-0.5'],
    [',5', comma, '0.5'],
    ['007', point, '7'],
  ])('%s is a number', (cell, habits, plain) => expect(readNumberCell(cell, habits)).toBe(plain));
  it.each([
    ['1,5', point],
    ['1.5', comma],
    ['12 pieces', point],
    ['=1+1', point],
    ['', point],
    ['1e5', point],
  ])('%s is refused rather than guessed', (cell, habits) => expect(() => readNumberCell(cell, habits)).toThrow(Refusal));
  it('speak for a decimal sign', () => {
    expect(decimalSignOf(['12', '1,5', '1.000,25'])).toBe('comma');
    expect(decimalSignOf(['12', '1.5'])).toBe('point');
    expect(decimalSignOf(['12', '40'])).toBe('point');
  });
  it.each([
    ['2027-03-01', point, '2027-03-01'],
    ['1.3.2027', point, '2027-03-01'],
    ['01/03/2027', point, '2027-03-01'],
    ['3/1/2027', { ...point, dates: 'monthFirst' } as const, '2027-03-01'],
  ])('%s is a date', (cell, habits, day) => expect(readDateCell(cell, habits)).toBe(day));
  it.each(['31.2.2027', '2027-13-01', 'soon', '1.3.27'])('%s is no date', (cell) => expect(() => readDateCell(cell, point)).toThrow(Refusal));
  it('say yes or no', () => {
    expect([readYesNoCell('Yes'), readYesNoCell(''), readYesNoCell('x')]).toEqual([true, false, true]);
    expect(() => readYesNoCell('perhaps')).toThrow(Refusal);
  });
  it('are never formulas when written, and come back as they were', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc.string().map((text) => `=${text}`),
          fc.string().map((text) => `-${text}`),
          fc.string().map((text) => `'${text}`),
        ),
        (text) => {
          const guarded = guardCell(text);
          expect(/^[=+@\t\r]/.test(guarded)).toBe(false);
          expect(unguardCell(guarded)).toBe(text);
        },
      ),
    );
    expect(guardCell('-5.5')).toBe('-5.5');
    expect(guardCell('-2+3')).toBe("'-2+3");
  });
});
