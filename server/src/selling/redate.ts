/** Moving single lines of customers' orders to another day. */
import { Refusal } from '@terrace/core';
import { eq } from 'drizzle-orm';
import { query } from '../platform/query';
import { changeRow, orNotFound, setRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { lineRows, linesOf } from './order-view';
import { reserveLines } from './reserve-lines';
import { customerOrder, customerOrderLine } from './schema';

const byNumber = query(($: { number: string }) => (db) => db.select().from(customerOrder).where(eq(customerOrder.number, $.number)));

/** Has a line wanted on another day; what is reserved for it stays, and the order's promise is worked out anew. */
export function redateOrderLine(work: Work, number: string, position: number, date: string): string {
  const order = orNotFound(byNumber.one(work, { number }), `order ${number}`);
  const line = orNotFound(
    linesOf(work, order.id).find((each) => each.position === position),
    `line ${position} of ${number}`,
  );
  if (order.state !== 'confirmed' && order.state !== 'partShipped')
    throw new Refusal('wrongState', `${number} is ${order.state}: its lines are not moved any more.`);
  if (date < work.today) throw new Refusal('badDate', `${date} has passed: a line can be wanted from today, ${work.today}, on.`);
  setRow(work, customerOrderLine, line.id, { requiredDate: date });
  changeRow(work, customerOrder, order.id, {});
  reserveLines(work, order, lineRows(work, order.id));
  work.record('customerOrder', order.id, `moved line ${position} of ${number} to ${date}`, [
    { field: 'requiredDate', from: line.requiredDate, to: date },
  ]);
  return `${number} line ${position} is now wanted on ${date}`;
}
