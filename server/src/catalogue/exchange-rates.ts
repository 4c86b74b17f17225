/** Currencies and their exchange rates, dated. */
import { and, desc, eq, lte } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import type { BodyOf } from '@terrace/contract';
import { BOOKS_RATE, Refusal, parseRate, type Rate } from '@terrace/core';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { keepRow } from '../platform/rows';
import { currencyOf } from '../platform/settings';
import type { Work } from '../platform/work';
import { currency, exchangeRate } from './party-schema';

const books = new WeakMap<Work, string>();

/** The currency of the books. */
export function booksCurrency(work: Work): string {
  let code = books.get(work);
  if (code === undefined) {
    code = currencyOf(work.store);
    books.set(work, code);
  }
  return code;
}

/** The currency that somebody named, or that of the books where they named none. */
export function currencyNamed(work: Work, code: string): string {
  return code === '' ? booksCurrency(work) : code;
}

const latestRate = query(
  ($: { currency: string; day: string }) => (db) =>
    db
      .select({ rate: exchangeRate.rate })
      .from(exchangeRate)
      .where(and(eq(exchangeRate.currency, $.currency), lte(exchangeRate.date, $.day)))
      .orderBy(desc(exchangeRate.date))
      .limit(1),
);
const byCode = query(($: { code: string }) => (db) => db.select({ code: currency.code }).from(currency).where(eq(currency.code, $.code)));

/** Whether there is a currency of this code. */
export function hasCurrency(work: Work, code: string): boolean {
  return byCode.one(work, { code }) !== undefined;
}

/** The rate of a currency on a day: the latest that is not after it; `null` where there is none yet. */
export function rateOn(work: Work, code: string, day: string): Rate | null {
  return latestRate.one(work, { currency: code, day })?.rate ?? null;
}

/** {@link rateOn} where there must be one. Refuses `noRate`. */
export function rateOf(work: Work, code: string, day: string): Rate {
  const rate = rateOn(work, code, day);
  if (rate === null)
    throw new Refusal('noRate', `There is no exchange rate of ${code} for ${day}: enter one under Catalogue, Groups and units, Currencies.`, {
      currency: code,
      day,
    });
  return rate;
}

/** What one of a currency is worth in the books' on a day; the books' own is worth itself. Refuses `noRate`. */
export function worthOn(work: Work, code: string, day: string): Rate {
  return code === booksCurrency(work) ? BOOKS_RATE : rateOf(work, code, day);
}

/** Adds or renames a currency, and with a date and a rate states what it is worth from then on. */
export function saveCurrency(work: Work, input: BodyOf<typeof api.catalogue.saveCurrency>): void {
  if (input.name !== undefined) keepRow(work, currency, ['code'], { code: input.code, name: input.name });
  else if (!hasCurrency(work, input.code))
    throw new Refusal('unknownCurrency', `There is no currency "${input.code}" yet: give it a name.`, { field: 'name' });
  const date = input.date ?? work.today;
  if (input.rate !== undefined) {
    const text = input.rate;
    if (input.code === booksCurrency(work))
      throw new Refusal('booksCurrency', `${input.code} is the currency of the books: it is worth itself.`, { field: 'rate' });
    const rate = atField('rate', () => parseRate(text));
    keepRow(work, exchangeRate, ['currency', 'date'], { currency: input.code, date, rate });
  }
  work.record('setup', 0, `set currency ${input.code}${input.rate === undefined ? '' : `: ${input.rate} from ${date}`}`);
}
