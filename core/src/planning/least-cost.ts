/**
 * Least-cost lot sizing: which of the coming net requirements one order covers, so that ordering and holding together
 * cost least (Wagner and Whitin 1958). Each order costs the same; each unit held from the day of its order to the day on
 * which it is needed costs by the day.
 */
import type { Day } from '../base';

/** What is missing from a day on, beyond what was missing before. */
export interface NetRequirement {
  readonly day: Day;
  readonly quantity: bigint;
}

export interface LeastCostLots {
  /** For each order, the first requirement that it covers, and how much it is; it covers those up to the next order. */
  readonly orders: readonly { readonly first: number; readonly quantity: bigint }[];
  readonly cost: bigint;
}

/**
 * The cheapest orders that cover requirements in order of their days. Costs are integers of one unit: `orderCost` for an
 * order, `holding` for a unit and day. Of equally cheap ones the later orders are the fewer, and the first the smaller.
 */
export function leastCostLots(requirements: readonly NetRequirement[], orderCost: bigint, holding: bigint): LeastCostLots {
  const count = requirements.length;
  // Cheapest way to cover the requirements from each on, worked out from the last backwards.
  const best: { cost: bigint; until: number }[] = Array.from({ length: count + 1 }, () => ({ cost: 0n, until: count }));
  for (let first = count - 1; first >= 0; first -= 1) {
    const start = requirements[first]?.day ?? 0;
    let held = 0n;
    let cheapest: { cost: bigint; until: number } | null = null;
    for (let until = first + 1; until <= count; until += 1) {
      const last = requirements[until - 1];
      if (last) held += last.quantity * BigInt(last.day - start);
      const ownCost = orderCost + holding * held;
      // Holding only grows: once it alone is dearer than the best, a longer order can't be cheaper.
      if (cheapest && ownCost > cheapest.cost) break;
      const cost = ownCost + (best[until]?.cost ?? 0n);
      if (!cheapest || cost < cheapest.cost) cheapest = { cost, until };
    }
    if (cheapest) best[first] = cheapest;
  }
  const orders: { first: number; quantity: bigint }[] = [];
  for (let first = 0; first < count; first = best[first]?.until ?? count) {
    const covered = requirements.slice(first, best[first]?.until ?? count);
    orders.push({ first, quantity: covered.reduce((sum, each) => sum + each.quantity, 0n) });
  }
  return { orders, cost: best[0]?.cost ?? 0n };
}
