/** How far something may be from what was agreed before somebody has to decide. */
import { divideRounded } from './decimal';
import type { UnitPrice } from './money';
import { QUANTITY_SCALE, asQuantity, type Quantity } from './quantity';

const ALL = 10_000;

/**
 * A tolerance of a quantity, down to what the item's unit can be counted in.
 *
 * @param points basis points of the quantity
 * @param decimals those of the item's unit
 * @example toleranceOf(parseQuantity('10', 0), 500, 0) // 0: half a piece is none
 */
export function toleranceOf(quantity: Quantity, points: number, decimals: number): Quantity {
  const step = 10 ** (QUANTITY_SCALE - decimals);
  return asQuantity(Math.floor((quantity * points) / ALL / step) * step);
}

/**
 * By how much a price is above what was agreed, in basis points, halves rounded up; 0 where it is not above.
 *
 * @example overAgreed(asPrice(1_100_000), asPrice(1_000_000)) // 1000: a tenth more
 */
export function overAgreed(price: UnitPrice, agreed: UnitPrice): number {
  if (price <= agreed) return 0;
  if (agreed === 0) return Number.MAX_SAFE_INTEGER;
  return Number(divideRounded(BigInt(price - agreed) * BigInt(ALL), BigInt(agreed)));
}
