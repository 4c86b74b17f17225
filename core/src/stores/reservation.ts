/** Reservations: available stock promised to one order line, production order or transfer. */
import { Refusal, asQuantity, leastQuantity, writeQuantity, type Quantity } from '../base';

/** Who holds reserved stock, in words for the person who is refused. */
export interface Holder {
  readonly document: string;
  readonly quantity: Quantity;
}

/** Available less reserved; never below zero. */
export function freeStock(available: Quantity, reserved: Quantity): Quantity {
  return asQuantity(Math.max(0, available - reserved));
}

/** How much of what is still wanted can be reserved from what is free. */
export function reservable(free: Quantity, wanted: Quantity, alreadyReserved: Quantity): Quantity {
  return leastQuantity(free, asQuantity(Math.max(0, wanted - alreadyReserved)));
}

/**
 * Refuses `heldByOthers` where taking a quantity would leave less available than others have reserved, naming them.
 *
 * `available` is what is there, `reservedByOthers` who holds how much of it.
 */
export function assertFree(name: string, wanted: Quantity, available: Quantity, reservedByOthers: readonly Holder[]): void {
  const held = reservedByOthers.reduce((sum, holder) => sum + holder.quantity, 0);
  const takeable = Math.max(0, available - held);
  if (wanted <= takeable) return;
  const holders = reservedByOthers.map((holder) => `${holder.document} (${writeQuantity(holder.quantity)})`);
  const who = holders.length > 0 ? `${holders.slice(0, 5).join(', ')} ${holders.length === 1 ? 'holds' : 'hold'} the rest` : 'there is no more';
  throw new Refusal(
    'heldByOthers',
    `${writeQuantity(asQuantity(wanted - takeable))} of ${writeQuantity(wanted)} ${name} can't be taken: ${who}. Take ${writeQuantity(asQuantity(takeable))}, or release what is held.`,
    {
      takeable: writeQuantity(asQuantity(takeable)),
      holders: reservedByOthers.map((each) => ({ document: each.document, quantity: writeQuantity(each.quantity) })),
    },
  );
}

/** Stock that is there until its end, or lasts. */
export interface ExpiringStock {
  readonly expiry: string | null;
  readonly quantity: Quantity;
}

/** What somebody holds, and the earliest expiry that will do for it: the day on which it goes and the life that must then be left. */
export interface ExpiringNeed {
  /** `null` where anything will do. */
  readonly needs: string | null;
  readonly quantity: Quantity;
}

/**
 * How much of what is there can be held for somebody who needs an expiry, so that everybody who holds some already can
 * still have what will do for them. Never below zero.
 *
 * Lots that will do for one need will do for every need that asks for less, so it is enough to look at each expiry from
 * which on something is there: what expires then or later, less what others need of it.
 *
 * @example 8 until 7 March and 7 until May: for somebody who needs 15 April 7 can be held, for today's customer 15.
 */
export function holdable(stock: readonly ExpiringStock[], held: readonly ExpiringNeed[], needs: string | null): Quantity {
  const LASTS = '9999-12-31';
  const needed = (need: string | null): string => need ?? '';
  const from = [needed(null), ...stock.map((each) => each.expiry ?? LASTS), ...held.map((each) => needed(each.needs)), needed(needs)];
  const least = from
    .filter((expiry) => expiry <= needed(needs))
    .map((expiry) => {
      const there = stock.filter((each) => (each.expiry ?? LASTS) >= expiry).reduce((sum, each) => sum + each.quantity, 0);
      const taken = held.filter((each) => needed(each.needs) >= expiry).reduce((sum, each) => sum + each.quantity, 0);
      return there - taken;
    });
  return asQuantity(Math.max(0, Math.min(...least)));
}
