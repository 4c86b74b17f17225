/** Customer orders: entering, changing, cancelling. */
import { eq } from 'drizzle-orm';
import type { OrderView } from '@terrace/contract';
import {
  Refusal,
  amountToBooks,
  asAmount,
  asQuantity,
  outstanding,
  parsePositiveQuantity,
  stateOfConfirmed,
  totalOf,
  writeQuantity,
  type Amount,
  type Quantity,
} from '@terrace/core';
import { hasUnpaidInvoice } from '../accounts';
import { customerOf, itemFacts, keepCustom, readTerm, taxRateFor, usableWarehouse, worthOn } from '../catalogue';
import { plus } from '../platform/expressions';
import { atField } from '../platform/fields';
import { command } from '../platform/query';
import { addRow, changeRow, setRow } from '../platform/rows';
import { assertVersion, changesBetween } from '../platform/versions';
import type { Work } from '../platform/work';
import { dropReservation, lowerReservation, reservedFor } from '../stores';
import { withCharges } from './charges';
import { assertCredit } from './credit';
import { otherRooms } from './handed-in';
import { readLines, type EnteredLine, type OrderInput } from './order-lines';
import { followQuotes } from './follow-quotes';
import { assertNotOnShipment, dropLine } from './on-shipment';
import {
  assertColleague,
  assertOrder,
  isRuled,
  lineRows,
  linesOf,
  orderOf,
  orderView,
  worthOf,
  type LineRecord,
  type LineWorth,
  type OrderRecord,
} from './order-view';
import { reserveLines } from './reserve-lines';
import { customerOrder, customerOrderLine } from './schema';

function assertHeader(work: Work, input: OrderInput, before: string | null): ReturnType<typeof customerOf> {
  const customer = atField('customerId', () => customerOf(work, input.customerId));
  if (!customer.active) throw new Refusal('inactiveCustomer', `${customer.name} is inactive: no new order may name them.`, { field: 'customerId' });
  atField('warehouseId', () => usableWarehouse(work, input.warehouseId));
  if (input.requiredDate !== before && input.requiredDate < work.today) {
    throw new Refusal('badDate', `${input.requiredDate} has passed: nothing can be delivered before today, ${work.today}.`, {
      field: 'requiredDate',
    });
  }
  return customer;
}

/** What is kept of an order's sums; what was divided and is worth something else now has the tax of its own rate again. */
export function sumsOf(
  lines: readonly LineWorth[],
  { taxRate, rate }: Pick<OrderRecord, 'taxRate' | 'rate'>,
  taxCorrection = asAmount(0),
): Pick<OrderRecord, 'net' | 'total' | 'booksNet' | 'booksTotal' | 'taxCorrection'> {
  const { net, total } = totalOf(lines.map(worthOf), taxRate, taxCorrection);
  return { net, total, ...inBooksOf({ net, total, rate }), taxCorrection };
}

/** The sums of an order in the books' currency. */
export function inBooksOf({ net, total, rate }: Pick<OrderRecord, 'net' | 'total' | 'rate'>): Pick<OrderRecord, 'booksNet' | 'booksTotal'> {
  return { booksNet: amountToBooks(net, rate), booksTotal: amountToBooks(total, rate) };
}

const NONE = asQuantity(0);

/** A line as it is when it is new. */
const fresh = (line: EnteredLine): LineWorth => ({ ...line, cancelled: NONE, correction: asAmount(0) });

/** What a line that was divided is worth beyond its figures, as long as none of those has changed. */
function keptCorrection(before: LineRecord, now: EnteredLine): Amount {
  const figures = ['quantity', 'free', 'price', 'discount'] as const;
  return before.cancelled === 0 && figures.every((each) => before[each] === now[each]) ? before.correction : asAmount(0);
}

const termsOf = ({ paymentTerm, paymentDays }: ReturnType<typeof customerOf>) => ({ paymentTerm, paymentDays });

/** What is kept of an order's head as it was entered. */
function headerOf(
  work: Work,
  input: OrderInput,
  by: { carrier: string; service: string; paymentTerm: string | null; paymentDays: number; salesPersonId: number | null },
) {
  const { customerId, reference, warehouseId, requiredDate, note, shipTo, complete } = input;
  const salesPersonId = input.salesPersonId === undefined ? by.salesPersonId : input.salesPersonId;
  if (salesPersonId !== null && salesPersonId !== by.salesPersonId) atField('salesPersonId', () => assertColleague(work, salesPersonId));
  const paymentTerm = input.paymentTerm === undefined ? by.paymentTerm : readTerm(work, input.paymentTerm);
  const carrier = { carrier: input.carrier ?? by.carrier, service: input.service ?? by.service };
  return {
    customerId,
    reference,
    warehouseId,
    requiredDate,
    note,
    shipTo,
    complete,
    salesPersonId,
    paymentTerm,
    paymentDays: by.paymentDays,
    ...carrier,
  };
}

