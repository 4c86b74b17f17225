/** An order as kept and as it is shown. */
import { and, eq, gt, sql } from 'drizzle-orm';
import type { OrderLine, OrderView } from '@terrace/contract';
import {
  Refusal,
  amountOfLine,
  charged,
  isGoods,
  leastQuantity,
  outstanding,
  shipReadiness,
  standing,
  totalOf,
  writeAmount,
  writePrice,
  writeQuantity,
  writeRate,
  type Quantity,
  type Worth,
} from '@terrace/core';
import { paidAhead } from '../accounts';
import { customOf, customerItem, customerOf, dueFor, item, substitutesOf, unit, warehouseOf } from '../catalogue';
import { or0, orEmpty } from '../platform/expressions';
import { query } from '../platform/query';
import { fetching, fetchingAll } from '../platform/rows';
import { user } from '../platform/schema';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { reservation } from '../stores';
import { customerOrder, customerOrderLine as line } from './schema';

export type OrderRecord = typeof customerOrder.$inferSelect;
export type LineRecord = typeof line.$inferSelect;

/** What says what a line is worth. */
export type LineWorth = Pick<LineRecord, 'quantity' | 'cancelled' | 'free' | 'price' | 'discount' | 'correction'>;

/** A line by what of it is charged. */
export function worthOf(row: LineWorth): Worth {
  return { quantity: charged(row), price: row.price, discount: row.discount, correction: row.correction };
}

/** An order as kept. Refuses `notFound`. */
export const orderOf = fetching(customerOrder, 'customer order');

/** The lines of an order, in order. */
export const linesOf = fetchingAll(line, line.orderId, line.position);

const linesShown = query(
  ($: { orderId: number }) => (db) =>
    db
      .select({
        id: line.id,
        position: line.position,
        itemId: line.itemId,
        code: item.code,
        description: item.description,
        unit: item.unitCode,
        decimals: unit.decimals,
        kind: item.kind,
        active: item.active,
        quantity: line.quantity,
        price: line.price,
        discount: line.discount,
        requiredDate: line.requiredDate,
        promiseDate: line.promiseDate,
        priceSteps: line.priceSteps,
        discountReason: line.discountReason,
        shipped: line.shipped,
        invoiced: line.invoiced,
        cancelled: line.cancelled,
        byRule: line.byRule,
        free: line.free,
        freeInvoiced: line.freeInvoiced,
        note: line.note,
        shipTo: line.shipTo,
        carrier: line.carrier,
        direct: line.direct,
        ordered: line.ordered,
        freeOrdered: line.freeOrdered,
        correction: line.correction,
        originId: line.originId,
        theirCode: orEmpty(customerItem.code),
        reserved: or0(reservation.quantity),
      })
      .from(line)
      .innerJoin(item, eq(item.id, line.itemId))
      .innerJoin(unit, eq(unit.code, item.unitCode))
      .innerJoin(customerOrder, eq(customerOrder.id, line.orderId))
      .leftJoin(customerItem, and(eq(customerItem.customerId, customerOrder.customerId), eq(customerItem.itemId, line.itemId)))
      .leftJoin(reservation, and(eq(reservation.holderKind, 'customerOrder'), eq(reservation.holderId, line.id)))
      // What is nothing any more stays for the documents that had it.
      .where(and(eq(line.orderId, $.orderId), gt(line.quantity, sql`0`)))
      .orderBy(line.position),
);
export type LineRow = ReturnType<typeof linesShown.all>[number];

/** The lines of an order with their items and reservations, in order. */
export function lineRows(work: Work, orderId: number): LineRow[] {
  return linesShown.all(work, { orderId });
}

/** What could stand in for a line that is short, where any of it is free. */
function substitutes(work: Work, row: LineRow, open: Quantity): OrderLine['substitutes'] {
  if (row.kind !== 'stocked' || row.direct || row.reserved >= open) return [];
  return substitutesOf(work, row.itemId)
    .filter((each) => each.active && each.free !== '0')
    .map(({ id, code, description, free, ratio }) => ({ id, code, description, free, ratio }));
}

function coverWords({ reserved, direct, kind }: LineRow, open: Quantity): string {
  if (open === 0) return 'done';
  if (direct) return 'the supplier ships it';
  if (kind !== 'stocked') return 'needs no stock';
  if (reserved >= open) return 'all reserved';
  return reserved > 0 ? `${writeQuantity(reserved)} of ${writeQuantity(open)} reserved` : 'nothing reserved';
}

/** As {@link isLateLine} says it for lists; a draft promises nothing yet. */
function isLate({ kind, requiredDate, promiseDate }: LineRow, open: Quantity, confirmed: boolean, today: string): boolean {
  return confirmed && isGoods(kind) && open > 0 && (promiseDate === null || promiseDate > requiredDate || requiredDate < today);
}

function lineView(work: Work, row: LineRow, confirmed: boolean): OrderLine {
  const open = outstanding(row);
  return {
    id: row.id,
    position: row.position,
    itemId: row.itemId,
    code: row.code,
    description: row.description,
    unit: row.unit,
    decimals: row.decimals,
    goods: isGoods(row.kind),
    quantity: writeQuantity(row.quantity),
    price: writePrice(row.price),
    discount: writePercent(row.discount),
    requiredDate: row.requiredDate,
    promiseDate: row.promiseDate,
    late: isLate(row, open, confirmed, work.today),
    priceSteps: row.priceSteps,
    discountReason: row.discountReason,
    substitutes: substitutes(work, row, open),
    reserved: writeQuantity(row.reserved),
    shipped: writeQuantity(row.shipped),
    invoiced: writeQuantity(row.invoiced),
    cancelled: writeQuantity(row.cancelled),
    outstanding: writeQuantity(open),
    byRule: row.byRule,
    free: writeQuantity(leastQuantity(row.free, standing(row))),
    note: row.note,
    shipTo: row.shipTo,
    carrier: row.carrier,
    direct: row.direct,
    ordered: writeQuantity(row.ordered),
    theirCode: row.theirCode,
    amount: writeAmount(amountOfLine(worthOf(row))),
    covered: coverWords(row, open),
  };
}

