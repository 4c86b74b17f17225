/** What can be promised of stock that does not last. */
import { asQuantity, leastQuantity, type Quantity } from '../base';
import { walkLots, type LivingStock } from '../stores';
import { availableToPromise, type PromiseDemand, type PromiseEvent, type PromiseStep } from './promise';

/**
 * What can be promised of stock that does not last, as steps by date like {@link availableToPromise}: for each day the
 * most that can be taken then without leaving any later demand unserved, and without what others have reserved. Where
 * nothing expires both say the same.
 */
export function promiseOfLots(
  stock: readonly LivingStock[],
  supplies: readonly PromiseEvent[],
  demands: readonly PromiseDemand[],
  today: string,
): PromiseStep[] {
  const lasting = availableToPromise(asQuantity(stock.reduce((sum, each) => sum + each.quantity, 0)), supplies, demands, today);
  if (stock.every((each) => each.usableUntil === null)) return lasting;
  const before = walkLots(stock, supplies, demands, today);
  const dates = [...new Set([...before.served.keys(), ...before.losses.map((each) => each.date)])].sort();
  const most = [...stock, ...supplies].reduce((sum, each) => sum + each.quantity, 0);
  const served = (date: string, quantity: number): boolean => {
    const after = walkLots(stock, supplies, [...demands, { date, quantity: asQuantity(quantity) }], today);
    return [...after.served].every(([day, well]) => day < date || well);
  };
  const steps = dates.map((date): PromiseStep => {
    let [can, cannot] = [0, most + 1];
    if (!served(date, 0)) cannot = 1;
    while (cannot - can > 1) {
      const middle = Math.floor((can + cannot) / 2);
      if (served(date, middle)) can = middle;
      else cannot = middle;
    }
    return { date, quantity: asQuantity(can) };
  });
  const least = demands.some(({ reserved = 0 }) => reserved > 0) ? leastOf(steps, lasting) : steps;
  return least.filter((step, index) => index === 0 || step.quantity !== least[index - 1]?.quantity);
}

/** What both of two say can be promised, day by day. */
function leastOf(one: readonly PromiseStep[], other: readonly PromiseStep[]): PromiseStep[] {
  const at = (steps: readonly PromiseStep[], day: string): Quantity => steps.findLast(({ date }) => date <= day)?.quantity ?? asQuantity(0);
  const dates = [...new Set([...one, ...other].map(({ date }) => date))].sort();
  return dates.map((date) => ({ date, quantity: leastQuantity(at(one, date), at(other, date)) }));
}
