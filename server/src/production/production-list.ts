/** Production orders as a list. */
import { and, eq, sql } from 'drizzle-orm';
import type { AnswerOf, ListQuery, api } from '@terrace/contract';
import { item, warehouse } from '../catalogue';
import { atLeast0, countOf, inner, scalar } from '../platform/expressions';
import { asFlag, asNumber, asQuantityText, asText, list, listPage, refersTo } from '../platform/list';
import type { Work } from '../platform/work';
import { balance, reservation, reservedOf, sumOfBalances } from '../stores';
import { IS_OPEN } from './progress';
import { productionComponent, productionOrder } from './schema';

const reservedForIt = scalar(
  inner
    .select({ quantity: reservation.quantity })
    .from(reservation)
    .where(and(eq(reservation.holderKind, 'productionOrder'), eq(reservation.holderId, productionComponent.id))),
);
const availableHere = sumOfBalances(
  eq(balance.itemId, productionComponent.itemId),
  eq(balance.warehouseId, productionOrder.warehouseId),
  eq(balance.state, 'available'),
);
const freeHere = atLeast0(sql`${availableHere} - ${reservedOf(productionComponent.itemId, productionOrder.warehouseId)}`);
/** Components that neither its reservation nor what is free covers. */
const shortComponents = countOf(
  productionComponent,
  and(
    eq(productionComponent.orderId, productionOrder.id),
    sql`${productionComponent.needed} > ${productionComponent.issued} + coalesce(${reservedForIt}, 0) + ${freeHere}`,
  ),
);

const productionOrders = list(($: { today: string }) => ({
  columns: {
    id: asNumber(productionOrder.id),
    number: asText(productionOrder.number),
    code: asText(item.code),
    description: asText(item.description),
    state: asText(productionOrder.state),
    warehouse: asText(warehouse.code),
    quantity: asQuantityText(productionOrder.quantity),
    finished: asQuantityText(productionOrder.finished),
    unit: asText(item.unitCode),
    startDate: asText(productionOrder.startDate),
    dueDate: asText(productionOrder.dueDate),
    late: asFlag(sql`${IS_OPEN} and ${productionOrder.dueDate} < ${$.today}`),
    due: asFlag(sql`(${productionOrder.state} = 'draft' and ${productionOrder.startDate} <= date(${$.today}, '+2 days'))
      or (${IS_OPEN} and ${productionOrder.state} <> 'draft' and ${productionOrder.dueDate} <= date(${$.today}, '+2 days'))`),
    short: asNumber(sql`case when ${IS_OPEN} then ${shortComponents} else 0 end`),
  },
  from: productionOrder,
  joins: [refersTo(item, eq(item.id, productionOrder.itemId)), refersTo(warehouse, eq(warehouse.id, productionOrder.warehouseId))],
  find: [productionOrder.number, item.code, item.description],
  order: [sql`${productionOrder.id} desc`],
  tie: [productionOrder.id],
}));

export function listProduction(work: Work, asked: ListQuery): AnswerOf<typeof api.production.listProduction> {
  return listPage(work, productionOrders, asked, { today: work.today });
}
