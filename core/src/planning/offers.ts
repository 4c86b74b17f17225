/** What suppliers ask for an item, and which of them a suggestion goes to. */
import { asPrice, type UnitPrice } from '../base';

/** A supplier's terms as the plan goes by them. */
export interface Offer {
  readonly preferred: boolean;
  /** Working days. */
  readonly leadDays: number;
  /** Price of one base unit from a quantity on (integer of 10⁻⁵ units), the least quantity first. */
  readonly prices: readonly { readonly from: number; readonly price: UnitPrice }[];
}

/** What one base unit costs where `quantity` (10⁻⁵ units) are bought; 0 where nothing is asked. */
export function priceAt(offer: Pick<Offer, 'prices'>, quantity: number): UnitPrice {
  const reached = offer.prices.filter((each) => each.from <= quantity);
  return (reached[reached.length - 1] ?? offer.prices[0])?.price ?? asPrice(0);
}

/**
 * Whom to buy `quantity` (10⁻⁵ units) from: the preferred supplier; who has none, the cheapest at that quantity; where
 * that comes too late, the fastest, if that is sooner. `null` where nobody offers it.
 */
export function chooseOffer<T extends Offer>(offers: readonly T[], quantity: number, late: boolean): T | null {
  if (offers.length < 2) return offers[0] ?? null;
  const cheapest = [...offers].sort((a, b) => priceAt(a, quantity) - priceAt(b, quantity) || a.leadDays - b.leadDays)[0];
  const usual = offers.find((each) => each.preferred) ?? cheapest ?? null;
  if (!usual || !late) return usual;
  const fastest = [...offers].sort((a, b) => a.leadDays - b.leadDays || priceAt(a, quantity) - priceAt(b, quantity))[0];
  return fastest && fastest.leadDays < usual.leadDays ? fastest : usual;
}
