/** Moving production to another day, as planning asks for. */
import { eq } from 'drizzle-orm';
import { Refusal, addDays, dateOf, dayOf } from '@terrace/core';
import { calendarOf } from '../catalogue';
import { query } from '../platform/query';
import { changeRow, orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';
import { cancelProduction, componentsOf, type ProductionRecord } from './orders';
import { productionOrder } from './schema';

const byNumber = query(($: { number: string }) => (db) => db.select().from(productionOrder).where(eq(productionOrder.number, $.number)));

function openOrder(work: Work, number: string): ProductionRecord {
  const order = orNotFound(byNumber.one(work, { number }), `production order ${number}`);
  if (order.state !== 'draft' && order.state !== 'released' && order.state !== 'running')
    throw new Refusal('wrongState', `${number} is ${order.state}: nothing of it is to come any more.`);
  return order;
}

/** Moves production to another due day; what has not begun starts as much earlier or later, today at the earliest. */
export function redateProduction(work: Work, number: string, date: string): string {
  const order = openOrder(work, number);
  const due = date < work.today ? work.today : date;
  const calendar = calendarOf(work, order.warehouseId);
  const moved = addDays(order.startDate, dayOf(due) - dayOf(order.dueDate));
  const wanted = dateOf(calendar.onOrBefore(dayOf(moved)));
  const start = order.state === 'running' || wanted < work.today ? (order.startDate < work.today ? order.startDate : work.today) : wanted;
  changeRow(work, productionOrder, order.id, { startDate: start > due ? due : start, dueDate: due });
  work.record('productionOrder', order.id, `moved ${number} to ${due}`, [
    { field: 'dueDate', from: order.dueDate, to: due },
    { field: 'startDate', from: order.startDate, to: start > due ? due : start },
  ]);
  for (const component of componentsOf(work, order.id)) work.touch('stock', component.itemId, number);
  work.touch('stock', order.itemId, number);
  return `${number} is now due on ${due}`;
}

/** Cancels what is not finished of an order, whichever version it has. */
export function cancelProductionByNumber(work: Work, number: string, reason: string): string {
  const order = openOrder(work, number);
  cancelProduction(work, order.id, order.version, reason);
  return `${number} is cancelled`;
}
