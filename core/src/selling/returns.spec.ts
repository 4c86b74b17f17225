import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asAmount, asQuantity } from '../base';
import { awaited, costBack, returnState, undecided } from './returns';

const line = (quantity: number, received: number, decided: number) => ({
  quantity: asQuantity(quantity),
  received: asQuantity(received),
  decided: asQuantity(decided),
});

describe('a return', () => {
  it('is as far as what came of it and what was decided', () => {
    expect(returnState([line(2, 0, 0), line(1, 0, 0)])).toBe('authorised');
    expect(returnState([line(2, 2, 2), line(1, 0, 0)])).toBe('arrived');
    expect(returnState([line(2, 2, 1)])).toBe('arrived');
    expect(returnState([line(2, 2, 2), line(1, 1, 1)])).toBe('done');
    expect([awaited(line(3, 1, 0)), undecided(line(3, 2, 1))]).toEqual([2, 1]);
  });

  it('comes back at what it left with, to the cent, in however many parts', () => {
    fc.assert(
      fc.property(fc.nat(1_000_000), fc.array(fc.integer({ min: 1, max: 50 }), { minLength: 1, maxLength: 10 }), (value, parts) => {
        const left = { quantity: asQuantity(parts.reduce((sum, each) => sum + each, 0)), value: asAmount(value) };
        let before = { quantity: asQuantity(0), value: asAmount(0) };
        for (const part of parts) {
          const worth = costBack(left, before, asQuantity(part));
          expect(worth).toBeGreaterThanOrEqual(0);
          before = { quantity: asQuantity(before.quantity + part), value: asAmount(before.value + worth) };
        }
        expect(before.value).toBe(value);
        expect(costBack(left, before, asQuantity(0))).toBe(0);
      }),
    );
  });
});
