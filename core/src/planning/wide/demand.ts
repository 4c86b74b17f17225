/** Which demand of a node counts, with how much, and on which day. */
import { divideUp, isLess, type Day } from '../../base';
import { byCodePoint } from '../problem';
import type { PlanDemand, PlanNode, PlanRule } from '../input';

/** A demand that netting counts with. */
export interface CountedDemand {
  readonly id: string;
  /** As given; before today it counts as of today. */
  readonly date: Day;
  readonly countedOn: Day;
  readonly quantity: bigint;
}

/** The demand of a node that counts, by date counted and id. */
export function countDemand(node: PlanNode, today: Day, horizon: Day): CountedDemand[] {
  const how = node.rule?.demand ?? 'orders';
  const counting = node.demands
    .map((demand) => ({ ...demand, quantity: countedQuantity(demand, node.rule, how, today) }))
    .filter((demand) => demand.quantity > 0n);
  const eaten = how === 'consume' && node.rule ? consumeForecast(node, counting, node.rule) : counting;
  return eaten
    .filter((demand) => demand.quantity > 0n && demand.date <= horizon)
    .map(({ id, date, quantity }) => ({ id, date, countedOn: date < today ? today : date, quantity }))
    .sort((a, b) => a.countedOn - b.countedOn || byCodePoint(a.id, b.id));
}

function countedQuantity(demand: PlanDemand, rule: PlanRule | null, how: PlanRule['demand'], today: Day): bigint {
  switch (demand.kind) {
    case 'component':
    case 'transfer':
      return demand.quantity;
    case 'order':
      return how === 'forecast' ? 0n : demand.quantity;
    case 'forecast':
      return how === 'orders' || demand.date < today ? 0n : demand.quantity;
    case 'quote': {
      const from = rule?.quotesFrom ?? null;
      if (how === 'forecast' || from === null || demand.probability === null || isLess(demand.probability, from)) return 0n;
      if (rule?.quotesWeighted !== true) return demand.quantity;
      return divideUp(demand.quantity * demand.probability.mantissa, 10n ** BigInt(demand.probability.scale));
    }
  }
}

/** Orders eat forecasts around their own date, backwards first; an order counts whatever its date. */
function consumeForecast(node: PlanNode, counting: readonly PlanDemand[], rule: PlanRule): PlanDemand[] {
  const forecasts = counting.filter((each) => each.kind === 'forecast');
  const left = new Map(forecasts.map((each) => [each, each.quantity]));
  const orders = node.demands.filter((each) => each.kind === 'order').sort((a, b) => a.date - b.date || byCodePoint(a.id, b.id));
  for (const order of orders) {
    const behind = forecasts
      .filter((each) => each.date <= order.date && each.date >= order.date - rule.consumeBack)
      .sort((a, b) => b.date - a.date || byCodePoint(a.id, b.id));
    const ahead = forecasts
      .filter((each) => each.date > order.date && each.date <= order.date + rule.consumeForward)
      .sort((a, b) => a.date - b.date || byCodePoint(a.id, b.id));
    let hunger = order.quantity;
    for (const forecast of [...behind, ...ahead]) {
      const there = left.get(forecast) ?? 0n;
      const bite = hunger < there ? hunger : there;
      left.set(forecast, there - bite);
      hunger -= bite;
      if (hunger === 0n) break;
    }
  }
  return counting.map((each) => ({ ...each, quantity: left.get(each) ?? each.quantity }));
}
