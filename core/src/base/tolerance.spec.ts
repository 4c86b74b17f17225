import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asPrice, asQuantity, overAgreed, parseQuantity, toleranceOf, writeQuantity } from '..';

describe('tolerances', () => {
  it.each([
    ['10', 500, 0, '0'],
    ['100', 500, 0, '5'],
    ['10', 500, 2, '0.5'],
    ['33.33', 1000, 2, '3.33'],
    ['100', 0, 0, '0'],
  ] as const)('of %s at %d basis points with %d decimals are %s', (quantity, points, decimals, tolerance) => {
    expect(writeQuantity(toleranceOf(parseQuantity(quantity, decimals), points, decimals))).toBe(tolerance);
  });

  it('never come to more than their share, and to a whole number of what can be counted', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1e9 }),
        fc.integer({ min: 0, max: 10_000 }),
        fc.integer({ min: 0, max: 5 }),
        (scaled, points, decimals) => {
          const tolerance = toleranceOf(asQuantity(scaled), points, decimals);
          expect(tolerance * 10_000).toBeLessThanOrEqual(scaled * points);
          expect(tolerance % 10 ** (5 - decimals)).toBe(0);
        },
      ),
    );
  });

  it('of a price are what it is above the agreed one', () => {
    expect(overAgreed(asPrice(1_100_000), asPrice(1_000_000))).toBe(1000);
    expect(overAgreed(asPrice(999_999), asPrice(1_000_000))).toBe(0);
    expect(overAgreed(asPrice(1), asPrice(0))).toBeGreaterThan(1e9);
  });
});
