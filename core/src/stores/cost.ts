/**
 * What stock is worth, per item and warehouse. Each costing method is one object of the same shape; the ledger asks it
 * what goes out is worth and tells it what comes in, what a cost that arrives late adds and what a new standard changes.
 *
 * Amounts are integers of the currency's minor unit; halves are rounded away from zero.
 */
import { Refusal, asAmount, asQuantity, divideRounded, proportion, writeQuantity, type Amount, type Quantity, type UnitPrice } from '../base';

export type CostingMethod = 'movingAverage' | 'fifo' | 'standard';

/** What is left of one receipt. `of` is the move that brought it. */
export interface CostLayer {
  readonly of: number;
  readonly quantity: Quantity;
  readonly value: Amount;
}

/** Pieces on hand of an item in a warehouse and what they are worth together; layers, oldest first, for FIFO alone. */
export interface CostPool {
  readonly quantity: Quantity;
  readonly value: Amount;
  readonly layers: readonly CostLayer[];
}

export const EMPTY_POOL: CostPool = { quantity: asQuantity(0), value: asAmount(0), layers: [] };

/** What something did to a pool: what it changed the stock by, and what of it the stock did not take. */
export interface Valued {
  readonly pool: CostPool;
  /** Of an issue what it took, else what it added. */
  readonly value: Amount;
  /** What went to the variance account. */
  readonly variance: Amount;
}

/** A receipt as it came, for the cost that arrives after it. */
export interface Received {
  readonly of: number;
  readonly quantity: Quantity;
}

/** The move that goes back by an issue. */
export interface TakenBack {
  readonly of: number;
  /** What it brought, as long as nothing else has left the pool since. */
  readonly brought?: Amount | undefined;
}

export interface Costing {
  /** The pool after goods came in for an amount. */
  readonly receive: (pool: CostPool, quantity: Quantity, amount: Amount, of: number) => Valued;
  /**
   * What a quantity going out takes. What takes a receipt back takes its own layer first by FIFO, and by moving average
   * what it brought where nothing has left since. Refuses `notEnough`.
   */
  readonly issue: (pool: CostPool, quantity: Quantity, back?: TakenBack) => Valued;
  /** A cost (or, below zero, a refund) of an earlier receipt. The stock's value never falls below zero. */
  readonly addLate: (pool: CostPool, amount: Amount, receipt: Received) => Valued;
  /** A new standard cost: what is there becomes worth that much. Methods without a standard stay as they are. */
  readonly revalue: (pool: CostPool, unitCost: UnitPrice) => Valued;
}

const NOTHING = asAmount(0);
const PRICE_AND_QUANTITY = 11;

/** `quantity × unit cost` rounded to a currency of so many decimals. */
function worthAt(quantity: Quantity, unitCost: UnitPrice, decimals: number): Amount {
  return asAmount(Number(divideRounded(BigInt(quantity) * BigInt(unitCost), 10n ** BigInt(PRICE_AND_QUANTITY - decimals))));
}

function assertThere(pool: CostPool, quantity: Quantity): void {
  if (quantity > pool.quantity)
    throw new Refusal('notEnough', `${writeQuantity(quantity)} can't be taken: only ${writeQuantity(pool.quantity)} are there.`);
}

/** What is added to a worth: all of it, but never so much off that less than nothing would be left. */
function addable(worth: Amount, share: Amount): Amount {
  return share < -worth ? asAmount(-worth) : share;
}

/**
 * An issue of q out of Q pieces worth V takes V·q/Q, rounded; the last piece takes what is left. A receipt that is taken
 * back before anything has left takes what it brought.
 *
 * @example 10 at 2.00 and 10 at 80.00 are worth 820.00; the second taken back leaves 20.00, an issue of 10 leaves 410.00.
 */
export const movingAverage: Costing = {
  receive: (pool, quantity, amount) => ({
    pool: { ...pool, quantity: asQuantity(pool.quantity + quantity), value: asAmount(pool.value + amount) },
    value: amount,
    variance: NOTHING,
  }),
  issue: (pool, quantity, back) => {
    assertThere(pool, quantity);
    const share = back?.brought === undefined ? proportion(pool.value, quantity, pool.quantity) : asAmount(Math.min(back.brought, pool.value));
    const value = quantity === pool.quantity ? pool.value : share;
    return {
      pool: { ...pool, quantity: asQuantity(pool.quantity - quantity), value: asAmount(pool.value - value) },
      value,
      variance: NOTHING,
    };
  },
  addLate: (pool, amount, receipt) => {
    const still = asQuantity(Math.min(pool.quantity, receipt.quantity));
    const value = addable(pool.value, proportion(amount, still, receipt.quantity));
    return { pool: { ...pool, value: asAmount(pool.value + value) }, value, variance: asAmount(amount - value) };
  },
  revalue: (pool) => ({ pool, value: NOTHING, variance: NOTHING }),
};

