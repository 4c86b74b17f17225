/**
 * The stock ledger. A move takes a quantity of one item from one place to another; balances exist only for places that
 * are ours and follow from the moves alone. No key of a balance ever goes below zero.
 */
import { Refusal, asQuantity, writeQuantity, type Quantity } from '../base';

export type StockState = 'available' | 'held' | 'rejected' | 'inTransit';

/** Full key of a balance. Bin 0, lot '' and serial '' mean none. */
export interface StockKey {
  readonly item: number;
  readonly warehouse: number;
  readonly bin: number;
  readonly lot: string;
  readonly serial: string;
  readonly state: StockState;
}

/** A place of ours, or a party on the other side of the door. */
export type Place =
  | { readonly kind: 'stock'; readonly key: StockKey }
  | { readonly kind: 'supplier' | 'customer' | 'production' | 'adjustment'; readonly id: number };

export interface Move {
  readonly item: number;
  readonly quantity: Quantity;
  readonly from: Place;
  readonly to: Place;
}

/** A change of one balance. */
export interface BalanceChange {
  readonly key: StockKey;
  readonly change: Quantity;
}

/** One text per key, to look balances up by. */
export function keyText(key: StockKey): string {
  return JSON.stringify([key.item, key.warehouse, key.bin, key.lot, key.serial, key.state]);
}

/** What a move does to balances. Refuses `emptyMove` for a quantity of zero or less and `samePlace` for no move at all. */
export function changesOf(move: Move): BalanceChange[] {
  if (move.quantity <= 0) throw new Refusal('emptyMove', `A move of ${writeQuantity(move.quantity)} moves nothing: give more than 0.`);
  if (move.from.kind !== 'stock' && move.to.kind !== 'stock') throw new Refusal('noStockPlace', 'A move needs a bin of ours on one side at least.');
  const changes: BalanceChange[] = [];
  if (move.from.kind === 'stock') changes.push({ key: move.from.key, change: asQuantity(-move.quantity) });
  if (move.to.kind === 'stock') changes.push({ key: move.to.key, change: move.quantity });
  const [first, second] = changes;
  if (first && second && keyText(first.key) === keyText(second.key)) throw new Refusal('samePlace', 'The move ends where it begins.');
  return changes;
}

/**
 * The balance after a change. Refuses `notEnough` when it would fall below zero; `name` is how a person calls the item
 * and place.
 */
export function applyChange(balance: Quantity, change: Quantity, name: string): Quantity {
  const after = balance + change;
  if (after < 0) {
    throw new Refusal('notEnough', `${writeQuantity(-change)} of ${name} can't be taken: only ${writeQuantity(balance)} are there.`, {
      wanted: writeQuantity(-change),
      there: writeQuantity(balance),
    });
  }
  return asQuantity(after);
}

/** Balances rebuilt from nothing but moves, by {@link keyText}; keys at zero are left out. */
export function rebuildBalances(moves: Iterable<Move>): Map<string, Quantity> {
  const balances = new Map<string, Quantity>();
  for (const move of moves) {
    for (const { key, change } of changesOf(move)) {
      const text = keyText(key);
      const after = asQuantity((balances.get(text) ?? 0) + change);
      if (after === 0) balances.delete(text);
      else balances.set(text, after);
    }
  }
  return balances;
}

/** The same move the other way round, for a reversal. */
export function contrary(move: Move): Move {
  return { ...move, from: move.to, to: move.from };
}
