/** Tax codes and what they take from which day on; payment terms. */
import { and, asc, desc, eq, isNotNull, lte, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import type { BodyOf, GroundView } from '@terrace/contract';
import { Refusal, dueOf, writePoints, termsWords, type Due } from '@terrace/core';
import { countOf, inner, scalar } from '../platform/expressions';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { addRow, keepRow } from '../platform/rows';
import { settingOf } from '../platform/settings';
import { assertSeen, changesBetween } from '../platform/versions';
import type { Work } from '../platform/work';
import { readPoints } from './group-defaults';
import { customer, paymentTerm, supplier, taxCode, taxRate } from './party-schema';

/** What a code takes on a day, in basis points; what stands in its place where there is no code, or none that is known then. */
export function rateOnDay(code: SQLiteColumn, day: SQL | string, otherwise: SQLiteColumn): SQL<number> {
  const latest = scalar(
    inner
      .select({ rate: taxRate.rate })
      .from(taxRate)
      .where(and(eq(taxRate.code, code), lte(taxRate.from, day)))
      .orderBy(desc(taxRate.from))
      .limit(1),
  );
  return sql<number>`coalesce(${latest}, ${otherwise})`;
}

const rateOfCustomer = query(
  ($: { id: number; day: string }) => (db) =>
    db
      .select({ rate: rateOnDay(customer.taxCode, $.day, customer.taxRate) })
      .from(customer)
      .where(eq(customer.id, $.id)),
);

/** What a customer is taxed at on a day, in basis points. */
export function taxRateFor(work: Work, customerId: number, day: string): number {
  return rateOfCustomer.one(work, { id: customerId, day })?.rate ?? 0;
}

const usualTax = query(
  () => (db) =>
    db
      .select({ code: customer.taxCode })
      .from(customer)
      .where(isNotNull(customer.taxCode))
      .groupBy(customer.taxCode)
      .orderBy(sql`count(*) desc`, customer.taxCode)
      .limit(1),
);
/** The tax code of the house, which new customers begin with: the one that it was founded with, else the one that most have; none where nobody has one. */
export function houseTaxCode(work: Work): string | null {
  return settingOf(work.store, HOUSE_TAX) ?? usualTax.one(work)?.code ?? null;
}
/** The setting that names it. */
export const HOUSE_TAX = 'taxCode';

const taxCodes = query(() => (db) => db.select({ code: taxCode.code, name: taxCode.name }).from(taxCode).orderBy(taxCode.code));
const ratesOf = query(
  ($: { code: string }) => (db) =>
    db.select({ from: taxRate.from, rate: taxRate.rate }).from(taxRate).where(eq(taxRate.code, $.code)).orderBy(asc(taxRate.from)),
);

export function taxCodesView(work: Work): GroundView['taxCodes'] {
  return taxCodes.all(work).map((each) => {
    const rates = ratesOf.all(work, { code: each.code });
    const now = rates.filter(({ from }) => from <= work.today).at(-1);
    return { ...each, rate: writePoints(now?.rate ?? 0), rates: rates.map(({ from, rate }) => ({ from, rate: writePoints(rate) })) };
  });
}

/** Says what a tax code takes: from the beginning, or from a day on. */
export function setTaxRate(work: Work, code: { readonly code: string; readonly name: string }, rate: number, from = ''): void {
  keepRow(work, taxCode, ['code'], { code: code.code, name: code.name });
  keepRow(work, taxRate, ['code', 'from'], { code: code.code, from, rate });
}

/**
 * Adds a tax code, renames it, or says what it takes from a day on; documents keep the rate that they were made with.
 * Refuses `needsRate` where a new one has none, and `passedDay`.
 */
export function saveTaxCode(work: Work, { code, name, rate: text, from }: BodyOf<typeof api.catalogue.saveTaxCode>): void {
  const known = ratesOf.all(work, { code });
  if (text === undefined) {
    if (known.length === 0) throw new Refusal('needsRate', `Say what ${code} takes, in percent; 0 where nothing.`, { field: 'rate' });
    keepRow(work, taxCode, ['code'], { code, name });
    work.record('setup', 0, `named tax code ${code} ${name}`);
    return;
  }
  const rate = atField('rate', () => readPoints(text, 'A tax rate'));
  if (known.length === 0) {
    setTaxRate(work, { code, name }, rate);
    work.record('setup', 0, `added tax code ${code}: ${writePoints(rate)} %`);
    return;
  }
  const day = from ?? work.today;
  if (day < work.today)
    throw new Refusal('passedDay', `${day} has passed: documents of since then have their rate already. Say from today, or a day to come.`, {
      field: 'from',
    });
  setTaxRate(work, { code, name }, rate, day);
  work.record('setup', 0, `tax code ${code} takes ${writePoints(rate)} % from ${day}`);
}

const terms = query(
  () => (db) =>
    db
      .select({
        code: paymentTerm.code,
        name: paymentTerm.name,
        days: paymentTerm.days,
        fromMonthEnd: paymentTerm.fromMonthEnd,
        discountDays: paymentTerm.discountDays,
        discount: paymentTerm.discount,
        active: paymentTerm.active,
        version: paymentTerm.version,
        customers: countOf(customer, eq(customer.paymentTerm, paymentTerm.code)),
        suppliers: countOf(supplier, eq(supplier.paymentTerm, paymentTerm.code)),
      })
      .from(paymentTerm)
      .orderBy(paymentTerm.code),
);
const termBy = query(($: { code: string }) => (db) => db.select().from(paymentTerm).where(eq(paymentTerm.code, $.code)));

export function paymentTermsView(work: Work): GroundView['paymentTerms'] {
  return terms.all(work).map((each) => ({ ...each, discount: writePoints(each.discount), words: termsWords(each) }));
}

/** Adds or changes payment terms; invoices that were raised keep theirs. Refuses `staleVersion`, and `badDiscount` where it ends after the money is due. */
export function savePaymentTerm(work: Work, { version, discount: text, ...input }: BodyOf<typeof api.catalogue.savePaymentTerm>): void {
  const before = termBy.one(work, { code: input.code });
  assertSeen(before, version, `The terms ${input.code}`);
  const discount = atField('discount', () => readPoints(text, 'A discount'));
  if (discount > 0 && input.discountDays > input.days && !input.fromMonthEnd)
    throw new Refusal('badDiscount', `What is let off for ${input.discountDays} days would hold longer than the ${input.days} days to pay.`, {
      field: 'discountDays',
    });
  const after = { ...input, discount };
  if (before) keepRow(work, paymentTerm, ['code'], after);
  else addRow(work, paymentTerm, after);
  const { version: _version, ...was } = before ?? { version: 0, code: input.code };
  work.record('setup', 0, `${before ? 'changed' : 'added'} payment terms ${input.code}`, changesBetween(was, after));
}

/** A code of payment terms that somebody was given. Refuses `unknownChoice`. */
export function readTerm(work: Work, code: string | null): string | null {
  if (code === null || code === '') return null;
  if (!termBy.one(work, { code }))
    throw new Refusal('unknownChoice', `There are no payment terms "${code}" to choose: take some from the list.`, { field: 'paymentTerm' });
  return code;
}

/** When an invoice of a day has to be paid by somebody with these terms, or else these days. */
export function dueFor(
  work: Work,
  party: { readonly paymentTerm: string | null; readonly paymentDays: number },
  date: string,
): Due & { discount: number } {
  const term = party.paymentTerm === null ? undefined : termBy.one(work, { code: party.paymentTerm });
  const agreed = term ?? { days: party.paymentDays, fromMonthEnd: false, discountDays: 0, discount: 0 };
  return { ...dueOf(agreed, date), discount: agreed.discount };
}
