/**
 * Splits a sum over weights without loss (largest remainder): every part is the proportional share rounded down, and
 * what is left over goes one by one to the largest remainders, first come first on a tie.
 *
 * Weights are whole numbers ≥ 0, at least one above 0; the total may be negative.
 */
export function splitByWeights(total: number, weights: readonly number[]): number[] {
  const sum = weights.reduce((all, each) => all + BigInt(each), 0n);
  if (sum <= 0n) throw new RangeError('a split needs a weight above 0');
  const magnitude = BigInt(Math.abs(total));
  const shares = weights.map((weight, index) => {
    const product = magnitude * BigInt(weight);
    return { index, share: product / sum, remainder: product % sum };
  });
  let left = magnitude - shares.reduce((all, each) => all + each.share, 0n);
  const byRemainder = [...shares].sort((a, b) => (a.remainder === b.remainder ? a.index - b.index : a.remainder > b.remainder ? -1 : 1));
  for (const each of byRemainder) {
    if (left === 0n) break;
    each.share += 1n;
    left -= 1n;
  }
  return shares.map((each) => Number(total < 0 ? -each.share : each.share));
}
