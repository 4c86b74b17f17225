/** Transfers between warehouses. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, decimalText, idParams, listQuery, longText, page, shortText, version, versioned } from '../base/schemas';
import { pieceInput, pieceView } from './pieces';

export const transferStates = ['requested', 'shipped', 'partReceived', 'received', 'cancelled'] as const;

export const transferRow = z.object({
  id: z.number(),
  number: z.string(),
  from: z.string(),
  to: z.string(),
  state: z.enum(transferStates),
  shipDate: z.string(),
  dueDate: z.string(),
  carrier: z.string(),
  /** Whether its day to ship, or to arrive, has passed. */
  late: z.boolean(),
  lines: z.number(),
  inTransit: z.string(),
});
export const transferView = transferRow.omit({ lines: true, late: true }).extend({
  fromId: z.number(),
  toId: z.number(),
  date: z.string(),
  note: z.string(),
  version,
  lines: z.array(
    z.object({
      id: z.number(),
      position: z.number(),
      itemId: z.number(),
      code: z.string(),
      description: z.string(),
      unit: z.string(),
      decimals: z.number(),
      tracking: z.enum(['none', 'lot', 'serial']),
      quantity: z.string(),
      reserved: z.string(),
      shipped: z.string(),
      received: z.string(),
      lost: z.string(),
      onTheWay: z.string(),
      bin: z.string(),
      pieces: z.array(pieceView),
    }),
  ),
});
export type TransferView = z.output<typeof transferView>;

const lines = z
  .array(z.object({ itemId: z.number(), quantity: decimalText }))
  .min(1, 'Add a line.')
  .max(500);

export const transferInput = z.object({
  fromId: z.number(),
  toId: z.number(),
  shipDate: dateText,
  dueDate: dateText,
  carrier: shortText.default(''),
  note: longText.default(''),
  lines,
});

export const transferRoutes = {
  listTransfers: route({
    method: 'get',
    path: '/stores/transfers',
    summary: 'Transfers, newest first',
    right: 'stores.see',
    query: listQuery,
    answer: page(transferRow),
  }),
  getTransfer: route({
    method: 'get',
    path: '/stores/transfers/:id',
    summary: 'A transfer',
    right: 'stores.see',
    params: idParams,
    answer: transferView,
  }),
  requestTransfer: route({
    method: 'post',
    path: '/stores/transfers',
    summary: 'Ask for stock of another warehouse; what is free there is reserved',
    right: 'stores.adjust',
    body: transferInput,
    answer: transferView,
  }),
  shipTransfer: route({
    method: 'post',
    path: '/stores/transfers/:id/ship',
    summary: 'Ship a transfer: from now on it is in transit, still ours',
    right: 'stores.adjust',
    params: idParams,
    body: versioned.extend({
      date: dateText.optional(),
      lines: z
        .array(z.object({ lineId: z.number(), quantity: decimalText, pieces: z.array(pieceInput).max(500).optional() }))
        .max(500)
        .optional(),
    }),
    answer: transferView,
  }),
  takeTransferBack: route({
    method: 'post',
    path: '/stores/transfers/:id/take-back',
    summary: 'Take the shipping of a transfer back of which nothing has arrived',
    right: 'stores.adjust',
    params: idParams,
    body: versioned,
    answer: transferView,
  }),
  receiveTransfer: route({
    method: 'post',
    path: '/stores/transfers/:id/receive',
    summary: 'Receive what arrived; what is missing goes to a reason, or waits',
    right: 'stores.adjust',
    params: idParams,
    body: versioned.extend({
      date: dateText.optional(),
      binId: z.number().optional(),
      lines: z
        .array(z.object({ lineId: z.number(), quantity: decimalText, pieces: z.array(pieceInput).max(500).optional() }))
        .min(1)
        .max(500),
      /** With a reason, what has not arrived now is given up. */
      reason: z.string().optional(),
      note: longText.default(''),
    }),
    answer: transferView,
  }),
  cancelTransfer: route({
    method: 'post',
    path: '/stores/transfers/:id/cancel',
    summary: 'Cancel a transfer that has not been shipped',
    right: 'stores.adjust',
    params: idParams,
    body: versioned,
    answer: transferView,
  }),
};
