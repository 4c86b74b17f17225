/** How many of something could be built from what is in hand, working down its bill of materials, and what stops it. */
import { ZERO, asQuantity, type Quantity } from '../base';
import { componentQuantity, type ComponentPer } from './components';

export interface PartFacts {
  readonly code: string;
  readonly decimals: number;
  /** What may be taken of it now. */
  readonly inHand: Quantity;
  /** What one is made from, by code; empty for what is bought. */
  readonly lines: readonly (ComponentPer & { readonly component: string })[];
  /** A part that exists only inside the bill: never in hand, always made on the way. */
  readonly phantom: boolean;
}

export interface PartNeed {
  readonly code: string;
  /** 1 for what goes straight in. */
  readonly level: number;
  readonly inHand: Quantity;
  /** For as many as can be built. */
  readonly needed: Quantity;
  /** Of these, what would have to be made first. */
  readonly toMake: Quantity;
  /** For one more than can be built, what is missing; 0 where it would suffice. */
  readonly missing: Quantity;
}

export interface Buildable {
  /** What can be built, parts made on the way included. */
  readonly quantity: Quantity;
  /** What can be built from what is in hand one level down, nothing made first. */
  readonly straight: Quantity;
  readonly parts: readonly PartNeed[];
  /** The parts that stop one more. */
  readonly bottlenecks: readonly string[];
}

const MOST_LEVELS = 50;
/** Nobody builds more than this at once, in 10⁻⁵. */
const MOST = 2 ** 47;

interface Need {
  level: number;
  needed: number;
  toMake: number;
  missing: number;
}

/** What a quantity takes: from what is in hand first, the rest made where it has a bill. */
function needsOf(code: string, quantity: Quantity, partOf: (code: string) => PartFacts, deep: boolean): Map<string, Need> {
  const left = new Map<string, number>();
  const needs = new Map<string, Need>();
  const take = (parent: PartFacts, count: Quantity, level: number): void => {
    for (const line of parent.lines) {
      const part = partOf(line.component);
      const wanted = componentQuantity(count, line, part.decimals);
      const need = needs.get(part.code) ?? { level, needed: 0, toMake: 0, missing: 0 };
      needs.set(part.code, need);
      need.level = Math.max(need.level, level);
      need.needed += wanted;
      const there = left.get(part.code) ?? (part.phantom ? 0 : part.inHand);
      const taken = Math.min(there, wanted);
      left.set(part.code, there - taken);
      const short = asQuantity(wanted - taken);
      if (short === 0) continue;
      if ((deep || part.phantom) && part.lines.length > 0 && level < MOST_LEVELS) {
        need.toMake += short;
        take(part, short, level + 1);
      } else need.missing += short;
    }
  };
  take(partOf(code), quantity, 1);
  return needs;
}

/** `unit` is the smallest quantity of the parent that can be built, in 10⁻⁵. */
export function howManyCouldBeBuilt(code: string, partOf: (code: string) => PartFacts, unit: Quantity): Buildable {
  if (partOf(code).lines.length === 0) return { quantity: ZERO, straight: ZERO, parts: [], bottlenecks: [] };
  const enough = (count: number, deep: boolean): boolean =>
    [...needsOf(code, asQuantity(count * unit), partOf, deep).values()].every((need) => need.missing === 0);
  const most = (deep: boolean): number => {
    let step = 1;
    while (step * unit < MOST && enough(step, deep)) step *= 2;
    let [can, cannot] = [Math.floor(step / 2), step];
    while (cannot - can > 1) {
      const middle = Math.floor((can + cannot) / 2);
      if (enough(middle, deep)) can = middle;
      else cannot = middle;
    }
    return can;
  };
  const count = most(true);
  const now = needsOf(code, asQuantity(count * unit), partOf, true);
  const oneMore = needsOf(code, asQuantity((count + 1) * unit), partOf, true);
  const parts = [...oneMore].map(([part, more]): PartNeed => {
    const need = now.get(part);
    return {
      code: part,
      level: more.level,
      inHand: partOf(part).inHand,
      needed: asQuantity(need?.needed ?? 0),
      toMake: asQuantity(need?.toMake ?? 0),
      missing: asQuantity(more.missing),
    };
  });
  parts.sort((a, b) => a.level - b.level || (a.code < b.code ? -1 : 1));
  return {
    quantity: asQuantity(count * unit),
    straight: asQuantity(most(false) * unit),
    parts,
    bottlenecks: parts.filter((part) => part.missing > 0).map((part) => part.code),
  };
}
