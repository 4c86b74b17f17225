/** Figures of Today with their trend, week by week. */
import { and, gt, lte, ne, notInArray, sql } from 'drizzle-orm';
import type { TodayView } from '@terrace/contract';
import { addDays, writeAmount } from '@terrace/core';
import { invoice } from '../accounts';
import { entriesOf, or0, scalar, total } from '../platform/expressions';
import { query, type Query } from '../platform/query';
import type { Work } from '../platform/work';
import { IS_ORDER, customerOrder } from '../selling';
import { isReceived, receivedWorth, stockMove, worthChange } from '../stores';

const TREND_WEEKS = 8;

type Weekly = Query<{ after: string; until: string }, { n: number }>;
type Week = { after: string; until: string };
const ordersTaken: Weekly = query(
  ($: Week) => (db) =>
    db
      .select({ n: total(sql<number>`${customerOrder.booksNet}`) })
      .from(customerOrder)
      .where(
        and(
          IS_ORDER,
          notInArray(customerOrder.state, ['draft', 'cancelled']),
          gt(customerOrder.orderDate, $.after),
          lte(customerOrder.orderDate, $.until),
        ),
      ),
);
const invoiced: Weekly = query(
  ($: Week) => (db) =>
    db
      .select({ n: total(sql<number>`${invoice.booksTotal}`) })
      .from(invoice)
      .where(and(ne(invoice.state, 'reversed'), gt(invoice.date, $.after), lte(invoice.date, $.until))),
);
const goodsReceived: Weekly = query(
  ($: Week) => (db) =>
    db
      .select({ n: total(receivedWorth) })
      .from(stockMove)
      .where(and(isReceived, gt(stockMove.date, $.after), lte(stockMove.date, $.until))),
);
/** What stock was worth at the end of days; all changes are looked at once, by the first of the days that they count on. */
const worthOnDays = query(($: { days: readonly string[] }) => (db) => {
  const day = sql`asked.value`;
  return db
    .select({
      n: or0(
        scalar(
          db
            .select({ n: total(sql<number>`${worthChange.value}`) })
            .from(worthChange)
            .where(sql`${worthChange.date} <= ${day}`),
        ),
      ),
    })
    .from(entriesOf(sql`${$.days}`, 'asked'))
    .orderBy(sql`asked.key`);
});

/** Sums per week, the oldest first, the last of them up to today. */
function weekly(work: Work, sum: Weekly): number[] {
  return Array.from({ length: TREND_WEEKS }, (_, index) => {
    const until = addDays(work.today, -7 * (TREND_WEEKS - 1 - index));
    return sum.one(work, { after: addDays(until, -7), until })?.n ?? 0;
  });
}

/** The last of a trend and the one before it. */
function compared(trend: readonly number[]): Pick<TodayView['figures'][number], 'value' | 'before' | 'trend'> {
  return { value: writeAmount(trend.at(-1) ?? 0), before: writeAmount(trend.at(-2) ?? 0), trend: trend.map((each) => each / 100) };
}

/** The figures of what this person may see. */
export function figuresFor(work: Work): TodayView['figures'] {
  const figures: TodayView['figures'] = [];
  const amount = (key: string, label: string, sum: Weekly, link: string): void => {
    const trend = weekly(work, sum);
    figures.push({ key, label, link, ...compared(trend), period: 'last 7 days', beforePeriod: 'the 7 days before' });
  };
  if (work.mayI('selling.see')) amount('intake', 'Orders taken, without tax', ordersTaken, '/selling');
  if (work.mayI('accounts.see')) amount('invoiced', 'Invoiced', invoiced, '/accounts');
  if (work.mayI('buying.see')) amount('received', 'Goods received', goodsReceived, '/stores/moves');
  if (work.mayI('stores.see')) {
    // What the ledger says it is worth, with costs that came late and new standards: one look at all changes gives every week.
    const days = Array.from({ length: TREND_WEEKS }, (_, index) => addDays(work.today, -7 * (TREND_WEEKS - 1 - index)));
    const trend = worthOnDays.all(work, { days }).map((each) => each.n);
    figures.push({
      key: 'stock',
      label: 'Stock value',
      link: '/stores',
      ...compared(trend),
      period: 'now',
      beforePeriod: 'a week ago',
    });
  }
  return figures;
}
