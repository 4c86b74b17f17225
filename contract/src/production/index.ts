/** Production orders. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, decimalText, idParams, listQuery, page, shortText, version, versioned } from '../base/schemas';
import { pieceInput, pieceView } from '../stores/pieces';

export const productionStates = ['draft', 'released', 'running', 'finished', 'settled', 'cancelled'] as const;

export const productionRow = z.object({
  id: z.number(),
  number: z.string(),
  code: z.string(),
  description: z.string(),
  state: z.enum(productionStates),
  warehouse: z.string(),
  quantity: z.string(),
  finished: z.string(),
  unit: z.string(),
  startDate: z.string(),
  dueDate: z.string(),
  late: z.boolean(),
  short: z.number(),
});

export const productionView = productionRow.omit({ short: true }).extend({
  itemId: z.number(),
  warehouseId: z.number(),
  decimals: z.number(),
  tracking: z.enum(['none', 'lot', 'serial']),
  /** Not made any more, and still to be made; both in the item's unit. */
  cancelled: z.string(),
  outstanding: z.string(),
  cost: z.string(),
  unitCost: z.string(),
  version,
  note: z.string(),
  components: z.array(
    z.object({
      id: z.number(),
      position: z.number(),
      itemId: z.number(),
      code: z.string(),
      description: z.string(),
      unit: z.string(),
      tracking: z.enum(['none', 'lot', 'serial']),
      /** Proposed in the order in which they would be taken. */
      pieces: z.array(pieceView),
      per: z.string(),
      scrap: z.string(),
      needed: z.string(),
      issued: z.string(),
      outstanding: z.string(),
      reserved: z.string(),
      available: z.string(),
      short: z.string(),
    }),
  ),
  completions: z.array(
    z.object({ id: z.number(), number: z.string(), date: z.string(), quantity: z.string(), cost: z.string(), reversed: z.boolean() }),
  ),
});
export type ProductionView = z.output<typeof productionView>;

export const productionInput = z.object({
  itemId: z.number().int().positive('Choose an item.'),
  warehouseId: z.number().int().positive('Choose a warehouse.'),
  quantity: decimalText,
  dueDate: dateText,
  startDate: dateText.optional(),
  note: z.string().max(2000).default(''),
});

export const productionRoutes = {
  listProduction: route({
    method: 'get',
    path: '/production/orders',
    summary: 'Production orders',
    right: 'production.see',
    query: listQuery,
    answer: page(productionRow),
  }),
  getProduction: route({
    method: 'get',
    path: '/production/orders/:id',
    summary: 'A production order',
    right: 'production.see',
    params: idParams,
    answer: productionView,
  }),
  createProduction: route({
    method: 'post',
    path: '/production/orders',
    summary: 'Enter a production order',
    right: 'production.edit',
    body: productionInput,
    answer: productionView,
  }),
  changeProduction: route({
    method: 'put',
    path: '/production/orders/:id',
    summary: 'Change quantity or dates of a draft',
    right: 'production.edit',
    params: idParams,
    body: productionInput.pick({ quantity: true, dueDate: true, startDate: true, note: true }).extend({ version }),
    answer: productionView,
  }),
  releaseProduction: route({
    method: 'post',
    path: '/production/orders/:id/release',
    summary: 'Release to the floor: reserve components',
    right: 'production.edit',
    params: idParams,
    body: versioned,
    answer: productionView,
  }),
  finishProduction: route({
    method: 'post',
    path: '/production/orders/:id/finish',
    summary: 'Finish as planned: take components, bring the made item in',
    right: 'production.report',
    params: idParams,
    body: versioned.extend({
      quantity: decimalText,
      date: dateText.optional(),
      binId: z.number().optional(),
      /** Lots or serial numbers of what is made. */
      pieces: z.array(pieceInput).max(500).optional(),
      /** Lots or serial numbers of components, where they are named. */
      taken: z.array(z.object({ componentId: z.number(), pieces: z.array(pieceInput).max(500) })).optional(),
    }),
    answer: productionView,
  }),
  cancelProduction: route({
    method: 'post',
    path: '/production/orders/:id/cancel',
    summary: 'Cancel what is not finished',
    right: 'production.edit',
    params: idParams,
    body: versioned.extend({ reason: shortText.min(1, 'Say why.') }),
    answer: productionView,
  }),
  reverseCompletion: route({
    method: 'post',
    path: '/production/completions/:id/reverse',
    summary: 'Take a completion back',
    right: 'production.report',
    params: idParams,
    answer: productionView,
  }),
};
