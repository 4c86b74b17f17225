import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findOutliers } from './outliers';

describe('outliers', () => {
  it('are what lies far from its neighbours, not what a season brings', () => {
    const calm = [20, 22, 19, 21, 23, 20, 190, 21, 22, 20, 19, 21];
    expect(findOutliers(calm, 1).flatMap((each, index) => (each.outlier ? [index] : []))).toEqual([6]);
    expect(findOutliers(calm, 1)[6]?.usual).toBe(22);
    const seasons = [5, 6, 90, 5, 6, 5, 95, 6, 5, 6, 92, 5];
    expect(findOutliers(seasons, 4).some((each) => each.outlier)).toBe(false);
  });

  it('are not the single pieces of what is wanted now and then, but one order that stands out of them is', () => {
    const sometimes = [3, 2, 0, 0, 1, 0, 0, 0, 0, 0, 1, 2, 0, 3, 2, 0, 0, 1, 0, 0, 0, 0, 0, 1, 2, 0, 3, 2, 0, 0, 1, 0, 1, 4, 3, 0];
    expect(findOutliers(sometimes, 12).filter((each) => each.outlier)).toEqual([]);
    expect(findOutliers([...sometimes, 24], 12).flatMap((each, index) => (each.outlier ? [index] : []))).toEqual([36]);
  });

  it('are none in what is steady or too short, whatever the level', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 10_000 }), fc.integer({ min: 1, max: 40 }), (level, length) => {
        expect(
          findOutliers(
            Array.from({ length }, () => level),
            1,
          ).some((each) => each.outlier),
        ).toBe(false);
      }),
    );
    expect(findOutliers([1, 1, 900], 1).some((each) => each.outlier)).toBe(false);
  });
});
