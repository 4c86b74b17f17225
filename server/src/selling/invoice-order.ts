/** Invoicing what of an order, or of one of its shipments, has shipped. */
import type { InvoiceView } from '@terrace/contract';
import { Refusal, asAmount, asQuantity, freeOfNext, standing, type Quantity } from '@terrace/core';
import { invoiceView, isInvoiced, raiseInvoice } from '../accounts';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { linesOf, orderOf } from './order-view';
import { bookInvoiced } from './orders';

/**
 * Invoices what of an order has shipped and is not invoiced, or only what went with one shipment. Refuses
 * `nothingToInvoice` and a shipment that is not of this order, has not left, or is invoiced already.
 */
export function invoiceOrder(work: Work, orderId: number, shipmentId: number | undefined): InvoiceView {
  const order = orderOf(work, orderId);
  const shipped = otherRooms
    .get()
    .shippedOf(work, orderId)
    .filter((each) => !isInvoiced(work, each));
  if (shipmentId !== undefined && !shipped.includes(shipmentId))
    throw new Refusal('nothingToInvoice', `This shipment is invoiced already, or nothing of ${order.number} has left with it.`);
  const lines = linesOf(work, orderId);
  const due = lines.flatMap((line) => {
    const { id: orderLineId, itemId, shipped: gone, invoiced, price, discount } = line;
    const quantity = asQuantity(shipmentId === undefined ? gone - invoiced : Math.min(gone - invoiced, shippedWith(work, shipmentId, orderLineId)));
    if (quantity <= 0) return [];
    // What a part of a divided line is worth beyond its figures comes with the last of it.
    const correction = invoiced + quantity === standing(line) ? line.correction : asAmount(0);
    return [{ orderLineId, itemId, quantity, free: freeOfNext(line, quantity), price, discount, correction }];
  });
  if (due.length === 0) throw new Refusal('nothingToInvoice', `Nothing of ${order.number} has shipped that is not invoiced already.`);
  for (const line of due) bookInvoiced(work, line.orderLineId, line.quantity, line.free);
  const all = linesOf(work, orderId).every((line) => line.invoiced === standing(line));
  const shipments = shipmentId === undefined ? shipped : [shipmentId];
  return invoiceView(work, raiseInvoice(work, { taxCorrection: all ? order.taxCorrection : asAmount(0), order, lines: due, shipments }));
}

function shippedWith(work: Work, shipmentId: number, orderLineId: number): Quantity {
  const lines = otherRooms.get().linesOfShipment(work, shipmentId);
  return lines.find((line) => line.orderLineId === orderLineId)?.quantity ?? asQuantity(0);
}
