import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FoundingCode, codeFrom, countries, countryOf, holidaysIn, plainCode, standardAccounts, standardGroups, standardReasons } from '.';
import { readDay } from '../base';

describe('what is proposed for a country', () => {
  it.each(countries.map((each) => [each.name, each] as const))('%s can be counted with', (_, country) => {
    expect(country.code).toMatch(/^[A-Z]{2}$/);
    expect(country.currency.code).toMatch(/^[A-Z]{3}$/);
    expect(new Intl.DateTimeFormat('en', { timeZone: country.timeZone }).resolvedOptions().timeZone).toBeTruthy();
    expect(country.taxes.map(({ rate }) => rate).every((rate) => Number.isInteger(rate) && rate >= 0 && rate < 3000)).toBe(true);
    expect(new Set(country.taxes.map(({ code }) => code)).size).toBe(country.taxes.length);
    expect(holidaysIn(country.holidays, [2027, 2028]).every((date) => readDay(date) !== null)).toBe(true);
    expect(countryOf(country.code)).toBe(country);
  });

  it('is a dozen countries at least, each once, by name', () => {
    const names = countries.map(({ name }) => name);
    expect(names.length).toBeGreaterThanOrEqual(12);
    expect(names).toEqual([...new Set(names)].sort());
  });
});

describe('what a company stands on', () => {
  it('names no account and no group that is not there', () => {
    const accounts = new Set(standardAccounts.map(({ code }) => code));
    const groups = new Set(standardGroups.map(({ code }) => code));
    for (const { inventoryAccount, costOfSalesAccount, revenueAccount, parent } of standardGroups) {
      expect([inventoryAccount, costOfSalesAccount, revenueAccount].every((code) => accounts.has(code))).toBe(true);
      expect(parent === null || groups.has(parent)).toBe(true);
    }
    expect(standardReasons.every(({ account }) => accounts.has(account))).toBe(true);
  });
});

describe('the code to found a company by', () => {
  const rule = { tries: 5, lastsMs: 3_600_000 };

  it('is eight signs that nobody reads as others, however it is typed', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 64, maxLength: 64 }), (bytes) => {
        fc.pre([...bytes].filter((byte) => byte < 240).length >= 8);
        const code = codeFrom(bytes);
        expect(code).toMatch(/^[2-9A-HJKMNP-TV-Z]{4}-[2-9A-HJKMNP-TV-Z]{4}$/);
        expect(new FoundingCode(code, 0, rule).opens(` ${code.toLowerCase().replace('-', ' ')}`, 1)).toBe(true);
      }),
    );
    expect(() => codeFrom(Uint8Array.of(1, 2, 3))).toThrow(RangeError);
    expect(plainCode('ab-12 ')).toBe('AB12');
  });

  it('stands five tries, lasts an hour, and serves once', () => {
    const code = new FoundingCode('2345-6789', 1000, rule);
    for (const left of [4, 3, 2, 1, 0]) {
      expect(code.opens('2345-678A', 2000)).toBe(false);
      expect(code.left()).toBe(left);
    }
    expect([code.opens('2345-6789', 2000), code.state(2000)]).toEqual([false, 'triedTooOften']);
    const late = new FoundingCode('2345-6789', 1000, rule);
    expect([late.opens('2345-6789', 1000 + 3_600_000), late.opens('2345-6789', 1001 + 3_600_000), late.state(1001 + 3_600_000)]).toEqual([
      true,
      false,
      'over',
    ]);
    const once = new FoundingCode('2345-6789', 1000, rule);
    once.end();
    expect([once.opens('2345-6789', 2000), once.state(2000)]).toEqual([false, 'used']);
  });
});
