/** Customer invoices and their payments. */
import { eq, sql } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type InvoiceView, type ListQuery } from '@terrace/contract';
import { Refusal, addDays, asAmount, asPrice, asQuantity, extend, parseAmount, totalOf, writeAmount, writePrice, writeQuantity } from '@terrace/core';
import { accountsOfItem, customerOf } from '../catalogue';
import { assertPostingDate, postEvent, reverseEntry } from '../accounts';
import { asAmountText, asFlag, asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import { assertVersion, atField, orNotFound, type Work } from '../platform/work';
import { refreshOrder } from './orders';
import { linesOf, orderOf } from './order-view';
import * as tables from './schema';

function invoices(today: string): ListDefinition {
  return {
    columns: {
      id: asNumber('v.id'),
      number: asText('v.number'),
      customer: asText('c.name'),
      order: asText('o.number'),
      orderId: asNumber('v.order_id'),
      date: asText('v.date'),
      dueDate: asText('v.due_date'),
      state: asText('v.state'),
      total: asAmountText('v.total'),
      paid: asAmountText('v.paid'),
      open: asAmountText("case v.state when 'open' then v.total - v.paid else 0 end"),
      overdue: asFlag(`v.state = 'open' and v.due_date < '${today}'`),
    },
    from: 'invoice v join customer c on c.id = v.customer_id join customer_order o on o.id = v.order_id',
    countFrom: 'invoice v',
    find: ['v.number', 'c.name', 'o.number'],
    order: 'v.id desc',
    tie: 'v.id',
  };
}

export function listInvoices(work: Work, query: ListQuery): AnswerOf<typeof api.selling.listInvoices> {
  return listPage(work, invoices(work.today), query);
}

type InvoiceRecord = typeof tables.invoice.$inferSelect;

function invoiceOf(work: Work, id: number): InvoiceRecord {
  return orNotFound(
    work.store
      .query('invoice', (db) =>
        db
          .select()
          .from(tables.invoice)
          .where(eq(tables.invoice.id, sql.placeholder('id')))
          .prepare(),
      )
      .all({ id: id })[0],
    'invoice',
  );
}

export function invoiceView(work: Work, id: number): InvoiceView {
  const invoice = invoiceOf(work, id);
  const lines = work.rows<{ code: string; description: string; unit: string; quantity: number; price: number; discount: number; amount: number }>(
    'select i.code, i.description, i.unit_code as unit, l.quantity, l.price, l.discount, l.amount from invoice_line l join item i on i.id = l.item_id where l.invoice_id = ? order by l.id',
    id,
  );
  const payments = work.rows<{ id: number; number: string; date: string; amount: number; method: string; reversed: number }>(
    'select id, number, date, amount, method, reversed from payment where invoice_id = ? order by id',
    id,
  );
  return {
    id,
    number: invoice.number,
    customerId: invoice.customerId,
    customer: customerOf(work, invoice.customerId).name,
    order: orderOf(work, invoice.orderId).number,
    orderId: invoice.orderId,
    date: invoice.date,
    dueDate: invoice.dueDate,
    state: invoice.state,
    net: writeAmount(invoice.net),
    tax: writeAmount(invoice.tax),
    total: writeAmount(invoice.total),
    paid: writeAmount(invoice.paid),
    open: writeAmount(invoice.state === 'open' ? invoice.total - invoice.paid : 0),
    overdue: invoice.state === 'open' && invoice.dueDate < work.today,
    version: invoice.version,
    lines: lines.map((line) => ({
      ...line,
      quantity: writeQuantity(line.quantity),
      price: writePrice(line.price),
      discount: writeAmount(line.discount).replace(/\.?0+$/, ''),
      amount: writeAmount(line.amount),
    })),
    payments: payments.map((each) => ({ ...each, amount: writeAmount(each.amount), reversed: each.reversed === 1 })),
  };
}

/** Invoices what of an order has shipped and is not invoiced. Refuses `nothingToInvoice`. */
export function invoiceOrder(work: Work, orderId: number, shipmentId: number | undefined): InvoiceView {
  const order = orderOf(work, orderId);
  const due = linesOf(work, orderId).filter((line) => line.shipped > line.invoiced);
  if (due.length === 0) throw new Refusal('nothingToInvoice', `Nothing of ${order.number} has shipped that is not invoiced already.`);
  const customer = customerOf(work, order.customerId);
  const lines = due.map((line) => ({ ...line, quantity: asQuantity(line.shipped - line.invoiced) }));
  const totals = totalOf(lines, customer.taxRate);
  const number = work.nextNumber('INV');
  const { id } = work.run(
    "insert into invoice (number, customer_id, order_id, date, due_date, state, net, tax, total, paid) values (?, ?, ?, ?, ?, 'open', ?, ?, ?, 0)",
    number,
    order.customerId,
    orderId,
    work.today,
    addDays(work.today, customer.paymentDays),
    totals.net,
    totals.tax,
    totals.total,
  );
  const revenue = lines.map((line) => {
    const amount = extend(line.quantity, asPrice(line.price), line.discount);
    work.run(
      'insert into invoice_line (invoice_id, order_line_id, item_id, quantity, price, discount, amount) values (?, ?, ?, ?, ?, ?, ?)',
      id,
      line.id,
      line.itemId,
      line.quantity,
      line.price,
      line.discount,
      amount,
    );
    work.run('update customer_order_line set invoiced = invoiced + ? where id = ?', line.quantity, line.id);
    return { account: accountsOfItem(work, line.itemId).revenueAccount, value: amount };
  });
  const entryId = postEvent(work, { kind: 'invoice', id, number }, work.today, { kind: 'customerInvoice', revenue, tax: totals.tax });
  // An invoice of nothing (all free of charge) has nothing to wait for.
  work.run("update invoice set entry_id = ?, state = case total when 0 then 'paid' else 'open' end where id = ?", entryId, id);
  const shipments =
    shipmentId === undefined
      ? work.rows<{ id: number }>("select id from shipment where order_id = ? and state = 'shipped'", orderId)
      : [{ id: shipmentId }];
  for (const shipment of shipments) work.link('shipment', shipment.id, 'invoice', id);
  if (shipments.length === 0) work.link('customerOrder', orderId, 'invoice', id);
  refreshOrder(work, orderId);
  work.record('invoice', id, `invoiced ${number} for ${order.number}`);
  return invoiceView(work, id);
}

/** Takes an invoice back on which nothing is paid. */
export function reverseInvoice(work: Work, id: number, version: number): InvoiceView {
  const invoice = invoiceOf(work, id);
  assertVersion(work, 'invoice', invoice, version, invoice.number);
  if (invoice.state === 'reversed') throw new Refusal('alreadyReversed', `${invoice.number} has been taken back already.`);
  if (invoice.paid !== 0) throw new Refusal('wrongState', `${writeAmount(invoice.paid)} are paid on ${invoice.number}: take the payment back first.`);
  for (const line of work.rows<{ orderLineId: number; quantity: number }>(
    'select order_line_id as orderLineId, quantity from invoice_line where invoice_id = ?',
    id,
  )) {
    work.run('update customer_order_line set invoiced = invoiced - ? where id = ?', line.quantity, line.orderLineId);
  }
  if (invoice.entryId !== null) reverseEntry(work, { kind: 'invoice', id, number: invoice.number }, work.today, invoice.entryId);
  work.run("update invoice set state = 'reversed', version = version + 1 where id = ?", id);
  refreshOrder(work, invoice.orderId);
  work.record('invoice', id, `took ${invoice.number} back`);
  return invoiceView(work, id);
}

/** Records a payment, in full or in part. Refuses more than is open. */
export function payInvoice(work: Work, id: number, input: BodyOf<typeof api.selling.payInvoice>): InvoiceView {
  const invoice = invoiceOf(work, id);
  if (invoice.state !== 'open') throw new Refusal('wrongState', `${invoice.number} is ${invoice.state}: nothing is open on it.`);
  const amount = atField('amount', () => parseAmount(input.amount));
  const open = invoice.total - invoice.paid;
  if (amount <= 0) throw new Refusal('notPositive', 'A payment must be more than 0.', { field: 'amount' });
  if (amount > open)
    throw new Refusal('tooMuch', `${writeAmount(amount)} is more than the ${writeAmount(open)} open on ${invoice.number}.`, {
      field: 'amount',
      open: writeAmount(open),
    });
  const date = input.date ?? work.today;
  assertPostingDate(work, date);
  const number = work.nextNumber('PAY');
  const { id: paymentId } = work.run(
    'insert into payment (number, invoice_id, date, amount, method, entry_id) values (?, ?, ?, ?, ?, 0)',
    number,
    id,
    date,
    amount,
    input.method,
  );
  const entryId = postEvent(work, { kind: 'payment', id: paymentId, number }, date, { kind: 'customerPayment', value: amount });
  work.run('update payment set entry_id = ? where id = ?', entryId, paymentId);
  keepPaid(work, invoice, asAmount(invoice.paid + amount));
  work.link('invoice', id, 'payment', paymentId);
  work.record('payment', paymentId, `received ${writeAmount(amount)} for ${invoice.number}`);
  return invoiceView(work, id);
}

/** Takes a payment back. */
export function reversePayment(work: Work, id: number): InvoiceView {
  const payment = orNotFound(
    work.store
      .query('payment', (db) =>
        db
          .select()
          .from(tables.payment)
          .where(eq(tables.payment.id, sql.placeholder('id')))
          .prepare(),
      )
      .all({ id: id })[0],
    'payment',
  );
  if (payment.reversed) throw new Refusal('alreadyReversed', `${payment.number} has been taken back already.`);
  const invoice = invoiceOf(work, payment.invoiceId);
  reverseEntry(work, { kind: 'payment', id, number: payment.number }, work.today, payment.entryId);
  work.run('update payment set reversed = 1 where id = ?', id);
  keepPaid(work, invoice, asAmount(invoice.paid - payment.amount));
  work.record('payment', id, `took ${payment.number} back`);
  return invoiceView(work, invoice.id);
}

function keepPaid(work: Work, invoice: InvoiceRecord, paid: number): void {
  work.run('update invoice set paid = ?, state = ?, version = version + 1 where id = ?', paid, paid === invoice.total ? 'paid' : 'open', invoice.id);
  work.touch('invoice', invoice.id, `paid ${writeAmount(paid)}`);
  refreshOrder(work, invoice.orderId);
}
