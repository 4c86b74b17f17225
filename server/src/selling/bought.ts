/** What is looked at while an order is entered, or bought for it: what its customer ordered before, and what suppliers are to ship. */
import { and, desc, eq, gt, inArray, ne, sql } from 'drizzle-orm';
import type { AnswerOf, api } from '@terrace/contract';
import { writePoints, writePrice, writeQuantity } from '@terrace/core';
import { customer, customerItem, customerOf, firstSupplierOf, item, supplier, unit } from '../catalogue';
import { inner, orEmpty } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { IN_WORK, IS_ORDER, stillToShip } from './events';
import { customerOrder, customerOrderLine as line } from './schema';

const MOST = 12;

const latestLines = query(
  ($: { customerId: number }) => (db) =>
    db
      .select({
        itemId: line.itemId,
        code: item.code,
        description: item.description,
        unit: item.unitCode,
        decimals: unit.decimals,
        theirCode: orEmpty(customerItem.code),
        quantity: line.quantity,
        price: line.price,
        discount: line.discount,
        orderDate: customerOrder.orderDate,
        orderId: customerOrder.id,
        number: customerOrder.number,
      })
      .from(line)
      .innerJoin(customerOrder, eq(customerOrder.id, line.orderId))
      .innerJoin(item, eq(item.id, line.itemId))
      .innerJoin(unit, eq(unit.code, item.unitCode))
      .leftJoin(customerItem, and(eq(customerItem.customerId, customerOrder.customerId), eq(customerItem.itemId, line.itemId)))
      .where(
        inArray(
          line.id,
          inner
            .select({ id: sql<number>`max(${line.id})` })
            .from(line)
            .innerJoin(customerOrder, eq(customerOrder.id, line.orderId))
            .innerJoin(item, eq(item.id, line.itemId))
            .where(
              and(
                eq(customerOrder.customerId, $.customerId),
                IS_ORDER,
                ne(customerOrder.state, 'cancelled'),
                gt(line.quantity, sql`0`),
                eq(item.active, true),
                ne(item.kind, 'charge'),
              ),
            )
            .groupBy(line.itemId),
        ),
      )
      .orderBy(desc(line.id))
      .limit(MOST),
);

/** What a customer ordered before, each item as it was ordered last. */
export function boughtBefore(work: Work, customerId: number): AnswerOf<typeof api.selling.boughtBefore> {
  customerOf(work, customerId);
  return latestLines.all(work, { customerId }).map((row) => ({
    ...row,
    quantity: writeQuantity(row.quantity),
    price: writePrice(row.price),
    discount: writePoints(row.discount),
  }));
}

const directLines = query(
  () => (db) =>
    db
      .select({
        lineId: line.id,
        orderId: customerOrder.id,
        order: customerOrder.number,
        position: line.position,
        customer: customer.name,
        itemId: line.itemId,
        code: item.code,
        description: item.description,
        unit: item.unitCode,
        quantity: stillToShip,
        wanted: line.requiredDate,
        promised: line.promiseDate,
        shipTo: sql<string>`case when ${line.shipTo} <> '' then ${line.shipTo} when ${customerOrder.shipTo} <> '' then ${customerOrder.shipTo} else ${customer.address} end`,
      })
      .from(line)
      .innerJoin(customerOrder, eq(customerOrder.id, line.orderId))
      .innerJoin(customer, eq(customer.id, customerOrder.customerId))
      .innerJoin(item, eq(item.id, line.itemId))
      .where(and(IN_WORK, eq(line.direct, true), gt(stillToShip, sql`0`)))
      .orderBy(line.requiredDate, line.id),
);
const supplierNamed = query(($: { id: number }) => (db) => db.select({ name: supplier.name }).from(supplier).where(eq(supplier.id, $.id)));

/** Lines of confirmed orders that a supplier is to ship: what has to be bought for them. */
export function shippedDirect(work: Work): AnswerOf<typeof api.selling.shippedDirect> {
  return directLines.all(work).map((row) => {
    const supplierId = firstSupplierOf(work, row.itemId)?.supplierId ?? null;
    const name = supplierId === null ? '' : (supplierNamed.one(work, { id: supplierId })?.name ?? '');
    return { ...row, quantity: writeQuantity(row.quantity), supplierId, supplier: name };
  });
}
