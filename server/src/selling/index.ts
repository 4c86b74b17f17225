import { api } from '@terrace/contract';
import type { Binder } from '../platform/http';
import { invoiceOrder, invoiceView, listInvoices, payInvoice, reverseInvoice, reversePayment } from './invoices';
import { cancelOrder, changeOrder, confirmOrder, createOrder, listOrders, orderView, reserveOrder } from './orders';

export { invoiceOrder, invoiceView, payInvoice, reverseInvoice, reversePayment } from './invoices';
export { cancelOrder, changeOrder, confirmOrder, createOrder, linesOf, orderOf, orderView, refreshOrder, reserveOrder } from './orders';
export { sellingEvents } from './events';

export function bindSelling(binder: Binder): void {
  const { selling } = api;
  binder.list(selling.listOrders, (work, { query }) => listOrders(work, query));
  binder.read(selling.getOrder, (work, { params }) => orderView(work, params.id));
  binder.command(selling.createOrder, (work, { body: { confirm, ...input } }) => {
    const order = createOrder(work, input);
    if (!confirm) return order;
    work.assertMay('selling.confirm');
    return confirmOrder(work, order.id, order.version, false);
  });
  binder.command(selling.changeOrder, (work, { params, body }) => changeOrder(work, params.id, body));
  binder.command(selling.confirmOrder, (work, { params, body }) => confirmOrder(work, params.id, body.version, body.allOrNothing));
  binder.command(selling.reserveOrder, (work, { params }) => reserveOrder(work, params.id));
  binder.command(selling.cancelOrder, (work, { params, body }) => cancelOrder(work, params.id, body.version, body.reason));
  binder.command(selling.invoiceOrder, (work, { params, body }) => invoiceOrder(work, params.id, body.shipmentId));
  binder.list(selling.listInvoices, (work, { query }) => listInvoices(work, query));
  binder.read(selling.getInvoice, (work, { params }) => invoiceView(work, params.id));
  binder.command(selling.reverseInvoice, (work, { params, body }) => reverseInvoice(work, params.id, body.version));
  binder.command(selling.payInvoice, (work, { params, body }) => payInvoice(work, params.id, body));
  binder.command(selling.reversePayment, (work, { params }) => reversePayment(work, params.id));
}
