/** The same done with many orders: looked at first, then done for all that can, one after the other. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, idParams, shortText } from '../base/schemas';

/** What is done with each, with what it takes. */
export const orderAct = z.discriminatedUnion('act', [
  z.object({ act: z.literal('confirm') }),
  z.object({ act: z.literal('reserve') }),
  z.object({ act: z.literal('hold'), reason: shortText.min(1, 'Say why.') }),
  z.object({ act: z.literal('letGo') }),
  z.object({ act: z.literal('redate'), date: dateText }),
  z.object({ act: z.literal('move'), warehouseId: z.number().int().positive('Choose a warehouse.') }),
  z.object({ act: z.literal('carry'), carrier: shortText.min(1, 'Say by whom.'), service: shortText.default('') }),
  z.object({ act: z.literal('mail') }),
  z.object({ act: z.literal('printConfirmations') }),
  z.object({ act: z.literal('printPickLists') }),
  z.object({ act: z.literal('printSlips') }),
  z.object({ act: z.literal('ship') }),
  z.object({ act: z.literal('invoice') }),
]);
export type OrderAct = z.output<typeof orderAct>;

const MOST = 1000;
const asked = z.object({
  act: orderAct,
  /** Orders by their numbers in the database, each once. */
  ids: z.array(z.number().int().positive()).min(1, 'Choose an order at least.').max(MOST, `At most ${MOST} orders at once.`),
});

const previewRow = z.object({
  id: z.number().int(),
  /** Empty where there is no such order. */
  number: z.string(),
  customer: z.string(),
  can: z.boolean(),
  /** What would become of it, or why it can’t be. */
  words: z.string(),
});
const preview = z.object({ rows: z.array(previewRow), can: z.number().int() });
export type OrderPreview = z.output<typeof preview>;

export const runStates = ['running', 'done', 'stopped', 'cut'] as const;
const run = z.object({
  id: z.number().int(),
  /** What is done, in words. */
  title: z.string(),
  who: z.string(),
  /** Moment in world time. */
  at: z.string(),
  /** `cut` where the server ended in the middle of it: what was done stands, the rest is untouched. */
  state: z.enum(runStates),
  /** Whether it is for papers, which are had together from `/papers/run/:id` as long as it is kept. */
  papers: z.boolean(),
  total: z.number().int(),
  done: z.number().int(),
  refused: z.number().int(),
});
export type OrderRun = z.output<typeof run>;
const runView = run.extend({
  rows: z.array(previewRow.omit({ can: true }).extend({ state: z.enum(['waiting', 'done', 'refused']) })),
});
export type OrderRunView = z.output<typeof runView>;

export const runRoutes = {
  previewRun: route({
    method: 'post',
    path: '/selling/runs/preview',
    summary: 'What would become of many orders, each by itself; nothing of it is kept',
    right: 'selling.see',
    body: asked,
    mostBytes: 65_536,
    answer: preview,
  }),
  startRun: route({
    method: 'post',
    path: '/selling/runs',
    summary: 'Do the same with many orders: each for itself, whatever becomes of the others',
    right: 'selling.see',
    body: asked,
    mostBytes: 65_536,
    answer: run,
  }),
  runs: route({
    method: 'get',
    path: '/selling/runs',
    summary: 'What was done with many orders, the latest first',
    right: 'selling.see',
    answer: z.array(run),
  }),
  getRun: route({
    method: 'get',
    path: '/selling/runs/:id',
    summary: 'What became of each order',
    right: 'selling.see',
    params: idParams,
    answer: runView,
  }),
  stopRun: route({
    method: 'post',
    path: '/selling/runs/:id/stop',
    summary: 'Stop after the order in hand; what was done stands',
    right: 'selling.see',
    params: idParams,
    answer: run,
  }),
};
