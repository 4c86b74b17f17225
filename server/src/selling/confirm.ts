/** Confirming orders, and reserving for them again. */
import type { OrderView } from '@terrace/contract';
import { Refusal, assertFree } from '@terrace/core';
import { customerOf, usableItem } from '../catalogue';
import { changeRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { reservationsIn, stockOf } from '../stores';
import { lineRows, orderOf, orderView, viewOf, type LineRow } from './order-view';
import { assertCredit } from './credit';
import { divideByRule } from './divide';
import { assertNotHeld } from './hold';
import { reserveLines } from './reserve-lines';
import { customerOrder } from './schema';

/**
 * Confirms an order: reserves what is free and promises dates for the rest. With `allOrNothing` it refuses
 * `heldByOthers` where a line is not wholly free, naming who holds the rest. What is paid at once asks for no credit.
 */
export function confirmOrder(work: Work, id: number, version: number, allOrNothing: boolean, beyondCredit = false, paid = false): OrderView {
  const order = orderOf(work, id);
  assertVersion(work, 'customerOrder', order, version, order.number);
  if (order.state !== 'draft') throw new Refusal('wrongState', `${order.number} is ${order.state}: only a draft can be confirmed.`);
  assertNotHeld(order);
  const customer = customerOf(work, order.customerId);
  if (customer.onHold) throw new Refusal('customerOnHold', `${customer.name} is on hold: nothing is confirmed for them until accounts lift it.`);
  if (!paid) assertCredit(work, customer, order, beyondCredit);
  const lines = lineRows(work, id);
  for (const line of lines) {
    if (!line.active) usableItem(work, line.itemId);
  }
  if (allOrNothing) for (const line of lines) if (line.kind === 'stocked') assertAllFree(work, order.warehouseId, line);
  changeRow(work, customerOrder, id, { state: 'confirmed' });
  const after = reserveLines(work, order, lines, allOrNothing);
  work.record('customerOrder', id, `confirmed ${order.number}`);
  if (divideByRule(work, id)) return orderView(work, id);
  return viewOf(work, { ...order, state: 'confirmed', version: order.version + 1, promiseDate: after.promiseDate }, customer, after.lines);
}

function assertAllFree(work: Work, warehouse: number, line: LineRow): void {
  const holders = reservationsIn(work, line.itemId, warehouse).reverse();
  assertFree(line.code, line.quantity, stockOf(work, line.itemId, warehouse).available, holders);
}

/** Reserves what has become free since confirmation. */
export function reserveOrder(work: Work, id: number): OrderView {
  const order = orderOf(work, id);
  if (order.state !== 'confirmed' && order.state !== 'partShipped')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: there is nothing to reserve.`);
  reserveLines(work, order, lineRows(work, id), true);
  changeRow(work, customerOrder, id, {});
  work.record('customerOrder', id, `reserved stock for ${order.number}`);
  return orderView(work, id);
}
