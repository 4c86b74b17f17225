/** Supply and demand summed into days, weeks or months, as what changes or as what is there at the end. */
import { addDays, asQuantity, dayOf, weekdayOf, type Quantity } from '../base';
import type { ProjectedEvent } from './projection';

export type PeriodLength = 'day' | 'week' | 'month';

export interface Period {
  /** First day of the period. */
  readonly from: string;
  readonly through: string;
  /** Of documents. */
  readonly supply: Quantity;
  readonly demand: Quantity;
  /** Forecast demand that no order has taken up. */
  readonly forecast: Quantity;
  /** Of suggestions. */
  readonly suggestedSupply: Quantity;
  readonly suggestedDemand: Quantity;
  /** At the end: what documents say; with the forecast taken off; with the suggestions of the plan. */
  readonly closing: Quantity;
  readonly closingWithForecast: Quantity;
  readonly closingWithPlan: Quantity;
}

/** The first day of the period that a date is in; weeks begin on Monday. */
export function periodStart(date: string, length: PeriodLength): string {
  if (length === 'day') return date;
  if (length === 'month') return `${date.slice(0, 7)}-01`;
  return addDays(date, 1 - weekdayOf(dayOf(date)));
}

function nextStart(from: string, length: PeriodLength): string {
  if (length === 'day') return addDays(from, 1);
  if (length === 'week') return addDays(from, 7);
  return periodStart(addDays(from, 31), 'month');
}

/**
 * Sums events that {@link projectBalance} has put in order, from the period of today through that of the last day.
 * `forecast` is demand that people expect; orders, forecast and suggestions are never added together.
 */
export function sumByPeriod(
  available: Quantity,
  events: readonly ProjectedEvent[],
  forecast: readonly { readonly date: string; readonly quantity: Quantity }[],
  today: string,
  last: string,
  length: PeriodLength,
): Period[] {
  const periods: Period[] = [];
  let [closing, withForecast, withPlan]: [number, number, number] = [available, available, available];
  const total = (rows: readonly { readonly quantity: Quantity }[]): Quantity => asQuantity(rows.reduce((sum, each) => sum + each.quantity, 0));
  for (let from = periodStart(today, length); from <= last; from = nextStart(from, length)) {
    const through = addDays(nextStart(from, length), -1);
    const inside = events.filter((each) => each.countedOn >= from && each.countedOn <= through);
    const of = (kind: ProjectedEvent['kind'], firm: boolean): Quantity => total(inside.filter((each) => each.kind === kind && each.firm === firm));
    const expected = total(forecast.filter((each) => (each.date < today ? today : each.date) >= from && each.date <= through));
    const [supply, demand, suggestedSupply, suggestedDemand] = [of('supply', true), of('demand', true), of('supply', false), of('demand', false)];
    closing += supply - demand;
    withForecast += supply - demand - expected;
    withPlan += supply - demand + suggestedSupply - suggestedDemand;
    periods.push({
      from,
      through,
      supply,
      demand,
      forecast: expected,
      suggestedSupply,
      suggestedDemand,
      closing: asQuantity(closing),
      closingWithForecast: asQuantity(withForecast),
      closingWithPlan: asQuantity(withPlan),
    });
  }
  return periods;
}
