/** Values a whole sequence of moves of one item in one warehouse: what `terrace compute cost` does. */
import {
  QUANTITY_SCALE,
  Refusal,
  asAmount,
  asPrice,
  asQuantity,
  readDecimal,
  toScale,
  writeQuantity,
  type Amount,
  type Quantity,
  type UnitPrice,
} from '../base';
import { EMPTY_POOL, costingOf, type Costing, type CostPool, type CostingMethod, type Received, type Valued } from './cost';

export type CostMove =
  | { readonly id: string; readonly kind: 'in'; readonly quantity: string; readonly amount: string }
  | { readonly id: string; readonly kind: 'out'; readonly quantity: string }
  | { readonly id: string; readonly kind: 'lateCost'; readonly of: string; readonly amount: string }
  | { readonly id: string; readonly kind: 'standardCost'; readonly unitCost: string };

export interface CostProblem {
  readonly method: CostingMethod;
  readonly currencyDecimals: number;
  readonly standardCost?: string | undefined;
  readonly moves: readonly CostMove[];
}

export interface CostResult {
  readonly moves: readonly { readonly id: string; readonly value: string; readonly variance: string }[];
  readonly quantity: string;
  readonly value: string;
  readonly layers: readonly { readonly of: string; readonly quantity: string; readonly value: string }[];
}

const PRICE_DECIMALS = 6;

/** Reads a figure of one move into an integer of 10^-scale. Refuses `badFigure`, naming the move. */
function figure(text: string, scale: number, id: string, what: string, least: number): number {
  const value = readDecimal(text);
  const scaled = value && toScale(value, scale);
  if (scaled === null || scaled < BigInt(least) || scaled > BigInt(Number.MAX_SAFE_INTEGER))
    throw new Refusal('badFigure', `move ${id}: ${what} "${text}" must be a number of at most ${scale} decimals${least > 0 ? ' above 0' : ''}.`, {
      move: id,
    });
  return Number(scaled);
}

/** What a move comes to, beyond what can be kept exactly, is refused like a figure that is. */
function within<T>(id: string, act: () => T): T {
  try {
    return act();
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new Refusal('badFigure', `move ${id}: with it quantity or value go beyond what can be kept exactly.`, { move: id });
  }
}

/** Writes an amount of a currency with so many decimals. */
function money(amount: number, decimals: number): string {
  const digits = Math.abs(amount)
    .toString()
    .padStart(decimals + 1, '0');
  const whole = digits.slice(0, digits.length - decimals);
  return `${amount < 0 ? '-' : ''}${whole}${decimals === 0 ? '' : `.${digits.slice(digits.length - decimals)}`}`;
}

/**
 * Values the moves in their order. `value` is what an in, a late cost or a new standard added to the stock's value, of
 * an out what it took; `variance` what went to the variance account instead.
 *
 * Refuses, naming the move: `notEnough` for an out beyond what is there, `unknownMove` for a late cost of no earlier
 * receipt, `moveTwice`, `badFigure` also where figures add up to more than can be kept exactly; and `noStandard` where the standard cost is missing.
 */
export function computeCost(problem: CostProblem): CostResult {
  const { method, currencyDecimals: decimals } = problem;
  if (method === 'standard' && problem.standardCost === undefined) throw new Refusal('noStandard', 'Costing by standard needs "standardCost".');
  const price = (text: string, id: string): UnitPrice => asPrice(figure(text, PRICE_DECIMALS, id, 'the unit cost', 0));
  const names: string[] = [];
  const seen = new Set<string>();
  const receipts = new Map<string, Received>();
  let costing: Costing = costingOf(method, problem.standardCost === undefined ? asPrice(0) : price(problem.standardCost, 'standardCost'), decimals);
  let pool: CostPool = EMPTY_POOL;

  const valueOf = (move: CostMove, of: number): Valued => {
    const quantity = (text: string): Quantity => asQuantity(figure(text, QUANTITY_SCALE, move.id, 'the quantity', 1));
    const amount = (text: string, least: number): Amount => asAmount(figure(text, decimals, move.id, 'the amount', least));
    switch (move.kind) {
      case 'in': {
        const received = { of, quantity: quantity(move.quantity) };
        receipts.set(move.id, received);
        return costing.receive(pool, received.quantity, amount(move.amount, 0), of);
      }
      case 'out': {
        const taken = quantity(move.quantity);
        if (taken > pool.quantity)
          throw new Refusal('notEnough', `move ${move.id}: ${move.quantity} can't be taken: only ${writeQuantity(pool.quantity)} are there.`, {
            move: move.id,
          });
        return costing.issue(pool, taken);
      }
      case 'lateCost': {
        const receipt = receipts.get(move.of);
        if (!receipt)
          throw new Refusal('unknownMove', `move ${move.id}: there is no receipt "${move.of}" before it that the cost could belong to.`, {
            move: move.id,
          });
        return costing.addLate(pool, amount(move.amount, Number.MIN_SAFE_INTEGER), receipt);
      }
      case 'standardCost': {
        const unitCost = price(move.unitCost, move.id);
        const valued = costing.revalue(pool, unitCost);
        costing = costingOf(method, unitCost, decimals);
        return valued;
      }
    }
  };

  const moves = problem.moves.map((move, index) => {
    if (seen.has(move.id)) throw new Refusal('moveTwice', `move ${move.id}: this id is there twice.`, { move: move.id });
    const valued = within(move.id, () => valueOf(move, index));
    seen.add(move.id);
    names.push(move.id);
    pool = valued.pool;
    return { id: move.id, value: money(valued.value, decimals), variance: money(valued.variance, decimals) };
  });
  return {
    moves,
    quantity: writeQuantity(pool.quantity),
    value: money(pool.value, decimals),
    layers: pool.layers.map((layer) => ({
      of: names[layer.of] ?? '',
      quantity: writeQuantity(layer.quantity),
      value: money(layer.value, decimals),
    })),
  };
}
