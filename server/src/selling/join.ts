/** Joining parts of a divided order again: lines that were one are one, worth what they were together. */
import type { AnswerOf, BodyOf, api } from '@terrace/contract';
import { Refusal, amountOfLine, asAmount, asQuantity, charged, standing, totalOf } from '@terrace/core';
import { addRow, changeRow, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { dropReservation, reserveFree, reservedFor } from '../stores';
import { dividable } from './divide';
import { assertNotOnShipment } from './on-shipment';
import { lineRows, linesOf, orderOf, worthOf, type LineRecord, type OrderRecord } from './order-view';
import { refreshOrder, sumsOf } from './orders';
import { reserveLines } from './reserve-lines';
import { customerOrder, customerOrderLine } from './schema';

/** Whether lines of two parts are the same line again. */
function sameLine(a: LineRecord, b: LineRecord): boolean {
  const alike = ['itemId', 'price', 'discount', 'requiredDate', 'direct', 'shipTo', 'carrier'] as const;
  return (a.originId ?? a.id) === (b.originId ?? b.id) && a.cancelled === 0 && alike.every((each) => a[each] === b[each]);
}

/** Refuses `notOneFamily`, `wrongState`, `alreadyShipped`, `onShipment` where a part can’t go back into another. */
function assertJoins(work: Work, order: OrderRecord, other: OrderRecord): void {
  if (other.id === order.id || order.familyId === null || other.familyId !== order.familyId)
    throw new Refusal('notOneFamily', `${other.number} was not divided from the same order as ${order.number}.`);
  if ((order.state === 'draft') !== (other.state === 'draft') || !['draft', 'confirmed'].includes(other.state))
    throw new Refusal('wrongState', `${other.number} is ${other.state}: it can’t go back into ${order.number}, which is ${order.state}.`);
  for (const line of linesOf(work, other.id)) {
    if (line.shipped > 0) throw new Refusal('alreadyShipped', `Of ${other.number} something has shipped: it stays by itself.`);
    assertNotOnShipment(work, line.id, line.position);
  }
}

/**
 * Takes parts of a divided order back into one of them, while nothing of those has shipped: lines that were one are one again, and
 * what they were worth together they are worth. Refuses `notOneFamily`, `wrongState`, `alreadyShipped`, `onShipment`, `staleVersion`.
 */
export function joinOrders(
  work: Work,
  id: number,
  { version, others }: BodyOf<typeof api.selling.joinOrders>,
): AnswerOf<typeof api.selling.joinOrders> {
  const order = dividable(work, id);
  assertVersion(work, 'customerOrder', order, version, order.number);
  const taxOf = ({ net, total }: OrderRecord): number => total - net;
  let tax = taxOf(order);
  let { booksNet, booksTotal } = order;
  const numbers: string[] = [];
  for (const { id: otherId, version: seen } of others) {
    const other = orderOf(work, otherId);
    assertVersion(work, 'customerOrder', other, seen, other.number);
    assertJoins(work, order, other);
    tax += taxOf(other);
    booksNet = asAmount(booksNet + other.booksNet);
    booksTotal = asAmount(booksTotal + other.booksTotal);
    for (const line of linesOf(work, otherId)) takeBack(work, order, other, line);
    changeRow(work, customerOrder, otherId, {
      ...sumsOf([], other),
      state: 'cancelled',
      open: false,
      held: '',
    });
    numbers.push(other.number);
    work.record('customerOrder', otherId, `joined ${other.number} into ${order.number}`);
  }
  const lines = linesOf(work, id);
  const { tax: plain } = totalOf(lines.map(worthOf), order.taxRate);
  changeRow(work, customerOrder, id, { ...sumsOf(lines, order, asAmount(tax - plain)), booksNet, booksTotal });
  if (order.state !== 'draft') {
    reserveLines(work, orderOf(work, id), lineRows(work, id));
    refreshOrder(work, id);
  }
  work.record('customerOrder', id, `joined ${numbers.join(', ')} into ${order.number}`);
  return { orders: [{ id, number: order.number }] };
}

/** Gives a line of another part to an order: to the line that it was of, or as one more. */
function takeBack(work: Work, order: OrderRecord, other: OrderRecord, line: LineRecord): void {
  const lines = linesOf(work, order.id);
  const same = other.warehouseId === order.warehouseId && other.shipTo === order.shipTo && other.carrier === order.carrier;
  const into = same ? lines.find((each) => sameLine(each, line)) : undefined;
  const reserved = reservedFor(work, 'customerOrder', line.id);
  dropReservation(work, 'customerOrder', line.id);
  work.touch('stock', line.itemId, order.number);
  const left = standing(line);
  setRow(work, customerOrderLine, line.id, { cancelled: line.quantity, correction: asAmount(0) });
  if (left === 0) return;
  const lineId = into ? into.id : addLine(work, order, other, line, lines.length);
  if (into) {
    const together = { ...into, quantity: asQuantity(into.quantity + left), free: asQuantity(into.free + line.free) };
    const worth = amountOfLine(worthOf(into)) + amountOfLine(worthOf(line));
    const correction = asAmount(worth - amountOfLine({ ...together, quantity: charged(together), correction: asAmount(0) }));
    setRow(work, customerOrderLine, into.id, { quantity: together.quantity, free: together.free, correction });
  }
  if (reserved > 0 && other.warehouseId === order.warehouseId) {
    const holder = { kind: 'customerOrder', id: lineId, documentId: order.id, documentNumber: order.number, date: line.requiredDate } as const;
    reserveFree(work, line.itemId, order.warehouseId, holder, asQuantity(reservedFor(work, 'customerOrder', lineId) + reserved));
  }
}

function addLine(work: Work, order: OrderRecord, other: OrderRecord, line: LineRecord, position: number): number {
  const { id: originId, ...kept } = line;
  return addRow(work, customerOrderLine, {
    ...kept,
    orderId: order.id,
    position: position + 1,
    originId: line.originId ?? originId,
    quantity: standing(line),
    cancelled: asQuantity(0),
    // Where it went and by whom it goes on being so.
    shipTo: line.shipTo === '' && other.shipTo !== order.shipTo ? other.shipTo : line.shipTo,
    carrier: line.carrier === '' && other.carrier !== order.carrier ? other.carrier : line.carrier,
  });
}
