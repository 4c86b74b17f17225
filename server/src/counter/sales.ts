/** Sales over the counter: an order, its shipment, invoice and payments in one; taken back against the receipt. */
import { eq, sql } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import { customerInput, orderInput, type AnswerOf, type BodyOf, type ListQuery, type PricedBasket, type SaleView } from '@terrace/contract';
import {
  QUANTITY_SCALE,
  Refusal,
  asAmount,
  parseAmount,
  parseQuantity,
  receiptText,
  subtractQuantity,
  tender,
  writeAmount,
  writeQuantity,
  type Amount,
  type Receipt,
} from '@terrace/core';
import { invoiceOf, invoiceView, keepPayment, refundCredit } from '../accounts';
import { booksCurrency, createCustomer, customer, customerByCode, customerOf, itemFacts, usableWarehouse, warehouse } from '../catalogue';
import { createShipment, ship } from '../dispatch';
import { atField } from '../platform/fields';
import { asAmountText, asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { addRow, fetching } from '../platform/rows';
import { user } from '../platform/schema';
import type { Work } from '../platform/work';
import { authorise, creditReturn, decideReturn, receiveReturn, returnable } from '../returns';
import { confirmOrder, createOrder, customerOrder, invoiceOrder, linesOf, orderOf } from '../selling';
import { stockOf, trackingOf } from '../stores';
import { openDrawerIn } from './drawers';
import { receiptOf } from './receipt';
import { counterSale } from './schema';

type Basket = BodyOf<typeof api.counter.previewSale>;
type Sale = BodyOf<typeof api.counter.sell>;

const sales = list(() => ({
  columns: {
    id: asNumber(counterSale.id),
    number: asText(counterSale.number),
    at: asText(counterSale.at),
    customer: asText(customer.name),
    warehouse: asText(warehouse.code),
    who: asText(user.name),
    total: asAmountText(counterSale.total),
    cash: asAmountText(sql<Amount>`${counterSale.given} - ${counterSale.change}`),
  },
  from: counterSale,
  joins: [
    refersTo(customerOrder, eq(customerOrder.id, counterSale.orderId)),
    refersTo(customer, eq(customer.id, customerOrder.customerId)),
    refersTo(warehouse, eq(warehouse.id, counterSale.warehouseId)),
    refersTo(user, eq(user.id, counterSale.userId)),
  ],
  find: [counterSale.number, customer.name],
  order: [sql`${counterSale.id} desc`],
  tie: [counterSale.id],
}));

export function listSales(work: Work, asked: ListQuery): AnswerOf<typeof api.counter.listSales> {
  return listPage(work, sales, asked);
}

/** A sale as kept. Refuses `notFound`. */
export const saleOf = fetching(counterSale, 'sale');
const nameOf = query(($: { id: number }) => (db) => db.select({ name: user.name }).from(user).where(eq(user.id, $.id)));

/** What stands on the receipt of a sale, and its number. */
export function receiptFor(work: Work, id: number): { readonly number: string; readonly receipt: Receipt } {
  const sale = saleView(work, id);
  return { number: sale.number, receipt: receiptOf(work, sale, saleOf(work, id).date, invoiceView(work, sale.invoiceId)) };
}

export function saleView(work: Work, id: number): SaleView {
  const kept = saleOf(work, id);
  const order = orderOf(work, kept.orderId);
  const invoice = invoiceView(work, kept.invoiceId);
  const payments = invoice.payments
    .filter((each) => each.kind === 'payment' && !each.reversed)
    .map(({ documentId, number, method, amount }) => ({ id: documentId, number, method, amount }));
  const view = {
    id,
    number: kept.number,
    at: kept.at,
    customer: invoice.customer,
    customerId: invoice.customerId,
    warehouseId: kept.warehouseId,
    warehouse: usableWarehouse(work, kept.warehouseId).code,
    who: nameOf.one(work, { id: kept.userId })?.name ?? '',
    total: writeAmount(kept.total),
    cash: writeAmount(kept.given - kept.change),
    orderId: kept.orderId,
    order: order.number,
    invoiceId: kept.invoiceId,
    invoice: invoice.number,
    returnOfId: kept.returnOf,
    returnOf: kept.returnOf === null ? '' : saleOf(work, kept.returnOf).number,
    given: writeAmount(kept.given),
    change: writeAmount(kept.change),
    open: invoice.open,
    payments,
  };
  return { ...view, receipt: receiptText(receiptOf(work, view, kept.date, invoice)) };
}

/** Whoever has no account with us. */
const CASH = 'CASH';

function cashCustomer(work: Work): number {
  return customerByCode(work, CASH) ?? createCustomer(work, customerInput.parse({ code: CASH, name: 'Cash sale', paymentDays: 0 }));
}

/** Refuses `otherCurrency`: what is paid at the counter is in the books' currency. */
function assertPaysInBooks(work: Work, customerId: number): void {
  const { name, currency } = customerOf(work, customerId);
  const books = booksCurrency(work);
  if (currency !== books)
    throw new Refusal('otherCurrency', `${name} pays in ${currency}, and the counter takes ${books} only: enter an order for them.`, {
      field: 'customerId',
      currency,
    });
}

/** The order that a basket comes to. */
function orderFor(work: Work, { warehouseId, customerId, lines }: Basket): ReturnType<typeof createOrder> {
  if (customerId !== null && customerId !== undefined) assertPaysInBooks(work, customerId);
  return createOrder(
    work,
    orderInput.parse({
      customerId: customerId ?? cashCustomer(work),
      reference: 'over the counter',
      requiredDate: work.today,
      warehouseId,
      // It goes as a whole: no rule divides it, and none charges freight.
      complete: true,
      charges: false,
      lines: lines.map(({ itemId, quantity, price, discount, discountReason, free }) => ({
        itemId,
        quantity,
        discount,
        discountReason,
        free,
        ...(price === undefined ? {} : { price }),
      })),
    }),
  );
}

/** What a basket comes to. To be tried out: it keeps an order. */
export function priceBasket(work: Work, basket: Basket): PricedBasket {
  const order = orderFor(work, basket);
  return {
    lines: order.lines.map((line) => {
      const { kind } = itemFacts(work, line.itemId);
      return {
        itemId: line.itemId,
        code: line.code,
        description: line.description,
        unit: line.unit,
        tracking: trackingOf(work, line.itemId).tracking,
        quantity: line.quantity,
        free: line.free,
        price: line.price,
        discount: line.discount,
        amount: line.amount,
        there: kind === 'stocked' ? writeQuantity(stockOf(work, line.itemId, basket.warehouseId).free) : null,
      };
    }),
    net: order.net,
    tax: order.tax,
    total: order.total,
  };
}

interface Paying {
  readonly others: readonly { readonly method: 'card' | 'transfer'; readonly amount: Amount }[];
  readonly given: Amount;
  readonly cash: Amount;
  readonly change: Amount;
  readonly open: Amount;
}

/** How a total is paid. Refuses `notPaid`, `tooMuch`, and change of anything but cash. */
function readPaying(total: Amount, { payments, cash: text, onAccount, customerId }: Sale): Paying {
  const others = payments.map(({ method, amount }, index) => {
    const paid = atField(`payments.${index}.amount`, () => parseAmount(amount));
    if (paid <= 0) throw new Refusal('notPositive', 'A payment must be more than 0.', { field: `payments.${index}.amount` });
    return { method, amount: paid };
  });
  const given = atField('cash', () => parseAmount(text));
  if (given < 0) throw new Refusal('negative', 'Cash that is handed over can’t be below 0.', { field: 'cash' });
  const { cash, change, open, beyond } = tender(total, asAmount(others.reduce((sum, { amount }) => sum + amount, 0)), given);
  if (beyond > 0)
    throw new Refusal('tooMuch', `That is ${writeAmount(beyond)} more than the total: change is given of cash only.`, { field: 'payments.0.amount' });
  if (open > 0 && !onAccount) throw new Refusal('notPaid', `${writeAmount(open)} are still to be paid.`, { field: 'cash', open: writeAmount(open) });
  if (open > 0 && customerId === null)
    throw new Refusal('notPaid', `${writeAmount(open)} are still to be paid: only a customer with an account can leave something open.`, {
      field: 'cash',
      open: writeAmount(open),
    });
  return { others, given, cash, change, open };
}

/** Sells a basket. Refuses what is not there, what others hold, and what is not paid; then nothing has happened. */
export function sell(work: Work, input: Sale): SaleView {
  const draft = orderFor(work, input);
  const paying = readPaying(parseAmount(draft.total), input);
  const drawerId = paying.given > 0 ? openDrawerIn(work, input.warehouseId) : null;
  confirmOrder(work, draft.id, draft.version, true, false, paying.open === 0);
  const shipment = createShipment(
    work,
    draft.id,
    linesOf(work, draft.id).map((line, index) => {
      const { serials = '', lot = '' } = input.lines[index] ?? {};
      const pieces = serials !== '' ? [{ serials }] : lot !== '' ? [{ lot, quantity: writeQuantity(line.quantity) }] : undefined;
      return { orderLineId: line.id, quantity: writeQuantity(line.quantity), pieces };
    }),
  );
  ship(work, shipment.id, shipment.version, undefined);
  const made = invoiceOrder(work, draft.id, shipment.id);
  const kept = invoiceOf(work, made.id);
  pay(work, made.id, paying, drawerId);
  const number = work.nextNumber('CS');
  const id = addRow(work, counterSale, {
    number,
    at: work.now,
    date: work.today,
    userId: work.actor.id,
    warehouseId: input.warehouseId,
    drawerId,
    orderId: draft.id,
    invoiceId: made.id,
    total: kept.total,
    given: paying.given,
    change: paying.change,
  });
  work.link('counterSale', id, 'customerOrder', draft.id);
  work.record('counterSale', id, `sold ${writeAmount(kept.total)} over the counter`);
  return saleView(work, id);
}

function pay(work: Work, invoiceId: number, { others, cash }: Paying, drawerId: number | null): void {
  const all = [...others, ...(cash > 0 ? [{ method: 'cash' as const, amount: cash }] : [])];
  for (const { method, amount } of all) {
    const kept = invoiceOf(work, invoiceId);
    const { customerId, currency } = kept;
    const paid = { customerId, currency, orderId: null, amount, date: work.today, method, reference: 'over the counter' };
    const drawer = method === 'cash' && drawerId !== null ? { id: drawerId, counted: true } : null;
    keepPayment(work, { ...paid, drawer }, [{ invoice: kept, amount, letOff: asAmount(0) }]);
  }
}

const byNumber = query(
  ($: { number: string }) => (db) => db.select({ id: counterSale.id }).from(counterSale).where(eq(counterSale.number, $.number)),
);

/** The sale of a receipt, and what of it is still with the customer. Refuses `unknownCode`. */
export function findReceipt(work: Work, number: string): AnswerOf<typeof api.counter.findReceipt> {
  const found = byNumber.one(work, { number: number.toUpperCase() });
  if (!found) throw new Refusal('unknownCode', `There is no receipt ${number}: its number stands at the top of it.`, { field: 'number' });
  const kept = saleOf(work, found.id);
  if (kept.returnOf !== null)
    throw new Refusal('wrongState', `${kept.number} is a return itself: take the receipt of the sale.`, { field: 'number' });
  return {
    sale: saleView(work, found.id),
    pieces: returnable(work, kept.orderId).map(({ shipmentLineId, code, description, unit, lot, serial, shipped, returning }) => ({
      shipmentLineId,
      code,
      description,
      unit,
      lot,
      serial,
      left: writeQuantity(subtractQuantity(parseQuantity(shipped, QUANTITY_SCALE), parseQuantity(returning, QUANTITY_SCALE))),
    })),
  };
}

/** Takes something back against its receipt: into stock or held, credited, and paid out unless it stays to their credit. */
export function returnSale(work: Work, saleId: number, input: BodyOf<typeof api.counter.returnSale>): SaleView {
  const sale = saleOf(work, saleId);
  if (sale.returnOf !== null) throw new Refusal('wrongState', `${sale.number} is a return itself.`);
  const agreed = authorise(work, { orderId: sale.orderId, warehouseId: sale.warehouseId, reason: input.reason, lines: input.lines });
  const all = agreed.lines.map(({ id, quantity }) => ({ lineId: id, quantity }));
  let back = receiveReturn(work, agreed.id, { version: agreed.version, lines: all });
  if (input.good) back = decideReturn(work, agreed.id, { version: back.version, decision: 'restock', reason: '', note: '', lines: all });
  back = creditReturn(work, agreed.id, back.version);
  const [credit] = back.credits;
  if (!credit) throw new RangeError(`${agreed.number} was not credited`);
  const note = invoiceOf(work, credit.id);
  const open = asAmount(note.paid - note.total);
  const drawerId = input.method === 'cash' && open > 0 ? openDrawerIn(work, sale.warehouseId) : null;
  if (input.method !== 'credit' && open > 0) {
    const refund = { version: note.version, amount: writeAmount(open), method: input.method, drawerId };
    refundCredit(work, note.id, refund, drawerId === null ? null : { id: drawerId, counted: true });
  }
  const number = work.nextNumber('CS');
  const id = addRow(work, counterSale, {
    number,
    at: work.now,
    date: work.today,
    userId: work.actor.id,
    warehouseId: sale.warehouseId,
    drawerId,
    orderId: sale.orderId,
    invoiceId: note.id,
    returnOf: saleId,
    total: note.total,
    given: asAmount(0),
    change: drawerId === null ? asAmount(0) : open,
  });
  work.link('counterSale', saleId, 'counterSale', id);
  work.link('counterSale', id, 'customerReturn', agreed.id);
  work.record('counterSale', id, `took back ${writeAmount(-note.total)} of ${sale.number}`);
  return saleView(work, id);
}
