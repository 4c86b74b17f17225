/** What would be if: a copy of the plan to try things on, and what of them is adopted. */
import type { PlanFacts, RuleChange } from '@terrace/core';
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, decimalText } from '../base/schemas';
import { lotSizing, planProblem } from './problem';

const place = { item: z.string(), warehouse: z.string() };
const facts = z.object({
  costs: z.array(z.object({ item: z.string(), cost: z.string() })),
  offers: z.array(
    z.object({
      item: z.string(),
      supplier: z.string(),
      preferred: z.boolean(),
      leadDays: z.number(),
      minimum: z.string(),
      multiple: z.string(),
      prices: z.array(z.object({ from: z.string(), price: z.string() })),
    }),
  ),
  own: z.array(z.object({ ...place, leadDays: z.number(), minimum: z.string(), multiple: z.string() })),
  coming: z.array(z.object({ id: z.string(), supplier: z.string(), price: z.string() })),
  making: z.array(z.object({ id: z.string(), start: z.string(), running: z.boolean() })),
  reserved: z.array(z.object({ demand: z.string(), quantity: z.string() })),
}) satisfies z.ZodType<PlanFacts>;

export const planCopy = z.object({
  /** The number of the plan that was copied. */
  seq: z.number(),
  /** The last change that the copy knows of. */
  historyId: z.number().int(),
  problem: planProblem,
  facts,
  words: z.object({
    items: z.array(z.object({ id: z.number(), code: z.string(), description: z.string(), unit: z.string() })),
    suppliers: z.array(z.object({ id: z.number(), code: z.string(), name: z.string() })),
    orders: z.array(z.object({ id: z.number(), number: z.string(), customer: z.string() })),
    warehouses: z.array(z.object({ id: z.number(), code: z.string() })),
  }),
});
export type PlanCopyView = z.output<typeof planCopy>;

const ruleChange = z
  .object({
    source: z.enum(['buy', 'make', 'transfer', 'none']),
    from: z.string().nullable(),
    leadDays: z.number().int().min(0).max(730),
    safety: decimalText,
    lotSizing,
    minimum: decimalText,
    multiple: decimalText,
    maximum: decimalText.nullable(),
  })
  .partial() satisfies z.ZodType<RuleChange>;

/** Something supposed that becomes real. */
export const adoption = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('order'),
    customerId: z.number('Choose a customer.').int().positive('Choose a customer.'),
    ...place,
    quantity: decimalText,
    date: dateText,
  }),
  z.object({ kind: z.literal('move'), id: z.string(), date: dateText }),
  z.object({ kind: z.literal('lose'), supplier: z.string() }),
  z.object({ kind: z.literal('rule'), ...place, change: ruleChange }),
]);
export type Adoption = z.input<typeof adoption>;

export const whatIfRoutes = {
  getPlanCopy: route({
    method: 'get',
    path: '/planning/copy',
    summary: 'The plan as it is now with all that it counts with, to try things on',
    right: 'planning.see',
    answer: planCopy,
  }),
  adopt: route({
    method: 'post',
    path: '/planning/adopt',
    summary: 'Make what was supposed real: all of it, or nothing',
    right: 'planning.release',
    body: z.object({
      /** The last change that the copy knew of on which this was supposed: what has changed since is refused. */
      historyId: z.number().int(),
      suppositions: z.array(adoption).min(1, 'Suppose something first.').max(200),
    }),
    answer: z.object({ done: z.array(z.string()) }),
  }),
};
