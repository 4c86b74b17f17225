/** Which demand each supply serves. Demands take in order of date and id, from stock first, then as supply comes. */
import type { CountedDemand } from './demand';
import type { Supply } from './netting';

export const SAFETY = 'safety';

export interface NodePeg {
  readonly supply: Supply;
  readonly demand: string;
  readonly quantity: bigint;
}

/** Pegs of a node, one per supply and demand id, those of one supply in the order in which they were taken. */
export function pegNode(demands: readonly CountedDemand[], supplies: readonly Supply[]): NodePeg[] {
  const left = supplies.map((supply) => supply.quantity);
  const pegged = supplies.map(() => new Map<string, bigint>());
  let first = 0;
  for (const demand of demands) {
    let wanted = demand.quantity;
    while (first < supplies.length && left[first] === 0n) first += 1;
    for (let index = first; index < supplies.length && wanted > 0n; index += 1) {
      const supply = supplies[index];
      const there = left[index] ?? 0n;
      if (!supply || there === 0n || (supply.usableUntil !== null && supply.usableUntil < demand.countedOn)) continue;
      const bite = wanted < there ? wanted : there;
      left[index] = there - bite;
      wanted -= bite;
      pegged[index]?.set(demand.id, (pegged[index]?.get(demand.id) ?? 0n) + bite);
    }
  }
  return supplies.flatMap((supply, index) => {
    const rest = left[index] ?? 0n;
    if (supply.kind === 'suggestion' && rest > 0n) pegged[index]?.set(SAFETY, rest);
    return [...(pegged[index] ?? [])].map(([demand, quantity]) => ({ supply, demand, quantity }));
  });
}
