/** Credit notes: what an invoice charged is given back, by pieces or by an amount; they close invoices, or are paid out. */
import type { api } from '@terrace/contract';
import type { BodyOf, InvoiceView } from '@terrace/contract';
import {
  Refusal,
  asAmount,
  asPrice,
  asQuantity,
  booksOfPart,
  creditOf,
  inBooks,
  parseAmount,
  parseQuantity,
  proportion,
  writeAmount,
  writeQuantity,
  type Amount,
  type Quantity,
} from '@terrace/core';
import { and, eq, ne } from 'drizzle-orm';
import { accountsOfItem, itemFacts } from '../catalogue';
import { total } from '../platform/expressions';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { addRow, fetchingAll, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { invoice, invoiceLine } from './invoice-schema';
import { invoiceOf, invoiceView, type InvoiceRecord } from './invoices';
import { keepPayment, readDrawer } from './payments';
import { postEvent } from './posting';
import { close, closedInBooks, keepPaid, readSettles } from './settling';

type Line = typeof invoiceLine.$inferSelect;

const linesOf = fetchingAll(invoiceLine, invoiceLine.invoiceId, invoiceLine.id);
const creditedOfLine = query(
  ($: { lineId: number }) => (db) =>
    db
      .select({ quantity: total(invoiceLine.quantity), free: total(invoiceLine.free), amount: total(invoiceLine.amount) })
      .from(invoiceLine)
      .innerJoin(invoice, eq(invoice.id, invoiceLine.invoiceId))
      .where(and(eq(invoiceLine.creditOf, $.lineId), ne(invoice.state, 'reversed'))),
);
const creditedOfInvoice = query(
  ($: { invoiceId: number }) => (db) =>
    db
      .select({ net: total(invoice.net), tax: total(invoice.tax) })
      .from(invoice)
      .where(and(eq(invoice.creditOf, $.invoiceId), ne(invoice.state, 'reversed'))),
);

/** What is given back of a line of an invoice. */
export interface LineCredit {
  readonly line: Line;
  readonly quantity: Quantity;
  /** Without tax. */
  readonly amount: Amount;
}

/** What of a line of an invoice was given back, as figures above 0. */
export function creditedOf(work: Work, lineId: number): { readonly quantity: Quantity; readonly amount: Amount } {
  const credited = creditedOfLine.one(work, { lineId });
  return { quantity: asQuantity(-(credited?.quantity ?? 0)), amount: asAmount(-(credited?.amount ?? 0)) };
}

/** What the next pieces of a line of an invoice are worth back. */
export function worthBack(work: Work, line: Line, quantity: Quantity): Amount {
  const credited = creditedOf(work, line.id);
  return creditOf({ quantity: line.quantity, amount: line.amount, creditedQuantity: credited.quantity, creditedAmount: credited.amount }, quantity);
}

function readLine(work: Work, kept: InvoiceRecord, asked: BodyOf<typeof api.accounts.creditInvoice>['lines'][number], index: number): LineCredit {
  const line = linesOf(work, kept.id).find((each) => each.id === asked.lineId);
  if (!line) throw new Refusal('unknownLine', `This line is not on ${kept.number}.`, { field: `lines.${index}.lineId` });
  const item = itemFacts(work, line.itemId);
  const quantity = atField(`lines.${index}.quantity`, () => parseQuantity(asked.quantity, item.decimals, `the quantity of ${item.code}`));
  const money = atField(`lines.${index}.amount`, () => parseAmount(asked.amount));
  const credited = creditedOf(work, line.id);
  const left = asQuantity(line.quantity - credited.quantity);
  if (quantity < 0 || money < 0)
    throw new Refusal('negative', 'What is given back can’t be below 0.', { field: `lines.${index}.${quantity < 0 ? 'quantity' : 'amount'}` });
  if (quantity > left)
    throw new Refusal('tooMuch', `Of ${item.code} ${writeQuantity(left)} ${item.unit} on ${kept.number} are not given back yet.`, {
      field: `lines.${index}.quantity`,
      most: writeQuantity(left),
    });
  const pieces = worthBack(work, line, quantity);
  const rest = asAmount(line.amount - credited.amount - pieces);
  if (money > rest)
    throw new Refusal('tooMuch', `Of the ${writeAmount(line.amount)} for ${item.code} only ${writeAmount(rest)} are left to give back.`, {
      field: `lines.${index}.amount`,
      most: writeAmount(rest),
    });
  return { line, quantity, amount: asAmount(pieces + money) };
}

/** Gives back what an invoice charged. Refuses what was given back before, and a credit note over nothing. */
export function creditInvoice(work: Work, invoiceId: number, input: BodyOf<typeof api.accounts.creditInvoice>): InvoiceView {
  const kept = invoiceOf(work, invoiceId);
  assertVersion(work, 'invoice', kept, input.version, kept.number);
  if (kept.kind === 'credit' || kept.state === 'reversed')
    throw new Refusal('wrongState', `${kept.number} is ${kept.kind === 'credit' ? 'a credit note' : 'taken back'}: nothing can be given back of it.`);
  if (input.lines.some((line, at) => input.lines.findIndex((other) => other.lineId === line.lineId) < at))
    throw new Refusal('twice', 'A line is there twice: give one figure for it.', { field: 'lines' });
  const credits = input.lines.map((line, index) => readLine(work, kept, line, index));
  return invoiceView(work, raiseCredit(work, kept, credits, input.reason));
}

/** Raises a credit note over lines of an invoice; it closes the invoice as far as that is open. Gives its number. */
export function raiseCredit(work: Work, kept: InvoiceRecord, credits: readonly LineCredit[], reason: string): number {
  const given = credits.filter(({ quantity, amount }) => quantity > 0 || amount > 0);
  if (given.length === 0) throw new Refusal('nothingToCredit', `Nothing of ${kept.number} would be given back: say how many, or how much.`);
  const net = asAmount(given.reduce((sum, each) => sum + each.amount, 0));
  const tax = taxBack(work, kept, net);
  const books = inBooks(
    given.map(({ amount }) => amount),
    tax,
    kept.rate,
  );
  const number = work.nextNumber('CR');
  const id = addRow(work, invoice, {
    number,
    kind: 'credit',
    creditOf: kept.id,
    reason,
    customerId: kept.customerId,
    orderId: kept.orderId,
    date: work.today,
    dueDate: work.today,
    state: 'open',
    net: asAmount(-net),
    tax: asAmount(-tax),
    total: asAmount(-net - tax),
    paid: asAmount(0),
    currency: kept.currency,
    rate: kept.rate,
    booksNet: asAmount(-books.net),
    booksTotal: asAmount(-books.total),
  });
  const revenue = given.map(({ line, quantity, amount }, index) => {
    const booksAmount = books.lines[index] ?? asAmount(0);
    const { orderLineId, itemId, price, discount } = line;
    addRow(work, invoiceLine, {
      invoiceId: id,
      orderLineId,
      itemId,
      quantity: asQuantity(-quantity),
      free: asQuantity(0),
      price: quantity === 0 ? asPrice(0) : price,
      discount: quantity === 0 ? 0 : discount,
      amount: asAmount(-amount),
      booksAmount: asAmount(-booksAmount),
      creditOf: line.id,
    });
    return { account: accountsOfItem(work, itemId).revenueAccount, value: booksAmount };
  });
  const entryId = postEvent(work, { kind: 'invoice', id, number }, work.today, { kind: 'customerCredit', revenue, tax: books.tax });
  setRow(work, invoice, id, { entryId, state: net + tax === 0 ? 'paid' : 'open' });
  work.link('invoice', kept.id, 'invoice', id);
  work.record('invoice', id, `gave ${writeAmount(net + tax)} of ${kept.number} back: ${reason}`);
  const open = kept.state === 'open' ? Math.min(net + tax, kept.total - kept.paid) : 0;
  if (open > 0) closeWith(work, id, [{ invoice: kept, amount: asAmount(open) }]);
  return id;
}

/** The tax of what is given back: all credit notes of an invoice together have its tax to the cent. */
function taxBack(work: Work, kept: InvoiceRecord, net: Amount): Amount {
  const before = creditedOfInvoice.one(work, { invoiceId: kept.id });
  const left = asAmount(kept.net + (before?.net ?? 0));
  return left === 0 ? asAmount(0) : proportion(asAmount(kept.tax + (before?.tax ?? 0)), asQuantity(net), asQuantity(left));
}

function closeWith(work: Work, creditId: number, closes: readonly { readonly invoice: InvoiceRecord; readonly amount: Amount }[]): void {
  for (const { invoice: closed, amount } of closes) {
    const credit = invoiceOf(work, creditId);
    const settle = { invoice: closed, amount, letOff: asAmount(0) };
    // Where the rates of the two differ, so do their worths in the books.
    const booksTaken = asAmount(-booksOfPart(credit, asAmount(-amount)));
    const entryId = postEvent(work, { kind: 'invoice', id: creditId, number: credit.number }, work.today, {
      kind: 'creditTaken',
      value: booksTaken,
      closed: closedInBooks([settle]),
    });
    close(work, { creditId, booksTaken }, settle, work.today, entryId);
    keepPaid(work, creditId, asAmount(-amount), asAmount(-booksTaken));
  }
}

/** A credit note that something is open on. Refuses `wrongState`, `staleVersion`. */
function openCredit(work: Work, id: number, version: number): InvoiceRecord & { readonly open: Amount } {
  const kept = invoiceOf(work, id);
  assertVersion(work, 'invoice', kept, version, kept.number);
  if (kept.kind !== 'credit' || kept.state !== 'open')
    throw new Refusal('wrongState', `${kept.number} is ${kept.kind === 'credit' ? kept.state : 'no credit note'}: nothing of it is left to give.`);
  return { ...kept, open: asAmount(kept.paid - kept.total) };
}

function assertLeft(amount: Amount, { number, open }: { readonly number: string; readonly open: Amount }, field: string): void {
  if (amount > open)
    throw new Refusal('tooMuch', `${writeAmount(amount)} is more than the ${writeAmount(open)} left of ${number}.`, {
      field,
      open: writeAmount(open),
    });
}

/** Closes invoices with a credit note. */
export function settleCredit(work: Work, id: number, input: BodyOf<typeof api.accounts.settleCredit>): InvoiceView {
  const kept = openCredit(work, id, input.version);
  const settles = readSettles(work, kept, input.settle, work.today);
  if (settles.some(({ letOff }) => letOff !== 0))
    throw new Refusal('tooLate', 'What is let off for paying early is for money: close with the amount itself.', { field: 'settle.0.letOff' });
  assertLeft(asAmount(settles.reduce((sum, { amount }) => sum + amount, 0)), kept, 'settle.0.amount');
  closeWith(work, id, settles);
  work.record('invoice', id, `closed ${settles.map((each) => each.invoice.number).join(', ')} with ${kept.number}`);
  return invoiceView(work, id);
}

/** Pays a credit note out, in full or in part. */
export function refundCredit(
  work: Work,
  id: number,
  input: BodyOf<typeof api.accounts.refundCredit>,
  drawer = readDrawer(work, input, invoiceOf(work, id).currency),
): InvoiceView {
  const kept = openCredit(work, id, input.version);
  const amount = atField('amount', () => parseAmount(input.amount));
  if (amount <= 0) throw new Refusal('notPositive', 'What is paid out must be more than 0.', { field: 'amount' });
  assertLeft(amount, kept, 'amount');
  const back = asAmount(-amount);
  keepPayment(
    work,
    {
      customerId: kept.customerId,
      currency: kept.currency,
      orderId: null,
      amount: back,
      date: input.date ?? work.today,
      method: input.method,
      reference: kept.number,
      drawer,
    },
    [{ invoice: kept, amount: back, letOff: asAmount(0) }],
  );
  return invoiceView(work, id);
}
