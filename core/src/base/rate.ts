/** Exchange rates: how much of the books' currency one unit of another is worth, dated. */
import { divideRounded, parseScaled, writeDecimal } from './decimal';
import { asAmount, asPrice, type Amount, type UnitPrice } from './money';
import { Refusal } from './refusal';

declare const rateBrand: unique symbol;
/** Books' currency for one unit of a foreign one, as an integer of 10⁻⁸. */
export type Rate = number & { readonly [rateBrand]: true };

export const RATE_SCALE = 8;
const ONE = 10n ** BigInt(RATE_SCALE);
const MOST = 100_000 * 10 ** RATE_SCALE;

/** Reads a rate above zero; refuses `notPositive` besides what {@link parseScaled} refuses. */
export function parseRate(text: string): Rate {
  const rate = parseScaled(text, RATE_SCALE, RATE_SCALE, MOST, 'the rate');
  if (rate <= 0) throw new Refusal('notPositive', `${text} is no rate: it must be more than 0.`, { text, field: 'rate' });
  return rate as Rate;
}

/** Of the books' own currency: it is worth itself. */
export const BOOKS_RATE = Number(ONE) as Rate;

/** Brands an integer as a rate. */
export function asRate(scaled: number): Rate {
  return scaled as Rate;
}

/** A foreign price in the books' currency. */
export function toBooks(price: UnitPrice, rate: Rate): UnitPrice {
  return asPrice(Number(divideRounded(BigInt(price) * BigInt(rate), ONE)));
}

/**
 * An amount of another currency in the books' currency, rounded once to its minor unit.
 *
 * @example amountToBooks(asAmount(10_000), parseRate('1.17')) // 11 700
 */
export function amountToBooks(amount: Amount, rate: Rate): Amount {
  return asAmount(Number(divideRounded(BigInt(amount) * BigInt(rate), ONE)));
}

/** A rate in its shortest form: `1.17`. */
export function writeRate(rate: Rate): string {
  return writeDecimal(BigInt(rate), RATE_SCALE);
}

/** A price of the books in a foreign currency. */
export function fromBooks(price: UnitPrice, rate: Rate): UnitPrice {
  return asPrice(Number(divideRounded(BigInt(price) * ONE, BigInt(rate))));
}

export interface DatedRate {
  readonly currency: string;
  readonly date: string;
  readonly rate: Rate;
}

/** The rate of a currency on a day: the latest that is not after it. Refuses `noRate`. */
export function rateOn(rates: readonly DatedRate[], currency: string, day: string): DatedRate {
  const latest = rates.filter((each) => each.currency === currency && each.date <= day).sort((a, b) => (a.date < b.date ? 1 : -1))[0];
  if (!latest)
    throw new Refusal('noRate', `There is no exchange rate of ${currency} for ${day}: enter one under Catalogue, Groups and units, Currencies.`, {
      currency,
      day,
    });
  return latest;
}
