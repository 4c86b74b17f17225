/** Orders that come from outside, as files: what such an order says, and what of it can't be taken as it is. */

/** An order as its file says it; texts as they stand there, empty where it says nothing. */
export interface IncomingOrder {
  /** The buyer's own number of it. */
  readonly number: string;
  /** YYYY-MM-DD, or empty. */
  readonly date: string;
  readonly requiredDate: string;
  /** ISO 4217, or empty. */
  readonly currency: string;
  readonly note: string;
  /** Who orders: by what we call them, by a number of theirs, by name. */
  readonly buyer: { readonly code: string; readonly name: string; readonly email: string };
  readonly shipTo: string;
  readonly lines: readonly IncomingLine[];
}

export interface IncomingLine {
  readonly id: string;
  /** The buyer's number of the item, ours, and its barcode. */
  readonly theirCode: string;
  readonly ourCode: string;
  readonly barcode: string;
  readonly description: string;
  readonly quantity: string;
  /** A unit of UNECE Recommendation 20, or one of ours. */
  readonly unit: string;
  /** For one of the unit, or for `per` of it, without tax; empty where it says none. */
  readonly price: string;
  /** How many of the unit the price is for; empty for one. */
  readonly per?: string;
  readonly requiredDate: string;
  readonly note: string;
}

/** What stands in the way of an order's line, or of the order. */
export const incomingProblems = ['noCustomer', 'noItem', 'unit', 'quantity', 'price', 'currency', 'date', 'cameBefore'] as const;
export type IncomingProblem = (typeof incomingProblems)[number];

/** A warehouse, and what is free there of each line that is wanted, in 10⁻⁵ units. */
export interface StockPlace {
  readonly id: number;
  readonly free: readonly number[];
}

/**
 * The warehouse from which an order can go best: where the most lines are free as a whole, the first of those that are alike.
 *
 * @param places at least one, the one that is usual first
 * @param wanted of each line, in 10⁻⁵ units; 0 of one that takes nothing from stock
 * @example placeFor([{ id: 1, free: [5, 0] }, { id: 2, free: [5, 9] }], [5, 4]) // 2
 */
export function placeFor(places: readonly StockPlace[], wanted: readonly number[]): number {
  const whole = ({ free }: StockPlace): number => wanted.filter((each, at) => (free[at] ?? 0) >= each).length;
  const [first] = places;
  if (!first) throw new RangeError('there is no warehouse');
  return places.reduce((best, place) => (whole(place) > whole(best) ? place : best), first).id;
}
