import { api } from '@terrace/contract';
import type { RouteBinder } from '../platform/http';
import type { DocumentSpec } from '../platform/documents';
import { dropIncoming, incomingView, listIncoming, mendIncoming, receiveOrders, takeIncoming } from './incoming';
import { incomingOrder } from './schema';

export { incomingView, listIncoming, receiveOrders } from './incoming';
export * from './schema';

/** The kind of document that orders from outside are. */
export const incomingDocuments: readonly DocumentSpec[] = [
  {
    kind: 'incomingOrder',
    table: incomingOrder,
    prefix: 'IN',
    facts: { number: incomingOrder.number, state: incomingOrder.state, date: incomingOrder.date, detail: incomingOrder.buyer },
    found: 14,
  },
];

export function bindIncoming(binder: RouteBinder): void {
  const { incoming } = api;
  binder.list(incoming.listIncoming, (work, { query }) => listIncoming(work, query));
  binder.read(incoming.getIncoming, (work, { params }) => incomingView(work, params.id));
  binder.command(incoming.receiveOrders, (work, { body }) => receiveOrders(work, body));
  binder.command(incoming.mendIncoming, (work, { params, body }) => mendIncoming(work, params.id, body));
  binder.command(incoming.takeIncoming, (work, { params, body }) => takeIncoming(work, params.id, body.version));
  binder.command(incoming.dropIncoming, (work, { params, body }) => dropIncoming(work, params.id, body));
}
