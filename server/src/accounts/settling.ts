/** Closing invoices: with a part of a payment, or of a credit note; and opening them again. */
import { and, eq, sql } from 'drizzle-orm';
import {
  Refusal,
  asAmount,
  asQuantity,
  booksOfPart,
  letOffOn,
  parseAmount,
  proportion,
  taxOfPart,
  writeAmount,
  type Amount,
  type LetOff,
} from '@terrace/core';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { addRow, changeRow, setRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { invoice, invoiceLine, settlement } from './invoice-schema';
import { invoiceOf, type InvoiceRecord } from './invoices';

export interface Settle {
  readonly invoice: InvoiceRecord;
  /** How much of it is closed, and what of that is let off and not paid. */
  readonly amount: Amount;
  readonly letOff: Amount;
}
/** Whose invoices may be closed with it, and in which currency. */
interface ClosedWith {
  readonly customerId: number;
  readonly currency: string;
}
type Asked = readonly { readonly invoiceId: number; readonly amount: string; readonly letOff: string }[];

/**
 * What is to be closed, as it was asked for. Refuses `wrongState`, `otherCustomer` and `otherCurrency` for an invoice that can't be
 * closed with it, `notPositive`, `tooMuch`, `twice`, and `tooLate` for a discount that doesn't hold on the day.
 */
export function readSettles(work: Work, { customerId, currency }: ClosedWith, asked: Asked, date: string): Settle[] {
  return asked.map(({ invoiceId, amount: text, letOff: less }, index) => {
    const field = `settle.${index}.amount`;
    const kept = invoiceOf(work, invoiceId);
    if (kept.kind !== 'invoice' || kept.state !== 'open')
      throw new Refusal('wrongState', `${kept.number} is ${kept.kind === 'credit' ? 'a credit note' : kept.state}: nothing is open on it.`, {
        field,
      });
    if (kept.customerId !== customerId)
      throw new Refusal('otherCustomer', `${kept.number} is another customer’s: it can’t be closed with this.`, { field });
    if (kept.currency !== currency)
      throw new Refusal('otherCurrency', `${kept.number} is in ${kept.currency}, and this is in ${currency}: it can’t be closed with it.`, { field });
    if (asked.some((other, at) => at < index && other.invoiceId === invoiceId))
      throw new Refusal('twice', `${kept.number} is there twice: give one amount for it.`, { field });
    const amount = atField(field, () => parseAmount(text));
    const letOff = atField(`settle.${index}.letOff`, () => parseAmount(less));
    const open = asAmount(kept.total - kept.paid);
    if (amount <= 0) throw new Refusal('notPositive', `What closes ${kept.number} must be more than 0.`, { field });
    if (amount > open)
      throw new Refusal('tooMuch', `${writeAmount(amount)} is more than the ${writeAmount(open)} open on ${kept.number}.`, {
        field,
        open: writeAmount(open),
      });
    assertLetOff(kept, { amount, letOff, open, date, field: `settle.${index}.letOff` });
    return { invoice: kept, amount, letOff };
  });
}

interface LetOffAsked {
  readonly amount: Amount;
  readonly letOff: Amount;
  readonly open: Amount;
  readonly date: string;
  readonly field: string;
}

function assertLetOff(kept: InvoiceRecord, { amount, letOff, open, date, field }: LetOffAsked): void {
  if (letOff === 0) return;
  const most = letOffOn(kept, date);
  if (letOff < 0 || letOff > most)
    throw new Refusal(
      'tooLate',
      most === 0
        ? `Nothing is let off ${kept.number} on ${date}${kept.discountUntil === null ? '' : `: the discount held until ${kept.discountUntil}, for the whole`}.`
        : `At most ${writeAmount(most)} are let off ${kept.number} on ${date}.`,
      { field, most: writeAmount(most) },
    );
  if (amount !== open)
    throw new Refusal('partOnly', `${kept.number} is paid in part: the discount is for whoever pays the whole.`, { field, open: writeAmount(open) });
}

/** At what the parts of invoices that are closed are in the books. */
export function closedInBooks(settles: readonly Settle[]): Amount {
  return asAmount(settles.reduce((sum, settle) => sum + inBooksOf(settle), 0));
}

const inBooksOf = ({ invoice: kept, amount }: Settle): Amount => booksOfPart(kept, amount);

/** What is let off in all, in the books: without tax, and its tax, each invoice's by its own. */
export function letOffOf(settles: readonly Settle[]): LetOff {
  const parts = settles.map((settle) => {
    const { invoice: kept, amount, letOff } = settle;
    const part = letOff === 0 ? letOff : proportion(inBooksOf(settle), asQuantity(letOff), asQuantity(amount));
    return taxOfPart(part, kept);
  });
  const sum = (of: (part: LetOff) => number): Amount => asAmount(parts.reduce((all, part) => all + of(part), 0));
  return { net: sum(({ net }) => net), tax: sum(({ tax }) => tax) };
}

/** What settles take of a payment. */
export function takenBy(settles: readonly Pick<Settle, 'amount' | 'letOff'>[]): Amount {
  return asAmount(settles.reduce((sum, { amount, letOff }) => sum + amount - letOff, 0));
}

/** What closes an invoice: a payment or a credit note, and what that takes of it in the books. */
type ClosedBy = ({ readonly paymentId: number } | { readonly creditId: number }) & { readonly booksTaken: Amount };

/** Closes an invoice, or a credit note by an amount below 0. */
export function close(work: Work, by: ClosedBy, settle: Settle, date: string, entryId: number | null): void {
  const { invoice: kept, amount, letOff } = settle;
  const books = inBooksOf(settle);
  addRow(work, settlement, { ...by, invoiceId: kept.id, date, amount, letOff, books, entryId });
  keepPaid(work, kept.id, amount, books);
}

/** Has an invoice paid by so much more, or less, and at what that is in the books; its state and its orders follow. */
export function keepPaid(work: Work, id: number, more: Amount, books: Amount): void {
  const { total: whole, paid: before, booksPaid } = invoiceOf(work, id);
  const paid = asAmount(before + more);
  changeRow(work, invoice, id, { paid, booksPaid: asAmount(booksPaid + books), state: paid === whole ? 'paid' : 'open' });
  work.touch('invoice', id, `paid ${writeAmount(paid)}`);
  for (const { orderId } of ordersOf.all(work, { invoiceId: id })) otherRooms.get().invoicesChanged(work, orderId);
}

export type SettlementRecord = typeof settlement.$inferSelect;

/** Opens again what a settlement closed. */
export function open(work: Work, { id, invoiceId, creditId, amount, books, booksTaken }: SettlementRecord): void {
  setRow(work, settlement, id, { reversed: true });
  keepPaid(work, invoiceId, asAmount(-amount), asAmount(-books));
  if (creditId !== null) keepPaid(work, creditId, amount, booksTaken);
}

const ordersOf = query(
  ($: { invoiceId: number }) => (db) =>
    db
      .selectDistinct({ orderId: sql<number>`coalesce(${otherRooms.get().orderOfLine(invoiceLine.orderLineId)}, ${invoice.orderId})` })
      .from(invoice)
      .leftJoin(invoiceLine, eq(invoiceLine.invoiceId, invoice.id))
      .where(eq(invoice.id, $.invoiceId)),
);
/** The orders whose lines are on an invoice. */
export function ordersOn(work: Work, invoiceId: number): number[] {
  return ordersOf.all(work, { invoiceId }).map(({ orderId }) => orderId);
}

const LIVE = eq(settlement.reversed, false);
const bySome = {
  payment: query(
    ($: { id: number }) => (db) =>
      db
        .select()
        .from(settlement)
        .where(and(eq(settlement.paymentId, $.id), LIVE))
        .orderBy(settlement.id),
  ),
  credit: query(
    ($: { id: number }) => (db) =>
      db
        .select()
        .from(settlement)
        .where(and(eq(settlement.creditId, $.id), LIVE))
        .orderBy(settlement.id),
  ),
};
/** What a payment or a credit note closes, as it stands. */
export function settlementsBy(work: Work, by: keyof typeof bySome, id: number): SettlementRecord[] {
  return bySome[by].all(work, { id });
}
