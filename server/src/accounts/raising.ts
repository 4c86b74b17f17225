/** Raising customer invoices for what has shipped, and taking them back. */
import { and, eq, ne } from 'drizzle-orm';
import type { InvoiceView } from '@terrace/contract';
import {
  Refusal,
  amountOfLine,
  asAmount,
  asQuantity,
  inBooks,
  totalOf,
  writeAmount,
  type Amount,
  type Quantity,
  type UnitPrice,
} from '@terrace/core';
import { accountsOfItem, dueFor, worthOn } from '../catalogue';
import { query } from '../platform/query';
import { addRow, changeRow, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { invoice, invoiceLine } from './invoice-schema';
import { invoiceOf, invoiceView } from './invoices';
import { takePaidAhead } from './payments';
import { postEvent, reverseEntry } from './posting';
import { open, ordersOn, settlementsBy } from './settling';

/** What is to be invoiced of one order, or of several that were agreed alike. */
export interface ToInvoice {
  /** The order as it was agreed, or the first of several: tax in basis points. */
  readonly order: {
    readonly id: number;
    readonly number: string;
    readonly customerId: number;
    readonly taxRate: number;
    readonly paymentTerm: string | null;
    readonly paymentDays: number;
    /** What its prices are in. */
    readonly currency: string;
  };
  /** What the tax is beyond its rate, in minor units. */
  readonly taxCorrection: Amount;
  readonly lines: readonly {
    readonly orderLineId: number;
    readonly itemId: number;
    readonly quantity: Quantity;
    /** Free of charge of these. */
    readonly free: Quantity;
    readonly price: UnitPrice;
    /** Basis points. */
    readonly discount: number;
    /** What the line is worth beyond its figures, in minor units. */
    readonly correction: Amount;
  }[];
  /** The shipments that it is for; where there is none, the order itself. */
  readonly shipments: readonly number[];
}

/** Raises an invoice at the terms and the tax that were agreed and at the rate of the day, posts it, and gives its number. Refuses `noRate`. */
export function raiseInvoice(work: Work, { order, taxCorrection, lines, shipments }: ToInvoice): number {
  const due = dueFor(work, order, work.today);
  const worths = lines.map((line) => ({ ...line, worth: { ...line, quantity: asQuantity(line.quantity - line.free) } }));
  const totals = totalOf(
    worths.map(({ worth }) => worth),
    order.taxRate,
    taxCorrection,
  );
  const rate = worthOn(work, order.currency, work.today);
  const books = inBooks(
    worths.map(({ worth }) => amountOfLine(worth)),
    totals.tax,
    rate,
  );
  const number = work.nextNumber('INV');
  const id = addRow(work, invoice, {
    number,
    customerId: order.customerId,
    orderId: order.id,
    date: work.today,
    dueDate: due.dueDate,
    terms: due.words,
    discountUntil: due.discountUntil,
    discount: due.discount,
    state: 'open',
    net: totals.net,
    tax: totals.tax,
    total: totals.total,
    paid: asAmount(0),
    currency: order.currency,
    rate,
    booksNet: books.net,
    booksTotal: books.total,
  });
  const revenue = worths.map(({ orderLineId, itemId, quantity, free, price, discount, worth }, index) => {
    const booksAmount = books.lines[index] ?? asAmount(0);
    addRow(work, invoiceLine, { invoiceId: id, orderLineId, itemId, quantity, free, price, discount, amount: amountOfLine(worth), booksAmount });
    return { account: accountsOfItem(work, itemId).revenueAccount, value: booksAmount };
  });
  const entryId = postEvent(work, { kind: 'invoice', id, number }, work.today, { kind: 'customerInvoice', revenue, tax: books.tax });
  // An invoice of nothing (all free of charge) has nothing to wait for.
  setRow(work, invoice, id, { entryId, state: totals.total === 0 ? 'paid' : 'open' });
  for (const shipment of shipments) work.link('shipment', shipment, 'invoice', id);
  if (shipments.length === 0) work.link('customerOrder', order.id, 'invoice', id);
  const orders = ordersOn(work, id);
  for (const each of orders) otherRooms.get().invoicesChanged(work, each);
  work.record('invoice', id, `invoiced ${number} for ${orders.map((each) => otherRooms.get().orderNamed(work, each).number).join(', ')}`);
  takePaidAhead(work, id, [...new Set(orders.flatMap((each) => otherRooms.get().orderFamily(work, each)))]);
  return id;
}

const creditNoteOf = query(
  ($: { id: number }) => (db) =>
    db
      .select({ number: invoice.number })
      .from(invoice)
      .where(and(eq(invoice.creditOf, $.id), ne(invoice.state, 'reversed')))
      .limit(1),
);
const linesOf = query(
  ($: { invoiceId: number }) => (db) =>
    db
      .select({ orderLineId: invoiceLine.orderLineId, quantity: invoiceLine.quantity, free: invoiceLine.free })
      .from(invoiceLine)
      .where(eq(invoiceLine.invoiceId, $.invoiceId)),
);

/** Takes an invoice back on which nothing is paid, or a credit note that closes nothing and is not paid out. */
export function reverseInvoice(work: Work, id: number, version: number): InvoiceView {
  const kept = invoiceOf(work, id);
  assertVersion(work, 'invoice', kept, version, kept.number);
  if (kept.state === 'reversed') throw new Refusal('alreadyReversed', `${kept.number} has been taken back already.`);
  if (kept.kind === 'credit') {
    for (const each of settlementsBy(work, 'credit', id)) {
      if (each.entryId !== null) reverseEntry(work, { kind: 'invoice', id, number: kept.number }, work.today, each.entryId);
      open(work, each);
    }
    const lines = linesOf.all(work, { invoiceId: id }).map(({ orderLineId, quantity }) => ({ orderLineId, quantity: asQuantity(-quantity) }));
    otherRooms.get().creditTakenBack(work, kept, lines);
  }
  if (invoiceOf(work, id).paid !== 0)
    throw new Refusal('wrongState', `${writeAmount(kept.paid)} are paid on ${kept.number}: take the payment back first.`);
  const orders = ordersOn(work, id);
  if (kept.kind === 'invoice') {
    const credited = creditNoteOf.one(work, { id });
    if (credited) throw new Refusal('wrongState', `${credited.number} gives something of ${kept.number} back: take that back first.`);
    otherRooms.get().invoiceTakenBack(work, linesOf.all(work, { invoiceId: id }));
  }
  if (kept.entryId !== null) reverseEntry(work, { kind: 'invoice', id, number: kept.number }, work.today, kept.entryId);
  changeRow(work, invoice, id, { state: 'reversed' });
  for (const each of orders) otherRooms.get().invoicesChanged(work, each);
  work.record('invoice', id, `took ${kept.number} back`);
  return invoiceView(work, id);
}
