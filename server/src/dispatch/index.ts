import { api } from '@terrace/contract';
import type { RouteBinder } from '../platform/http';
import { cancelShipment, changeShipment, createShipment, listShipments, shipmentView, startPicking } from './shipments';
import { reverseShipment, ship } from './shipping';
import { invoiceShipments, listToInvoice } from './to-invoice';

export { otherRooms as handToDispatch } from './handed-in';
export { dispatchDocuments } from './documents';
export { packingSlip, slipLines } from './packing-slip';
export {
  cancelShipment,
  changeShipment,
  createShipment,
  listShipments,
  onShipment,
  onTheWayOut,
  shipmentHolding,
  shipmentLines,
  shipmentView,
  shipmentsToPrint,
  shippedOf,
  startPicking,
  wasOnShipment,
} from './shipments';
export { reverseShipment, ship } from './shipping';
export { invoiceShipments } from './to-invoice';
export * from './schema';

export function bindDispatch(binder: RouteBinder): void {
  const { accounts, dispatch } = api;
  binder.list(accounts.toInvoice, (work, { query }) => listToInvoice(work, query));
  binder.command(accounts.invoiceShipments, (work, { body }) => invoiceShipments(work, body.shipmentIds));
  binder.list(dispatch.listShipments, (work, { query }) => listShipments(work, query));
  binder.read(dispatch.getShipment, (work, { params }) => shipmentView(work, params.id));
  binder.command(dispatch.createShipment, (work, { body }) => createShipment(work, body.orderId, body.lines));
  binder.command(dispatch.changeShipment, (work, { params, body }) => changeShipment(work, params.id, body));
  binder.command(dispatch.startPicking, (work, { params, body }) => startPicking(work, params.id, body.version));
  binder.command(dispatch.ship, (work, { params, body }) => ship(work, params.id, body.version, body.date));
  binder.command(dispatch.cancelShipment, (work, { params, body }) => cancelShipment(work, params.id, body.version));
  binder.command(dispatch.reverseShipment, (work, { params, body }) => reverseShipment(work, params.id, body.version));
}
