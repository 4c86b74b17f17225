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
