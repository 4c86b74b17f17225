import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asAmount, asQuantity, dateOf, dayOf } from '../base';
import { inFullBy, marginShare, weekOf, weeksBetween } from './figures';

describe('figures of selling', () => {
  it('count a delivery as in full by a day only with all that left until then', () => {
    const left = [
      { date: '2027-03-01', quantity: asQuantity(2) },
      { date: '2027-03-04', quantity: asQuantity(1) },
    ];
    expect(['2027-03-03', '2027-03-04', '2027-02-28'].map((day) => inFullBy(left, asQuantity(3), day))).toEqual([false, true, false]);
    expect(inFullBy([], asQuantity(0), '2027-03-01')).toBe(true);
  });

  it('have weeks that begin on Mondays, each day in one of them', () => {
    expect([weekOf('2027-03-01'), weekOf('2027-03-07'), weekOf('2027-02-28')]).toEqual(['2027-03-01', '2027-03-01', '2027-02-22']);
    fc.assert(
      fc.property(fc.integer({ min: 10_000, max: 40_000 }), fc.nat(200), (day, more) => {
        const [from, until] = [dateOf(day), dateOf(day + more)];
        expect(new Date(weekOf(from)).getUTCDay()).toBe(1);
        const weeks = weeksBetween(from, until);
        expect([weeks[0], weeks.at(-1)]).toEqual([weekOf(from), weekOf(until)]);
        expect(weeks).toHaveLength((dayOf(weekOf(until)) - dayOf(weekOf(from))) / 7 + 1);
      }),
    );
  });

  it('say what is left of what was charged', () => {
    expect(marginShare(asAmount(1000), asAmount(650))).toBe(35);
    expect(marginShare(asAmount(1000), asAmount(1200))).toBe(-20);
    expect(marginShare(asAmount(0), asAmount(10))).toBeNull();
  });
});
