/** What has left and is on no invoice, and invoicing it as each customer wants it. */
import { and, eq, notExists, sql } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import type { AnswerOf, ListQuery } from '@terrace/contract';
import { invoice, invoiceView } from '../accounts';
import { customer, customerOf } from '../catalogue';
import { inner } from '../platform/expressions';
import { asFlag, asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { trailLink } from '../platform/schema';
import type { Work } from '../platform/work';
import { agreedAlike, customerOrder, invoiceTogether, orderOf } from '../selling';
import { shipment } from './schema';
import { shipmentOf } from './shipments';

const onNoInvoice = notExists(
  inner
    .select({ one: sql`1` })
    .from(trailLink)
    .innerJoin(invoice, eq(invoice.id, trailLink.toId))
    .where(
      and(
        eq(trailLink.fromKind, 'shipment'),
        eq(trailLink.fromId, shipment.id),
        eq(trailLink.toKind, 'invoice'),
        sql`${invoice.state} <> 'reversed'`,
      ),
    ),
);

const waiting = list(() => ({
  columns: {
    id: asNumber(shipment.id),
    number: asText(shipment.number),
    date: asText(shipment.date),
    orderId: asNumber(shipment.orderId),
    order: asText(customerOrder.number),
    customerId: asNumber(customer.id),
    customer: asText(customer.name),
    invoicing: asText(customer.invoicing),
    whole: asFlag(sql`${customerOrder.state} in ('shipped', 'closed')`),
  },
  from: shipment,
  joins: [refersTo(customerOrder, eq(customerOrder.id, shipment.orderId)), refersTo(customer, eq(customer.id, customerOrder.customerId))],
  where: sql`${shipment.state} = 'shipped' and ${onNoInvoice}`,
  find: [shipment.number, customerOrder.number, customer.name],
  order: [customer.name, shipment.id],
  tie: [shipment.id],
}));

export function listToInvoice(work: Work, asked: ListQuery): AnswerOf<typeof api.accounts.toInvoice> {
  return listPage(work, waiting, asked);
}

/** Shipments that come on one invoice. */
interface Together {
  readonly orders: { readonly orderId: number; readonly shipmentIds: number[] }[];
}

/** Invoices shipments: for each customer as they want it. Refuses a shipment that has not left or is invoiced. */
export function invoiceShipments(work: Work, shipmentIds: readonly number[]): AnswerOf<typeof api.accounts.invoiceShipments> {
  const groups: Together[] = [];
  for (const id of [...new Set(shipmentIds)]) {
    const { orderId } = shipmentOf(work, id);
    const order = orderOf(work, orderId);
    const { invoicing } = customerOf(work, order.customerId);
    const mine = groups.find(({ orders: [first] }) => {
      if (!first || invoicing === 'shipment') return false;
      return first.orderId === orderId || (invoicing === 'together' && agreedAlike(orderOf(work, first.orderId), order));
    });
    const own = mine?.orders.find((each) => each.orderId === orderId);
    if (own) own.shipmentIds.push(id);
    else if (mine) mine.orders.push({ orderId, shipmentIds: [id] });
    else groups.push({ orders: [{ orderId, shipmentIds: [id] }] });
  }
  return groups.map(({ orders }) => {
    const made = invoiceView(work, invoiceTogether(work, orders));
    return {
      id: made.id,
      number: made.number,
      customer: made.customer,
      total: made.total,
      currency: made.currency,
      shipments: orders.reduce((sum, each) => sum + each.shipmentIds.length, 0),
    };
  });
}
