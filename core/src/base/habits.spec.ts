import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { countries, habitNames, habitOf, habits, writeByHabit } from '..';

describe('figures by habit', () => {
  it.each([
    ['point', '1234567.891', '1,234,567.891'],
    ['comma', '-1234.50', '−1.234,50'],
    ['space', '12345', '12\u202f345'],
    ['apostrophe', '1234.5', '1’234.5'],
    ['monthFirst', '999', '999'],
  ] as const)('%s writes %s as %s', (name, text, written) => {
    expect(writeByHabit(text, habits[name])).toBe(written);
  });

  it('leaves what is no figure as it is', () => {
    for (const text of ['', '1e5', 'soon', '.5', '1.']) expect(writeByHabit(text, habits.comma)).toBe(text);
  });

  it('keeps every digit, whatever the habit', () => {
    const figure = fc.tuple(fc.boolean(), fc.bigInt({ min: 0n, max: 10n ** 18n }), fc.option(fc.integer({ min: 0, max: 99_999 })));
    fc.assert(
      fc.property(figure, fc.constantFrom(...habitNames), ([negative, whole, fraction], name) => {
        const text = `${negative ? '-' : ''}${whole}${fraction === null ? '' : `.${fraction}`}`;
        const { decimal, group } = habits[name];
        const back = writeByHabit(text, habits[name]).replaceAll(group, '').replace('−', '-').replace(decimal, '.');
        expect(back).toBe(text);
      }),
    );
  });

  it('are known for every country that has a proposal', () => {
    for (const { code } of countries) expect(habitNames).toContain(habitOf(code));
    expect(habitOf('CH')).toBe('apostrophe');
    expect(habitOf('ZZ')).toBe('point');
  });
});
