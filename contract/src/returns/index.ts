/** Customers' returns: authorised from what was shipped, received to be looked at, decided on piece by piece, made good. */
import { z } from 'zod';
import { returnDecisions } from '@terrace/core';
import { route } from '../base/route';
import { decimalText, idParams, listQuery, longText, page, version, versioned } from '../base/schemas';

export const returnStates = ['authorised', 'arrived', 'done', 'cancelled'] as const;

const piece = {
  /** Of the shipment. */
  shipmentLineId: z.number().int(),
  itemId: z.number().int(),
  code: z.string(),
  description: z.string(),
  unit: z.string(),
  /** Lot and serial number that left; empty where the item has none. */
  lot: z.string(),
  serial: z.string(),
};

/** What left to a customer and may come back, a row for each lot and serial number. */
const returnable = z.object({
  ...piece,
  shipmentId: z.number().int(),
  shipment: z.string(),
  shippedOn: z.string(),
  /** What left, and what of it is on returns already. */
  shipped: z.string(),
  returning: z.string(),
});
export type Returnable = z.output<typeof returnable>;

const decision = z.object({
  id: z.number().int(),
  lineId: z.number().int(),
  code: z.string(),
  decision: z.enum(returnDecisions),
  quantity: z.string(),
  date: z.string(),
  who: z.string(),
  /** Why, in words or as the reason that it was scrapped for. */
  why: z.string(),
  /** The production order that works it over; `null` for the other decisions. */
  productionId: z.number().int().nullable(),
  production: z.string(),
});

export const returnView = z.object({
  id: z.number().int(),
  number: z.string(),
  customerId: z.number().int(),
  customer: z.string(),
  orderId: z.number().int(),
  order: z.string(),
  warehouseId: z.number().int(),
  warehouse: z.string(),
  /** The day on which it was authorised. */
  date: z.string(),
  reason: z.string(),
  state: z.enum(returnStates),
  version,
  lines: z.array(
    z.object({
      id: z.number().int(),
      ...piece,
      shipment: z.string(),
      /** Authorised, come in, and of that decided on. */
      quantity: z.string(),
      received: z.string(),
      decided: z.string(),
      /** Given back on the credit note. */
      credited: z.string(),
      /** Whether it was invoiced, so that it can be credited. */
      invoiced: z.boolean(),
    }),
  ),
  decisions: z.array(decision),
  /** The credit notes and the replacement that made it good. */
  credits: z.array(z.object({ id: z.number().int(), number: z.string(), total: z.string(), currency: z.string(), state: z.string() })),
  replacementId: z.number().int().nullable(),
  replacement: z.string(),
});
export type ReturnView = z.output<typeof returnView>;

const returnRow = returnView
  .pick({
    id: true,
    number: true,
    customerId: true,
    customer: true,
    orderId: true,
    order: true,
    warehouse: true,
    date: true,
    reason: true,
    state: true,
  })
  .extend({
    /** Items on it, by their codes. */
    items: z.string(),
    /** Lines of which something is still to come, and pieces that wait to be decided on. */
    awaited: z.number().int(),
    held: z.string(),
  });

const lines = z
  .array(z.object({ lineId: z.number().int(), quantity: decimalText }))
  .min(1, 'Say which line.')
  .max(500);

export const returnsRoutes = {
  listReturns: route({
    method: 'get',
    path: '/selling/returns',
    summary: 'Customers’ returns, the newest first',
    right: 'selling.see',
    query: listQuery,
    answer: page(returnRow),
  }),
  getReturn: route({
    method: 'get',
    path: '/selling/returns/:id',
    summary: 'A return, with what was decided and what made it good',
    right: 'selling.see',
    params: idParams,
    answer: returnView,
  }),
  returnable: route({
    method: 'get',
    path: '/selling/orders/:id/returnable',
    summary: 'What left with an order and may come back, by lot and serial number',
    right: 'selling.see',
    params: idParams,
    answer: z.array(returnable),
  }),
  authorise: route({
    method: 'post',
    path: '/selling/returns',
    summary: 'Agree that a customer sends something back',
    right: 'selling.edit',
    body: z.object({
      orderId: z.number().int(),
      /** Where it comes to; the order's warehouse where none is said. */
      warehouseId: z.number().int().optional(),
      reason: z.string().trim().min(1, 'Say why it comes back.').max(200),
      lines: z
        .array(
          z.object({
            shipmentLineId: z.number().int(),
            lot: z.string().trim().max(60).default(''),
            serial: z.string().trim().max(60).default(''),
            quantity: decimalText,
          }),
        )
        .min(1, 'Say what comes back.')
        .max(500),
    }),
    answer: returnView,
  }),
  receiveReturn: route({
    method: 'post',
    path: '/selling/returns/:id/receive',
    summary: 'Take in what came back: it is held until somebody has decided on it',
    right: 'stores.adjust',
    params: idParams,
    body: z.object({ version, binId: z.number().int().optional(), lines }),
    answer: returnView,
  }),
  decideReturn: route({
    method: 'post',
    path: '/selling/returns/:id/decide',
    summary: 'Decide on pieces that came back: into stock, to be worked over, or scrap',
    right: 'stores.adjust',
    params: idParams,
    body: z.object({
      version,
      decision: z.enum(returnDecisions),
      /** For scrap: the code of a reason, whose account bears it. */
      reason: z.string().trim().max(40).default(''),
      note: longText.default(''),
      lines,
    }),
    answer: returnView,
  }),
  creditReturn: route({
    method: 'post',
    path: '/selling/returns/:id/credit',
    summary: 'Give back what was charged for what came back',
    right: 'accounts.invoice',
    params: idParams,
    body: versioned,
    answer: returnView,
  }),
  replaceReturn: route({
    method: 'post',
    path: '/selling/returns/:id/replace',
    summary: 'Enter an order over the same, free of charge, as a draft',
    right: 'selling.edit',
    params: idParams,
    body: versioned,
    answer: returnView,
  }),
  takeReturnBack: route({
    method: 'post',
    path: '/selling/returns/:id/take-back',
    summary: 'Take back what was taken in by mistake, as long as nothing is decided; or cancel the return before anything came',
    right: 'stores.adjust',
    params: idParams,
    body: versioned,
    answer: returnView,
  }),
};
