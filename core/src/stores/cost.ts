/**
 * What stock is worth, per item and warehouse. Each costing method is one object of the same shape; the ledger asks it
 * what goes out is worth and tells it what comes in.
 */
import { Refusal, asAmount, asQuantity, proportion, writeQuantity, type Amount, type Quantity } from '../base';

export type CostingMethod = 'movingAverage' | 'fifo' | 'standard';

/** Pieces on hand of an item in a warehouse and what they are worth together. */
export interface CostPool {
  readonly quantity: Quantity;
  readonly value: Amount;
}

export const EMPTY_POOL: CostPool = { quantity: asQuantity(0), value: asAmount(0) };

export interface Costing {
  /** The pool after goods of a known worth came in. */
  readonly receive: (pool: CostPool, quantity: Quantity, value: Amount) => CostPool;
  /** What a quantity going out is worth, and the pool after it. Refuses `notEnough`. */
  readonly issue: (pool: CostPool, quantity: Quantity) => { readonly value: Amount; readonly pool: CostPool };
}

/** An issue of q out of Q pieces worth V takes V·q/Q, rounded; the last piece takes what is left. */
export const movingAverage: Costing = {
  receive: (pool, quantity, value) => ({ quantity: asQuantity(pool.quantity + quantity), value: asAmount(pool.value + value) }),
  issue: (pool, quantity) => {
    if (quantity > pool.quantity) {
      throw new Refusal('notEnough', `${writeQuantity(quantity)} can't be taken: only ${writeQuantity(pool.quantity)} are there.`);
    }
    const value = quantity === pool.quantity ? pool.value : proportion(pool.value, quantity, pool.quantity);
    return { value, pool: { quantity: asQuantity(pool.quantity - quantity), value: asAmount(pool.value - value) } };
  },
};

/** The costing of a method. Refuses `costingNotOffered` for a method that items can't be set up with. */
export function costingOf(method: CostingMethod): Costing {
  if (method !== 'movingAverage')
    throw new Refusal('costingNotOffered', `Items can't be costed by ${method}: choose the moving average.`, { method });
  return movingAverage;
}
