/** A line of a basket at the counter, as it was scanned and typed. */
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
