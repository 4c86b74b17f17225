/** A planning rule in exact numbers, and how large it makes a suggestion. */
import type { Day, Decimal } from '../../base';
import { leastCostLots, type NetRequirement } from '../least-cost';
import type { PlanRule } from '../input';
import { exact, narrow, powerOfTen, timesOverDown, timesOverUp } from './exact';

export interface CompactRule {
  readonly source: PlanRule['source'];
  /** Index of the warehouse that a transfer comes from, or -1. */
  readonly from: number;
  readonly leadDays: number;
  readonly threshold: number;
  readonly sizing: PlanRule['lotSizing']['kind'];
  /** The quantity, level or days that the sizing asks for. */
  readonly measure: number;
  readonly orderCost: bigint;
  readonly holding: bigint;
  readonly minimum: number;
  readonly multiple: number;
  /** Infinity where there is none. */
  readonly maximum: number;
  readonly yieldOver: number;
  readonly yieldUnder: number;
  readonly fenceDays: number;
  readonly slackDays: number;
  readonly demand: PlanRule['demand'];
  readonly consumeBack: number;
  readonly consumeForward: number;
  readonly quotesFrom: Decimal | null;
  readonly quotesWeighted: boolean;
}

/** The rule in numbers. Throws {@link TooWide} where one of them is not exact. */
export function compactRule(rule: PlanRule, warehouseIndex: (code: string) => number): CompactRule {
  const sizing = rule.lotSizing;
  const measure =
    sizing.kind === 'fixed' || sizing.kind === 'reorderPoint'
      ? narrow(sizing.quantity)
      : sizing.kind === 'minMax'
        ? narrow(sizing.max)
        : sizing.kind === 'period'
          ? sizing.days
          : 0;
  return {
    source: rule.source,
    from: rule.from === null ? -1 : warehouseIndex(rule.from),
    leadDays: rule.leadDays,
    threshold: narrow(rule.threshold),
    sizing: sizing.kind,
    measure,
    orderCost: sizing.kind === 'leastCost' ? sizing.orderCost : 0n,
    holding: sizing.kind === 'leastCost' ? sizing.holding : 0n,
    minimum: narrow(rule.minimum),
    multiple: narrow(rule.multiple),
    maximum: rule.maximum === null ? Infinity : narrow(rule.maximum),
    yieldOver: narrow(rule.yield.mantissa),
    yieldUnder: powerOfTen(rule.yield.scale),
    fenceDays: rule.fenceDays,
    slackDays: rule.slackDays,
    demand: rule.demand,
    consumeBack: rule.consumeBack,
    consumeForward: rule.consumeForward,
    quotesFrom: rule.quotesFrom,
    quotesWeighted: rule.quotesWeighted,
  };
}

/** What the rule orders for a usable lot: yield first, then minimum and multiple. */
export function wholeOrder(rule: CompactRule, lot: number): number {
  return raised(rule, rule.yieldOver === rule.yieldUnder ? lot : timesOverUp(lot, rule.yieldUnder, rule.yieldOver));
}

/** A quantity raised to the rule's minimum and multiple. */
export function raised(rule: CompactRule, quantity: number): number {
  const least = quantity < rule.minimum ? rule.minimum : quantity;
  return rule.multiple === 0 ? least : upTo(least, rule.multiple);
}

/** The usable part of an order. */
export function usableOf(rule: CompactRule, quantity: number): number {
  return rule.yieldOver === rule.yieldUnder ? quantity : timesOverDown(quantity, rule.yieldOver, rule.yieldUnder);
}

/** The least multiple of `step` that is not below `quantity`. */
export function upTo(quantity: number, step: number): number {
  return exact(timesOverUp(quantity, 1, step) * step);
}

/** The first of the cheapest lots; `days` and `missing` give what is missing from each day on. */
export function firstLeastCost(rule: CompactRule, days: readonly Day[], missing: readonly number[]): number {
  const requirements: NetRequirement[] = days.map((day, index) => ({ day, quantity: BigInt(missing[index] ?? 0) }));
  const [first] = leastCostLots(requirements, rule.orderCost, rule.holding).orders;
  return first ? narrow(first.quantity) : (missing[0] ?? 0);
}
