/** Arithmetic on whole numbers that floating point holds exactly; what leaves that range is told, never rounded. */
import { divideUp } from '../../base';

/** Thrown where a figure leaves the whole numbers that are exact, so that the plan is to be computed in wide integers. */
export class TooWide extends RangeError {}

const MOST = Number.MAX_SAFE_INTEGER;
const HALF = MOST / 2;
const POWERS = Array.from({ length: 16 }, (_, exponent) => 10 ** exponent);
const LAST_POWER = POWERS.length - 1;

/** The number itself, where it is exact. */
export function exact(value: number): number {
  if (value > MOST || value < -MOST) throw new TooWide('a quantity is larger than exact whole numbers go');
  return value;
}

/** A wide integer as an exact number. */
export function narrow(value: bigint): number {
  return exact(Number(value));
}

/** 10 to the power of `exponent`, exactly. */
export function powerOfTen(exponent: number): number {
  const power = POWERS[exponent];
  if (power === undefined) throw new TooWide(`10 to the power of ${exponent} is larger than exact whole numbers go`);
  return power;
}

/** `a × b / c` rounded up, for whole numbers of which `c` is above 0 and the others are not below. */
export function timesOverUp(a: number, b: number, c: number): number {
  const product = a * b;
  if (product > HALF || c > HALF) return narrow(divideUp(BigInt(a) * BigInt(b), BigInt(c)));
  const quotient = Math.floor(product / c);
  const rest = product - quotient * c;
  // The division itself may be off by one in its last place.
  if (rest < 0) return rest + c > 0 ? quotient : quotient - 1;
  if (rest > c) return quotient + 2;
  return rest > 0 ? quotient + 1 : quotient;
}

/** `a × b / c` rounded down, for whole numbers of which `c` is above 0 and the others are not below. */
export function timesOverDown(a: number, b: number, c: number): number {
  const product = a * b;
  if (product > HALF || c > HALF) return narrow((BigInt(a) * BigInt(b)) / BigInt(c));
  const quotient = Math.floor(product / c);
  const rest = product - quotient * c;
  if (rest < 0) return quotient - 1;
  return rest >= c ? quotient + 1 : quotient;
}

/** `quantity × factor × 10^-scale` rounded up to a whole number; a negative scale multiplies. */
export function scaledUp(quantity: number, factor: number, scale: number): number {
  if (scale <= 0) return exact(exact(quantity * factor) * powerOfTen(-scale));
  if (scale > LAST_POWER) return narrow(divideUp(BigInt(quantity) * BigInt(factor), 10n ** BigInt(scale)));
  return timesOverUp(quantity, factor, POWERS[scale] ?? 1);
}
