/** An order as kept and as it is shown. */
import { eq, sql } from 'drizzle-orm';
import type { OrderLine, OrderView } from '@terrace/contract';
import {
  asQuantity,
  extend,
  outstanding,
  shipReadiness,
  totalOf,
  writeAmount,
  writePrice,
  writeQuantity,
  type Quantity,
  type UnitPrice,
} from '@terrace/core';
import { customOf, customerOf, substitutesOf, warehouseOf } from '../catalogue';
import { orNotFound, type Work } from '../platform/work';
import { plannedOrder } from './planned';
import * as tables from './schema';

export type OrderRecord = typeof tables.customerOrder.$inferSelect;
type LineRecord = typeof tables.customerOrderLine.$inferSelect;

/** An order as kept. Refuses `notFound`. */
export function orderOf(work: Work, id: number): OrderRecord {
  return orNotFound(
    work.store
      .query('customerOrder', (db) =>
        db
          .select()
          .from(tables.customerOrder)
          .where(eq(tables.customerOrder.id, sql.placeholder('id')))
          .prepare(),
      )
      .all({ id: id })[0],
    'customer order',
  );
}

/** The lines of an order, in order. */
export function linesOf(work: Work, orderId: number): LineRecord[] {
  return work.store
    .query('customerOrderLine', (db) =>
      db
        .select()
        .from(tables.customerOrderLine)
        .where(eq(tables.customerOrderLine.orderId, sql.placeholder('id')))
        .orderBy(tables.customerOrderLine.position)
        .prepare(),
    )
    .all({ id: orderId });
}

export interface LineRow {
  readonly id: number;
  readonly position: number;
  readonly itemId: number;
  readonly code: string;
  readonly description: string;
  readonly unit: string;
  readonly decimals: number;
  readonly kind: string;
  readonly active: number;
  readonly quantity: Quantity;
  readonly price: UnitPrice;
  readonly discount: number;
  readonly requiredDate: string;
  readonly promiseDate: string | null;
  readonly shipped: Quantity;
  readonly invoiced: Quantity;
  readonly cancelled: Quantity;
  readonly reserved: Quantity;
  readonly priceSteps: string;
  readonly discountReason: string;
}

const LINES = `select l.id, l.position, l.item_id as itemId, i.code, i.description, i.unit_code as unit, u.decimals, i.kind, i.active, l.quantity, l.price, l.discount, l.required_date as requiredDate,
    l.promise_date as promiseDate, l.price_steps as priceSteps, l.discount_reason as discountReason, l.shipped, l.invoiced, l.cancelled, coalesce(r.quantity, 0) as reserved
  from customer_order_line l join item i on i.id = l.item_id join unit u on u.code = i.unit_code
  left join reservation r on r.holder_kind = 'customerOrder' and r.holder_id = l.id where l.order_id = ? order by l.position`;

/** The lines of an order with their items and reservations, in order. */
export function lineRows(work: Work, orderId: number): LineRow[] {
  return work.rows<LineRow>(LINES, orderId);
}

/** What could stand in for a line that is short, where any of it is free. */
function substitutes(work: Work, row: LineRow, open: Quantity): OrderLine['substitutes'] {
  if (row.kind !== 'stocked' || row.reserved >= open) return [];
  return substitutesOf(work, row.itemId)
    .filter((each) => each.active && each.free !== '0')
    .map(({ id, code, description, free, ratio }) => ({ id, code, description, free, ratio }));
}

function coverWords(reserved: Quantity, open: Quantity, stocked: boolean): string {
  if (open === 0) return 'done';
  if (!stocked) return 'needs no stock';
  if (reserved >= open) return 'all reserved';
  return reserved > 0 ? `${writeQuantity(reserved)} of ${writeQuantity(open)} reserved` : 'nothing reserved';
}

function lineView(work: Work, row: LineRow): OrderLine {
  const open = outstanding(row);
  return {
    id: row.id,
    position: row.position,
    itemId: row.itemId,
    code: row.code,
    description: row.description,
    unit: row.unit,
    decimals: row.decimals,
    quantity: writeQuantity(row.quantity),
    price: writePrice(row.price),
    discount: writePercent(row.discount),
    requiredDate: row.requiredDate,
    promiseDate: row.promiseDate,
    priceSteps: JSON.parse(row.priceSteps) as string[],
    discountReason: row.discountReason,
    substitutes: substitutes(work, row, open),
    reserved: writeQuantity(row.reserved),
    shipped: writeQuantity(row.shipped),
    invoiced: writeQuantity(row.invoiced),
    cancelled: writeQuantity(row.cancelled),
    outstanding: writeQuantity(open),
    amount: writeAmount(extend(row.quantity, row.price, row.discount)),
    covered: coverWords(row.reserved, open, row.kind === 'stocked'),
  };
}

/** An order with its lines, totals and coverage. */
export function orderView(work: Work, id: number): OrderView {
  const order = orderOf(work, id);
  return viewOf(work, order, customerOf(work, order.customerId), lineRows(work, id));
}

/** {@link orderView} for those who have read it all, or know what they have just written. */
export function viewOf(work: Work, order: OrderRecord, customer: ReturnType<typeof customerOf>, rows: readonly LineRow[]): OrderView {
  const { id } = order;
  const totals = totalOf(
    rows.map((row) => ({ ...row, quantity: asQuantity(row.quantity - row.cancelled) })),
    customer.taxRate,
  );
  const open = order.state === 'confirmed' || order.state === 'partShipped';
  const held = rows.map((row) => ({ outstanding: outstanding(row), reserved: row.kind === 'stocked' ? row.reserved : outstanding(row) }));
  return {
    id,
    number: order.number,
    state: order.state,
    customerId: order.customerId,
    customer: customer.name,
    reference: order.reference,
    orderDate: order.orderDate,
    requiredDate: order.requiredDate,
    promiseDate: order.promiseDate,
    planned: plannedOrder(work, order.number),
    warehouseId: order.warehouseId,
    warehouse: warehouseOf(work, order.warehouseId).code,
    note: order.note,
    lines: rows.map((row) => lineView(work, row)),
    net: writeAmount(totals.net),
    tax: writeAmount(totals.tax),
    total: writeAmount(totals.total),
    ready: open ? shipReadiness(held) : order.state === 'draft' ? 'nothing' : 'done',
    custom: customOf(work, 'customerOrder', id),
    version: order.version,
  };
}

function writePercent(basisPoints: number): string {
  return writeAmount(basisPoints).replace(/\.?0+$/, '');
}