/** What is kept of a line as it was entered. */
function lineOf({ id: _, priceSteps, ...line }: EnteredLine, index: number) {
  return { ...line, position: index + 1, priceSteps: [...priceSteps] };
}

function addLine(work: Work, orderId: number, index: number, line: EnteredLine): void {
  addRow(work, customerOrderLine, { orderId, ...lineOf(line, index), shipped: NONE, invoiced: NONE, cancelled: NONE });
}

/** What an offer says beyond an order. */
export interface Offer {
  readonly kind: 'quote' | 'blanket';
  readonly validUntil: string;
  readonly probability: number;
}

const PREFIX = { order: 'CO', quote: 'QU', blanket: 'BO' } as const;
const BEGINS = { order: 'draft', quote: 'offered', blanket: 'agreed' } as const;

/** Refuses `badDate` where an offer would have lapsed before it is made. */
export function assertValid(work: Work, validUntil: string): void {
  if (validUntil < work.today)
    throw new Refusal('badDate', `${validUntil} has passed: an offer holds until today, ${work.today}, at least.`, { field: 'validUntil' });
}

/** Enters an order as a draft, or an offer. */
export function createOrder(work: Work, input: OrderInput, offer?: Offer): OrderView {
  const customer = assertHeader(work, input, null);
  const { currency } = customer;
  const rate = atField('customerId', () => worthOn(work, currency, work.today));
  if (offer) assertValid(work, offer.validUntil);
  const kind = offer?.kind ?? 'order';
  const charges = input.charges ?? true;
  const carrier = input.carrier ?? customer.carrier;
  const lines = withCharges(
    work,
    { charges, carrier, currency, rate, requiredDate: input.requiredDate },
    readLines(work, input, { day: work.today, currency }),
  );
  const taxRate = taxRateFor(work, customer.id, work.today);
  const number = work.nextNumber(PREFIX[kind]);
  const id = addRow(work, customerOrder, {
    ...headerOf(work, input, { ...customer, salesPersonId: work.actor.id > 0 ? work.actor.id : null }),
    ...offer,
    number,
    orderDate: work.today,
    state: BEGINS[kind],
    taxRate,
    currency,
    rate,
    charges,
    ...sumsOf(lines.map(fresh), { taxRate, rate }),
  });
  lines.forEach((line, index) => addLine(work, id, index, line));
  keepCustom(work, 'customerOrder', id, input.custom);
  work.record('customerOrder', id, `entered ${number}`);
  return orderView(work, id);
}

/**
 * Changes an order. A draft changes freely; of a confirmed one, what is shipped stays, and reservations follow what is
 * still wanted.
 */
