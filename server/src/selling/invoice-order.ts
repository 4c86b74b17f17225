/** Invoicing what of orders has shipped: of one, of one of its shipments, or of several that were agreed alike. */
import type { InvoiceView } from '@terrace/contract';
import { Refusal, amountOfLine, amountOfNext, asAmount, asQuantity, freeOfNext, shareOf, standing, type Amount } from '@terrace/core';
import { invoiceView, isInvoiced, lineInvoiced, orderInvoiced, raiseInvoice, type ToInvoice } from '../accounts';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { linesOf, orderOf } from './order-view';
import { bookInvoiced } from './orders';

type Order = ReturnType<typeof orderOf>;
interface Due {
  readonly order: Order;
  readonly lines: ToInvoice['lines'];
  readonly shipments: readonly number[];
  readonly net: Amount;
  /** Where it is the last of the order, what is left of the order's tax. */
  readonly tax: Amount;
}

/**
 * Invoices what of an order has shipped and is not invoiced, or only what went with one shipment. Refuses
 * `nothingToInvoice` and a shipment that is not of this order, has not left, or is invoiced already.
 */
export function invoiceOrder(work: Work, orderId: number, shipmentId: number | undefined): InvoiceView {
  const due = dueOf(work, orderId, shipmentId === undefined ? undefined : [shipmentId]);
  return invoiceView(work, raise(work, [due]));
}

/** Whether what is shipped of two orders may be on one invoice: the same customer, currency, tax and terms. */
export function agreedAlike(a: Order, b: Order): boolean {
  return (
    a.customerId === b.customerId &&
    a.currency === b.currency &&
    a.taxRate === b.taxRate &&
    a.paymentTerm === b.paymentTerm &&
    a.paymentDays === b.paymentDays
  );
}

/** Raises one invoice for shipments of several orders that were agreed alike; gives its number. Refuses like {@link invoiceOrder}. */
export function invoiceTogether(work: Work, asked: readonly { readonly orderId: number; readonly shipmentIds: readonly number[] }[]): number {
  return raise(
    work,
    asked.map(({ orderId, shipmentIds }) => dueOf(work, orderId, shipmentIds)),
  );
}

function raise(work: Work, dues: readonly Due[]): number {
  const [first] = dues;
  if (!first) throw new RangeError('nothing to invoice');
  const sum = (figure: 'net' | 'tax'): Amount => asAmount(dues.reduce((all, due) => all + due[figure], 0));
  return raiseInvoice(work, {
    order: first.order,
    taxCorrection: asAmount(sum('tax') - shareOf(sum('net'), first.order.taxRate)),
    lines: dues.flatMap((due) => due.lines),
    shipments: dues.flatMap((due) => due.shipments),
  });
}

/** What of an order is to be invoiced, and books it so. */
function dueOf(work: Work, orderId: number, asked: readonly number[] | undefined): Due {
  const order = orderOf(work, orderId);
  const shipped = otherRooms
    .get()
    .shippedOf(work, orderId)
    .filter((each) => !isInvoiced(work, each));
  if (asked?.some((each) => !shipped.includes(each)) === true)
    throw new Refusal('nothingToInvoice', `This shipment is invoiced already, or nothing of ${order.number} has left with it.`);
  const due = linesOf(work, orderId).flatMap((line) => {
    const { id: orderLineId, itemId, shipped: gone, invoiced, price, discount } = line;
    const quantity = asQuantity(asked === undefined ? gone - invoiced : Math.min(gone - invoiced, shippedWith(work, asked, orderLineId)));
    if (quantity <= 0) return [];
    const free = freeOfNext(line, quantity);
    const next = { quantity: asQuantity(quantity - free), price, discount };
    const amount = amountOfNext(
      { ...next, correction: line.correction },
      lineInvoiced(work, orderLineId, price, discount),
      invoiced + quantity === standing(line),
    );
    return [{ orderLineId, itemId, quantity, free, price, discount, correction: asAmount(amount - amountOfLine(next)) }];
  });
  if (due.length === 0) throw new Refusal('nothingToInvoice', `Nothing of ${order.number} has shipped that is not invoiced already.`);
  const before = orderInvoiced(work, orderId);
  for (const line of due) bookInvoiced(work, line.orderLineId, line.quantity, line.free);
  const net = asAmount(due.reduce((sum, line) => sum + amountOfLine({ ...line, quantity: asQuantity(line.quantity - line.free) }), 0));
  const last = linesOf(work, orderId).every((line) => line.invoiced === standing(line)) && before.net + net === order.net;
  const share = shareOf(net, order.taxRate);
  return { order, lines: due, shipments: asked ?? shipped, net, tax: last ? asAmount(order.total - order.net - before.tax) : share };
}

function shippedWith(work: Work, shipmentIds: readonly number[], orderLineId: number): number {
  const lines = shipmentIds.flatMap((each) => otherRooms.get().linesOfShipment(work, each));
  return lines.filter((line) => line.orderLineId === orderLineId).reduce((sum, line) => sum + line.quantity, 0);
}
