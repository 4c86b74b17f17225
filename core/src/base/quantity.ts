/** Quantities: integers of 10⁻⁵ base unit. In the API, in files and on screens they are decimal strings. */
import { parseScaled, writeDecimal } from './decimal';
import { Refusal } from './refusal';

declare const quantityBrand: unique symbol;
/** An exact quantity of an item in its base unit, as an integer of 10⁻⁵. */
export type Quantity = number & { readonly [quantityBrand]: true };

export const QUANTITY_SCALE = 5;
const UNIT = 10 ** QUANTITY_SCALE;
const MOST = 1_000_000_000 * UNIT;

export const ZERO = 0 as Quantity;

/** Brands an integer read from the ledger as a quantity. Refuses what is not a safe integer. */
export function asQuantity(scaled: number): Quantity {
  if (!Number.isSafeInteger(scaled)) throw new RangeError(`${scaled} is not a quantity`);
  return scaled as Quantity;
}

/**
 * Reads a quantity that is at most as fine as its unit.
 * @example parseQuantity('1.5', 1, 'metres') // 150000
 */
export function parseQuantity(text: string, decimals: number, what = 'the quantity'): Quantity {
  return parseScaled(text, QUANTITY_SCALE, decimals, MOST, what) as Quantity;
}

/** Reads a quantity above zero; refuses `notPositive` besides what {@link parseQuantity} refuses. */
export function parsePositiveQuantity(text: string, decimals: number, what = 'the quantity'): Quantity {
  const quantity = parseQuantity(text, decimals, what);
  if (quantity <= 0) throw new Refusal('notPositive', `${text} can't be used: ${what} must be more than 0.`, { text });
  return quantity;
}

/** Writes a quantity in its shortest form. */
export function writeQuantity(quantity: number): string {
  return writeDecimal(BigInt(quantity), QUANTITY_SCALE);
}

/** The sum of quantities. */
export function addQuantities(...quantities: readonly Quantity[]): Quantity {
  return asQuantity(quantities.reduce<number>((sum, each) => sum + each, 0));
}

/** `a − b`. */
export function subtractQuantity(a: Quantity, b: Quantity): Quantity {
  return asQuantity(a - b);
}

/** The smaller of two. */
export function leastQuantity(a: Quantity, b: Quantity): Quantity {
  return a < b ? a : b;
}

/** Rounds up to what a unit of `decimals` can hold. */
export function roundUpToUnit(scaled: bigint, fromScale: number, decimals: number): Quantity {
  const step = 10n ** BigInt(fromScale - Math.min(decimals, fromScale));
  const units = (scaled + step - 1n) / step;
  return asQuantity(Number(units * 10n ** BigInt(QUANTITY_SCALE - Math.min(decimals, fromScale))));
}

/**
 * How many base units some pack units are: `factor` base units each. Refuses `tooFine` where the product is not
 * storable, with the two nearest that are.
 */
export function fromPack(packs: Quantity, factor: Quantity, decimals: number): Quantity {
  const product = BigInt(packs) * BigInt(factor);
  return parseScaled(writeDecimal(product, 2 * QUANTITY_SCALE), QUANTITY_SCALE, decimals, MOST, 'the quantity in the base unit') as Quantity;
}
