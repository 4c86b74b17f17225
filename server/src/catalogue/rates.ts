/** Exchange rates, dated. */
import { Refusal, asRate, type Rate } from '@terrace/core';
import { settingOf } from '../platform/settings';
import type { Work } from '../platform/work';

const books = new WeakMap<Work, string>();

/** The currency of the books. */
export function booksCurrency(work: Work): string {
  let currency = books.get(work);
  if (currency === undefined) {
    currency = settingOf(work.store, 'currency') ?? 'EUR';
    books.set(work, currency);
  }
  return currency;
}

/** The rate of a currency on a day: the latest that is not after it. Refuses `noRate`. */
export function rateOf(work: Work, currency: string, day: string): Rate {
  const row = work.row<{ rate: number }>('select rate from exchange_rate where currency = ? and date <= ? order by date desc limit 1', currency, day);
  if (!row)
    throw new Refusal('noRate', `There is no exchange rate of ${currency} for ${day}: enter one under Catalogue, Ground, Currencies.`, {
      currency,
      day,
    });
  return asRate(row.rate);
}
