/** Lots: their rules, their lives, and blocking them everywhere at once. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, idParams, listQuery, longText, page, shortText, version } from '../base/schemas';

export const trackingRule = z.object({
  expiryNeeded: z.boolean(),
  madeOnNeeded: z.boolean(),
  useLifeDays: z.number().int().min(0).max(3650),
  warnDays: z.number().int().min(0).max(3650),
  serialPattern: z.string().trim().max(60),
  warrantyMonths: z.number().int().min(0).max(600),
});
const ruleView = trackingRule.extend({ version: z.number().int() });

export const lotRow = z.object({
  id: z.number(),
  itemId: z.number(),
  item: z.string(),
  description: z.string(),
  unit: z.string(),
  lot: z.string(),
  supplierLot: z.string(),
  supplier: z.string(),
  madeOn: z.string().nullable(),
  expiry: z.string().nullable(),
  onHand: z.string(),
  available: z.string(),
  places: z.string(),
  /** On the day asked for. */
  remaining: z.number().nullable(),
  minimum: z.number(),
  shortFrom: z.string().nullable(),
  shortDated: z.boolean(),
  blocked: z.boolean(),
});
export type LotRow = z.output<typeof lotRow>;

export const lotView = z.object({
  id: z.number(),
  itemId: z.number(),
  item: z.string(),
  description: z.string(),
  unit: z.string(),
  lot: z.string(),
  supplierLot: z.string(),
  supplierId: z.number().nullable(),
  supplier: z.string(),
  madeOn: z.string().nullable(),
  expiry: z.string().nullable(),
  note: z.string(),
  remaining: z.number().nullable(),
  sellUntil: z.string().nullable(),
  useUntil: z.string().nullable(),
  blocked: z.boolean(),
  blockReason: z.string(),
  version,
  places: z.array(z.object({ warehouse: z.string(), bin: z.string(), state: z.string(), quantity: z.string() })),
});
export type LotView = z.output<typeof lotView>;

export const lotRoutes = {
  listLots: route({
    method: 'get',
    path: '/stores/lots',
    summary: 'Lots, first-expiring first, as of a day with a minimum remaining life',
    right: 'stores.see',
    query: listQuery.extend({
      asOf: dateText.optional(),
      /** Days; without it each item’s own minimum for selling. */
      life: z.coerce.number().int().min(0).max(3650).optional(),
      item: z.coerce.number().optional(),
      warehouse: z.coerce.number().optional(),
      gone: z.enum(['true', 'false']).optional(),
    }),
    answer: page(lotRow),
  }),
  getLot: route({ method: 'get', path: '/stores/lots/:id', summary: 'A lot', right: 'stores.see', params: idParams, answer: lotView }),
  changeLot: route({
    method: 'put',
    path: '/stores/lots/:id',
    summary: 'Correct what is known of a lot',
    right: 'stores.adjust',
    params: idParams,
    body: z.object({ version, madeOn: dateText.nullable(), expiry: dateText.nullable(), supplierLot: shortText, note: longText }),
    answer: lotView,
  }),
  blockLot: route({
    method: 'post',
    path: '/stores/lots/:id/block',
    summary: 'Block a lot everywhere at once; what others had reserved of it is released',
    right: 'stores.adjust',
    params: idParams,
    body: z.object({ version, reason: z.string().trim().min(1, 'Say why.').max(200) }),
    answer: lotView.extend({ released: z.array(z.object({ document: z.string(), quantity: z.string() })) }),
  }),
  freeLot: route({
    method: 'post',
    path: '/stores/lots/:id/free',
    summary: 'Free a blocked lot',
    right: 'stores.adjust',
    params: idParams,
    body: z.object({ version, reason: z.string().trim().min(1, 'Say why.').max(200) }),
    answer: lotView,
  }),
  trackingRule: route({
    method: 'get',
    path: '/stores/items/:id/tracking',
    summary: 'What an item asks of its lots and serial numbers',
    right: 'stores.see',
    params: idParams,
    answer: ruleView,
  }),
  setTrackingRule: route({
    method: 'put',
    path: '/stores/items/:id/tracking',
    summary: 'Set what an item asks of its lots and serial numbers',
    right: 'catalogue.edit',
    params: idParams,
    body: trackingRule.extend({ version: z.number().int() }),
    answer: ruleView,
  }),
};
