/**
 * Lots with an expiry: how long they live, until when they may be used, and what of them will be left over. Demand takes what expires first; a lot counts until the last day on which its
 * remaining life is the minimum, and leaves at the end of that day.
 */
import { Refusal, addDays, asQuantity, dayOf, type Quantity } from '../base';

/** Days from a date to a lot's expiry; below zero once it has passed. */
export function remainingLife(expiry: string, date: string): number {
  return dayOf(expiry) - dayOf(date);
}

/** The last day on which a lot still has the minimum life; `null` where it does not expire. */
export function usableUntil(expiry: string | null, minimumLife: number): string | null {
  return expiry === null ? null : addDays(expiry, -minimumLife);
}

/** Whether a lot has less than the minimum life left on a date. What never expires is never short-dated. */
export function isShortDated(expiry: string | null, date: string, minimumLife: number): boolean {
  return expiry !== null && remainingLife(expiry, date) < minimumLife;
}

/** Order in which lots are taken: first-expiring first, what never expires last, equal ones by their code. */
export function firstExpiring(
  a: { readonly expiry: string | null; readonly lot: string },
  b: { readonly expiry: string | null; readonly lot: string },
): number {
  const [first, second] = [a.expiry ?? '9999-12-31', b.expiry ?? '9999-12-31'];
  return first < second ? -1 : first > second ? 1 : a.lot < b.lot ? -1 : a.lot > b.lot ? 1 : 0;
}

export interface LotDates {
  readonly madeOn: string | null;
  readonly expiry: string | null;
}

export interface LotRule {
  readonly expiryNeeded: boolean;
  readonly madeOnNeeded: boolean;
  /** Days from made-on to expiry, where the expiry is not given. */
  readonly shelfLife: number | null;
}

/**
 * The dates of a lot under its item's rule; an expiry that is not given follows from made-on and shelf life.
 * Refuses `madeOnNeeded`, `expiryNeeded`, and `badDate` for an expiry before the lot was made.
 */
export function datesOfLot(lot: string, given: LotDates, rule: LotRule): LotDates {
  const { madeOn } = given;
  if (rule.madeOnNeeded && madeOn === null)
    throw new Refusal('madeOnNeeded', `Lot ${lot} needs the date on which it was made: it is on the label or the delivery note.`, {
      field: 'madeOn',
    });
  const expiry = given.expiry ?? (madeOn !== null && rule.shelfLife !== null ? addDays(madeOn, rule.shelfLife) : null);
  if (rule.expiryNeeded && expiry === null) throw new Refusal('expiryNeeded', `Lot ${lot} needs its expiry date.`, { field: 'expiry' });
  if (madeOn !== null && expiry !== null && expiry < madeOn)
    throw new Refusal('badDate', `Lot ${lot} would expire on ${expiry}, before it was made on ${madeOn}: one of the dates is wrong.`, {
      field: 'expiry',
    });
  return { madeOn, expiry };
}

export interface DatedQuantity {
  readonly date: string;
  readonly quantity: Quantity;
}

/** Stock that may be used until a day, or for ever. */
export interface LivingStock {
  readonly quantity: Quantity;
  readonly usableUntil: string | null;
  /** What people call it. */
  readonly lot: string;
}

export interface Loss {
  /** The first day on which it counts no more. */
  readonly date: string;
  readonly quantity: Quantity;
  readonly lot: string;
}

/** What walking the days found. */
export interface LotWalk {
  readonly losses: Loss[];
  /** Whether what was due had been served at the end of each day walked. */
  readonly served: ReadonlyMap<string, boolean>;
}

interface Living extends LivingStock {
  left: number;
}

/** Walks the days on which something happens. What comes lasts; demand that can't be served waits for what comes. */
export function walkLots(
  stock: readonly LivingStock[],
  supplies: readonly DatedQuantity[],
  demands: readonly DatedQuantity[],
  today: string,
): LotWalk {
  const changes = new Map<string, { supply: number; demand: number }>();
  const on = (date: string): { supply: number; demand: number } => {
    const day = changes.get(date) ?? { supply: 0, demand: 0 };
    changes.set(date, day);
    return day;
  };
  on(today);
  for (const each of supplies) on(each.date < today ? addDays(today, 1) : each.date).supply += each.quantity;
  for (const each of demands) on(each.date < today ? today : each.date).demand += each.quantity;
  const living = stock
    .filter((each) => each.usableUntil === null || each.usableUntil >= today)
    .map((each): Living => ({ ...each, left: each.quantity }))
    .sort((a, b) => firstExpiring({ expiry: a.usableUntil, lot: a.lot }, { expiry: b.usableUntil, lot: b.lot }));
  for (const each of living) if (each.usableUntil !== null) on(each.usableUntil);
  const losses: Loss[] = [];
  const served = new Map<string, boolean>();
  let lasting = 0;
  let waiting = 0;
  for (const date of [...changes.keys()].sort()) {
    const { supply, demand } = on(date);
    lasting += supply;
    waiting += demand;
    for (const each of living) {
      if (waiting === 0) break;
      const taken = Math.min(waiting, each.left);
      each.left -= taken;
      waiting -= taken;
    }
    const taken = Math.min(waiting, lasting);
    lasting -= taken;
    waiting -= taken;
    for (const each of living) {
      if (each.usableUntil === date && each.left > 0) {
        losses.push({ date: addDays(date, 1), quantity: asQuantity(each.left), lot: each.lot });
        each.left = 0;
      }
    }
    served.set(date, waiting === 0);
  }
  return { losses, served };
}

/** What becomes short-dated before any demand takes it, and from which day on it counts no more. */
export function lossesOf(
  stock: readonly LivingStock[],
  supplies: readonly DatedQuantity[],
  demands: readonly DatedQuantity[],
  today: string,
): readonly Loss[] {
  return walkLots(stock, supplies, demands, today).losses;
}
