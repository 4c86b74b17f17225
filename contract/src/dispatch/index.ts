/** Shipments. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, decimalText, idParams, listQuery, page, shortText, version, versioned } from '../base/schemas';
import { pieceInput, pieceView } from '../stores/pieces';

export const shipmentStates = ['draft', 'picking', 'shipped', 'reversed', 'cancelled'] as const;

export const shipmentRow = z.object({
  id: z.number(),
  number: z.string(),
  order: z.string(),
  orderId: z.number(),
  customer: z.string(),
  warehouse: z.string(),
  state: z.enum(shipmentStates),
  date: z.string(),
  carrier: z.string(),
  lines: z.number(),
});
export const shipmentView = shipmentRow.omit({ lines: true }).extend({
  customerId: z.number(),
  warehouseId: z.number(),
  address: z.string(),
  invoiced: z.boolean(),
  version,
  lines: z.array(
    z.object({
      id: z.number(),
      orderLineId: z.number(),
      itemId: z.number(),
      code: z.string(),
      description: z.string(),
      unit: z.string(),
      decimals: z.number(),
      quantity: z.string(),
      ordered: z.string(),
      outstanding: z.string(),
      bin: z.string(),
      tracking: z.enum(['none', 'lot', 'serial']),
      /** What was named when picking, or what left. */
      picked: z.array(pieceView),
      /** What may be picked, in the order in which it should be. */
      proposed: z.array(pieceView),
    }),
  ),
});
export type ShipmentView = z.output<typeof shipmentView>;

export const dispatchRoutes = {
  listShipments: route({
    method: 'get',
    path: '/dispatch/shipments',
    summary: 'Shipments',
    right: 'dispatch.see',
    query: listQuery,
    answer: page(shipmentRow),
  }),
  getShipment: route({
    method: 'get',
    path: '/dispatch/shipments/:id',
    summary: 'A shipment',
    right: 'dispatch.see',
    params: idParams,
    answer: shipmentView,
  }),
  createShipment: route({
    method: 'post',
    path: '/dispatch/shipments',
    summary: 'Make a shipment of what is reserved for an order',
    right: 'dispatch.ship',
    body: z.object({
      orderId: z.number(),
      lines: z
        .array(z.object({ orderLineId: z.number(), quantity: decimalText }))
        .max(500)
        .optional(),
    }),
    answer: shipmentView,
  }),
  changeShipment: route({
    method: 'put',
    path: '/dispatch/shipments/:id',
    summary: 'Change quantities before it leaves',
    right: 'dispatch.ship',
    params: idParams,
    body: z.object({
      version,
      carrier: shortText.default(''),
      lines: z.array(z.object({ orderLineId: z.number(), quantity: decimalText, pieces: z.array(pieceInput).max(500).optional() })),
    }),
    answer: shipmentView,
  }),
  startPicking: route({
    method: 'post',
    path: '/dispatch/shipments/:id/pick',
    summary: 'Start picking',
    right: 'dispatch.ship',
    params: idParams,
    body: versioned,
    answer: shipmentView,
  }),
  ship: route({
    method: 'post',
    path: '/dispatch/shipments/:id/ship',
    summary: 'Ship: stock leaves',
    right: 'dispatch.ship',
    params: idParams,
    body: versioned.extend({ date: dateText.optional() }),
    answer: shipmentView,
  }),
  cancelShipment: route({
    method: 'post',
    path: '/dispatch/shipments/:id/cancel',
    summary: 'Drop a shipment that has not left',
    right: 'dispatch.ship',
    params: idParams,
    body: versioned,
    answer: shipmentView,
  }),
  reverseShipment: route({
    method: 'post',
    path: '/dispatch/shipments/:id/reverse',
    summary: 'Take a shipment back that is not invoiced',
    right: 'dispatch.ship',
    params: idParams,
    body: versioned,
    answer: shipmentView,
  }),
};
