/** A line of a basket at the counter, as it was scanned and typed. */
import { AMOUNT_SCALE, readDecimal, toScale } from '@terrace/core';

export interface BasketLine {
  readonly itemId: number;
  readonly code: string;
  readonly description: string;
  readonly unit: string;
  readonly quantity: string;
  /** Empty where the lists say it. */
  readonly price: string;
  readonly discount: string;
  readonly free: string;
  /** By spaces. */
  readonly serials: string;
  readonly lot: string;
}

/** An amount as typed, in minor units; 0 where it is none. */
export function amountTyped(text: string): number {
  const decimal = readDecimal(text.trim());
  const minor = decimal && toScale(decimal, AMOUNT_SCALE);
  return minor === null ? 0 : Number(minor);
}
