/** Quotes and blanket orders: listed, becoming orders in full or in part, lost with a reason. */
import { and, eq, ne, sql } from 'drizzle-orm';
import type { AnswerOf, BodyOf, ListQuery, OrderView, QuoteReason, api } from '@terrace/contract';
import {
  Refusal,
  addDays,
  amountOfLine,
  amountToBooks,
  asAmount,
  asQuantity,
  extend,
  freeOfNext,
  leastQuantity,
  parsePositiveQuantity,
  writeQuantity,
  type Amount,
  type Quantity,
} from '@terrace/core';
import { customer, itemFacts, taxRateFor, worthOn } from '../catalogue';
import { countOf } from '../platform/expressions';
import { atField } from '../platform/fields';
import { asAmountText, asFlag, asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { addRow, changeRow, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { leftOf } from './follow-quotes';
import { isLapsed, linesOf, orderOf, orderView, worthOf, type LineRecord, type OrderRecord } from './order-view';
import { assertValid, changeOrder, createOrder, sumsOf } from './orders';
import { customerOrder, customerOrderLine } from './schema';

/** So many days before it lapses a quote is called about to. */
const SOON_DAYS = 7;
const NONE = asQuantity(0);

const quotes = list(($: { today: string; soon: string }) => ({
  columns: {
    id: asNumber(customerOrder.id),
    number: asText(customerOrder.number),
    kind: asText(customerOrder.kind),
    customer: asText(customer.name),
    reference: asText(customerOrder.reference),
    state: asText(customerOrder.state),
    orderDate: asText(customerOrder.orderDate),
    requiredDate: asText(customerOrder.requiredDate),
    validUntil: asText(customerOrder.validUntil),
    open: asFlag(customerOrder.open),
    lapsed: asFlag(sql`${customerOrder.open} = 1 and ${customerOrder.validUntil} < ${$.today}`),
    soon: asFlag(sql`${customerOrder.open} = 1 and ${customerOrder.validUntil} >= ${$.today} and ${customerOrder.validUntil} <= ${$.soon}`),
    probability: asNumber(customerOrder.probability),
    lines: asNumber(countOf(customerOrderLine, eq(customerOrderLine.orderId, customerOrder.id))),
    total: asAmountText(customerOrder.booksTotal),
    lostReason: asText(customerOrder.lostReason),
    lost: asAmountText(customerOrder.lostNet),
  },
  from: customerOrder,
  joins: [refersTo(customer, eq(customer.id, customerOrder.customerId))],
  where: ne(customerOrder.kind, 'order'),
  find: [customerOrder.number, customer.name, customerOrder.reference],
  order: [customerOrder.validUntil],
  tie: [customerOrder.id],
}));

export function listQuotes(work: Work, asked: ListQuery): AnswerOf<typeof api.selling.listQuotes> {
  return listPage(work, quotes, asked, { today: work.today, soon: addDays(work.today, SOON_DAYS) });
}

/** Offers something, or agrees on a blanket order. Refuses what an order is refused for, and `badDate` of a last day that has passed. */
export function createQuote(work: Work, { kind, validUntil, probability, ...input }: BodyOf<typeof api.selling.createQuote>): OrderView {
  return createOrder(work, input, { kind, validUntil, probability });
}

/** Changes an open quote or blanket order; what has become orders stays. Refuses `notAQuote`, `wrongState`, `alreadyOrdered`, `staleVersion`. */
export function changeQuote(work: Work, id: number, { validUntil, probability, ...input }: BodyOf<typeof api.selling.changeQuote>): OrderView {
  const quote = openQuote(work, id, input.version);
  if (validUntil !== quote.validUntil) assertValid(work, validUntil);
  return changeOrder(work, id, input, { validUntil, probability });
}

function openQuote(work: Work, id: number, version: number): OrderRecord {
  const quote = orderOf(work, id);
  if (quote.kind === 'order') throw new Refusal('notAQuote', `${quote.number} is an order already.`);
  assertVersion(work, 'customerOrder', quote, version, quote.number);
  if (!quote.open) throw new Refusal('wrongState', `${quote.number} is ${quote.state}: nothing of it is open any more.`);
  return quote;
}

interface Taken {
  readonly line: LineRecord;
  readonly quantity: Quantity;
  readonly free: Quantity;
}

/** What is taken of each line, as asked for, or all that is left. Refuses `unknownLine`, `tooMuch`, `nothingLeft`. */
function takenOf(work: Work, quote: OrderRecord, asked: BodyOf<typeof api.selling.orderFromQuote>['lines']): Taken[] {
  const lines = linesOf(work, quote.id);
  const wanted = asked ?? lines.map((line) => ({ lineId: line.id, quantity: writeQuantity(leftOf(line)) }));
  const stranger = wanted.findIndex(
    ({ lineId }, index) => !lines.some(({ id }) => id === lineId) || wanted.findIndex((each) => each.lineId === lineId) !== index,
  );
  if (stranger >= 0)
    throw new Refusal('unknownLine', `This line is not one of ${quote.number}, or is there twice.`, { field: `lines.${stranger}.lineId` });
  const taken = wanted.flatMap(({ lineId, quantity: text }, index) => {
    const line = lines.find(({ id }) => id === lineId);
    if (!line || /^0(\.0*)?$/.test(text)) return [];
    const { code, decimals } = itemFacts(work, line.itemId);
    const quantity = atField(`lines.${index}.quantity`, () => parsePositiveQuantity(text, decimals, `the quantity of ${code}`));
    const left = leftOf(line);
    if (quantity > left)
      throw new Refusal('tooMuch', `Of line ${line.position} (${code}) ${writeQuantity(left)} are left, not ${text}.`, {
        field: `lines.${index}.quantity`,
        most: writeQuantity(left),
      });
    // What is charged goes first, as it is with invoices.
    const free = freeOfNext({ ...line, invoiced: line.ordered, freeInvoiced: line.freeOrdered }, quantity);
    return [{ line, quantity, free }];
  });
  if (taken.length === 0) throw new Refusal('nothingLeft', `Of ${quote.number} nothing is left, or nothing was asked for.`, { field: 'lines' });
  return taken;
}

/**
 * Makes an order of a quote, or calls off from a blanket order: a draft with the prices, terms and everything else as offered, at
 * the tax of today. With the last of it the quote is won, and the blanket order closed. Refuses `lapsed`, `wrongState`,
 * `staleVersion`, `tooMuch`, `nothingLeft`, `unknownLine`.
 */
export function orderFromQuote(
  work: Work,
  id: number,
  { version, lines: asked, requiredDate, reference }: BodyOf<typeof api.selling.orderFromQuote>,
): OrderView {
  const quote = openQuote(work, id, version);
  if (isLapsed(quote, work.today))
    throw new Refusal('lapsed', `${quote.number} held until ${quote.validUntil ?? ''}: let it hold longer first, or offer anew.`, {
      validUntil: quote.validUntil,
    });
  if (requiredDate !== undefined && requiredDate < work.today)
    throw new Refusal('badDate', `${requiredDate} has passed: nothing can be delivered before today, ${work.today}.`, { field: 'requiredDate' });
  const taken = takenOf(work, quote, asked);
  const later = (date: string): string => (date < work.today ? work.today : date);
  const day = requiredDate ?? later(quote.requiredDate);
  const taxRate = taxRateFor(work, quote.customerId, work.today);
  const rate = worthOn(work, quote.currency, work.today);
  const number = work.nextNumber('CO');
  const { id: _, version: _version, kind, validUntil: _until, probability: _likely, ...head } = quote;
  const fresh = taken.map(({ line, quantity, free }) => ({ ...line, quantity, free, cancelled: NONE, correction: asAmount(0) }));
  const orderId = addRow(work, customerOrder, {
    ...head,
    number,
    reference: reference ?? quote.reference,
    orderDate: work.today,
    requiredDate: day,
    state: 'draft',
    // What a quote charges was offered once, for all of it; each call-off is charged for by itself.
    charges: kind === 'blanket' && head.charges,
    taxRate,
    rate,
    ...sumsOf(fresh, { taxRate, rate }),
  });
  fresh.forEach(({ id: quotedLineId, ...line }, index) =>
    addRow(work, customerOrderLine, {
      ...line,
      orderId,
      quotedLineId,
      byRule: kind === 'blanket' && line.byRule,
      position: index + 1,
      priceSteps: [...line.priceSteps, `As ${kind === 'quote' ? 'quoted in' : 'agreed in'} ${quote.number}.`],
      requiredDate: requiredDate ?? later(line.requiredDate),
      ordered: NONE,
      freeOrdered: NONE,
    }),
  );
  for (const { line, quantity, free } of taken)
    setRow(work, customerOrderLine, line.id, { ordered: asQuantity(line.ordered + quantity), freeOrdered: asQuantity(line.freeOrdered + free) });
  const done = linesOf(work, id).every((line) => leftOf(line) === 0);
  changeRow(work, customerOrder, id, done ? { state: kind === 'quote' ? 'won' : 'closed', open: false } : {});
  work.link('customerOrder', id, 'customerOrder', orderId);
  work.record('customerOrder', orderId, `entered ${number} from ${quote.number}`);
  work.record('customerOrder', id, `made ${number} of ${quote.number}`);
  return orderView(work, orderId);
}

const WHY: Readonly<Record<QuoteReason, string>> = {
  price: 'too dear',
  date: 'too late',
  product: 'not what they need',
  elsewhere: 'bought elsewhere',
  noNeed: 'no need any more',
  noAnswer: 'no answer',
  other: 'another reason',
};

/** What of lines has not become an order is worth, without tax; what is free of charge becomes one last. */
function leftNet(lines: readonly LineRecord[]): Amount {
  const worth = lines.map((line) => {
    const free = leastQuantity(leftOf(line), asQuantity(Math.max(0, line.free - line.freeOrdered)));
    return line.ordered === 0 ? amountOfLine(worthOf(line)) : extend(asQuantity(leftOf(line) - free), line.price, line.discount);
  });
  return asAmount(worth.reduce((sum, each) => sum + each, 0));
}

/** Gives up what has not become an order: a quote of which nothing has is lost, and of another the rest. Refuses `wrongState`, `staleVersion`. */
export function loseQuote(work: Work, id: number, { version, reason, note }: BodyOf<typeof api.selling.loseQuote>): OrderView {
  const quote = openQuote(work, id, version);
  const lines = linesOf(work, id);
  const some = lines.some((line) => line.ordered > 0);
  const state = quote.kind === 'blanket' ? 'closed' : some ? 'won' : 'lost';
  const lost = quote.kind === 'blanket' ? {} : { lostReason: reason, lostNet: amountToBooks(leftNet(lines), quote.rate) };
  const words = [WHY[reason], note].filter(Boolean).join(': ');
  changeRow(work, customerOrder, id, { state, open: false, ...lost, held: '' });
  work.record('customerOrder', id, `${state === 'closed' ? 'ended' : state === 'won' ? 'lost the rest of' : 'lost'} ${quote.number}: ${words}`);
  return orderView(work, id);
}

/** Whether it is a quote that may still become an order. */
export const OPEN_QUOTE = and(eq(customerOrder.kind, 'quote'), eq(customerOrder.open, true));
