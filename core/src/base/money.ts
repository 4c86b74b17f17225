/**
 * Money: unit costs and prices are integers of 10⁻⁶ currency, amounts are integers of the currency's minor unit (two
 * decimals). Halves round away from zero.
 */
import { divideRounded, parseScaled, writeDecimal } from './decimal';
import { Refusal } from './refusal';
import { QUANTITY_SCALE, type Quantity } from './quantity';

declare const priceBrand: unique symbol;
declare const amountBrand: unique symbol;
/** Price or cost of one base unit, as an integer of 10⁻⁶ currency. */
export type UnitPrice = number & { readonly [priceBrand]: true };
/** A sum of money, as an integer of the minor unit. */
export type Amount = number & { readonly [amountBrand]: true };

/** Decimals of a price. */
export const PRICE_SCALE = 6;
/** Decimals of an amount. */
export const AMOUNT_SCALE = 2;
const MOST_PRICE = 1_000_000_000 * 10 ** PRICE_SCALE;
const MOST_AMOUNT = 10_000_000_000_000 * 10 ** AMOUNT_SCALE;
const BASIS_POINTS = 10_000;

/** Brands an integer as an amount. */
export function asAmount(minor: number): Amount {
  if (!Number.isSafeInteger(minor)) throw new RangeError(`${minor} is not an amount`);
  return minor as Amount;
}

/** Brands an integer as a unit price. */
export function asPrice(micro: number): UnitPrice {
  if (!Number.isSafeInteger(micro)) throw new RangeError(`${micro} is not a price`);
  return micro as UnitPrice;
}

/** Reads a price of up to 6 decimals; refuses like {@link parseScaled}. */
export function parsePrice(text: string, what = 'the price'): UnitPrice {
  return parseScaled(text, PRICE_SCALE, PRICE_SCALE, MOST_PRICE, what) as UnitPrice;
}

/** Reads a price that somebody asks or pays; refuses `negative` below 0, and like {@link parseScaled}. */
export function parseAskedPrice(text: string, what = 'the price'): UnitPrice {
  const price = parsePrice(text, what);
  if (price < 0) throw new Refusal('negative', `${what.charAt(0).toUpperCase()}${what.slice(1)} can't be below 0.`);
  return price;
}

/** Writes a price in its shortest form, with at least two decimals. */
export function writePrice(price: number): string {
  const shortest = writeDecimal(BigInt(price), PRICE_SCALE);
  const point = shortest.indexOf('.');
  if (point < 0) return `${shortest}.00`;
  return shortest.length - point === 2 ? `${shortest}0` : shortest;
}

/** Reads an amount of up to 2 decimals; refuses like {@link parseScaled}. */
export function parseAmount(text: string, what = 'the amount'): Amount {
  return parseScaled(text, AMOUNT_SCALE, AMOUNT_SCALE, MOST_AMOUNT, what) as Amount;
}

/** Writes an amount with two decimals. */
export function writeAmount(amount: number): string {
  const negative = amount < 0;
  const digits = Math.abs(amount)
    .toString()
    .padStart(AMOUNT_SCALE + 1, '0');
  return `${negative ? '-' : ''}${digits.slice(0, -AMOUNT_SCALE)}.${digits.slice(-AMOUNT_SCALE)}`;
}

/** `quantity × price`, less a discount in basis points, rounded once to the minor unit. */
export function extend(quantity: Quantity, price: UnitPrice, discountBasisPoints = 0): Amount {
  const dividend = BigInt(quantity) * BigInt(price) * BigInt(BASIS_POINTS - discountBasisPoints);
  const divisor = 10n ** BigInt(QUANTITY_SCALE + PRICE_SCALE - AMOUNT_SCALE) * BigInt(BASIS_POINTS);
  return asAmount(Number(divideRounded(dividend, divisor)));
}

/** A share of an amount in basis points (tax), rounded. */
export function shareOf(amount: Amount, basisPoints: number): Amount {
  return asAmount(Number(divideRounded(BigInt(amount) * BigInt(basisPoints), BigInt(BASIS_POINTS))));
}

/** `value × part / whole`, rounded: the value of a part of a quantity. */
export function proportion(value: Amount, part: Quantity, whole: Quantity): Amount {
  return asAmount(Number(divideRounded(BigInt(value) * BigInt(part), BigInt(whole))));
}

/** Cost of one base unit, where `quantity` of them are worth `value`; 0 where there are none. */
export function unitCostOf(value: Amount, quantity: Quantity): UnitPrice {
  if (quantity === 0) return asPrice(0);
  const dividend = BigInt(value) * 10n ** BigInt(PRICE_SCALE - AMOUNT_SCALE + QUANTITY_SCALE);
  return asPrice(Number(divideRounded(dividend, BigInt(quantity))));
}

/** "12.5" for 1250 basis points. */
export function writePoints(points: number): string {
  return writeDecimal(BigInt(points), 2);
}
