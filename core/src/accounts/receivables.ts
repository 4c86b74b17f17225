/** What customers owe: how payments close invoices, what is let off for paying early, how old it is, when to remind, what a part is worth back. */
import {
  amountToBooks,
  asAmount,
  asQuantity,
  dateOf,
  dayOf,
  proportion,
  shareOf,
  splitByWeights,
  type Amount,
  type Quantity,
  type Rate,
} from '../base';

/** An invoice as far as it is open. */
export interface OpenInvoice {
  readonly id: number;
  /** With tax; above 0. */
  readonly total: Amount;
  readonly paid: Amount;
  readonly dueDate: string;
  /** The last day of the discount, and the discount in basis points of the total. */
  readonly discountUntil: string | null;
  readonly discount: number;
}

/** How much of an invoice is closed, and what of that is let off; the rest of it is paid. */
export interface InvoiceClosing {
  readonly id: number;
  readonly amount: Amount;
  readonly letOff: Amount;
}

const ZERO = asAmount(0);

/**
 * What is let off an invoice that is paid in full on a day: the discount for early payment, of the whole total, as long as
 * nothing was paid on it before. 0 after its last day.
 *
 * @param date YYYY-MM-DD
 * @example letOffOn({ total: 10000, paid: 0, discount: 200, discountUntil: '2027-03-10', … }, '2027-03-10') // 200
 */
export function letOffOn(invoice: OpenInvoice, date: string): Amount {
  const { total, paid, discountUntil, discount } = invoice;
  return discountUntil === null || date > discountUntil || paid !== 0 ? ZERO : shareOf(total, discount);
}

/**
 * Spreads what was received over open invoices: the oldest due date first, then the oldest invoice. An invoice that the
 * rest closes with its discount for early payment is closed with it. What no invoice takes is left.
 *
 * @param amount above 0
 * @param date the day of the payment, YYYY-MM-DD
 * @example spreadPayment(150, [{ id: 1, total: 100, … }, { id: 2, total: 80, … }], date).settled // 100 of the first, 50 of the second
 */
export function spreadPayment(
  amount: Amount,
  open: readonly OpenInvoice[],
  date: string,
): { readonly settled: readonly InvoiceClosing[]; readonly rest: Amount } {
  const inOrder = [...open].sort((a, b) => (a.dueDate === b.dueDate ? a.id - b.id : a.dueDate < b.dueDate ? -1 : 1));
  const settled: InvoiceClosing[] = [];
  let rest: number = amount;
  for (const invoice of inOrder) {
    if (rest <= 0) break;
    const due = invoice.total - invoice.paid;
    if (due <= 0) continue;
    const letOff = letOffOn(invoice, date);
    if (letOff > 0 && rest >= due - letOff) {
      settled.push({ id: invoice.id, amount: asAmount(due), letOff });
      rest -= due - letOff;
    } else {
      const taken = Math.min(rest, due);
      settled.push({ id: invoice.id, amount: asAmount(taken), letOff: ZERO });
      rest -= taken;
    }
  }
  return { settled, rest: asAmount(rest) };
}

/**
 * What is let off, without its tax and the tax of it: the tax that the invoice had follows what is paid. Both together are
 * what is let off.
 *
 * @example taxOfPart(asAmount(240), { tax: 2000, total: 12000 }) // { net: 200, tax: 40 }
 */
export function taxOfPart(
  part: Amount,
  { tax, total }: { readonly tax: Amount; readonly total: Amount },
): { readonly net: Amount; readonly tax: Amount } {
  const of = part === 0 ? ZERO : proportion(tax, asQuantity(part), asQuantity(total));
  return { net: asAmount(part - of), tax: of };
}

/** A document with a sum in a currency of its own, and at what it is in the books; how much of both is closed. */
export interface InBooks {
  readonly total: Amount;
  readonly paid: Amount;
  /** In the books' currency. */
  readonly booksTotal: Amount;
  readonly booksPaid: Amount;
}

/**
 * At what a part of what is open of a document is in the books: its share of what is left there, so that all parts together have
 * the whole of it to the cent, in whatever parts it is closed.
 *
 * @param amount of the document's currency, not more than is open of it
 * @example booksOfPart({ total: 300, paid: 0, booksTotal: 351, booksPaid: 0 }, 100) // 117
 */
