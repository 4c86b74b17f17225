/** Moving single lines of customers' orders to another day. */
import { Refusal } from '@terrace/core';
import { orNotFound, type Work } from '../platform/work';
import { lineRows, linesOf, orderOf } from './order-view';
import { reserveLines } from './orders';

/** Has a line wanted on another day; what is reserved for it stays, and the order's promise is worked out anew. */
export function redateOrderLine(work: Work, number: string, position: number, date: string): string {
  const found = orNotFound(work.row<{ id: number }>('select id from customer_order where number = ?', number), `order ${number}`);
  const order = orderOf(work, found.id);
  const line = orNotFound(
    linesOf(work, order.id).find((each) => each.position === position),
    `line ${position} of ${number}`,
  );
  if (order.state !== 'confirmed' && order.state !== 'partShipped')
    throw new Refusal('wrongState', `${number} is ${order.state}: its lines are not moved any more.`);
  if (date < work.today) throw new Refusal('badDate', `${date} has passed: a line can be wanted from today, ${work.today}, on.`);
  work.run('update customer_order_line set required_date = ? where id = ?', date, line.id);
  work.run('update customer_order set version = version + 1 where id = ?', order.id);
  reserveLines(work, order, lineRows(work, order.id));
  work.record('customerOrder', order.id, `moved line ${position} of ${number} to ${date}`, [
    { field: 'requiredDate', from: line.requiredDate, to: date },
  ]);
  return `${number} line ${position} is now wanted on ${date}`;
}
