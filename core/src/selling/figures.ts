/** Figures of selling: weeks, deliveries on time and in full, margins. */
import { dateOf, dayOf, type Amount, type Quantity } from '../base';

/**
 * Whether all that was wanted had left by a day.
 *
 * @param left what left of it, and when (YYYY-MM-DD)
 * @param wanted what was ordered, less what was cancelled
 * @example inFullBy([{ date: '2027-03-01', quantity: 2 }, { date: '2027-03-04', quantity: 1 }], 3, '2027-03-03') // false
 */
export function inFullBy(left: readonly { readonly date: string; readonly quantity: Quantity }[], wanted: Quantity, day: string): boolean {
  return left.reduce((sum, each) => (each.date <= day ? sum + each.quantity : sum), 0) >= wanted;
}

const MONDAY = 4;

/**
 * The Monday of a day's week.
 *
 * @example weekOf('2027-03-04') // '2027-03-01'
 */
export function weekOf(date: string): string {
  const day = dayOf(date);
  return dateOf(day - ((((day - MONDAY) % 7) + 7) % 7));
}

/** Mondays from the week of one day to that of another, both with them. */
export function weeksBetween(from: string, until: string): string[] {
  const weeks: string[] = [];
  for (let day = dayOf(weekOf(from)); day <= dayOf(until); day += 7) weeks.push(dateOf(day));
  return weeks;
}

/**
 * What is left of what was charged, in percent with one decimal; `null` where nothing was charged.
 *
 * @example marginShare(1000, 650) // 35
 */
export function marginShare(revenue: Amount, cost: Amount): number | null {
  return revenue === 0 ? null : Math.round(((revenue - cost) * 1000) / revenue) / 10;
}
