/** What an amount comes to while it is typed. */
import { AMOUNT_SCALE, readDecimal, toScale } from '@terrace/core';

/** An amount as typed, in minor units; 0 where it is none. */
export function typedAmount(text: string): number {
  const decimal = readDecimal(text.trim());
  const minor = decimal && toScale(decimal, AMOUNT_SCALE);
  return minor === null ? 0 : Number(minor);
}
