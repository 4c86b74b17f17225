/** Customers' returns as they are shown: the list, and one with all that became of it. */
import { and, eq, gt, sql } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import type { AnswerOf, ListQuery, ReturnView } from '@terrace/contract';
import { writeAmount, writeQuantity, type Quantity } from '@terrace/core';
import { invoice } from '../accounts';
import { customer, customerOf, item, itemFacts, warehouse, warehouseOf } from '../catalogue';
import { shipment, shipmentLine } from '../dispatch';
import { countOf, inner, or0, scalar, total } from '../platform/expressions';
import { asNumber, asQuantityText, asText, list, listPage, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { fetching, fetchingAll } from '../platform/rows';
import { trailLink, user } from '../platform/schema';
import type { Work } from '../platform/work';
import { productionOrder } from '../production';
import { customerOrder, linesOf, orderOf } from '../selling';
import { customerReturn, customerReturnLine, returnDecision } from './schema';

const itsLines = eq(customerReturnLine.returnId, customerReturn.id);
const codes = inner
  .selectDistinct({ code: item.code })
  .from(customerReturnLine)
  .innerJoin(item, eq(item.id, customerReturnLine.itemId))
  .where(itsLines)
  .as('codes');

const returns = list(() => ({
  columns: {
    id: asNumber(customerReturn.id),
    number: asText(customerReturn.number),
    customerId: asNumber(customer.id),
    customer: asText(customer.name),
    orderId: asNumber(customerReturn.orderId),
    order: asText(customerOrder.number),
    warehouse: asText(warehouse.code),
    date: asText(customerReturn.date),
    reason: asText(customerReturn.reason),
    state: asText(customerReturn.state),
    items: asText(scalar(inner.select({ codes: sql`group_concat(${codes.code}, ', ')` }).from(codes))),
    awaited: asNumber(countOf(customerReturnLine, and(itsLines, gt(customerReturnLine.quantity, customerReturnLine.received)))),
    held: asQuantityText(
      or0(
        scalar(
          inner
            .select({ held: total(sql<Quantity>`${customerReturnLine.received} - ${customerReturnLine.decided}`) })
            .from(customerReturnLine)
            .where(itsLines),
        ),
      ),
    ),
  },
  from: customerReturn,
  joins: [
    refersTo(customerOrder, eq(customerOrder.id, customerReturn.orderId)),
    refersTo(customer, eq(customer.id, customerOrder.customerId)),
    refersTo(warehouse, eq(warehouse.id, customerReturn.warehouseId)),
  ],
  find: [customerReturn.number, customer.name, customerOrder.number, customerReturn.reason],
  order: [sql`${customerReturn.id} desc`],
  tie: [customerReturn.id],
}));

export function listReturns(work: Work, asked: ListQuery): AnswerOf<typeof api.returns.listReturns> {
  return listPage(work, returns, asked);
}

/** A return as kept. Refuses `notFound`. */
export const returnOf = fetching(customerReturn, 'return');

/** The lines of a return, in order. */
export const returnLines = fetchingAll(customerReturnLine, customerReturnLine.returnId, customerReturnLine.id);

const shipmentOfLine = query(
  ($: { id: number }) => (db) =>
    db
      .select({ number: shipment.number })
      .from(shipmentLine)
      .innerJoin(shipment, eq(shipment.id, shipmentLine.shipmentId))
      .where(eq(shipmentLine.id, $.id)),
);
const decisions = query(
  ($: { returnId: number }) => (db) =>
    db
      .select({
        id: returnDecision.id,
        lineId: returnDecision.lineId,
        code: item.code,
        decision: returnDecision.decision,
        quantity: returnDecision.quantity,
        date: returnDecision.date,
        who: user.name,
        why: returnDecision.why,
        productionId: returnDecision.productionId,
        production: productionOrder.number,
      })
      .from(returnDecision)
      .innerJoin(customerReturnLine, eq(customerReturnLine.id, returnDecision.lineId))
      .innerJoin(item, eq(item.id, customerReturnLine.itemId))
      .innerJoin(user, eq(user.id, returnDecision.userId))
      .leftJoin(productionOrder, eq(productionOrder.id, returnDecision.productionId))
      .where(eq(customerReturnLine.returnId, $.returnId))
      .orderBy(returnDecision.id),
);
const credits = query(
  ($: { returnId: number }) => (db) =>
    db
      .select({ id: invoice.id, number: invoice.number, total: invoice.total, currency: invoice.currency, state: invoice.state })
      .from(trailLink)
      .innerJoin(invoice, eq(invoice.id, trailLink.toId))
      .where(and(eq(trailLink.fromKind, 'customerReturn'), eq(trailLink.fromId, $.returnId), eq(trailLink.toKind, 'invoice')))
      .orderBy(invoice.id),
);

/** The order that brings the same once more; none where that is cancelled. */
export function replacementOf(work: Work, { replacementId }: Pick<typeof customerReturn.$inferSelect, 'replacementId'>) {
  const order = replacementId === null ? null : orderOf(work, replacementId);
  return order?.state === 'cancelled' ? null : order;
}

export function returnView(work: Work, id: number): ReturnView {
  const kept = returnOf(work, id);
  const order = orderOf(work, kept.orderId);
  const ordered = linesOf(work, order.id);
  const replaced = replacementOf(work, kept);
  return {
    id,
    number: kept.number,
    customerId: order.customerId,
    customer: customerOf(work, order.customerId).name,
    orderId: order.id,
    order: order.number,
    warehouseId: kept.warehouseId,
    warehouse: warehouseOf(work, kept.warehouseId).code,
    date: kept.date,
    reason: kept.reason,
    state: kept.state,
    version: kept.version,
    lines: returnLines(work, id).map((line) => {
      const { code, description, unit } = itemFacts(work, line.itemId);
      return {
        id: line.id,
        shipmentLineId: line.shipmentLineId,
        itemId: line.itemId,
        code,
        description,
        unit,
        lot: line.lot,
        serial: line.serial,
        shipment: shipmentOfLine.one(work, { id: line.shipmentLineId })?.number ?? '',
        quantity: writeQuantity(line.quantity),
        received: writeQuantity(line.received),
        decided: writeQuantity(line.decided),
        credited: writeQuantity(line.credited),
        invoiced: (ordered.find((each) => each.id === line.orderLineId)?.invoiced ?? 0) > 0,
      };
    }),
    decisions: decisions
      .all(work, { returnId: id })
      .map((each) => ({ ...each, quantity: writeQuantity(each.quantity), production: each.production ?? '' })),
    credits: credits.all(work, { returnId: id }).map((each) => ({ ...each, total: writeAmount(each.total) })),
    replacementId: replaced?.id ?? null,
    replacement: replaced?.number ?? '',
  };
}
