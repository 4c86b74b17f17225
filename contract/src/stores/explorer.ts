/** The faces of the explorer besides where: when, which, how many could be built; and what a scan means. */
import { z } from 'zod';
import { route } from '../base/route';
import { idParams } from '../base/schemas';

export const periodLengths = ['day', 'week', 'month'] as const;
const periodLength = z.enum(periodLengths);

export const periodRow = z.object({
  from: z.string(),
  through: z.string(),
  supply: z.string(),
  demand: z.string(),
  forecast: z.string(),
  suggestedSupply: z.string(),
  suggestedDemand: z.string(),
  closing: z.string(),
  closingWithForecast: z.string(),
  closingWithPlan: z.string(),
});

export const buildable = z.object({
  quantity: z.string(),
  straight: z.string(),
  bottlenecks: z.array(z.string()),
  parts: z.array(
    z.object({
      itemId: z.number(),
      code: z.string(),
      description: z.string(),
      unit: z.string(),
      level: z.number(),
      inHand: z.string(),
      needed: z.string(),
      toMake: z.string(),
      missing: z.string(),
    }),
  ),
});
export type BuildableView = z.output<typeof buildable>;

export const scanView = z.object({
  item: z
    .object({ id: z.number(), code: z.string(), description: z.string(), unit: z.string(), tracking: z.enum(['none', 'lot', 'serial']) })
    .nullable(),
  lot: z.string().nullable(),
  lotId: z.number().nullable(),
  serial: z.string().nullable(),
  serialId: z.number().nullable(),
  expiry: z.string().nullable(),
  madeOn: z.string().nullable(),
  sscc: z.string().nullable(),
  binId: z.number().nullable(),
  bin: z.string().nullable(),
  /** Of the base unit: what the code says, or what the pack holds that it is printed on. */
  quantity: z.string().nullable(),
});
export type ScanView = z.output<typeof scanView>;

const ofItem = z.object({ warehouse: z.coerce.number().optional() });

export const explorerRoutes = {
  when: route({
    method: 'get',
    path: '/stores/items/:id/when',
    summary: 'Supply and demand of an item by day, week or month; orders, forecast and suggestions apart',
    right: 'stores.see',
    params: idParams,
    query: ofItem.extend({ length: periodLength.default('week'), days: z.coerce.number().int().min(7).max(400).default(120) }),
    answer: z.object({
      available: z.string(),
      periods: z.array(periodRow),
      events: z.array(
        z.object({
          date: z.string(),
          kind: z.enum(['supply', 'demand']),
          quantity: z.string(),
          document: z.string(),
          link: z.object({ kind: z.string(), id: z.number() }).nullable(),
          firm: z.boolean(),
          balance: z.string(),
          planned: z.string(),
          warehouse: z.string(),
        }),
      ),
    }),
  }),
  howMany: route({
    method: 'get',
    path: '/stores/items/:id/buildable',
    summary: 'How many could be built from what is in hand, and what stops one more',
    right: 'stores.see',
    params: idParams,
    query: z.object({ warehouse: z.coerce.number() }),
    answer: buildable,
  }),
  variants: route({
    method: 'get',
    path: '/stores/items/:id/variants',
    summary: 'The variants of an item’s family, with their stock',
    right: 'stores.see',
    params: idParams,
    query: ofItem,
    answer: z.object({
      family: z.string().nullable(),
      attributes: z.array(z.object({ name: z.string(), values: z.array(z.string()) })),
      variants: z.array(
        z.object({
          id: z.number(),
          code: z.string(),
          values: z.record(z.string(), z.string()),
          onHand: z.string(),
          free: z.string(),
          expectedIn: z.string(),
        }),
      ),
    }),
  }),
  scanSamples: route({
    method: 'get',
    path: '/stores/scan-samples',
    summary: 'Codes of things in stock, to try a scanner with',
    right: 'stores.see',
    answer: z.array(z.object({ words: z.string(), code: z.string() })),
  }),
  scan: route({
    method: 'get',
    path: '/stores/scan',
    summary: 'What a scanned code means: a plain barcode or a GS1 element string',
    right: 'stores.see',
    query: z.object({ text: z.string().min(1).max(400) }),
    answer: scanView,
  }),
};