export function changeOrder(
  work: Work,
  id: number,
  { beyondCredit = false, ...input }: OrderInput & { version: number; beyondCredit?: boolean },
  offer?: Omit<Offer, 'kind'>,
): OrderView {
  const order = orderOf(work, id);
  if (!offer) assertOrder(order);
  const before = orderView(work, id);
  assertVersion(work, 'customerOrder', order, input.version, order.number);
  if (!order.open || order.state === 'shipped' || order.state === 'invoiced')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: it can't be changed any more. Enter a new order for what is missing.`);
  const customer = assertHeader(work, input, order.requiredDate);
  // What was agreed is in the currency that it was agreed in; another customer has their own.
  const other = input.customerId !== order.customerId;
  const currency = other ? customer.currency : order.currency;
  const rate = other ? atField('customerId', () => worthOn(work, currency, order.orderDate)) : order.rate;
  // Nobody counts on a draft yet, nor on more of an offer than has become orders.
  const loose = order.state === 'draft' || order.kind !== 'order';
  if (!loose && (input.customerId !== order.customerId || input.warehouseId !== order.warehouseId)) {
    throw new Refusal('wrongState', `${order.number} is confirmed: customer and warehouse stay. Cancel it and enter a new one.`, {
      field: 'customerId',
    });
  }
  const old = linesOf(work, id);
  const typed = readLines(work, input, { day: order.orderDate, currency }, { lines: old, agreed: !other });
  const charges = input.charges ?? order.charges;
  const carrier = input.carrier ?? order.carrier;
  const lines = isRuled(order) ? withCharges(work, { charges, carrier, currency, rate, requiredDate: input.requiredDate }, typed, old) : typed;
  for (const [at, line] of old.filter((each) => !lines.some((kept) => kept.id === each.id)).entries()) {
    if (line.ordered > 0)
      throw new Refusal('alreadyOrdered', `Of line ${line.position} something is ordered: it can’t be removed.`, { field: 'lines' });
    if (line.shipped > 0) throw new Refusal('alreadyShipped', `Line ${line.position} has shipped in part and can't be removed.`, { field: 'lines' });
    assertNotOnShipment(work, line.id, line.position);
    dropLine(work, line.id, lines.length + at + 1);
  }
  lines.forEach((line, index) => {
    const existing = old.find((each) => each.id === line.id);
    if (!existing) {
      addLine(work, id, index, line);
      return;
    }
    if (line.quantity < existing.ordered || (existing.ordered > 0 && line.itemId !== existing.itemId) || line.free < existing.freeOrdered)
      throw new Refusal(
        'alreadyOrdered',
        `${writeQuantity(existing.ordered)} of line ${existing.position} are ordered: it can’t be less than that, nor another item.`,
        {
          field: `lines.${index}.quantity`,
        },
      );
    if (line.quantity < existing.shipped)
      throw new Refusal('alreadyShipped', `${writeQuantity(existing.shipped)} have shipped: the quantity can't be below that.`, {
        field: `lines.${index}.quantity`,
      });
    const picked = otherRooms.get().onTheWay(work, existing.id);
    if (picked > 0 && line.quantity < existing.shipped + picked) assertNotOnShipment(work, existing.id, existing.position);
    if (line.free < existing.freeInvoiced || line.quantity - line.free < existing.invoiced - existing.freeInvoiced)
      throw new Refusal(
        'alreadyInvoiced',
        `${writeQuantity(existing.invoiced)} are invoiced, ${writeQuantity(existing.freeInvoiced)} of them free of charge: what was charged can’t be free now, nor the other way round.`,
        { field: `lines.${index}.free` },
      );
    if (line.direct && !existing.direct) {
      assertNotOnShipment(work, existing.id, existing.position);
      dropReservation(work, 'customerOrder', existing.id);
    }
    if (line.itemId !== existing.itemId) {
      if (existing.shipped > 0)
        throw new Refusal('alreadyShipped', 'Of this line something has shipped: its item stays.', { field: `lines.${index}.itemId` });
      assertNotOnShipment(work, existing.id, existing.position);
      dropReservation(work, 'customerOrder', existing.id);
    }
    const held = reservedFor(work, 'customerOrder', existing.id);
    // What was cancelled stays so, unless somebody says anew how much is wanted.
    const cancelled = line.itemId === existing.itemId && line.quantity === existing.quantity ? existing.cancelled : NONE;
    const stillWanted = line.quantity - existing.shipped - cancelled;
    if (held > stillWanted) lowerReservation(work, 'customerOrder', existing.id, asQuantity(held - stillWanted));
    setRow(work, customerOrderLine, existing.id, { ...lineOf(line, index), cancelled, correction: keptCorrection(existing, line) });
  });
  // What was confirmed keeps its tax; a draft takes its customer's as it is entered.
  const taxRate = loose ? taxRateFor(work, customer.id, work.today) : order.taxRate;
  const kept = linesOf(work, id);
  const same = taxRate === order.taxRate && totalOf(kept.map(worthOf), taxRate).net === order.net;
  const sums = sumsOf(kept, { taxRate, rate }, same ? order.taxCorrection : asAmount(0));
  // What was within the limit, or was let go beyond it, is not asked about again unless it grows.
  if (!loose && sums.total > order.total) assertCredit(work, customer, { ...order, booksTotal: sums.booksTotal }, beyondCredit);
  // Terms that nobody typed are the customer's, as long as nothing was agreed with them.
  const by = input.customerId === order.customerId ? order : { ...order, ...termsOf(customer) };
  changeRow(work, customerOrder, id, { ...headerOf(work, input, by), ...offer, taxRate, currency, rate, charges, ...sums });
  if (!loose) reserveLines(work, orderOf(work, id), lineRows(work, id));
  followQuotes(work, old);
  const custom = keepCustom(work, 'customerOrder', id, input.custom);
  const after = orderView(work, id);
  const short = (view: OrderView): Record<string, string> => ({
    reference: view.reference,
    requiredDate: view.requiredDate,
    note: view.note,
    carrier: [view.carrier, view.service].filter(Boolean).join(', '),
    total: view.total,
    lines: view.lines.map((line) => `${line.quantity} ${line.code} at ${line.price}`).join('; '),
  });
  work.record('customerOrder', id, `changed ${order.number}`, [...changesBetween(short(before), short(after)), ...custom]);
  return after;
}

