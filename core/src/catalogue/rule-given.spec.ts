import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PLAIN_RULE, RULE_FIELDS, readSafety, readSizing, ruleGivenBy, writeSafety, writeSizing, type LotSizing, type SafetyBasis } from '../index';

const figure = fc.integer({ min: 0, max: 99_999 }).map((each) => String(each / 10));
const sizing: fc.Arbitrary<LotSizing> = fc.oneof(
  fc.constant({ kind: 'lotForLot' as const }),
  figure.map((quantity) => ({ kind: 'fixed' as const, quantity })),
  fc.integer({ min: 1, max: 400 }).map((days) => ({ kind: 'period' as const, days })),
  fc.record({ kind: fc.constant('reorderPoint' as const), quantity: figure, point: figure }),
  fc.record({ kind: fc.constant('minMax' as const), min: figure, max: figure }),
  fc.record({ kind: fc.constant('leastCost' as const), orderCost: figure, holdingPerUnitDay: figure }),
);
const basis: fc.Arbitrary<SafetyBasis> = fc.oneof(
  fc.constant({ by: 'quantity' as const }),
  fc.integer({ min: 0, max: 400 }).map((days) => ({ by: 'days' as const, days })),
  fc.integer({ min: 501, max: 999 }).map((permille) => ({ by: 'service' as const, level: String(permille / 1000) })),
);

describe('what a rule is given', () => {
  it('comes from the item, else the nearest group that says it, else it is plain', () => {
    const given = ruleGivenBy({ code: 'FELT', planning: { safety: '40' } }, [
      { code: 'CLOTH', planning: { leadDays: '7' } },
      { code: 'ALL', planning: { leadDays: '3', safety: '10 days', slackDays: '0' } },
    ]);
    expect(given.safety).toEqual({ value: '40', from: 'item', name: 'FELT' });
    expect(given.leadDays).toEqual({ value: '7', from: 'group', name: 'CLOTH' });
    expect(given.slackDays).toEqual({ value: '0', from: 'group', name: 'ALL' });
    expect(given.sizing).toEqual({ value: PLAIN_RULE.sizing, from: 'plain', name: '' });
    expect(Object.keys(given)).toEqual([...RULE_FIELDS]);
  });

  it('is written as it is read', () => {
    fc.assert(
      fc.property(sizing, (each) => {
        expect(readSizing(writeSizing(each))).toEqual(each);
      }),
    );
    fc.assert(
      fc.property(basis, figure, (each, quantity) => {
        const read = readSafety(writeSafety(each, quantity));
        expect(read.basis).toEqual(each);
        if (each.by === 'quantity') expect(read.quantity).toBe(quantity);
      }),
    );
  });

  it('is lot-for-lot, written in either way, and as kept texts may still have it', () => {
    for (const words of ['lot-for-lot', 'Lot for lot', 'missing', 'what is missing', PLAIN_RULE.sizing])
      expect(readSizing(words)).toEqual({ kind: 'lotForLot' });
  });

  it.each(['', 'often', '0 days', '-5 each time', 'up to x below 2'])('has no orders sized "%s"', (text) => {
    expect(() => readSizing(text)).toThrow(/no way to size orders/);
  });

  it.each(['some', '% served', '200 % served'])('has no safety stock of "%s"', (text) => {
    expect(() => readSafety(text)).toThrow(/no safety stock/);
  });
});
