/** Tracing lots and serial numbers both ways. */
import { z } from 'zod';
import { route } from '../base/route';
import { listQuery, page } from '../base/schemas';
import { epcisDocument } from './epcis';

const pieceParams = z.object({ kind: z.enum(['lot', 'serial']), id: z.coerce.number().int().positive() });

export const traceNode = z.object({
  key: z.string(),
  kind: z.enum(['batch', 'supplier', 'customer', 'adjustment']),
  level: z.number(),
  title: z.string(),
  detail: z.string(),
  itemId: z.number().nullable(),
  link: z.object({ kind: z.string(), id: z.number() }).nullable(),
  onHand: z.string(),
});
export const traceView = z.object({
  title: z.string(),
  item: z.string(),
  complete: z.boolean(),
  nodes: z.array(traceNode),
  edges: z.array(
    z.object({
      from: z.string(),
      to: z.string(),
      quantity: z.string(),
      unit: z.string(),
      likely: z.boolean(),
      document: z.string(),
      date: z.string(),
    }),
  ),
});
export type TraceView = z.output<typeof traceView>;

/** One line for each party or place that has, had or gave some of it. */
export const traceRow = z.object({
  id: z.number(),
  direction: z.enum(['from', 'here', 'to']),
  party: z.string(),
  address: z.string(),
  contact: z.string(),
  item: z.string(),
  piece: z.string(),
  quantity: z.string(),
  unit: z.string(),
  document: z.string(),
  date: z.string(),
  certainty: z.enum(['certain', 'likely']),
});
export type TraceRow = z.output<typeof traceRow>;

export const traceRoutes = {
  trace: route({
    method: 'get',
    path: '/stores/trace/:kind/:id',
    summary: 'What a lot or serial number was made from and where it went',
    right: 'stores.see',
    params: pieceParams,
    answer: traceView,
  }),
  traceList: route({
    method: 'get',
    path: '/stores/trace/:kind/:id/list',
    summary: 'The same as a list with quantities and contacts, for a recall',
    right: 'stores.see',
    params: pieceParams,
    query: listQuery,
    answer: page(traceRow),
  }),
  traceEvents: route({
    method: 'get',
    path: '/stores/trace/:kind/:id/events',
    summary: 'The same as an EPCIS 2.0 document',
    right: 'stores.see',
    params: pieceParams,
    answer: epcisDocument,
  }),
};
