/** Dividing an order into several, and joining them again. */
import { z } from 'zod';
import { divideReasons } from '@terrace/core';
import { route } from '../base/route';
import { decimalText, idParams, longText, shortText, version, versioned } from '../base/schemas';

const part = z.object({
  /** Where it goes from; `null` for the order’s own warehouse. */
  warehouseId: z.number().int().positive().nullable().default(null),
  /** Where it goes and by whom; empty for as the order. */
  shipTo: longText.default(''),
  carrier: shortText.default(''),
  lines: z
    .array(
      z.object({
        lineId: z.number().int(),
        /** In the item’s unit. */
        quantity: decimalText,
      }),
    )
    .max(500),
});
/** What goes together, the part that stays the order itself first. */
const parts = z.array(part).min(1).max(20, 'At most 20 parts.');
export type DividedPart = z.output<typeof part>;

const reasons = z.array(z.enum(divideReasons));
const partView = z.object({
  warehouseId: z.number().nullable(),
  warehouse: z.string(),
  shipTo: z.string(),
  carrier: z.string(),
  /** Why it goes apart, where it was proposed. */
  why: reasons,
  lines: z.array(
    z.object({
      /** The line that it is of, and its place in the order. */
      lineId: z.number(),
      position: z.number(),
      code: z.string(),
      description: z.string(),
      unit: z.string(),
      decimals: z.number(),
      quantity: z.string(),
      free: z.string(),
      reserved: z.string(),
      promiseDate: z.string().nullable(),
      amount: z.string(),
    }),
  ),
  /** When all of it is promised. */
  promiseDate: z.string().nullable(),
  ready: z.enum(['all', 'part', 'nothing', 'done']),
  net: z.string(),
  tax: z.string(),
  total: z.string(),
});
const preview = z.object({
  order: z.object({
    id: z.number(),
    number: z.string(),
    customer: z.string(),
    warehouse: z.string(),
    total: z.string(),
    currency: z.string(),
    version: z.number(),
  }),
  /** Reasons by which anything of it would go apart. */
  could: reasons,
  parts: z.array(partView),
});
export type DivisionPreview = z.output<typeof preview>;
const family = z.object({ orders: z.array(z.object({ id: z.number(), number: z.string() })) });

export const dividingRoutes = {
  previewDivision: route({
    method: 'post',
    path: '/selling/orders/:id/division/preview',
    summary: 'How an order would be divided, by reasons or as said; nothing of it is kept',
    right: 'selling.edit',
    params: idParams,
    body: z.object({ reasons: reasons.default([]), parts: parts.optional() }),
    answer: preview,
  }),
  divideOrder: route({
    method: 'post',
    path: '/selling/orders/:id/division',
    summary: 'Divide an order: each part but the first becomes an order of its own',
    right: 'selling.edit',
    params: idParams,
    body: versioned.extend({ parts }),
    answer: family,
  }),
  joinOrders: route({
    method: 'post',
    path: '/selling/orders/:id/joining',
    summary: 'Take the other parts of a divided order back into this one',
    right: 'selling.edit',
    params: idParams,
    body: z.object({
      version,
      others: z
        .array(z.object({ id: z.number().int(), version }))
        .min(1, 'Choose a part at least.')
        .max(20),
    }),
    answer: family,
  }),
};
