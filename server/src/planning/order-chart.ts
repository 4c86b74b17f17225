/** All that must happen for a customer's order, as the plan has it. */
import { and, eq, gt, sql } from 'drizzle-orm';
import type { AnswerOf, PegView, api } from '@terrace/contract';
import { writeQuantity } from '@terrace/core';
import { customer, item } from '../catalogue';
import { query } from '../platform/query';
import { orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';
import { FROM_STOCK, IN_WORK, customerOrder, customerOrderLine, stillToShip } from '../selling';
import { plannedFor } from './endangered';
import type { LivePlanner } from './live-planner';

const headOf = query(
  ($: { id: number }) => (db) =>
    db
      .select({ number: customerOrder.number, customer: customer.name })
      .from(customerOrder)
      .innerJoin(customer, eq(customer.id, customerOrder.customerId))
      .where(eq(customerOrder.id, $.id)),
);
const openLines = query(
  ($: { orderId: number }) => (db) =>
    db
      .select({
        position: customerOrderLine.position,
        code: item.code,
        description: item.description,
        unit: item.unitCode,
        quantity: stillToShip,
        wanted: customerOrderLine.requiredDate,
      })
      .from(customerOrderLine)
      .innerJoin(customerOrder, eq(customerOrder.id, customerOrderLine.orderId))
      .innerJoin(item, eq(item.id, customerOrderLine.itemId))
      .where(and(eq(customerOrderLine.orderId, $.orderId), IN_WORK, FROM_STOCK, gt(stillToShip, sql`0`), eq(item.kind, 'stocked')))
      .orderBy(customerOrderLine.position),
);

/** All that must happen for a customer's order, by its lines; for one that is not confirmed, nothing must. */
export async function orderChart(work: Work, planner: LivePlanner, id: number): Promise<AnswerOf<typeof api.planning.getOrderChart>> {
  const order = orNotFound(headOf.one(work, { id }), 'order');
  const lines = openLines.all(work, { orderId: id });
  const demands = lines.map((line) => `${order.number}/${line.position}`);
  const { pegs } = await planner.ask({ about: 'below', demands });
  return {
    orderId: id,
    ...order,
    today: work.today,
    lines: lines.map(({ position, quantity, ...line }, index) => {
      const demand = `${order.number}/${position}`;
      const served: readonly PegView[] = pegs?.[index] ?? [];
      return { id: demand, ...line, quantity: writeQuantity(quantity), ready: plannedFor(work, demand)?.ready ?? null, served: [...served] };
    }),
  };
}
