/** Suppliers' terms: which of them holds, and what a quantity costs under it. */
import { asPrice, divideRounded, type Quantity, type UnitPrice } from '../base';

export interface Break {
  /** From this quantity on, in base units. */
  readonly from: Quantity;
  readonly price: UnitPrice;
}

export interface SupplierTerm {
  readonly supplierId: number;
  readonly preferred: boolean;
  readonly price: UnitPrice;
  /** Basis points off the price. */
  readonly discount: number;
  readonly currency: string;
  readonly breaks: readonly Break[];
  /** First and last day, or none. */
  readonly validFrom: string | null;
  readonly validTo: string | null;
}

/** Whether something with a first and a last day holds on a day. */
export function holdsOn(each: { readonly validFrom: string | null; readonly validTo: string | null }, day: string): boolean {
  return (each.validFrom === null || each.validFrom <= day) && (each.validTo === null || day <= each.validTo);
}

/** A supplier's terms on a day: of several that hold, the one that began last. */
export function termOn<T extends SupplierTerm>(terms: readonly T[], supplierId: number, day: string): T | undefined {
  return terms
    .filter((each) => each.supplierId === supplierId && holdsOn(each, day))
    .sort((a, b) => ((a.validFrom ?? '') < (b.validFrom ?? '') ? 1 : -1))[0];
}

/** Price of one base unit for a quantity, in the terms' own currency: the highest break reached, less the discount. */
export function buyingPrice(term: SupplierTerm, quantity: Quantity): UnitPrice {
  const reached = term.breaks.filter((each) => each.from <= quantity).sort((a, b) => b.from - a.from)[0];
  const price = reached?.price ?? term.price;
  return asPrice(Number(divideRounded(BigInt(price) * BigInt(10_000 - term.discount), 10_000n)));
}