export function booksOfPart({ total, paid, booksTotal, booksPaid }: InBooks, amount: Amount): Amount {
  const open = total - paid;
  // Of a credit note all figures are below 0.
  const sign = Math.sign(open);
  return open === 0 ? ZERO : proportion(asAmount(booksTotal - booksPaid), asQuantity(amount * sign), asQuantity(open * sign));
}

/** What a document comes to in the books: its net by its lines, and its tax. */
export interface WorthInBooks {
  readonly lines: readonly Amount[];
  readonly net: Amount;
  readonly tax: Amount;
  readonly total: Amount;
}

/**
 * A document in the books' currency: net and tax rounded once each, and the net spread over its lines without loss (largest
 * remainder), so that what is posted for the lines is what is posted for the document.
 *
 * @param lines of the document's currency, without tax
 * @example inBooks([asAmount(100), asAmount(100)], asAmount(0), parseRate('1.005')).lines // 101 and 100: 201 in all
 */
export function inBooks(lines: readonly Amount[], tax: Amount, rate: Rate): WorthInBooks {
  const net = amountToBooks(asAmount(lines.reduce((sum, each) => sum + each, 0)), rate);
  const taxes = amountToBooks(tax, rate);
  const weights = lines.map((each) => Math.abs(each));
  const parts = weights.some((each) => each > 0) ? splitByWeights(net, weights).map(asAmount) : lines.map(() => ZERO);
  return { lines: parts, net, tax: taxes, total: asAmount(net + taxes) };
}

/** How old what is open is, by days past its due date. */
export const ageBands = ['notDue', 'to30', 'to60', 'to90', 'older'] as const;
export type AgeBand = (typeof ageBands)[number];
/** The last day past the due date of each band that has one. */
export const BAND_ENDS: readonly (readonly [AgeBand, number])[] = [
  ['notDue', 0],
  ['to30', 30],
  ['to60', 60],
  ['to90', 90],
];

/**
 * The band of what is due on a day.
 *
 * @example bandOf('2027-02-01', '2027-03-01') // 'to30': 28 days past due
 */
export function bandOf(dueDate: string, today: string): AgeBand {
  const past = dayOf(today) - dayOf(dueDate);
  return BAND_ENDS.find(([, last]) => past <= last)?.[0] ?? 'older';
}

/** A line of an invoice as far as it was credited. */
export interface CreditableLine {
  /** What was invoiced, free pieces with it, in 10⁻⁵ units. */
  readonly quantity: Quantity;
  readonly amount: Amount;
  /** Credited before: pieces, and what they were worth. */
  readonly creditedQuantity: Quantity;
  readonly creditedAmount: Amount;
}

/**
 * What the next pieces of an invoiced line are worth back: each piece what was charged for the line by its pieces, so that
 * all of them together come to the line to the cent. What was credited without pieces (for a wrong price) makes each piece
 * worth less.
 *
 * @param quantity not more than are left of the line
 * @example creditOf({ quantity: 3, amount: 1000, creditedQuantity: 0, creditedAmount: 0 }, 1) // 333; the next two: 667
 */
export function creditOf(line: CreditableLine, quantity: Quantity): Amount {
  const left = asQuantity(line.quantity - line.creditedQuantity);
  return left === 0 ? ZERO : proportion(asAmount(line.amount - line.creditedAmount), quantity, left);
}

/** The steps of reminding, from a friendly word to the last one. */
export const reminderSteps = [1, 2, 3] as const;
export type ReminderStep = (typeof reminderSteps)[number];

export interface Reminding {
  /** Calendar days from the due date, or from the last reminder, to each step. */
  readonly after: readonly [number, number, number];
}

/**
 * The step that is due for an invoice, or `null` where none is: not due yet, reminded lately, or three times already.
 *
 * @param step the last step taken; 0 for none
 * @param last the day of it, YYYY-MM-DD; `null` for none
 * @example reminderDue({ step: 0, last: null, dueDate: '2027-02-01' }, '2027-02-10', { after: [7, 14, 14] }) // 1
 */
export function reminderDue(
  { step, last, dueDate }: { readonly step: number; readonly last: string | null; readonly dueDate: string },
  today: string,
  { after }: Reminding,
): ReminderStep | null {
  const next = reminderSteps[step];
  const days = after[step];
  if (next === undefined || days === undefined) return null;
  return today >= dateOf(dayOf(last ?? dueDate) + days) && today > dueDate ? next : null;
}
