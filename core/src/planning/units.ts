/** Quantities as whole numbers of an item's decimals. */
import { readDecimal, toScale } from '../base';

const SHORT_WHOLE = /^\d{1,15}$/;
const POWERS = [1, 10, 100, 1000, 10_000, 100_000];

/** A whole number of the item's decimals, or `null` where the text is no decimal or finer than that. */
export function readUnits(text: string, decimals: number): number | bigint | null {
  if (SHORT_WHOLE.test(text)) {
    const power = POWERS[decimals];
    const units = power === undefined ? Infinity : Number(text) * power;
    if (units <= Number.MAX_SAFE_INTEGER) return units;
  }
  const value = readDecimal(text);
  const units = value && toScale(value, decimals);
  if (units === null) return null;
  const number = Number(units);
  return Number.isSafeInteger(number) ? number : units;
}
