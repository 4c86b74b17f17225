/** Customers' returns: how many may come back and be decided on, what they are worth, and how far a return is. */
import { asAmount, asQuantity, proportion, type Amount, type Quantity } from '../base';

/** What becomes of a piece that came back. */
export const returnDecisions = ['restock', 'rework', 'scrap'] as const;
export type ReturnDecision = (typeof returnDecisions)[number];

export type ReturnState = 'authorised' | 'arrived' | 'done' | 'cancelled';

/** A line of a return; quantities in 10⁻⁵ units. */
export interface ReturnProgress {
  readonly quantity: Quantity;
  readonly received: Quantity;
  readonly decided: Quantity;
}

/** What of a line is still to come. */
export function awaited({ quantity, received }: ReturnProgress): Quantity {
  return asQuantity(Math.max(0, quantity - received));
}

/** What of a line waits to be decided on. */
export function undecided({ received, decided }: ReturnProgress): Quantity {
  return asQuantity(Math.max(0, received - decided));
}

/**
 * How far a return is: authorised until something came, held while something is still to come or to be decided on, done
 * after that.
 *
 * @example returnState([{ quantity: 2, received: 2, decided: 1 }]) // 'arrived'
 */
export function returnState(lines: readonly ReturnProgress[]): ReturnState {
  if (lines.every(({ received }) => received === 0)) return 'authorised';
  return lines.every((line) => awaited(line) === 0 && undecided(line) === 0) ? 'done' : 'arrived';
}

/**
 * What pieces that come back are worth: the cost at which they left, so that all that left of them come back at it to the
 * cent, in however many parts.
 *
 * @param left what left, and what it was worth
 * @param before what of it came back before, and what that was worth
 * @param quantity not more than is still out
 * @example costBack({ quantity: 3, value: 1000 }, { quantity: 1, value: 333 }, 2) // 667
 */
export function costBack(
  left: { readonly quantity: Quantity; readonly value: Amount },
  before: { readonly quantity: Quantity; readonly value: Amount },
  quantity: Quantity,
): Amount {
  const out = asQuantity(left.quantity - before.quantity);
  return out === 0 ? asAmount(0) : proportion(asAmount(left.value - before.value), quantity, out);
}
