/** What suppliers ask for an item, and which of them a suggestion goes to. */
import { asPrice, type Day, type UnitPrice, type WorkingCalendar } from '../base';

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

/** An offer with what the supplier delivers at least (10⁻⁵ units), and in what steps; 0 where that is free. */
export interface SizedOffer extends Offer {
  readonly minimum: number;
  readonly multiple: number;
}

/** What a supplier would deliver of a quantity (10⁻⁵ units): at least the minimum order, in whole multiples. */
export function ordered({ minimum, multiple }: Pick<SizedOffer, 'minimum' | 'multiple'>, quantity: number): number {
  const least = Math.max(quantity, minimum);
  return multiple > 0 ? Math.ceil(least / multiple) * multiple : least;
}

/** When a supplier would deliver what is needed by a day: as late as will do, else as soon as can be, by their lead time. */
export function deliveredBy(
  { leadDays }: Pick<Offer, 'leadDays'>,
  neededBy: Day,
  calendar: WorkingCalendar,
  today: Day,
): { readonly placeBy: Day; readonly due: Day; readonly daysLate: number } {
  const start = calendar.onOrAfter(today);
  const soonest = calendar.ahead(start, leadDays);
  const due = neededBy < soonest ? soonest : Math.max(soonest, calendar.onOrBefore(neededBy));
  return { placeBy: Math.max(start, calendar.back(due, leadDays)), due, daysLate: Math.max(0, due - neededBy) };
}

/** What is to be bought, with the days that follow from how it is planned. */
export interface ToBuy {
  /** 10⁻⁵ units. */
  readonly quantity: number;
  readonly neededBy: Day;
  readonly placeBy: Day;
  readonly due: Day;
  readonly daysLate: number;
}

export interface Supply<T> {
  readonly offer: T;
  /** What is ordered, 10⁻⁵ units: the quantity, or what the supplier delivers at least. */
  readonly ordered: number;
  readonly placeBy: Day;
  readonly due: Day;
  readonly daysLate: number;
  /** Who would usually deliver it, and how late, where somebody else is faster. */
  readonly insteadOf: { readonly offer: T; readonly daysLate: number } | null;
}

/**
 * Who is to deliver it, and then when, by their lead time, and how much, by their minimum order and multiple: the usual
 * supplier as it is planned; where that is late, whoever delivers with the least delay, the cheapest of these. `null`
 * where nobody offers it.
 */
export function supply<T extends SizedOffer>(offers: readonly T[], wanted: ToBuy, calendar: WorkingCalendar, today: Day): Supply<T> | null {
  const { quantity, neededBy, placeBy, due, daysLate } = wanted;
  const usual = chooseOffer(offers, quantity, false);
  if (!usual) return null;
  const asPlanned = { offer: usual, ordered: ordered(usual, quantity), placeBy, due, daysLate, insteadOf: null };
  if (daysLate === 0 || offers.length === 1) return asPlanned;
  const costs = (offer: T): number => priceAt(offer, ordered(offer, quantity)) * ordered(offer, quantity);
  const [best] = offers
    .filter((each) => each !== usual)
    .map((offer) => ({ offer, ...deliveredBy(offer, neededBy, calendar, today) }))
    .sort((a, b) => a.daysLate - b.daysLate || costs(a.offer) - costs(b.offer));
  if (!best || best.daysLate >= daysLate) return asPlanned;
  return { ...best, ordered: ordered(best.offer, quantity), insteadOf: { offer: usual, daysLate } };
}