function takeFromLayer(layer: CostLayer, quantity: Quantity): Amount {
  return quantity === layer.quantity ? layer.value : proportion(layer.value, quantity, layer.quantity);
}

/** Oldest layer first; a part of a layer takes its value in proportion, its last piece the rest. */
export const fifo: Costing = {
  receive: (pool, quantity, amount, of) => ({
    pool: {
      quantity: asQuantity(pool.quantity + quantity),
      value: asAmount(pool.value + amount),
      layers: [...pool.layers, { of, quantity, value: amount }],
    },
    value: amount,
    variance: NOTHING,
  }),
  issue: (pool, quantity, back) => {
    assertThere(pool, quantity);
    const first = back?.of;
    let left: number = quantity;
    let value = 0;
    const takenOf = new Map<number, CostLayer>();
    const inTurn = first === undefined ? pool.layers : [...pool.layers].sort((a, b) => Number(b.of === first) - Number(a.of === first));
    for (const layer of inTurn) {
      if (left === 0) break;
      const taken = asQuantity(Math.min(left, layer.quantity));
      const worth = takeFromLayer(layer, taken);
      takenOf.set(layer.of, { of: layer.of, quantity: taken, value: worth });
      left -= taken;
      value += worth;
    }
    const layers = pool.layers.flatMap((layer) => {
      const taken = takenOf.get(layer.of);
      if (!taken) return [layer];
      if (taken.quantity === layer.quantity) return [];
      return [{ of: layer.of, quantity: asQuantity(layer.quantity - taken.quantity), value: asAmount(layer.value - taken.value) }];
    });
    return {
      pool: { quantity: asQuantity(pool.quantity - quantity), value: asAmount(pool.value - value), layers },
      value: asAmount(value),
      variance: NOTHING,
    };
  },
  addLate: (pool, amount, receipt) => {
    const layer = pool.layers.find((each) => each.of === receipt.of);
    if (!layer) return { pool, value: NOTHING, variance: amount };
    const value = addable(layer.value, proportion(amount, layer.quantity, receipt.quantity));
    const layers = pool.layers.map((each) => (each === layer ? { ...each, value: asAmount(each.value + value) } : each));
    return { pool: { ...pool, value: asAmount(pool.value + value), layers }, value, variance: asAmount(amount - value) };
  },
  revalue: (pool) => ({ pool, value: NOTHING, variance: NOTHING }),
};

/**
 * In and out at quantity × standard, rounded; what a receipt cost more is variance. What rounding leaves when the last
 * piece goes is variance, too, so that no stock is never worth anything.
 */
export function standard(unitCost: UnitPrice, decimals = 2): Costing {
  return {
    receive: (pool, quantity, amount) => {
      const value = worthAt(quantity, unitCost, decimals);
      return {
        pool: { ...pool, quantity: asQuantity(pool.quantity + quantity), value: asAmount(pool.value + value) },
        value,
        variance: asAmount(amount - value),
      };
    },
    issue: (pool, quantity) => {
      assertThere(pool, quantity);
      const value = asAmount(Math.min(worthAt(quantity, unitCost, decimals), pool.value));
      const left = asAmount(pool.value - value);
      const last = quantity === pool.quantity;
      return {
        pool: { ...pool, quantity: asQuantity(pool.quantity - quantity), value: last ? NOTHING : left },
        value,
        variance: last ? left : NOTHING,
      };
    },
    addLate: (pool, amount) => ({ pool, value: NOTHING, variance: amount }),
    revalue: (pool, fresh) => {
      const worth = worthAt(pool.quantity, fresh, decimals);
      return { pool: { ...pool, value: worth }, value: asAmount(worth - pool.value), variance: NOTHING };
    },
  };
}

/** The costing of a method; a standard cost is asked for by that method alone. */
export function costingOf(method: CostingMethod, standardCost: UnitPrice, decimals = 2): Costing {
  switch (method) {
    case 'movingAverage':
      return movingAverage;
    case 'fifo':
      return fifo;
    case 'standard':
      return standard(standardCost, decimals);
  }
}
