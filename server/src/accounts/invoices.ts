/** Customer invoices and credit notes as they stand: lists, what is on one, what is owed. */
import { and, eq, ne, sql, type SQL } from 'drizzle-orm';
import { alias, type SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import { type AnswerOf, type InvoiceView, type ListQuery } from '@terrace/contract';
import { letOffOn, shareOf, writeAmount, writePrice, writeQuantity, writeRate, type Amount } from '@terrace/core';
import { customer, customerOf, item } from '../catalogue';
import { inner, or0, scalar, total } from '../platform/expressions';
import { asAmountText, asFlag, asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { fetching } from '../platform/rows';
import { trailLink } from '../platform/schema';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { invoice, invoiceLine, payment, settlement } from './invoice-schema';

const stillOpen = sql<Amount>`case ${invoice.state} when 'open' then ${invoice.booksTotal} - ${invoice.booksPaid} else 0 end`;

const invoices = list(($: { today: string }) => ({
  columns: {
    id: asNumber(invoice.id),
    number: asText(invoice.number),
    customer: asText(customer.name),
    order: asText(otherRooms.get().orderNumber(invoice.orderId)),
    orderId: asNumber(invoice.orderId),
    date: asText(invoice.date),
    dueDate: asText(invoice.dueDate),
    kind: asText(invoice.kind),
    state: asText(invoice.state),
    total: asAmountText(invoice.booksTotal),
    paid: asAmountText(invoice.booksPaid),
    open: asAmountText(stillOpen),
    currency: asText(invoice.currency),
    theirTotal: asAmountText(invoice.total),
    overdue: asFlag(sql`${invoice.kind} = 'invoice' and ${invoice.state} = 'open' and ${invoice.dueDate} < ${$.today}`),
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
/** A credit note's lines, beside the invoice's own; and another invoice beside one. */
const credit = alias(invoiceLine, 'credit');
const creditNote = alias(invoice, 'credit_note');
const otherInvoice = alias(invoice, 'other_invoice');
const creditedOf = (of: SQL<number>): SQL<number> =>
  or0(
    scalar(
      inner
        .select({ credited: total(of) })
        .from(credit)
        .innerJoin(creditNote, eq(creditNote.id, credit.invoiceId))
        .where(and(eq(credit.creditOf, invoiceLine.id), ne(creditNote.state, 'reversed'))),
    ),
  );
const linesShown = query(
  ($: { invoiceId: number }) => (db) =>
    db
      .select({
        id: invoiceLine.id,
        code: item.code,
        description: item.description,
        unit: item.unitCode,
        quantity: invoiceLine.quantity,
        free: invoiceLine.free,
        price: invoiceLine.price,
        discount: invoiceLine.discount,
        amount: invoiceLine.amount,
        credited: creditedOf(sql<number>`-${credit.quantity}`),
        creditedAmount: creditedOf(sql<number>`-${credit.amount}`),
        order: otherRooms.get().orderOfLineNumber(invoiceLine.orderLineId),
      })
      .from(invoiceLine)
      .innerJoin(item, eq(item.id, invoiceLine.itemId))
      .where(eq(invoiceLine.invoiceId, $.invoiceId))
      .orderBy(invoiceLine.id),
);
const closedBy = query(
  ($: { invoiceId: number }) => (db) =>
    db
      .select({
        id: settlement.id,
        paymentId: settlement.paymentId,
        creditId: settlement.creditId,
        payment: payment.number,
        credit: otherInvoice.number,
        date: settlement.date,
        amount: settlement.amount,
        letOff: settlement.letOff,
        method: payment.method,
        reversed: settlement.reversed,
      })
      .from(settlement)
      .leftJoin(payment, eq(payment.id, settlement.paymentId))
      .leftJoin(otherInvoice, eq(otherInvoice.id, settlement.creditId))
      .where(eq(settlement.invoiceId, $.invoiceId))
      .orderBy(settlement.id),
);
/** Of a credit note: the invoices that it closes. */
const closes = query(
  ($: { creditId: number }) => (db) =>
    db
      .select({
        id: settlement.id,
        invoiceId: settlement.invoiceId,
        number: invoice.number,
        date: settlement.date,
        amount: settlement.amount,
        reversed: settlement.reversed,
      })
      .from(settlement)
      .innerJoin(invoice, eq(invoice.id, settlement.invoiceId))
      .where(eq(settlement.creditId, $.creditId))
      .orderBy(settlement.id),
);

function paymentsOf(work: Work, id: number): InvoiceView['payments'] {
  const by = closedBy.all(work, { invoiceId: id }).map((each) => ({
    id: each.id,
    documentId: each.paymentId ?? each.creditId ?? 0,
    kind: each.paymentId === null ? ('credit' as const) : ('payment' as const),
    number: each.payment ?? each.credit ?? '',
    date: each.date,
    amount: writeAmount(each.amount),
    letOff: writeAmount(each.letOff),
    method: each.method ?? 'credit note',
    reversed: each.reversed,
  }));
  const of = closes.all(work, { creditId: id }).map((each) => ({
    id: each.id,
    documentId: each.invoiceId,
    kind: 'credit' as const,
    number: each.number,
    date: each.date,
    amount: writeAmount(-each.amount),
    letOff: '0.00',
    method: 'invoice',
    reversed: each.reversed,
  }));
  return [...by, ...of];
}

export function invoiceView(work: Work, id: number): InvoiceView {
  const kept = invoiceOf(work, id);
  const own = orderNumberOf.one(work, { id })?.number ?? '';
  return {
    id,
    number: kept.number,
    customerId: kept.customerId,
    customer: customerOf(work, kept.customerId).name,
    order: own,
    orderId: kept.orderId,
    date: kept.date,
    dueDate: kept.dueDate,
    kind: kept.kind,
    state: kept.state,
    net: writeAmount(kept.net),
    tax: writeAmount(kept.tax),
    total: writeAmount(kept.total),
    paid: writeAmount(kept.paid),
    currency: kept.currency,
    rate: writeRate(kept.rate),
    booksTotal: writeAmount(kept.booksTotal),
    booksTax: writeAmount(kept.booksTotal - kept.booksNet),
    open: writeAmount(kept.state === 'open' ? kept.total - kept.paid : 0),
    overdue: kept.kind === 'invoice' && kept.state === 'open' && kept.dueDate < work.today,
    terms: kept.terms,
    discountUntil: kept.discountUntil,
    discountAmount: writeAmount(shareOf(kept.total, kept.discount)),
    letOff: writeAmount(kept.state === 'open' ? letOffOn(kept, work.today) : 0),
    creditOfId: kept.creditOf,
    creditOf: kept.creditOf === null ? '' : invoiceOf(work, kept.creditOf).number,
    reason: kept.reason,
    reminded: kept.reminded,
    remindedOn: kept.remindedOn,
    version: kept.version,
    lines: linesShown.all(work, { invoiceId: id }).map((line) => ({
      ...line,
      quantity: writeQuantity(line.quantity),
      free: writeQuantity(line.free),
      price: writePrice(line.price),
      discount: writeAmount(line.discount).replace(/\.?0+$/, ''),
      amount: writeAmount(line.amount),
      credited: writeQuantity(line.credited),
      creditedAmount: writeAmount(line.creditedAmount),
      order: line.order === own ? '' : (line.order ?? ''),
    })),
    payments: paymentsOf(work, id),
  };
}

const unpaid = query(
  ($: { orderId: number }) => (db) =>
    db
      .select({ id: invoice.id })
      .from(invoice)
      .innerJoin(invoiceLine, eq(invoiceLine.invoiceId, invoice.id))
      .where(and(otherRooms.get().isLineOf(invoiceLine.orderLineId, sql`${$.orderId}`), eq(invoice.kind, 'invoice'), eq(invoice.state, 'open')))
      .limit(1),
);

/** Whether something is open on an invoice of an order. */
export function hasUnpaidInvoice(work: Work, orderId: number): boolean {
  return unpaid.one(work, { orderId }) !== undefined;
}

/** Whether what is invoiced of an order is paid, for lists: `nothing` where nothing is invoiced. */
export function paidOf(order: SQLiteColumn): SQL<'nothing' | 'open' | 'paid'> {
  const worst = inner
    .select({ open: sql<number>`max(${invoice.state} = 'open')` })
    .from(invoiceLine)
    .innerJoin(invoice, eq(invoice.id, invoiceLine.invoiceId))
    .where(and(otherRooms.get().isLineOf(invoiceLine.orderLineId, order), eq(invoice.kind, 'invoice'), ne(invoice.state, 'reversed')));
  return sql`case ${worst} when 1 then 'open' when 0 then 'paid' else 'nothing' end`;
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
      .select({ owes: total(sql<Amount>`${invoice.booksTotal} - ${invoice.booksPaid}`) })
      .from(invoice)
      .where(and(eq(invoice.customerId, $.customerId), eq(invoice.state, 'open'))),
);

/** What a customer owes on open invoices, in the books' currency. */
export function owedBy(work: Work, customerId: number): Amount {
  return (owed.one(work, { customerId })?.owes ?? 0) as Amount;
}

const anyInvoice = query(
  ($: { orderLineId: number }) => (db) =>
    db.select({ id: invoiceLine.id }).from(invoiceLine).where(eq(invoiceLine.orderLineId, $.orderLineId)).limit(1),
);

/** Whether a line of an order has ever been on an invoice, be it one that was taken back. */
export function wasOnInvoice(work: Work, orderLineId: number): boolean {
  return anyInvoice.one(work, { orderLineId }) !== undefined;
}