/** Whether a quote or a blanket order is open and its last day has passed. */
export function isLapsed({ kind, open, validUntil }: OrderRecord, today: string): boolean {
  return kind !== 'order' && open && validUntil !== null && validUntil < today;
}

/** Whether charges of an order are worked out by rule as it is saved: as long as nothing is agreed, and it is no part of another. */
export function isRuled({ state, kind, familyId }: Pick<OrderRecord, 'state' | 'kind' | 'familyId'>): boolean {
  return (state === 'draft' || kind !== 'order') && familyId === null;
}

/** Refuses `notAnOrder` where it is a quote or a blanket order. */
export function assertOrder({ kind, number }: Pick<OrderRecord, 'kind' | 'number'>): void {
  if (kind !== 'order') throw new Refusal('notAnOrder', `${number} is a ${kind === 'quote' ? 'quote' : 'blanket order'}: make an order of it first.`);
}

const nameOf = query(
  ($: { id: number }) => (db) =>
    db
      .select({ name: user.name })
      .from(user)
      .where(and(eq(user.id, $.id), eq(user.active, true))),
);
const divided = query(
  ($: { familyId: number }) => (db) =>
    db
      .select({
        id: customerOrder.id,
        number: customerOrder.number,
        state: customerOrder.state,
        promiseDate: customerOrder.promiseDate,
        total: customerOrder.total,
        version: customerOrder.version,
      })
      .from(customerOrder)
      .where(eq(customerOrder.familyId, $.familyId))
      .orderBy(customerOrder.id),
);

/** The orders that one was divided into, itself included, the first first. */
export function familyOf(work: Work, familyId: number | null): OrderView['family'] {
  return familyId === null ? [] : divided.all(work, { familyId }).map((each) => ({ ...each, total: writeAmount(each.total) }));
}

/** Refuses `unknownChoice` where nobody works here by this number. */
export function assertColleague(work: Work, id: number): void {
  if (!nameOf.one(work, { id })) throw new Refusal('unknownChoice', 'Nobody works here by this name: choose somebody from the list.');
}

/** An order with its lines, totals and coverage. */
export function orderView(work: Work, id: number): OrderView {
  const order = orderOf(work, id);
  return viewOf(work, order, customerOf(work, order.customerId), lineRows(work, id));
}

/** {@link orderView} for those who have read it all, or know what they have just written. */
export function viewOf(work: Work, order: OrderRecord, customer: ReturnType<typeof customerOf>, rows: readonly LineRow[]): OrderView {
  const { id } = order;
  const totals = totalOf(rows.map(worthOf), order.taxRate, order.taxCorrection);
  const open = order.state === 'confirmed' || order.state === 'partShipped';
  const lines = rows.map((row) => lineView(work, row, open));
  const goods = rows.filter(({ kind }) => isGoods(kind));
  const held = goods.map((row) => ({
    outstanding: outstanding(row),
    reserved: row.kind === 'stocked' || row.direct ? row.reserved : outstanding(row),
  }));
  const family = familyOf(work, order.familyId);
  return {
    id,
    number: order.number,
    kind: order.kind,
    validUntil: order.validUntil,
    lapsed: isLapsed(order, work.today),
    probability: order.probability,
    lostReason: order.lostReason,
    state: order.state,
    customerId: order.customerId,
    customer: customer.name,
    reference: order.reference,
    orderDate: order.orderDate,
    requiredDate: order.requiredDate,
    promiseDate: order.promiseDate,
    planned: order.kind === 'order' ? otherRooms.get().plannedOrder(work, order.number) : null,
    warehouseId: order.warehouseId,
    warehouse: warehouseOf(work, order.warehouseId).code,
    carrier: order.carrier,
    service: order.service,
    held: order.held,
    shipTo: order.shipTo,
    paymentTerm: order.paymentTerm,
    terms: dueFor(work, order, work.today).words,
    salesPersonId: order.salesPersonId,
    salesPerson: order.salesPersonId === null ? '' : (nameOf.one(work, { id: order.salesPersonId })?.name ?? ''),
    complete: order.complete,
    family,
    charges: order.charges,
    ruled: isRuled(order),
    note: order.note,
    lines,
    late: lines.some((line) => line.late),
    net: writeAmount(totals.net),
    tax: writeAmount(totals.tax),
    total: writeAmount(totals.total),
    currency: order.currency,
    rate: writeRate(order.rate),
    booksTotal: writeAmount(order.booksTotal),
    paidAhead: writeAmount(paidAhead(work, order.familyId === null ? [id] : family.map((each) => each.id))),
    ready: open ? shipReadiness(held) : order.state === 'draft' || order.kind !== 'order' ? 'nothing' : 'done',
    custom: customOf(work, 'customerOrder', id),
    version: order.version,
  };
}

function writePercent(basisPoints: number): string {
  return writeAmount(basisPoints).replace(/\.?0+$/, '');
}
