/** Orders from outside: files that are read, matched, and wait in a tray where something has to be mended. */
import { z } from 'zod';
import { incomingProblems } from '@terrace/core';
import { route } from '../base/route';
import { decimalText, idParams, listQuery, page, shortText, version } from '../base/schemas';

export const incomingStates = ['waiting', 'taken', 'dropped'] as const;
/** Characters of a file. */
const MOST = 1_000_000;

const problem = z.object({ problem: z.enum(incomingProblems), words: z.string() });
const said = {
  theirCode: z.string(),
  ourCode: z.string(),
  barcode: z.string(),
  description: z.string(),
  quantity: z.string(),
  unit: z.string(),
  price: z.string(),
  /** How many of the unit the price is for, where it is not for one. */
  per: z.string().optional(),
  requiredDate: z.string(),
  note: z.string(),
};
export const incomingView = z.object({
  id: z.number().int(),
  number: z.string(),
  at: z.string(),
  fileName: z.string(),
  source: z.enum(['ubl', 'csv']),
  state: z.enum(incomingStates),
  version,
  /** The buyer's number of it, and who the file says they are. */
  reference: z.string(),
  buyer: z.string(),
  shipTo: z.string(),
  note: z.string(),
  currency: z.string(),
  requiredDate: z.string(),
  /** Who it is matched to; `null` for nobody yet. */
  customerId: z.number().int().nullable(),
  customer: z.string(),
  orderId: z.number().int().nullable(),
  order: z.string(),
  why: z.string(),
  /** What stands in the way of the whole. */
  problems: z.array(problem),
  lines: z.array(
    z.object({
      id: z.string(),
      /** As the file says it. */
      said: z.object(said),
      /** As it is matched: item, quantity and price in the item's base unit; `null` and empty for nothing. */
      itemId: z.number().int().nullable(),
      code: z.string(),
      itemDescription: z.string(),
      baseUnit: z.string(),
      quantity: z.string(),
      price: z.string(),
      /** Our price for it; empty without an item. */
      ourPrice: z.string(),
      problems: z.array(problem),
    }),
  ),
});
export type IncomingView = z.output<typeof incomingView>;

const incomingRow = z.object({
  id: z.number().int(),
  number: z.string(),
  at: z.string(),
  fileName: z.string(),
  reference: z.string(),
  buyer: z.string(),
  customer: z.string().nullable(),
  state: z.enum(incomingStates),
  order: z.string().nullable(),
  orderId: z.number().nullable(),
});

export const incomingRoutes = {
  listIncoming: route({
    method: 'get',
    path: '/selling/incoming',
    summary: 'Orders that came as files',
    right: 'selling.see',
    query: listQuery,
    answer: page(incomingRow),
  }),
  getIncoming: route({
    method: 'get',
    path: '/selling/incoming/:id',
    summary: 'An order that came as a file, with what is in the way of it now',
    right: 'selling.see',
    params: idParams,
    answer: incomingView,
  }),
  receiveOrders: route({
    method: 'post',
    path: '/selling/incoming',
    summary: 'Read a file of orders (UBL 2.1 Order, or CSV): what matches becomes drafts, the rest waits in the tray',
    right: 'selling.edit',
    mostBytes: 4 * MOST,
    body: z.object({ name: z.string().trim().min(1).max(200), text: z.string().min(1, 'The file is empty.').max(MOST, 'The file is too large.') }),
    answer: z.array(incomingView),
  }),
  mendIncoming: route({
    method: 'put',
    path: '/selling/incoming/:id',
    summary: 'Say who it is from, which item a line means, how many, and at whose price',
    right: 'selling.edit',
    params: idParams,
    body: z.object({
      version,
      customerId: z.number().int().nullable().optional(),
      requiredDate: shortText.optional(),
      lines: z
        .array(
          z.object({
            id: z.string().max(60),
            itemId: z.number().int().nullable().optional(),
            quantity: decimalText.optional(),
            /** Theirs as it stands in the file, or ours. */
            price: z.enum(['theirs', 'ours']).optional(),
          }),
        )
        .max(500)
        .default([]),
      /** Whether what a customer calls an item is kept for the next time. */
      remember: z.boolean().default(true),
      /** Whether it is taken although an order with this number came before. */
      again: z.boolean().optional(),
    }),
    answer: incomingView,
  }),
  takeIncoming: route({
    method: 'post',
    path: '/selling/incoming/:id/take',
    summary: 'Make it an order, as a draft',
    right: 'selling.edit',
    params: idParams,
    body: z.object({ version }),
    answer: incomingView,
  }),
  dropIncoming: route({
    method: 'post',
    path: '/selling/incoming/:id/drop',
    summary: 'Lay it aside for good, with a reason',
    right: 'selling.edit',
    params: idParams,
    body: z.object({ version, why: z.string().trim().min(1, 'Say why.').max(200) }),
    answer: incomingView,
  }),
};
