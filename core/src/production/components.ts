/** What a production order takes. */
import { QUANTITY_SCALE, Refusal, dayOf, readDecimal, roundUpToUnit, type Quantity } from '../base';

export interface ComponentPer {
  /** Decimal text: quantity per one of the parent. */
  readonly quantity: string;
  /** Decimal text: scrap allowance, on top of the quantity: 0.05 for 5 %. */
  readonly scrap: string;
}

/**
 * Quantity of a component for a quantity of the parent, scrap included, rounded up to the component's decimals.
 * @throws Refusal `badQuantity` where quantity per or scrap is not a decimal.
 */
export function componentQuantity(parent: Quantity, per: ComponentPer, decimals: number): Quantity {
  const quantity = readDecimal(per.quantity);
  const scrap = readDecimal(per.scrap);
  if (!quantity || !scrap) throw new Refusal('badQuantity', `${per.quantity} with ${per.scrap} scrap is not a quantity per piece.`);
  const scale = QUANTITY_SCALE + quantity.scale + scrap.scale;
  const mantissa = BigInt(parent) * quantity.mantissa * (10n ** BigInt(scrap.scale) + scrap.mantissa);
  return roundUpToUnit(mantissa, scale, decimals);
}

/** Whether a BOM line is valid on a date; `null` is open. */
export function isLineValid(line: { readonly validFrom: string | null; readonly validTo: string | null }, date: string): boolean {
  const day = dayOf(date);
  return (line.validFrom === null || dayOf(line.validFrom) <= day) && (line.validTo === null || day <= dayOf(line.validTo));
}

/**
 * Finds a way from a component down to the item itself, through the BOMs of `linesOf`; the path names each step.
 * `null` where there is none.
 */
export function findCycle(item: string, component: string, linesOf: (item: string) => readonly string[]): string[] | null {
  const seen = new Set<string>();
  const walk = (here: string, path: readonly string[]): string[] | null => {
    if (here === item) return [...path, here];
    if (seen.has(here)) return null;
    seen.add(here);
    for (const next of linesOf(here)) {
      const found = walk(next, [...path, here]);
      if (found) return found;
    }
    return null;
  };
  return walk(component, [item]);
}
