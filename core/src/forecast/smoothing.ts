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

interface Run {
  readonly errors: number;
  readonly fit: readonly number[];
  readonly level: number;
  readonly trend: number;
  readonly seasonals: readonly number[];
}

function run(history: readonly number[], kind: SmoothingKind, seasonals: readonly number[], by: Parameters): Run {
  const season = seasonals.length;
  let { level, trend } = by;
  let errors = 0;
  const figures = [...seasonals];
  const fit: number[] = [];
  history.forEach((value, index) => {
    const place = season === 0 ? 0 : index % season;
    const seasonal = figures[place] ?? 0;
    const carried = kind.trend === 'none' ? 0 : by.phi * trend;
    const base = level + carried;
    const expected = kind.season === 'multiplicative' ? base * seasonal : base + (season === 0 ? 0 : seasonal);
    fit.push(expected);
    errors += (value - expected) ** 2;
    const bare = kind.season === 'multiplicative' ? value / (Math.abs(seasonal) < 1e-9 ? 1e-9 : seasonal) : value - (season === 0 ? 0 : seasonal);
    const next = by.alpha * bare + (1 - by.alpha) * base;
    if (kind.trend !== 'none') trend = by.beta * (next - level) + (1 - by.beta) * carried;
    if (season > 0) {
      const fresh = kind.season === 'multiplicative' ? value / (Math.abs(base) < 1e-9 ? 1e-9 : base) : value - base;
      figures[place] = by.gamma * fresh + (1 - by.gamma) * seasonal;
    }
    level = next;
  });
  return { errors, fit, level, trend, seasonals: figures };
}

const within = (value: number, low: number, high: number): number => low + (high - low) / (1 + Math.exp(-value));
const outOf = (value: number, low: number, high: number): number => Math.log((value - low) / (high - value));

/** Fits a kind to a history. The parameters lie within the usual bounds: each of them from 0 to 1, damping from 0.8 to 0.98. */
export function smooth(history: readonly number[], season: number, kind: SmoothingKind): Fitted {
  const start = startOf(history, season, kind);
  const spread = Math.max(1e-6, Math.sqrt(mean(history.map((each) => (each - mean(history)) ** 2))));
  const read = (point: readonly number[]): Parameters => {
    const [alpha = 0, beta = 0, gamma = 0, phi = 0, level = 0, trend = 0] = point;
    const share = within(alpha, 0.0001, 0.9999);
    return {
      alpha: share,
      beta: kind.trend === 'none' ? 0 : within(beta, 0.0001, 0.9999),
      gamma: kind.season === 'none' ? 0 : within(gamma, 0.0001, 0.9999),
      phi: kind.trend === 'damped' ? within(phi, 0.8, 0.98) : 1,
      level: start.level + level * spread,
      trend: kind.trend === 'none' ? 0 : start.trend + trend * spread * 0.1,
    };
  };
  const used = [true, kind.trend !== 'none', kind.season !== 'none', kind.trend === 'damped', true, kind.trend !== 'none'];
  const origin = [outOf(0.3, 0.0001, 0.9999), outOf(0.1, 0.0001, 0.9999), outOf(0.1, 0.0001, 0.9999), outOf(0.92, 0.8, 0.98), 0, 0];
  const expand = (free: readonly number[]): number[] => {
    let next = 0;
    return used.map((each, index) => (each ? (free[next++] ?? 0) : (origin[index] ?? 0)));
  };
  const best = minimise(
    (free) => run(history, kind, start.seasonals, read(expand(free))).errors,
    origin.filter((_, index) => used[index]),
  );
  const by = read(expand(best));
  const ended = run(history, kind, start.seasonals, by);
  const places = start.seasonals.length;
  return {
    fit: ended.fit,
    forecast: (periods) =>
      Array.from({ length: periods }, (_, index) => {
        let carried = 0;
        if (kind.trend !== 'none') for (let step = 1; step <= index + 1; step += 1) carried += by.phi ** step * ended.trend;
        const seasonal = ended.seasonals[places === 0 ? 0 : (history.length + index) % places] ?? 0;
        const base = ended.level + carried;
        return kind.season === 'multiplicative' ? base * seasonal : base + (places === 0 ? 0 : seasonal);
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
