/** Payments of customers: over one invoice or several, ahead of any, and taken back. */
import { and, eq, sql } from 'drizzle-orm';
import type { AnyColumn } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import type { AnswerOf, BodyOf, InvoiceView, ListQuery, PaymentView } from '@terrace/contract';
import {
  Refusal,
  amountToBooks,
  asAmount,
  booksOfPart,
  letOffOn,
  parseAmount,
  parseRate,
  spreadPayment,
  writeAmount,
  writeRate,
  type Amount,
  type InBooks,
  type Rate,
} from '@terrace/core';
import { booksCurrency, customer, customerOf, worthOn } from '../catalogue';
import { inner, scalar, total } from '../platform/expressions';
import { atField } from '../platform/fields';
import { asAmountText, asFlag, asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { addRow, fetching, setRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { invoice, payment, settlement } from './invoice-schema';
import { invoiceOf, invoiceView } from './invoices';
import { assertPostingDate, postEvent, reverseEntry } from './posting';
import { close, closedInBooks, letOffOf, open, readSettles, settlementsBy, takenBy, type Settle } from './settling';

/** What of a payment closes an invoice, in the books; as a part of a list's columns. */
const takenOf = (id: AnyColumn) =>
  scalar(
    inner
      .select({ taken: total(settlement.booksTaken) })
      .from(settlement)
      .where(and(eq(settlement.paymentId, id), eq(settlement.reversed, false))),
  );
const restOf = sql<Amount>`case when ${payment.reversed} then 0 else ${payment.booksAmount} - ${takenOf(payment.id)} end`;

const payments = list(() => ({
  columns: {
    id: asNumber(payment.id),
    number: asText(payment.number),
    customerId: asNumber(payment.customerId),
    customer: asText(customer.name),
    date: asText(payment.date),
    currency: asText(payment.currency),
    theirAmount: asAmountText(payment.amount),
    amount: asAmountText(payment.booksAmount),
    method: asText(payment.method),
    reference: asText(payment.reference),
    rest: asAmountText(restOf),
    reversed: asFlag(payment.reversed),
  },
  from: payment,
  joins: [refersTo(customer, eq(customer.id, payment.customerId))],
  find: [payment.number, customer.name, payment.reference],
  order: [sql`${payment.id} desc`],
  tie: [payment.id],
}));

export function listPayments(work: Work, asked: ListQuery): AnswerOf<typeof api.accounts.listPayments> {
  return listPage(work, payments, asked);
}

/** A payment as kept. Refuses `notFound`. */
export const paymentOf = fetching(payment, 'payment');

/** What of a payment closes no invoice. */
function rest(work: Work, id: number, amount: Amount): Amount {
  return asAmount(amount - takenBy(settlementsBy(work, 'payment', id)));
}

const shown = query(
  ($: { paymentId: number }) => (db) =>
    db
      .select({
        id: settlement.id,
        invoiceId: settlement.invoiceId,
        number: invoice.number,
        date: settlement.date,
        amount: settlement.amount,
        letOff: settlement.letOff,
        reversed: settlement.reversed,
      })
      .from(settlement)
      .innerJoin(invoice, eq(invoice.id, settlement.invoiceId))
      .where(eq(settlement.paymentId, $.paymentId))
      .orderBy(settlement.id),
);

export function paymentView(work: Work, id: number): PaymentView {
  const kept = paymentOf(work, id);
  return {
    id,
    number: kept.number,
    customerId: kept.customerId,
    customer: customerOf(work, kept.customerId).name,
    date: kept.date,
    amount: writeAmount(kept.amount),
    currency: kept.currency,
    rate: writeRate(kept.rate),
    booksAmount: writeAmount(kept.booksAmount),
    method: kept.method,
    reference: kept.reference,
    rest: writeAmount(kept.reversed ? 0 : rest(work, id, kept.amount)),
    reversed: kept.reversed,
    orderId: kept.orderId,
    order: kept.orderId === null ? '' : otherRooms.get().orderNamed(work, kept.orderId).number,
    settled: shown.all(work, { paymentId: id }).map((each) => ({ ...each, amount: writeAmount(each.amount), letOff: writeAmount(each.letOff) })),
  };
}

interface Paid {
  readonly customerId: number;
  readonly orderId: number | null;
  readonly currency: string;
  /** What one of it was worth to us; that of the day where nobody says. */
  readonly rate?: Rate | undefined;
  readonly amount: Amount;
  readonly date: string;
  readonly method: PaymentView['method'];
  readonly reference: string;
  /** Cash that goes through a drawer; what does not is brought to the bank. `counted` where a sale counts it already. */
  readonly drawer?: Drawer | null;
}

export interface Drawer {
  readonly id: number;
  readonly counted: boolean;
}

/** What each closing takes of a payment, in the books. */
function takes(whole: InBooks, settles: readonly Settle[]): Amount[] {
  let left = whole;
  return settles.map((settle) => {
    const amount = takenBy([settle]);
    const books = booksOfPart(left, amount);
    left = { ...left, paid: asAmount(left.paid + amount), booksPaid: asAmount(left.booksPaid + books) };
    return books;
  });
}

/** Keeps a payment, posts it, and closes what it closes. An amount below 0 goes back to the customer. */
export function keepPayment(work: Work, { drawer = null, ...paid }: Paid, settles: readonly Settle[]): number {
  assertPostingDate(work, paid.date);
  for (const [index, { invoice: kept }] of settles.entries())
    if (paid.date < kept.date)
      throw new Refusal('badDate', `${kept.number} is of ${kept.date}: a payment of it can't be earlier. Check the year.`, {
        field: index === 0 ? 'date' : `settle.${index}.amount`,
      });
  const number = work.nextNumber('PAY');
  const rate = paid.rate ?? worthOn(work, paid.currency, paid.date);
  const whole = { total: paid.amount, paid: asAmount(0), booksTotal: amountToBooks(paid.amount, rate), booksPaid: asAmount(0) };
  const id = addRow(work, payment, { number, ...paid, drawerId: drawer?.id ?? null, rate, booksAmount: whole.booksTotal, entryId: 0 });
  if (drawer && !drawer.counted) otherRooms.get().cashInto(work, drawer.id, { paymentId: id, amount: whole.booksTotal });
  const taken = takes(whole, settles);
  const entryId = postEvent(work, { kind: 'payment', id, number }, paid.date, {
    kind: 'customerPayment',
    value: whole.booksTotal,
    into: drawer ? 'cash' : 'bank',
    ahead: asAmount(whole.booksTotal - taken.reduce((sum, each) => sum + each, 0)),
    closed: closedInBooks(settles),
    letOff: letOffOf(settles),
  });
  setRow(work, payment, id, { entryId: entryId ?? 0 });
  for (const [index, settle] of settles.entries()) {
    close(work, { paymentId: id, booksTaken: taken[index] ?? asAmount(0) }, settle, paid.date, null);
    work.link('invoice', settle.invoice.id, 'payment', id);
  }
  if (paid.orderId !== null) work.link('customerOrder', paid.orderId, 'payment', id);
  const words = settles.map((each) => each.invoice.number).join(', ');
  work.record(
    'payment',
    id,
    `${paid.amount < 0 ? 'paid' : 'received'} ${writeAmount(Math.abs(paid.amount))}${words === '' ? ' ahead' : ` for ${words}`}`,
  );
  return id;
}

/** The drawer that somebody named for cash. Refuses `notCash` and `otherCurrency`. */
export function readDrawer(
  work: Work,
  { drawerId, method }: { readonly drawerId: number | null; readonly method: PaymentView['method'] },
  currency: string,
): Drawer | null {
  if (drawerId === null) return null;
  if (method !== 'cash') throw new Refusal('notCash', `Only cash goes through a drawer, not ${method}.`, { field: 'drawerId' });
  const books = booksCurrency(work);
  if (currency !== books)
    throw new Refusal('otherCurrency', `Drawers hold ${books}: cash in ${currency} is brought to the bank.`, { field: 'drawerId' });
  return { id: drawerId, counted: false };
}

/** Records a payment over one or several invoices; what none takes is paid ahead. Refuses what is closed beyond what was paid. */
export function recordPayment(work: Work, input: BodyOf<typeof api.accounts.recordPayment>): PaymentView {
  const { id: customerId, currency } = customerOf(work, input.customerId);
  const amount = atField('amount', () => parseAmount(input.amount));
  if (amount <= 0) throw new Refusal('notPositive', 'A payment must be more than 0.', { field: 'amount' });
  const date = input.date ?? work.today;
  const given = input.rate;
  const rate = given === undefined || currency === booksCurrency(work) ? undefined : atField('rate', () => parseRate(given));
  const settles = readSettles(work, { customerId, currency }, input.settle, date);
  assertCovered(takenBy(settles), amount);
  if (input.orderId !== null) assertOrderOf(work, input.orderId, { customerId, currency });
  const { method, reference, orderId } = input;
  const drawer = readDrawer(work, input, currency);
  return paymentView(work, keepPayment(work, { customerId, currency, rate, orderId, amount, date, method, reference, drawer }, settles));
}

function assertCovered(taken: Amount, available: Amount): void {
  if (taken > available)
    throw new Refusal('beyondPayment', `${writeAmount(taken)} would be closed, and ${writeAmount(available)} is there: close less.`, {
      field: 'amount',
    });
}

function assertOrderOf(work: Work, orderId: number, { customerId, currency }: { readonly customerId: number; readonly currency: string }): void {
  const order = otherRooms.get().orderNamed(work, orderId);
  if (order.customerId !== customerId)
    throw new Refusal('otherCustomer', `${order.number} is another customer’s: nothing is paid ahead for it by this one.`, { field: 'orderId' });
  if (order.currency !== currency)
    throw new Refusal('otherCurrency', `${order.number} is in ${order.currency}: nothing is paid ahead for it in ${currency}.`, { field: 'orderId' });
}

/** Records a payment of one invoice, in full or in part. Refuses more than is open. */
export function payInvoice(work: Work, invoiceId: number, input: BodyOf<typeof api.accounts.payInvoice>): InvoiceView {
  const kept = invoiceOf(work, invoiceId);
  if (kept.kind !== 'invoice' || kept.state !== 'open') throw new Refusal('wrongState', `${kept.number} is ${kept.state}: nothing is open on it.`);
  const amount = atField('amount', () => parseAmount(input.amount));
  const date = input.date ?? work.today;
  const open = kept.total - kept.paid;
  const letOff = input.early ? letOffOn(kept, date) : asAmount(0);
  if (amount <= 0) throw new Refusal('notPositive', 'A payment must be more than 0.', { field: 'amount' });
  if (amount > open - letOff)
    throw new Refusal('tooMuch', `${writeAmount(amount)} is more than the ${writeAmount(open - letOff)} open on ${kept.number}.`, {
      field: 'amount',
      open: writeAmount(open - letOff),
    });
  const settles = readSettles(work, kept, [{ invoiceId, amount: writeAmount(amount + letOff), letOff: writeAmount(letOff) }], date);
  const { customerId, currency } = kept;
  const drawer = readDrawer(work, input, currency);
  keepPayment(work, { customerId, currency, orderId: null, amount, date, method: input.method, reference: '', drawer }, settles);
  return invoiceView(work, invoiceId);
}

/** Closes invoices with what was paid ahead. Refuses more than is left of it. */
export function settlePayment(work: Work, id: number, input: BodyOf<typeof api.accounts.settlePayment>): PaymentView {
  const kept = paymentOf(work, id);
  if (kept.reversed) throw new Refusal('wrongState', `${kept.number} has been taken back: nothing is left of it.`);
  const settles = readSettles(work, kept, input.settle, work.today);
  assertCovered(takenBy(settles), rest(work, id, kept.amount));
  takeAhead(work, kept, settles);
  return paymentView(work, id);
}

type Ahead = Pick<typeof payment.$inferSelect, 'id' | 'number' | 'amount' | 'booksAmount'>;

function takeAhead(work: Work, kept: Ahead, settles: readonly Settle[]): void {
  const { id, number, amount: total, booksAmount: booksTotal } = kept;
  for (const settle of settles) {
    const before = settlementsBy(work, 'payment', id);
    const booksPaid = asAmount(before.reduce((sum, each) => sum + each.booksTaken, 0));
    const booksTaken = booksOfPart({ total, paid: takenBy(before), booksTotal, booksPaid }, takenBy([settle]));
    const entryId = postEvent(work, { kind: 'payment', id, number }, work.today, {
      kind: 'advanceTaken',
      value: booksTaken,
      closed: closedInBooks([settle]),
      letOff: letOffOf([settle]),
    });
    close(work, { paymentId: id, booksTaken }, settle, work.today, entryId);
    work.link('invoice', settle.invoice.id, 'payment', id);
  }
  work.record('payment', id, `closed ${settles.map((each) => each.invoice.number).join(', ')} with what was paid ahead`);
}

const ahead = query(
  ($: { orderId: number }) => (db) =>
    db
      .select({ id: payment.id, number: payment.number, amount: payment.amount, booksAmount: payment.booksAmount, currency: payment.currency })
      .from(payment)
      .where(and(eq(payment.orderId, $.orderId), eq(payment.reversed, false)))
      .orderBy(payment.date, payment.id),
);

/** What was paid ahead for orders and closes no invoice yet. */
export function paidAhead(work: Work, orderIds: readonly number[]): Amount {
  const all = orderIds.flatMap((orderId) => ahead.all(work, { orderId }));
  return asAmount(all.reduce((sum, each) => sum + rest(work, each.id, each.amount), 0));
}

/** Closes a new invoice with what was paid ahead for its orders, the first payment first. */
export function takePaidAhead(work: Work, invoiceId: number, orderIds: readonly number[]): void {
  for (const each of orderIds.flatMap((orderId) => ahead.all(work, { orderId }))) {
    const left = rest(work, each.id, each.amount);
    const kept = invoiceOf(work, invoiceId);
    if (left <= 0 || kept.state !== 'open' || kept.currency !== each.currency) continue;
    const { settled } = spreadPayment(left, [{ ...kept, discountUntil: null }], work.today);
    takeAhead(
      work,
      each,
      settled.map(({ amount, letOff }) => ({ invoice: kept, amount, letOff })),
    );
  }
}

/** Takes a payment back: what it closed is open again. */
export function reversePayment(work: Work, id: number): PaymentView {
  const kept = paymentOf(work, id);
  if (kept.reversed) throw new Refusal('alreadyReversed', `${kept.number} has been taken back already.`);
  const document = { kind: 'payment', id, number: kept.number } as const;
  for (const each of settlementsBy(work, 'payment', id)) {
    if (each.entryId !== null) reverseEntry(work, document, work.today, each.entryId);
    open(work, each);
  }
  if (kept.entryId !== 0) reverseEntry(work, document, work.today, kept.entryId);
  if (kept.drawerId !== null) otherRooms.get().cashBack(work, kept.drawerId, { paymentId: id, amount: kept.booksAmount });
  setRow(work, payment, id, { reversed: true });
  work.record('payment', id, `took ${kept.number} back`);
  return paymentView(work, id);
}
