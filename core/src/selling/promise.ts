/**
 * Available to promise, discrete by date and looking ahead: what can be promised for day t is the least projected
 * balance from t on, so that a promise never takes what another order counts on.
 */
import { ZERO, addDays, asQuantity, type Quantity } from '../base';

export interface PromiseEvent {
  readonly date: string;
  readonly quantity: Quantity;
}

/** What somebody takes on a day. */
export interface PromiseDemand extends PromiseEvent {
  /** What of it is reserved: stock that is there now, and nobody else's until it goes, whatever comes in before. */
  readonly reserved?: Quantity;
}

/** From `date` until the next entry, `quantity` can be promised. */
export interface PromiseStep {
  readonly date: string;
  readonly quantity: Quantity;
}

/**
 * What can be promised, as steps by date from today on, never below zero.
 *
 * `available` is stock that may be promised now; `supplies` are scheduled receipts; `demands` are what others count on,
 * of which what is reserved is gone from today on, also where it goes later. Demand of the past counts as of today; a
 * receipt that should have come already counts from tomorrow, since nobody can ship it today.
 *
 * @example availableToPromise(5, [{ date: '2027-03-10', quantity: 5 }], [{ date: '2027-03-20', quantity: 5, reserved: 5 }], '2027-03-01')
 *   is 0 from today on, and 5 from 10 March on.
 */
export function availableToPromise(
  available: Quantity,
  supplies: readonly PromiseEvent[],
  demands: readonly PromiseDemand[],
  today: string,
): PromiseStep[] {
  const changes = new Map<string, number>([[today, 0]]);
  const add = (date: string, change: number): void => {
    changes.set(date, (changes.get(date) ?? 0) + change);
  };
  for (const supply of supplies) add(supply.date < today ? addDays(today, 1) : supply.date, supply.quantity);
  for (const { date, quantity, reserved = 0 } of demands) {
    add(today, -reserved);
    add(date < today ? today : date, reserved - quantity);
  }
  const dates = [...changes.keys()].sort();
  let balance: number = available;
  const balances = dates.map((date) => (balance += changes.get(date) ?? 0));
  let least = Infinity;
  const steps: PromiseStep[] = [];
  for (let index = dates.length - 1; index >= 0; index -= 1) {
    least = Math.min(least, balances[index] ?? Infinity);
    steps.push({ date: dates[index] ?? today, quantity: least > 0 ? asQuantity(least) : ZERO });
  }
  steps.reverse();
  return steps.filter((step, index) => index === 0 || step.quantity !== steps[index - 1]?.quantity);
}

/** The first date on which the whole quantity can be promised, or `null` where stock and receipts never reach. */
export function firstPromiseDate(steps: readonly PromiseStep[], wanted: Quantity): string | null {
  return steps.find((step) => step.quantity >= wanted)?.date ?? null;
}

/** The first day from a day on for which the whole quantity can be promised, or `null`. What is there earlier may not last. */
export function firstPromiseFrom(steps: readonly PromiseStep[], wanted: Quantity, from: string): string | null {
  const then = [...steps].reverse().find((step) => step.date <= from);
  if (then && then.quantity >= wanted) return from;
  return steps.find((step) => step.date > from && step.quantity >= wanted)?.date ?? null;
}
