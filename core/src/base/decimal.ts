/**
 * Decimal text and integer arithmetic without loss. Everything that Terrace keeps is an integer of a small unit; this
 * module turns text into such integers and divides them with a stated rounding.
 */
import { Refusal } from './refusal';

const PLAIN_DECIMAL = /^(-?)(\d+)(?:\.(\d+))?$/;

/** A decimal as written: `mantissa × 10^-scale`. */
export interface Decimal {
  readonly mantissa: bigint;
  readonly scale: number;
}

/** Reads a plain decimal ("12", "-0.50"; no sign but minus, no exponent). Anything else gives `null`. */
export function readDecimal(text: string): Decimal | null {
  const match = PLAIN_DECIMAL.exec(text);
  if (!match) return null;
  const [, sign = '', whole = '0', fraction = ''] = match;
  const shortest = fraction.replace(/0+$/, '');
  const magnitude = BigInt(whole + shortest);
  return { mantissa: sign === '-' ? -magnitude : magnitude, scale: shortest.length };
}

/** The integer of 10^-scale that a decimal is, or `null` where the decimal is finer than that. */
export function toScale(value: Decimal, scale: number): bigint | null {
  if (value.scale > scale) return null;
  return value.mantissa * 10n ** BigInt(scale - value.scale);
}

/** Whether one decimal is less than another, exactly. */
export function isLess(a: Decimal, b: Decimal): boolean {
  return a.mantissa * 10n ** BigInt(b.scale) < b.mantissa * 10n ** BigInt(a.scale);
}

/** Writes an integer of 10^-scale in its shortest form: 4000000 at scale 5 is "40". */
export function writeDecimal(value: bigint, scale: number): string {
  const negative = value < 0n;
  const digits = (negative ? -value : value).toString().padStart(scale + 1, '0');
  const whole = digits.slice(0, digits.length - scale);
  const fraction = scale === 0 ? '' : digits.slice(digits.length - scale).replace(/0+$/, '');
  return (negative ? '-' : '') + whole + (fraction === '' ? '' : `.${fraction}`);
}

/** Quotient of two integers rounded to the nearest, halves away from zero. The divisor is positive. */
export function divideRounded(dividend: bigint, divisor: bigint): bigint {
  if (divisor <= 0n) throw new RangeError('divisor must be positive');
  const doubled = 2n * (dividend < 0n ? -dividend : dividend) + divisor;
  const rounded = doubled / (2n * divisor);
  return dividend < 0n ? -rounded : rounded;
}

/** Quotient of two non-negative integers rounded up. */
export function divideUp(dividend: bigint, divisor: bigint): bigint {
  return (dividend + divisor - 1n) / divisor;
}

/**
 * Reads decimal text into a safe integer of 10^-scale.
 *
 * Refuses `notANumber`, `tooFine` (more decimals than `decimals`, with the two nearest that fit) and `tooLarge`
 * (over `most`, in units of 10^-scale); `what` names the figure in the sentence.
 */
export function parseScaled(text: string, scale: number, decimals: number, most: number, what: string): number {
  const value = readDecimal(text.trim());
  if (!value) throw new Refusal('notANumber', `"${text}" is not a number: give ${what} in figures, such as 12 or 1.5.`, { text });
  const scaled = toScale(value, scale);
  if (value.scale > decimals || scaled === null) {
    const step = 10n ** BigInt(value.scale - decimals);
    const low = value.mantissa >= 0n ? value.mantissa / step : -((-value.mantissa + step - 1n) / step);
    const nearest = [writeDecimal(low, decimals), writeDecimal(low + 1n, decimals)];
    throw new Refusal(
      'tooFine',
      `${text} is finer than ${what} can be (${decimals === 0 ? 'whole numbers' : `${decimals} decimals`}): take ${nearest[0]} or ${nearest[1]}.`,
      { text, decimals, nearest },
    );
  }
  const limit = BigInt(most);
  if (scaled > limit || scaled < -limit) {
    throw new Refusal('tooLarge', `${text} is larger than ${what} can be: the most is ${writeDecimal(limit, scale)}.`, {
      text,
      most: writeDecimal(limit, scale),
    });
  }
  return Number(scaled);
}
