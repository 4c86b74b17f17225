/** Payment terms: when what is invoiced has to be paid, and what is let off whoever pays early. */
import { addDays, dateOf, dayOf, writePoints } from '../base';

export interface PaymentTerms {
  /** Calendar days. */
  readonly days: number;
  /** Whether they count from the end of the invoice's month. */
  readonly fromMonthEnd: boolean;
  /** Calendar days from the invoice within which the discount holds. */
  readonly discountDays: number;
  /** Basis points of the total; 0 where nothing is let off. */
  readonly discount: number;
}

/** What terms come to for an invoice of a day. */
export interface Due {
  readonly dueDate: string;
  /** The last day of the discount; `null` where there is none. */
  readonly discountUntil: string | null;
  readonly words: string;
}

/** The last day of a date's month. */
function monthEnd(date: string): string {
  const [year = 0, month = 1] = date.split('-').map(Number);
  const next = month === 12 ? `${year + 1}-01-01` : `${year}-${String(month + 1).padStart(2, '0')}-01`;
  return dateOf(dayOf(next) - 1);
}

/** Terms in words, as papers have them. */
export function termsWords({ days, fromMonthEnd, discountDays, discount }: PaymentTerms): string {
  const net =
    days === 0 ? (fromMonthEnd ? 'by the end of the month' : 'at once') : `within ${days} days${fromMonthEnd ? ' of the end of the month' : ''}`;
  return discount === 0 ? net : `${net}; ${writePoints(discount)} % off within ${discountDays} days`;
}

/**
 * When an invoice has to be paid.
 *
 * @param date the invoice's day, as YYYY-MM-DD
 * @example dueOf({ days: 10, fromMonthEnd: true, discountDays: 0, discount: 0 }, '2027-02-14').dueDate // '2027-03-10'
 */
export function dueOf(terms: PaymentTerms, date: string): Due {
  return {
    dueDate: addDays(terms.fromMonthEnd ? monthEnd(date) : date, terms.days),
    discountUntil: terms.discount === 0 ? null : addDays(date, terms.discountDays),
    words: termsWords(terms),
  };
}
