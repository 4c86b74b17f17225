/**
 * Exponential smoothing: level, trend (none, linear, damped) and season (none, additive, multiplicative), with smoothing
 * parameters that make the one-step errors least (Hyndman, Koehler, Ord and Snyder 2008, chapters 2 and 5).
 */
import { minimise } from './minimise';

export interface SmoothingKind {
  readonly trend: 'none' | 'linear' | 'damped';
  readonly season: 'none' | 'additive' | 'multiplicative';
}

export interface Fitted {
  /** One-step forecasts of the past, beside the history. */
  readonly fit: readonly number[];
  readonly forecast: (periods: number) => number[];
  /** How much wider the range is h periods ahead than one ahead. */
  readonly widening: (ahead: number) => number;
}

interface Parameters {
  readonly alpha: number;
  readonly beta: number;
  readonly gamma: number;
  readonly phi: number;
  readonly level: number;
  readonly trend: number;
}

interface Start {
  readonly level: number;
  readonly trend: number;
  readonly seasonals: readonly number[];
}

const mean = (values: readonly number[]): number => values.reduce((sum, each) => sum + each, 0) / Math.max(1, values.length);

/** Level, trend and seasonal figures of the beginning, by what the first seasons look like. */
function startOf(history: readonly number[], season: number, kind: SmoothingKind): Start {
  if (kind.season === 'none') {
    const few = history.slice(0, Math.min(history.length, 8));
    const slope = few.length > 1 ? ((few.at(-1) ?? 0) - (few[0] ?? 0)) / (few.length - 1) : 0;
    return { level: mean(few.slice(0, 3)), trend: kind.trend === 'none' ? 0 : slope, seasonals: [] };
  }
  const seasons = Math.min(3, Math.floor(history.length / season));
  const means = Array.from({ length: seasons }, (_, index) => mean(history.slice(index * season, (index + 1) * season)));
  const slope = seasons > 1 ? ((means.at(-1) ?? 0) - (means[0] ?? 0)) / ((seasons - 1) * season) : 0;
  const first = means[0] ?? 0;
  const seasonals = Array.from({ length: season }, (_, place) =>
    mean(
      means.map((_, index) => {
        const value = history[index * season + place] ?? 0;
        const centre = first + slope * (index * season + place - (season - 1) / 2);
        return kind.season === 'additive' ? value - centre : value / (Math.abs(centre) < 1e-9 ? 1e-9 : centre);
      }),
    ),
  );
  const shift = mean(seasonals);
  return {
    level: first - slope * ((season + 1) / 2),
    trend: kind.trend === 'none' ? 0 : slope,
    seasonals: seasonals.map((each) => (kind.season === 'additive' ? each - shift : each / (Math.abs(shift) < 1e-9 ? 1 : shift))),
  };
}

interface Ended {
  readonly errors: number;
  readonly level: number;
  readonly trend: number;
}

/** As good as zero, where something is divided by it. */
const TINY = 1e-9;

/**
 * Goes through the history once. `figures` holds the seasonal figures, those of the beginning at first and those of the
 * end afterwards; `fit` takes the one-step forecasts. Fitting goes through here some hundred times, so nothing is made anew.
 */
function run(history: Float64Array, kind: SmoothingKind, figures: Float64Array, by: Parameters, fit: Float64Array | null): Ended {
  const season = figures.length;
  const trended = kind.trend !== 'none';
  const multiplied = kind.season === 'multiplicative';
  const { alpha, beta, gamma, phi } = by;
  let { level, trend } = by;
  let errors = 0;
  let place = 0;
  for (let index = 0; index < history.length; index += 1) {
    const value = history[index] ?? 0;
    const seasonal = season === 0 ? 0 : (figures[place] ?? 0);
    const carried = trended ? phi * trend : 0;
    const base = level + carried;
    const expected = multiplied ? base * seasonal : base + seasonal;
    if (fit) fit[index] = expected;
    errors += (value - expected) * (value - expected);
    const bare = multiplied ? value / (Math.abs(seasonal) < TINY ? TINY : seasonal) : value - seasonal;
    const next = alpha * bare + (1 - alpha) * base;
    if (trended) trend = beta * (next - level) + (1 - beta) * carried;
    if (season > 0) {
      const fresh = multiplied ? value / (Math.abs(base) < TINY ? TINY : base) : value - base;
      figures[place] = gamma * fresh + (1 - gamma) * seasonal;
      place = place + 1 === season ? 0 : place + 1;
    }
    level = next;
  }
  return { errors, level, trend };
}

const within = (value: number, low: number, high: number): number => low + (high - low) / (1 + Math.exp(-value));
const outOf = (value: number, low: number, high: number): number => Math.log((value - low) / (high - value));

/** Fits a kind to a history. The parameters lie within the usual bounds: each of them from 0 to 1, damping from 0.8 to 0.98. */
export function smooth(history: readonly number[], season: number, kind: SmoothingKind): Fitted {
  const start = startOf(history, season, kind);
  const average = mean(history);
  const spread = Math.max(1e-6, Math.sqrt(mean(history.map((each) => (each - average) ** 2))));
  const read = (point: ArrayLike<number>): Parameters => {
    let next = 0;
    // Only the figures that the kind has are free; they stand one after the other.
    const free = (): number => point[next++] ?? 0;
    const trended = kind.trend !== 'none';
    return {
      alpha: within(free(), 0.0001, 0.9999),
      beta: trended ? within(free(), 0.0001, 0.9999) : 0,
      gamma: kind.season === 'none' ? 0 : within(free(), 0.0001, 0.9999),
      phi: kind.trend === 'damped' ? within(free(), 0.8, 0.98) : 1,
      level: start.level + free() * spread,
      trend: trended ? start.trend + free() * spread * 0.1 : 0,
    };
  };
  const values = Float64Array.from(history);
  const begun = Float64Array.from(start.seasonals);
  const figures = new Float64Array(begun.length);
  const through = (by: Parameters, fit: Float64Array | null = null): Ended => {
    figures.set(begun);
    return run(values, kind, figures, by, fit);
  };
  const origin = [
    outOf(0.3, 0.0001, 0.9999),
    ...(kind.trend === 'none' ? [] : [outOf(0.1, 0.0001, 0.9999)]),
    ...(kind.season === 'none' ? [] : [outOf(0.1, 0.0001, 0.9999)]),
    ...(kind.trend === 'damped' ? [outOf(0.92, 0.8, 0.98)] : []),
    0,
    ...(kind.trend === 'none' ? [] : [0]),
  ];
  const by = read(minimise((point) => through(read(point)).errors, origin));
  const fit = new Float64Array(values.length);
  const ended = through(by, fit);
  const places = begun.length;
  return {
    fit: [...fit],
    forecast: (periods) =>
      Array.from({ length: periods }, (_, index) => {
        let carried = 0;
        if (kind.trend !== 'none') for (let step = 1; step <= index + 1; step += 1) carried += by.phi ** step * ended.trend;
        const seasonal = places === 0 ? 0 : (figures[(history.length + index) % places] ?? 0);
        const base = ended.level + carried;
        return kind.season === 'multiplicative' ? base * seasonal : base + seasonal;
      }),
    widening: (ahead) => {
      let sum = 1;
      let carried = 0;
      for (let step = 1; step < ahead; step += 1) {
        carried += kind.trend === 'none' ? 0 : by.phi ** step;
        const seasonal = places > 0 && step % places === 0 ? by.gamma * (1 - by.alpha) : 0;
        sum += (by.alpha * (1 + by.beta * carried) + seasonal) ** 2;
      }
      return Math.sqrt(sum);
    },
  };
}