/** Cancels what has not shipped; what is on a shipment that has not left must be dropped first. */
export function cancelOrder(work: Work, id: number, version: number, reason: string): OrderView {
  const order = orderOf(work, id);
  assertOrder(order);
  assertVersion(work, 'customerOrder', order, version, order.number);
  const lines = linesOf(work, id);
  if (!order.open || lines.every((line) => outstanding(line) === 0))
    throw new Refusal('wrongState', `${order.number} is ${order.state}: nothing of it is left to cancel.`);
  for (const line of lines) {
    assertNotOnShipment(work, line.id, line.position);
    dropReservation(work, 'customerOrder', line.id);
    setRow(work, customerOrderLine, line.id, { cancelled: asQuantity(line.cancelled + outstanding(line)), correction: asAmount(0) });
    work.touch('stock', line.itemId, order.number);
  }
  setRow(work, customerOrder, id, sumsOf(linesOf(work, id), order));
  followQuotes(work, lines);
  refreshOrder(work, id);
  work.record('customerOrder', id, `cancelled ${order.number}: ${reason}`);
  return orderView(work, id);
}

/**
 * Cancels what of a line has not shipped, or a part of it: what is reserved for that becomes free, and the order is worth less.
 * Refuses `wrongState`, `unknownLine`, `onShipment`, `tooMuch`, `staleVersion`.
 */
export function cancelLine(
  work: Work,
  id: number,
  lineId: number,
  { version, reason, quantity: text }: { readonly version: number; readonly reason: string; readonly quantity?: string | undefined },
): OrderView {
  const order = orderOf(work, id);
  assertOrder(order);
  assertVersion(work, 'customerOrder', order, version, order.number);
  const line = linesOf(work, id).find((each) => each.id === lineId);
  if (!line) throw new Refusal('unknownLine', `This line does not belong to ${order.number}.`);
  const open = outstanding(line);
  if (!order.open || open === 0) throw new Refusal('wrongState', `Of line ${line.position} of ${order.number} nothing is left to cancel.`);
  assertNotOnShipment(work, line.id, line.position);
  const { code, decimals } = itemFacts(work, line.itemId);
  const quantity = text === undefined ? open : atField('quantity', () => parsePositiveQuantity(text, decimals, `the quantity of ${code}`));
  if (quantity > open)
    throw new Refusal('tooMuch', `Of line ${line.position} ${writeQuantity(open)} are still to ship: no more than that can be cancelled.`, {
      field: 'quantity',
      most: writeQuantity(open),
    });
  const left = open - quantity;
  const held = reservedFor(work, 'customerOrder', line.id);
  if (held > left) lowerReservation(work, 'customerOrder', line.id, asQuantity(held - left));
  setRow(work, customerOrderLine, line.id, { cancelled: asQuantity(line.cancelled + quantity), correction: asAmount(0) });
  work.touch('stock', line.itemId, order.number);
  setRow(work, customerOrder, id, sumsOf(linesOf(work, id), order));
  followQuotes(work, [line]);
  if (order.state === 'draft') changeRow(work, customerOrder, id, {});
  else refreshOrder(work, id);
  work.record('customerOrder', id, `cancelled ${writeQuantity(quantity)} ${code} of line ${line.position} of ${order.number}: ${reason}`);
  return orderView(work, id);
}

/** Brings an order's state up to its lines and invoices. */
export function refreshOrder(work: Work, id: number): void {
  const state = stateOfConfirmed(linesOf(work, id), !hasUnpaidInvoice(work, id));
  changeRow(work, customerOrder, id, { state, open: state !== 'closed' && state !== 'cancelled' });
  work.touch('customerOrder', id, `now ${state}`);
}

const shipMore = command(
  ($: { id: number; quantity: Quantity }) => (db) =>
    db
      .update(customerOrderLine)
      .set({ shipped: plus(customerOrderLine.shipped, $.quantity) })
      .where(eq(customerOrderLine.id, $.id)),
);
const invoiceMore = command(
  ($: { id: number; quantity: Quantity; free: Quantity }) => (db) =>
    db
      .update(customerOrderLine)
      .set({ invoiced: plus(customerOrderLine.invoiced, $.quantity), freeInvoiced: plus(customerOrderLine.freeInvoiced, $.free) })
      .where(eq(customerOrderLine.id, $.id)),
);

/** Books what has left of a line; a quantity below nothing takes it back. */
export function bookShipped(work: Work, lineId: number, quantity: Quantity): void {
  shipMore.run(work, { id: lineId, quantity });
}

/** Books what is invoiced of a line, and what of it is free of charge; quantities below nothing take it back. */
export function bookInvoiced(work: Work, lineId: number, quantity: Quantity, free: Quantity): void {
  invoiceMore.run(work, { id: lineId, quantity, free });
}
