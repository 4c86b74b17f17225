/** Invoicing what of an order has shipped. */
import type { InvoiceView } from '@terrace/contract';
import { Refusal, asQuantity } from '@terrace/core';
import { invoiceView, raiseInvoice } from '../accounts';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { linesOf, orderOf } from './order-view';
import { bookInvoiced } from './orders';

/** Invoices what of an order has shipped and is not invoiced. Refuses `nothingToInvoice`. */
export function invoiceOrder(work: Work, orderId: number, shipmentId: number | undefined): InvoiceView {
  const order = orderOf(work, orderId);
  const due = linesOf(work, orderId).filter((line) => line.shipped > line.invoiced);
  if (due.length === 0) throw new Refusal('nothingToInvoice', `Nothing of ${order.number} has shipped that is not invoiced already.`);
  const lines = due.map(({ id: orderLineId, itemId, shipped, invoiced, price, discount }) => ({
    orderLineId,
    itemId,
    quantity: asQuantity(shipped - invoiced),
    price,
    discount,
  }));
  for (const line of lines) bookInvoiced(work, line.orderLineId, line.quantity);
  const shipments = shipmentId === undefined ? otherRooms.get().shippedOf(work, orderId) : [shipmentId];
  return invoiceView(work, raiseInvoice(work, { customerId: order.customerId, order, lines, shipments }));
}
