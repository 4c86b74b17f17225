import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normalQuantile, safetyForService, spreadOf } from './safety';

describe('safety stock', () => {
  it('knows the quantiles of tables', () => {
    for (const [p, z] of [
      [0.5, 0],
      [0.9, 1.281551566],
      [0.95, 1.644853627],
      [0.99, 2.326347874],
      [0.999, 3.090232306],
      [0.01, -2.326347874],
    ] as const)
      expect(normalQuantile(p)).toBeCloseTo(z, 7);
  });

  it('covers varying demand over the lead time, and a varying lead time', () => {
    const figures = { mean: 10, deviation: 4, leadDays: 9, leadDeviation: 0 };
    expect(safetyForService(figures, 0.95).safety).toBeCloseTo(1.644853627 * 12, 5);
    expect(safetyForService({ ...figures, deviation: 0, leadDeviation: 2 }, 0.95).safety).toBeCloseTo(1.644853627 * 20, 5);
    expect(safetyForService({ ...figures, leadDeviation: 2 }, 0.95).safety).toBeCloseTo(1.644853627 * Math.sqrt(144 + 400), 5);
    expect(() => safetyForService(figures, 1)).toThrow(RangeError);
  });

  it('grows with the level', () => {
    const level = fc.double({ min: 0.51, max: 0.998, noNaN: true });
    fc.assert(
      fc.property(level, level, (a, b) => {
        const figures = { mean: 3, deviation: 2, leadDays: 5, leadDeviation: 1 };
        expect(Math.sign(safetyForService(figures, a).safety - safetyForService(figures, b).safety)).toBe(Math.sign(a - b));
      }),
    );
  });

  it('takes average and deviation from what was, and nothing from nothing', () => {
    expect(spreadOf([2, 4, 4, 4, 5, 5, 7, 9])).toEqual({ mean: 5, deviation: Math.sqrt(32 / 7) });
    expect(spreadOf([3])).toEqual({ mean: 3, deviation: 0 });
    expect(spreadOf([])).toEqual({ mean: 0, deviation: 0 });
  });
});
