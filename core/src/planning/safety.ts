/** Safety stock from how demand and lead time vary. */

/** What demand and supply of an item were like, per working day. */
export interface DemandFigures {
  /** Average demand of a working day. */
  readonly mean: number;
  /** Standard deviation of a working day's demand. */
  readonly deviation: number;
  /** Working days that an order takes to come. */
  readonly leadDays: number;
  /** Standard deviation of that. */
  readonly leadDeviation: number;
}

/** Average and standard deviation (of the sample) of values; 0 for what too few values do not tell. */
export function spreadOf(values: readonly number[]): { readonly mean: number; readonly deviation: number } {
  if (values.length === 0) return { mean: 0, deviation: 0 };
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  if (values.length < 2) return { mean, deviation: 0 };
  const squares = values.reduce((sum, value) => sum + (value - mean) ** 2, 0);
  return { mean, deviation: Math.sqrt(squares / (values.length - 1)) };
}

/**
 * Stock to keep so that an order cycle ends without running out with the probability `level` (above 0.5 and below 1):
 * `z × √(lead × σ_demand² + mean² × σ_lead²)`, demand and lead time taken as normal. Also gives `z`. Throws RangeError for
 * another level.
 */
export function safetyForService(figures: DemandFigures, level: number): { readonly safety: number; readonly z: number } {
  if (!(level > 0.5 && level < 1)) throw new RangeError('a service level lies between 0.5 and 1');
  const z = normalQuantile(level);
  const { mean, deviation, leadDays, leadDeviation } = figures;
  return { z, safety: z * Math.sqrt(leadDays * deviation ** 2 + mean ** 2 * leadDeviation ** 2) };
}

const LOW_TAIL = 0.02425;
const A = [-39.69683028665376, 220.9460984245205, -275.9285104469687, 138.357751867269, -30.66479806614716, 2.506628277459239] as const;
const B = [-54.47609879822406, 161.5858368580409, -155.6989798598866, 66.80131188771972, -13.28068155288572] as const;
const C = [-0.007784894002430293, -0.3223964580411365, -2.400758277161838, -2.549732539343734, 4.374664141464968, 2.938163982698783] as const;
const D = [0.007784695709041462, 0.3224671290700398, 2.445134137142996, 3.754408661907416] as const;

/** The standard normal quantile of a probability, to about nine places (Acklam's rational approximation). */
export function normalQuantile(p: number): number {
  if (p < LOW_TAIL) return tail(Math.sqrt(-2 * Math.log(p)));
  if (p > 1 - LOW_TAIL) return -tail(Math.sqrt(-2 * Math.log(1 - p)));
  const q = p - 0.5;
  const r = q * q;
  return (polynomial(A, r) * q) / (polynomial(B, r) * r + 1);
}

function tail(q: number): number {
  return polynomial(C, q) / (polynomial(D, q) * q + 1);
}

/** Value of a polynomial, the highest power first. */
function polynomial(coefficients: readonly number[], x: number): number {
  return coefficients.reduce((sum, each) => sum * x + each, 0);
}
