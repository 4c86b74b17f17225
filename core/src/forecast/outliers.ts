/** Which figures of a history do not belong to it, such as one large order. */

const WINDOW = 5;
const FAR = 4.5;
const TENTH = 0.1;
/** Median absolute deviation to standard deviation, for what is spread normally. */
const NORMAL = 1.4826;

function medianOf(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length / 2;
  return sorted.length % 2 === 1 ? (sorted[Math.floor(middle)] ?? 0) : ((sorted[middle - 1] ?? 0) + (sorted[middle] ?? 0)) / 2;
}

/**
 * For each figure, whether it lies far from what is usual: from its neighbours and, where there are seasons, from the
 * same period of other seasons, too. `usual` is what stands in its place when it is left out. Of fewer than six figures
 * none is told apart.
 */
export function findOutliers(history: readonly number[], season: number): { readonly outlier: boolean; readonly usual: number }[] {
  const usual = history.map((_, index) => {
    const near = history.slice(Math.max(0, index - Math.floor(WINDOW / 2)), index + Math.ceil(WINDOW / 2));
    const same = season > 1 ? history.filter((__, other) => other % season === index % season) : [];
    return same.length >= 3 ? medianOf(same) : medianOf(near);
  });
  if (history.length < 6) return history.map((value) => ({ outlier: false, usual: value }));
  const rest = history.map((value, index) => value - (usual[index] ?? 0));
  const spread = NORMAL * medianOf(rest.map((value) => Math.abs(value)));
  const middle = medianOf(history.map((value) => Math.abs(value)));
  // Of what is wanted now and then, a few pieces more or less are chance: counts spread as the root of their mean.
  const chance = Math.sqrt(history.reduce((sum, value) => sum + Math.abs(value), 0) / history.length);
  return history.map((_, index) => {
    const at = usual[index] ?? 0;
    // A large figure may vary by more than a small one.
    const least = Math.max(spread, chance, TENTH * middle, TENTH * Math.abs(at));
    return { outlier: least > 0 && Math.abs(rest[index] ?? 0) > FAR * least, usual: at };
  });
}
