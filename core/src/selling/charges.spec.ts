import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asAmount, asPrice } from '../base';
import { chargesFor, writeKilograms, type ChargeRule } from './charges';

const rule = (more: Partial<ChargeRule> = {}): ChargeRule => ({
  id: 1,
  itemId: 9,
  by: 'weight',
  carrier: '',
  steps: [
    { from: 5000, price: asPrice(9_900_000) },
    { from: 0, price: asPrice(6_900_000) },
    { from: 31_500, price: asPrice(0) },
  ],
  ...more,
});
const order = { weight: 7200, value: asAmount(4_000), carrier: 'Moorland Parcels' };

describe('charges by rule', () => {
  it('are those of the highest step that the order reaches, and say why', () => {
    expect(chargesFor([rule()], order)).toEqual([{ itemId: 9, price: 9_900_000, words: 'By weight: 7.2 kg, from 5 kg on 9.90.' }]);
    expect(chargesFor([rule()], { ...order, weight: 4999 })[0]?.price).toBe(6_900_000);
    expect(chargesFor([rule()], { ...order, weight: 31_500 })).toEqual([]);
    const small = rule({
      by: 'value',
      steps: [
        { from: 0, price: asPrice(7_500_000) },
        { from: 5000, price: asPrice(0) },
      ],
    });
    expect(chargesFor([small], order)[0]?.words).toBe('By value: 40.00, from 0.00 on 7.50.');
    expect(chargesFor([small], { ...order, value: asAmount(5000) })).toEqual([]);
    expect(chargesFor([rule({ steps: [{ from: 8000, price: asPrice(1) }] })], order)).toEqual([]);
  });

  it('are of the rule for the carrier before one for anybody, one for each item', () => {
    const own = rule({ id: 2, carrier: 'Moorland Parcels', steps: [{ from: 0, price: asPrice(3_000_000) }] });
    const handling = rule({ id: 3, itemId: 10, steps: [{ from: 0, price: asPrice(1_000_000) }] });
    const charges = chargesFor([rule(), handling, own, rule({ id: 4, carrier: 'own van' })], order);
    expect(charges.map(({ itemId, price }) => [itemId, price])).toEqual([
      [9, 3_000_000],
      [10, 1_000_000],
    ]);
    expect(charges[0]?.words).toContain('with Moorland Parcels');
    expect(chargesFor([own], { ...order, carrier: '' })).toEqual([]);
  });

  it('never fall for more, where no step does', () => {
    const steps = fc.uniqueArray(fc.integer({ min: 0, max: 100_000 }), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(steps, fc.integer({ min: 0, max: 120_000 }), fc.integer({ min: 0, max: 120_000 }), (from, a, b) => {
        const rising = [...from].sort((x, y) => x - y).map((each, at) => ({ from: each, price: asPrice((at + 1) * 1_000_000) }));
        const at = (weight: number): number => chargesFor([rule({ steps: rising })], { ...order, weight })[0]?.price ?? 0;
        expect(at(Math.min(a, b))).toBeLessThanOrEqual(at(Math.max(a, b)));
      }),
    );
    expect(writeKilograms(12_500)).toBe('12.5');
  });
});
