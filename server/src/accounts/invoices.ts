/** Customer invoices: raised for what has shipped, shown, taken back. */
import { and, eq, ne, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import { type AnswerOf, type InvoiceView, type ListQuery } from '@terrace/contract';
import {
  Refusal,
  amountOfLine,
  asQuantity,
  shareOf,
  totalOf,
  writeAmount,
  writePrice,
  writeQuantity,
  type Amount,
  type Quantity,
  type UnitPrice,
} from '@terrace/core';
import { accountsOfItem, customer, customerOf, dueFor, item } from '../catalogue';
import { inner, scalar, total } from '../platform/expressions';
import { asAmountText, asFlag, asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { addRow, changeRow, fetching, setRow } from '../platform/rows';
import { trailLink } from '../platform/schema';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { invoice, invoiceLine, payment } from './invoice-schema';
import { postEvent, reverseEntry } from './posting';

const stillOpen = sql<Amount>`case ${invoice.state} when 'open' then ${invoice.total} - ${invoice.paid} else 0 end`;

const invoices = list(($: { today: string }) => ({
  columns: {
    id: asNumber(invoice.id),
    number: asText(invoice.number),
    customer: asText(customer.name),
    order: asText(otherRooms.get().orderNumber(invoice.orderId)),
    orderId: asNumber(invoice.orderId),
    date: asText(invoice.date),
    dueDate: asText(invoice.dueDate),
    state: asText(invoice.state),
    total: asAmountText(invoice.total),
    paid: asAmountText(invoice.paid),
    open: asAmountText(stillOpen),
    overdue: asFlag(sql`${invoice.state} = 'open' and ${invoice.dueDate} < ${$.today}`),
  },
  from: invoice,
  joins: [refersTo(customer, eq(customer.id, invoice.customerId))],
  find: [invoice.number, customer.name, otherRooms.get().orderNumber(invoice.orderId)],
  order: [sql`${invoice.id} desc`],
  tie: [invoice.id],
}));

export function listInvoices(work: Work, asked: ListQuery): AnswerOf<typeof api.accounts.listInvoices> {
  return listPage(work, invoices, asked, { today: work.today });
}

export type InvoiceRecord = typeof invoice.$inferSelect;

/** An invoice as kept. Refuses `notFound`. */
export const invoiceOf = fetching(invoice, 'invoice');

const orderNumberOf = query(
  ($: { id: number }) => (db) =>
    db
      .select({ number: otherRooms.get().orderNumber(invoice.orderId) })
      .from(invoice)
      .where(eq(invoice.id, $.id)),
);
const linesShown = query(
  ($: { invoiceId: number }) => (db) =>
    db
      .select({
        code: item.code,
        description: item.description,
        unit: item.unitCode,
        quantity: invoiceLine.quantity,
        free: invoiceLine.free,
        price: invoiceLine.price,
        discount: invoiceLine.discount,
        amount: invoiceLine.amount,
      })
      .from(invoiceLine)
      .innerJoin(item, eq(item.id, invoiceLine.itemId))
      .where(eq(invoiceLine.invoiceId, $.invoiceId))
      .orderBy(invoiceLine.id),
);
const paymentsShown = query(
  ($: { invoiceId: number }) => (db) =>
    db
      .select({
        id: payment.id,
        number: payment.number,
        date: payment.date,
        amount: payment.amount,
        method: payment.method,
        reversed: payment.reversed,
      })
      .from(payment)
      .where(eq(payment.invoiceId, $.invoiceId))
      .orderBy(payment.id),
);

export function invoiceView(work: Work, id: number): InvoiceView {
  const kept = invoiceOf(work, id);
  return {
    id,
    number: kept.number,
    customerId: kept.customerId,
    customer: customerOf(work, kept.customerId).name,
    order: orderNumberOf.one(work, { id })?.number ?? '',
    orderId: kept.orderId,
    date: kept.date,
    dueDate: kept.dueDate,
    state: kept.state,
    net: writeAmount(kept.net),
    tax: writeAmount(kept.tax),
    total: writeAmount(kept.total),
    paid: writeAmount(kept.paid),
    open: writeAmount(kept.state === 'open' ? kept.total - kept.paid : 0),
    overdue: kept.state === 'open' && kept.dueDate < work.today,
    terms: kept.terms,
    discountUntil: kept.discountUntil,
    discountAmount: writeAmount(shareOf(kept.total, kept.discount)),
    version: kept.version,
    lines: linesShown.all(work, { invoiceId: id }).map((line) => ({
      ...line,
      quantity: writeQuantity(line.quantity),
      free: writeQuantity(line.free),
      price: writePrice(line.price),
      discount: writeAmount(line.discount).replace(/\.?0+$/, ''),
      amount: writeAmount(line.amount),
    })),
    payments: paymentsShown.all(work, { invoiceId: id }).map((each) => ({ ...each, amount: writeAmount(each.amount) })),
  };
}

/** What is to be invoiced of an order. */
export interface ToInvoice {
  /** The order as it was agreed: tax in basis points. */
  readonly order: {
    readonly id: number;
    readonly number: string;
    readonly customerId: number;
    readonly taxRate: number;
    readonly paymentTerm: string | null;
    readonly paymentDays: number;
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

/** Raises an invoice at the terms and the tax that were agreed, posts it, and gives its number. */
export function raiseInvoice(work: Work, { order, taxCorrection, lines, shipments }: ToInvoice): number {
  const due = dueFor(work, order, work.today);
  const worths = lines.map((line) => ({ ...line, worth: { ...line, quantity: asQuantity(line.quantity - line.free) } }));
  const totals = totalOf(
    worths.map(({ worth }) => worth),
    order.taxRate,
    taxCorrection,
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
    paid: 0 as Amount,
  });
  const revenue = worths.map(({ orderLineId, itemId, quantity, free, price, discount, worth }) => {
    const amount = amountOfLine(worth);
    addRow(work, invoiceLine, { invoiceId: id, orderLineId, itemId, quantity, free, price, discount, amount });
    return { account: accountsOfItem(work, itemId).revenueAccount, value: amount };
  });
  const entryId = postEvent(work, { kind: 'invoice', id, number }, work.today, { kind: 'customerInvoice', revenue, tax: totals.tax });
  // An invoice of nothing (all free of charge) has nothing to wait for.
  setRow(work, invoice, id, { entryId, state: totals.total === 0 ? 'paid' : 'open' });
  for (const shipment of shipments) work.link('shipment', shipment, 'invoice', id);
  if (shipments.length === 0) work.link('customerOrder', order.id, 'invoice', id);
  otherRooms.get().invoicesChanged(work, order.id);
  work.record('invoice', id, `invoiced ${number} for ${order.number}`);
  return id;
}

const linesOf = query(
  ($: { invoiceId: number }) => (db) =>
    db
      .select({ orderLineId: invoiceLine.orderLineId, quantity: invoiceLine.quantity, free: invoiceLine.free })
      .from(invoiceLine)
      .where(eq(invoiceLine.invoiceId, $.invoiceId)),
);

/** Takes an invoice back on which nothing is paid. */
export function reverseInvoice(work: Work, id: number, version: number): InvoiceView {
  const kept = invoiceOf(work, id);
  assertVersion(work, 'invoice', kept, version, kept.number);
  if (kept.state === 'reversed') throw new Refusal('alreadyReversed', `${kept.number} has been taken back already.`);
  if (kept.paid !== 0) throw new Refusal('wrongState', `${writeAmount(kept.paid)} are paid on ${kept.number}: take the payment back first.`);
  otherRooms.get().invoiceTakenBack(work, linesOf.all(work, { invoiceId: id }));
  if (kept.entryId !== null) reverseEntry(work, { kind: 'invoice', id, number: kept.number }, work.today, kept.entryId);
  changeRow(work, invoice, id, { state: 'reversed' });
  otherRooms.get().invoicesChanged(work, kept.orderId);
  work.record('invoice', id, `took ${kept.number} back`);
  return invoiceView(work, id);
}

const unpaid = query(
  ($: { orderId: number }) => (db) =>
    db
      .select({ id: invoice.id })
      .from(invoice)
      .where(and(eq(invoice.orderId, $.orderId), eq(invoice.state, 'open')))
      .limit(1),
);

/** Whether something is open on an invoice of an order. */
export function hasUnpaidInvoice(work: Work, orderId: number): boolean {
  return unpaid.one(work, { orderId }) !== undefined;
}

const invoiceOfShipment = query(
  ($: { shipmentId: number }) => (db) =>
    db
      .select({ id: invoice.id })
      .from(trailLink)
      .innerJoin(invoice, eq(invoice.id, trailLink.toId))
      .where(
        and(eq(trailLink.fromKind, 'shipment'), eq(trailLink.fromId, $.shipmentId), eq(trailLink.toKind, 'invoice'), ne(invoice.state, 'reversed')),
      )
      .limit(1),
);

/** Whether a shipment is on an invoice that stands. */
export function isInvoiced(work: Work, shipmentId: number): boolean {
  return invoiceOfShipment.one(work, { shipmentId }) !== undefined;
}

const owed = query(
  ($: { customerId: number }) => (db) =>
    db
      .select({ owes: total(sql<Amount>`${invoice.total} - ${invoice.paid}`) })
      .from(invoice)
      .where(and(eq(invoice.customerId, $.customerId), eq(invoice.state, 'open'))),
);

/** What a customer owes on open invoices. */
export function owedBy(work: Work, customerId: number): Amount {
  return (owed.one(work, { customerId })?.owes ?? 0) as Amount;
}

/** What a customer owes on open invoices, for lists. */
export function owesOn(customerId: SQLiteColumn): SQL<Amount> {
  return scalar(
    inner
      .select({ owes: total(sql<Amount>`${invoice.total} - ${invoice.paid}`) })
      .from(invoice)
      .where(and(eq(invoice.customerId, customerId), eq(invoice.state, 'open'))),
  ) as SQL<Amount>;
}
