/** An order's pegging as rows of a time chart, with the chain that decides when it is ready. */

/** A supply with what it waits for; dates as `YYYY-MM-DD`. */
export interface Link {
  readonly start: string;
  readonly due: string;
  /** `null` where something that it waits for has no supply. */
  readonly ready: string | null;
  readonly below: readonly this[];
}

/** After every date. */
const NEVER = '~';

export interface ChainRow<T> {
  readonly link: T;
  /** Levels below the order line. */
  readonly depth: number;
  /** Whether the order is ready no sooner because of this. */
  readonly critical: boolean;
}

/**
 * The supplies of a line in the order of a chart, each followed by what it waits for. Critical is, from the line down, the
 * supply that is ready last or never, and of what that waits for again the last, as long as it comes after today: stock keeps nobody
 * waiting. Of several that are ready on one day it is the one that takes longest to come.
 */
export function chainOf<T extends Link>(served: readonly T[], today: string): ChainRow<T>[] {
  const rows: ChainRow<T>[] = [];
  const walk = (links: readonly T[], depth: number, onChain: boolean): void => {
    const last = onChain ? lastOf(links, today) : null;
    for (const link of links) {
      const critical = link === last;
      rows.push({ link, depth, critical });
      walk(link.below, depth + 1, critical);
    }
  };
  walk(served, 0, true);
  return rows;
}

function lastOf<T extends Link>(links: readonly T[], today: string): T | null {
  let last: T | null = null;
  for (const link of links) {
    const [ready, latest] = [link.ready ?? NEVER, last?.ready ?? (last ? NEVER : '')];
    if (ready <= today) continue;
    if (last === null || ready > latest || (ready === latest && link.start < last.start)) last = link;
  }
  return last;
}
