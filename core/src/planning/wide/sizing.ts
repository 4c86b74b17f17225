/** How large a suggestion is: lot sizing first, then yield, minimum, multiple and maximum. */
import { divideUp, type Decimal } from '../../base';
import { leastCostLots, type NetRequirement } from '../least-cost';
import type { PlanRule } from '../input';

/** One order to suggest: what to order and how much of it will be usable. */
export interface Piece {
  readonly quantity: bigint;
  readonly usable: bigint;
}

/**
 * What the lot sizing asks for, where `missing` is wanted now; `coming` gives the most missing in the coming days,
 * `requirements` all that will be missing from now on.
 */
export function sizeLot(
  rule: PlanRule,
  missing: bigint,
  balance: bigint,
  coming: (days: number) => bigint,
  requirements: () => readonly NetRequirement[],
): bigint {
  const sizing = rule.lotSizing;
  switch (sizing.kind) {
    case 'lotForLot':
      return missing;
    case 'fixed':
    case 'reorderPoint':
      return divideUp(missing, sizing.quantity) * sizing.quantity;
    case 'minMax':
      return sizing.max - balance;
    case 'period':
      return coming(sizing.days);
    case 'leastCost':
      return leastCostLots(requirements(), sizing.orderCost, sizing.holding).orders[0]?.quantity ?? missing;
  }
}

/** Applies yield, minimum, multiple and maximum to a lot. */
export function cutIntoOrders(rule: PlanRule, lot: bigint): Piece[] {
  const whole = raise(rule, divideUp(lot * 10n ** BigInt(rule.yield.scale), rule.yield.mantissa));
  const { maximum } = rule;
  if (maximum === null || whole <= maximum) return [piece(rule.yield, whole)];
  const pieces: Piece[] = [];
  let rest = whole;
  for (; rest >= maximum; rest -= maximum) pieces.push(piece(rule.yield, maximum));
  if (rest > 0n) pieces.push(piece(rule.yield, raise(rule, rest)));
  return pieces;
}

function raise(rule: PlanRule, quantity: bigint): bigint {
  const raised = quantity < rule.minimum ? rule.minimum : quantity;
  return rule.multiple === 0n ? raised : divideUp(raised, rule.multiple) * rule.multiple;
}

function piece(share: Decimal, quantity: bigint): Piece {
  return { quantity, usable: (quantity * share.mantissa) / 10n ** BigInt(share.scale) };
}
