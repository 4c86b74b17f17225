/** How far a line may go below its price. */
import { divideRounded, Refusal, writePoints, type UnitPrice } from '../base';

/**
 * What a line gives away in all, in basis points of the price that the lists make: by a discount, by a lower price that
 * was typed, or by both.
 */
export function givenAway(listed: UnitPrice, price: UnitPrice, discount: number): number {
  if (listed <= 0) return discount;
  const net = BigInt(price) * BigInt(10_000 - discount);
  const points = 10_000n - divideRounded(net, BigInt(listed));
  return points < 0n ? 0 : Number(points);
}

/** Refuses `overCeiling` where a line gives away more than the item's ceiling, unless somebody who may gives a reason. */
export function assertCeiling(code: string, given: number, ceiling: number | null, mayExceed: boolean, reason: string): void {
  if (ceiling === null || given <= ceiling) return;
  if (mayExceed && reason.trim() !== '') return;
  throw new Refusal(
    'overCeiling',
    `${writePoints(given)} % off ${code} is more than its ceiling of ${writePoints(ceiling)} %: ${mayExceed ? 'give a reason for it, or less.' : 'give less, or ask somebody who may go beyond it.'}`,
    { given: writePoints(given), ceiling: writePoints(ceiling), reasonNeeded: mayExceed },
  );
}
