/** The ways to forecast: each takes a history and gives a fit of the past and figures for the time to come. */
import { smooth, type Fitted } from './smoothing';

export const forecastMethods = [
  'movingAverage',
  'linearTrend',
  'seasonalAverage',
  'simple',
  'holt',
  'dampedHolt',
  'holtWintersAdditive',
  'holtWintersMultiplicative',
  'croston',
] as const;
export type ForecastMethod = (typeof forecastMethods)[number];

interface Method {
  /** The fewest periods that it can be worked out from. */
  readonly least: (season: number) => number;
  readonly possible?: (history: readonly number[], season: number) => boolean;
  readonly fit: (history: readonly number[], season: number) => Fitted;
}

const WINDOW = 12;
const CROSTON_SHARES = [0.05, 0.1, 0.15, 0.2, 0.3];
const flat = (level: number, fit: readonly number[]): Fitted => ({
  fit,
  forecast: (periods) => Array<number>(periods).fill(level),
  widening: () => 1,
});
const mean = (values: readonly number[]): number => values.reduce((sum, each) => sum + each, 0) / Math.max(1, values.length);
const squares = (history: readonly number[], fit: readonly number[], from = 0): number =>
  history.slice(from).reduce((sum, each, index) => sum + (each - (fit[index + from] ?? 0)) ** 2, 0);

/** The mean of the last periods, over the window from 2 to 12 that would have been best so far. */
function movingAverage(history: readonly number[]): Fitted {
  const fits = Array.from({ length: Math.max(1, Math.min(WINDOW, history.length - 1) - 1) }, (_, index) => {
    const window = index + 2;
    const fit = history.map((value, at) => (at === 0 ? value : mean(history.slice(Math.max(0, at - window), at))));
    return { window, fit, error: squares(history, fit, Math.min(WINDOW, history.length - 1)) };
  });
  const best = fits.reduce((kept, each) => (each.error < kept.error ? each : kept));
  return flat(mean(history.slice(-best.window)), best.fit);
}

/** A straight line by least squares. */
function linearTrend(history: readonly number[]): Fitted {
  const centre = (history.length - 1) / 2;
  const level = mean(history);
  const spread = history.reduce((sum, _, at) => sum + (at - centre) ** 2, 0);
  const slope = history.reduce((sum, value, at) => sum + (at - centre) * (value - level), 0) / Math.max(1e-9, spread);
  const at = (period: number): number => level + slope * (period - centre);
  return {
    fit: history.map((_, period) => at(period)),
    forecast: (periods) => Array.from({ length: periods }, (_, index) => at(history.length + index)),
    widening: (ahead) => Math.sqrt(1 + 1 / history.length + (history.length - 1 + ahead - centre) ** 2 / Math.max(1e-9, spread)),
  };
}

/** The level of the last season times the index of the place in the season, over all whole seasons. */
function seasonalAverage(history: readonly number[], season: number): Fitted {
  const seasons = Math.floor(history.length / season);
  const offset = history.length - seasons * season;
  const means = Array.from({ length: seasons }, (_, index) => mean(history.slice(offset + index * season, offset + (index + 1) * season)));
  const indexes = Array.from({ length: season }, (_, place) =>
    mean(means.map((level, index) => (Math.abs(level) < 1e-9 ? 1 : (history[offset + index * season + place] ?? 0) / level))),
  );
  const last = means.at(-1) ?? 0;
  const indexAt = (period: number): number => indexes[(((period - offset) % season) + season) % season] ?? 1;
  return {
    fit: history.map((_, period) => (means[Math.max(0, Math.floor((period - offset) / season) - 1)] ?? last) * indexAt(period)),
    forecast: (periods) => Array.from({ length: periods }, (_, index) => last * indexAt(history.length + index)),
    widening: () => 1,
  };
}

/** Croston (1972) with the correction of Syntetos and Boylan (2005): size and gap of demand smoothed apart. */
function croston(history: readonly number[]): Fitted {
  const withShare = (share: number): { error: number; level: number; fit: number[] } => {
    const first = history.findIndex((each) => each > 0);
    let size = history[first] ?? 0;
    let gap = Math.max(1, history.length / Math.max(1, history.filter((each) => each > 0).length));
    let since = 1;
    const fit = history.map((value) => {
      const expected = (1 - share / 2) * (size / gap);
      if (value > 0) {
        size += share * (value - size);
        gap += share * (since - gap);
        since = 1;
      } else since += 1;
      return expected;
    });
    return { error: squares(history, fit), level: (1 - share / 2) * (size / gap), fit };
  };
  const best = CROSTON_SHARES.map(withShare).reduce((kept, each) => (each.error < kept.error ? each : kept));
  return flat(best.level, best.fit);
}

const whole = (season: number): number => 2 * season;
const positive = (history: readonly number[]): boolean => history.every((each) => each > 0);

export const METHODS: Readonly<Record<ForecastMethod, Method>> = {
  movingAverage: { least: () => 3, fit: movingAverage },
  linearTrend: { least: () => 3, fit: linearTrend },
  seasonalAverage: { least: whole, possible: (_, season) => season > 1, fit: seasonalAverage },
  simple: { least: () => 3, fit: (history, season) => smooth(history, season, { trend: 'none', season: 'none' }) },
  holt: { least: () => 4, fit: (history, season) => smooth(history, season, { trend: 'linear', season: 'none' }) },
  dampedHolt: { least: () => 5, fit: (history, season) => smooth(history, season, { trend: 'damped', season: 'none' }) },
  holtWintersAdditive: {
    least: whole,
    possible: (_, season) => season > 1,
    fit: (history, season) => smooth(history, season, { trend: 'linear', season: 'additive' }),
  },
  holtWintersMultiplicative: {
    least: whole,
    possible: (history, season) => season > 1 && positive(history),
    fit: (history, season) => smooth(history, season, { trend: 'linear', season: 'multiplicative' }),
  },
  croston: { least: () => 3, possible: (history) => history.some((each) => each > 0) && history.every((each) => each >= 0), fit: croston },
};

/** Whether a method can be worked out from a history. */
export function isPossible(method: ForecastMethod, history: readonly number[], season: number): boolean {
  const { least, possible } = METHODS[method];
  return history.length >= least(season) && (possible?.(history, season) ?? true);
}
