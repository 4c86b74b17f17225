import { readFileSync, readdirSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plan, type PlanProblem, type PlanResult } from '../index';
import { randomProblems } from '../compact/random-problems';
import { planByTheLetter } from './by-the-letter';
import { Fraction } from './fraction';

const folder = new URL('../examples/', import.meta.url);
const turns = Number(process.env['PROPERTY_RUNS'] ?? 300);
const comparable = ({ suggestions, exceptions, problems }: Pick<PlanResult, 'suggestions' | 'exceptions' | 'problems'>): object => ({
  suggestions,
  exceptions,
  problems: problems.map(({ code, subject }) => ({ code, subject })),
});

describe('the rules by their letter', () => {
  it.each(readdirSync(folder))('give %s', (name) => {
    const { problem, result } = JSON.parse(readFileSync(new URL(name, folder), 'utf8')) as { problem: PlanProblem; result: object };
    expect(planByTheLetter(problem)).toEqual(result);
  });

  it('are what the engine keeps to, whatever it is given', () => {
    const problems = fc.boolean().chain((layered) => randomProblems(layered));
    fc.assert(
      fc.property(problems, (drawn) => {
        const rules = drawn.rules.map((each) =>
          each.lotSizing.kind === 'leastCost' ? { ...each, lotSizing: { kind: 'lotForLot' as const } } : each,
        );
        const problem = { ...drawn, rules };
        expect(comparable(plan(problem))).toEqual(planByTheLetter(problem));
      }),
      { numRuns: turns },
    );
  });

  it('are counted in fractions that are never rounded unless asked', () => {
    const decimal = fc
      .tuple(fc.integer({ min: -9999, max: 9999 }), fc.integer({ min: 0, max: 4 }))
      .map(([whole, places]) => (whole / 10 ** places).toFixed(places));
    fc.assert(
      fc.property(decimal, decimal, (a, b) => {
        const [x, y] = [Fraction.read(a), Fraction.read(b)];
        if (!x || !y) throw new Error('no decimal');
        expect(Number(String(x.plus(y).minus(y)))).toBe(Number(a));
        expect(Number(String(x.times(y)))).toBeCloseTo(Number(a) * Number(b), 4);
        expect([x.down(0), x.up(0)].map((each) => Number(String(each)) + 0)).toEqual([Math.floor(Number(a)) + 0, Math.ceil(Number(a)) + 0]);
        if (y.isAbove(Fraction.ZERO)) expect(x.divided(y).times(y).isBelow(x) || x.isBelow(x.divided(y).times(y))).toBe(false);
      }),
    );
    expect([Fraction.read('1.'), Fraction.read('1e3'), Fraction.read('')]).toEqual([null, null, null]);
  });
});
