import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Refusal } from '../base';
import { minimise } from './minimise';
import { computeForecast, forecastFitted, forecastMethods, type ForecastProblem, type ForecastResult } from './index';

const run = (history: readonly number[], more: Partial<ForecastProblem> = {}): ForecastResult =>
  computeForecast({ history: history.map(String), season: 12, periods: 12, method: 'best', ...more });
const series = (length: number, of: (at: number) => number): number[] => Array.from({ length }, (_, at) => Math.round(of(at) * 100) / 100);
const wave = (at: number): number => Math.sin((at * 2 * Math.PI) / 12);
const furthest = (found: readonly number[], truth: (at: number) => number, from: number): number =>
  Math.max(...found.map((value, index) => Math.abs(value - truth(from + index))));

describe('forecast methods', () => {
  it('carry on what is plain to see', () => {
    expect(run(series(24, () => 40)).forecast).toEqual(Array(12).fill(40));
    const line = (at: number): number => 10 + 3 * at;
    expect(furthest(run(series(30, line), { method: 'linearTrend' }).forecast, line, 30)).toBeLessThan(1e-6);
    expect(furthest(run(series(30, line), { method: 'holt' }).forecast, line, 30)).toBeLessThan(1);
    const season = (at: number): number => 100 + 30 * wave(at);
    expect(furthest(run(series(48, season), { method: 'seasonalAverage' }).forecast, season, 48)).toBeLessThan(0.5);
    expect(furthest(run(series(48, season), { method: 'holtWintersAdditive' }).forecast, season, 48)).toBeLessThan(1);
    const growing = (at: number): number => (100 + 2 * at) * (1 + 0.3 * wave(at));
    expect(furthest(run(series(60, growing), { method: 'holtWintersMultiplicative' }).forecast, growing, 60)).toBeLessThan(8);
  });

  it('damped trends flatten, and demand that comes now and then is spread over its gaps', () => {
    const { forecast } = run(
      series(30, (at) => 100 - 80 * 0.85 ** at),
      { method: 'dampedHolt', periods: 40 },
    );
    const steps = forecast.slice(1).map((value, index) => value - (forecast[index] ?? 0));
    expect(Math.abs(steps.at(-1) ?? 1)).toBeLessThan(0.1);
    const sometimes = series(36, (at) => (at % 4 === 3 ? 12 : 0));
    const [level = 0] = run(sometimes, { method: 'croston', season: 1 }).forecast;
    expect(level).toBeGreaterThan(2.4);
    expect(level).toBeLessThan(3.4);
  });

  it('best takes the one with the least error before, and shows those of the others', () => {
    const growing = (at: number): number => (100 + 2 * at) * (1 + 0.3 * wave(at));
    const { method, errors, forecast } = run(series(72, growing));
    expect(['holtWintersMultiplicative', 'holtWintersAdditive', 'seasonalAverage']).toContain(method);
    for (const each of forecastMethods) expect(errors[method]?.mase ?? 1).toBeLessThanOrEqual(errors[each]?.mase ?? Infinity);
    expect(furthest(forecast, growing, 72)).toBeLessThan(25);
    expect(
      run(
        series(5, () => 7),
        { season: 12, periods: 2 },
      ).forecast,
    ).toEqual([7, 7]);
  });

  it('never forecasts less than nothing; the range holds the figure and widens', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 500 }), { minLength: 6, maxLength: 40 }), fc.constantFrom(1, 4), (history, season) => {
        const { forecast, low, high } = run(history, { season, periods: 6 });
        forecast.forEach((value, index) => {
          expect(Number.isFinite(value) && value >= 0).toBe(true);
          expect(low[index] ?? 0).toBeLessThanOrEqual(value);
          expect(high[index] ?? 0).toBeGreaterThanOrEqual(value);
          expect(low[index] ?? -1).toBeGreaterThanOrEqual(0);
        });
      }),
      { numRuns: 25 },
    );
  });

  it('chosen as the best are possible with all of the history, also with what came last', () => {
    const { method, forecast } = run([1, 1, 1, 1, 31, 1, 14, 30, 1, 0, 0, 0], { season: 4, periods: 6 });
    expect(method).not.toBe('holtWintersMultiplicative');
    expect(forecast.every((value) => Number.isFinite(value) && value >= 0)).toBe(true);
  });

  it('refuse what can’t be read or is too short', () => {
    const code = (history: string[], more: Partial<ForecastProblem> = {}): string => {
      try {
        computeForecast({ history, season: 12, periods: 3, method: 'best', ...more });
      } catch (error) {
        if (error instanceof Refusal) return error.code;
        throw error;
      }
      return '';
    };
    expect(code(['1', 'two', '3'])).toBe('notANumber');
    expect(code(['1', '2'])).toBe('tooShort');
    expect(code(['1', '2', '3', '4'], { method: 'holtWintersAdditive' })).toBe('tooShort');
    expect(code(['1', '2', '3'], { season: 0 })).toBe('badSeason');
  });
});

describe('the simplex', () => {
  it('finds the bottom of a valley', () => {
    const [x = 0, y = 0] = minimise(([a = 0, b = 0]) => (a - 3) ** 2 + 10 * (b + 1) ** 2 + a * b * 0.1, [0, 0]);
    expect(Math.abs(x - 3.05)).toBeLessThan(0.02);
    expect(Math.abs(y + 1.015)).toBeLessThan(0.02);
  });

  it('tells what the method would have said of the past, and says the same with and without it', () => {
    const history = Array.from({ length: 36 }, (_, month) => String(50 + 20 * Math.round(Math.sin(month / 1.9))));
    for (const method of ['best', ...forecastMethods] as const) {
      const problem = { history, season: 12, periods: 6, method };
      const { fit, ...result } = forecastFitted(problem);
      expect(fit).toHaveLength(36);
      expect(fit.filter((each) => each !== null && each >= 0).length).toBeGreaterThan(11);
      expect(result).toEqual(computeForecast(problem));
    }
  });
});
