/** Holding orders, and what is changed of a whole order at once: the day, the warehouse, the way it goes. */
import type { OrderView } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import { usableWarehouse, warehouseOf } from '../catalogue';
import { changeRow, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { dropReservation } from '../stores';
import { assertNotOnShipment } from './on-shipment';
import { lineRows, linesOf, orderOf, orderView, type OrderRecord } from './order-view';
import { reserveLines } from './reserve-lines';
import { customerOrder, customerOrderLine } from './schema';

/** Refuses `onHold` where nothing goes on with an order. */
export function assertNotHeld({ number, held }: Pick<OrderRecord, 'number' | 'held'>): void {
  if (held !== '') throw new Refusal('onHold', `${number} is held: ${held}. Let it go first.`, { held });
}

function openOrder(work: Work, id: number, version: number): OrderRecord {
  const order = orderOf(work, id);
  assertVersion(work, 'customerOrder', order, version, order.number);
  if (order.state !== 'draft' && order.state !== 'confirmed' && order.state !== 'partShipped')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: nothing of it is still to come.`);
  return order;
}

/** Holds an order: it is neither confirmed nor shipped; what is reserved for it stays. Refuses `onHold`, `wrongState`, `staleVersion`. */
export function holdOrder(work: Work, id: number, version: number, reason: string): OrderView {
  const order = openOrder(work, id, version);
  assertNotHeld(order);
  changeRow(work, customerOrder, id, { held: reason });
  work.record('customerOrder', id, `held ${order.number}: ${reason}`);
  return orderView(work, id);
}

/** Lets a held order go on. Refuses `notHeld`, `wrongState`, `staleVersion`. */
export function letGoOrder(work: Work, id: number, version: number): OrderView {
  const order = openOrder(work, id, version);
  if (order.held === '') throw new Refusal('notHeld', `${order.number} is not held.`);
  changeRow(work, customerOrder, id, { held: '' });
  work.record('customerOrder', id, `let ${order.number} go on`, [{ field: 'held', from: order.held, to: '' }]);
  return orderView(work, id);
}

/** What follows from a change of a whole order, where it is confirmed already. */
function follow(work: Work, id: number): OrderView {
  const order = orderOf(work, id);
  if (order.state !== 'draft') reserveLines(work, order, lineRows(work, id));
  return orderView(work, id);
}

/** Has a whole order wanted on another day: those of its lines too that were wanted on the same. Refuses `badDate`, `wrongState`, `staleVersion`. */
export function redateOrder(work: Work, id: number, version: number, date: string): OrderView {
  const order = openOrder(work, id, version);
  if (date < work.today) throw new Refusal('badDate', `${date} has passed: nothing can be delivered before today, ${work.today}.`, { field: 'date' });
  if (date === order.requiredDate) throw new Refusal('nothingChanges', `${order.number} is wanted on that day already.`);
  for (const line of linesOf(work, id))
    if (line.requiredDate === order.requiredDate) setRow(work, customerOrderLine, line.id, { requiredDate: date });
  changeRow(work, customerOrder, id, { requiredDate: date });
  work.record('customerOrder', id, `moved ${order.number} to ${date}`, [{ field: 'requiredDate', from: order.requiredDate, to: date }]);
  return follow(work, id);
}

/**
 * Has an order go from another warehouse: what is reserved for it becomes free, and is reserved there. Refuses `wrongState`
 * once something has shipped, `onShipment`, `staleVersion`.
 */
export function moveOrder(work: Work, id: number, version: number, warehouseId: number): OrderView {
  const order = openOrder(work, id, version);
  usableWarehouse(work, warehouseId);
  if (warehouseId === order.warehouseId) throw new Refusal('nothingChanges', `${order.number} goes from there already.`);
  if (order.state === 'partShipped')
    throw new Refusal('wrongState', `Something of ${order.number} has shipped already: the rest goes from the same warehouse.`);
  for (const line of linesOf(work, id)) {
    assertNotOnShipment(work, line.id, line.position);
    dropReservation(work, 'customerOrder', line.id);
    work.touch('stock', line.itemId, order.number);
  }
  changeRow(work, customerOrder, id, { warehouseId });
  const [from, to] = [order.warehouseId, warehouseId].map((each) => warehouseOf(work, each).code);
  work.record('customerOrder', id, `${order.number} goes from ${to ?? ''}`, [{ field: 'warehouse', from: from ?? '', to: to ?? '' }]);
  return follow(work, id);
}

/** Says by whom an order goes, and how; shipments that are made from now on have it. Refuses `nothingChanges`, `wrongState`, `staleVersion`. */
export function carryOrder(work: Work, id: number, version: number, carrier: string, service: string): OrderView {
  const order = openOrder(work, id, version);
  if (carrier === order.carrier && service === order.service) throw new Refusal('nothingChanges', `${order.number} goes that way already.`);
  changeRow(work, customerOrder, id, { carrier, service });
  const words = (by: string, how: string): string => [by, how].filter(Boolean).join(', ');
  work.record('customerOrder', id, `${order.number} goes by ${words(carrier, service)}`, [
    { field: 'carrier', from: words(order.carrier, order.service), to: words(carrier, service) },
  ]);
  return orderView(work, id);
}
