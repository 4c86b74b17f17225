/** What the company decides once for all documents. */
import { z } from 'zod';
import { divideReasons } from '@terrace/core';
import { route } from '../base/route';
import { version } from '../base/schemas';

const percent = z.number().int().min(0, 'Not below 0.').max(10_000, 'At most 100 %.');
const remindDays = z.number().int('In whole days.').min(0, 'Not below 0.').max(365, 'A year at most.');
const fields = {
  /** Basis points of a purchased line that may arrive beyond what was ordered. */
  overDelivery: percent,
  /** Basis points of a purchased line that may be missing without being expected any more. */
  underDelivery: percent,
  /** Basis points by which a purchase may be dearer than the supplier’s terms without approval; such as need none by their amount. */
  priceDifference: percent,
  /** Minor units of the books’ currency up to which a purchase order needs no approval; `null` where each needs it. */
  approvedUpTo: z.number().int().min(0, 'Not below 0.').max(1_000_000_000_000).nullable(),
  /** Whether somebody may approve what they entered themselves. */
  ownApproval: z.boolean(),
  /** What a confirmed order reserves by itself: all that is free, only for what is wanted soon, or nothing. */
  reserve: z.enum(['all', 'soon', 'nothing']),
  /** Calendar days before the wanted day from which it does, where only for what is wanted soon. */
  reserveDays: z.number().int().min(0, 'Not below 0.').max(365, 'A year at most.'),
  /** From how likely a quote counts in the plan, in percent; `null` where quotes don’t count. */
  quotesFrom: z.number().int('In whole percent.').min(0, 'Not below 0.').max(100, 'At most 100.').nullable(),
  /** Whether a quote counts by how likely it is, and not in full. */
  quotesWeighted: z.boolean(),
  /** Calendar days from an invoice's due date to the first reminder, and from each to the next. */
  remindAfter: z.tuple([remindDays, remindDays, remindDays]),
  /** By which reasons an order is divided by itself as it is confirmed; none where it stays one. */
  divideBy: z.array(z.enum(divideReasons)),
};
const rules = z.object(fields);
export type HouseRules = z.output<typeof rules>;
const view = rules.extend({ version });
export type HouseRulesView = z.output<typeof view>;

export const rulesRoutes = {
  houseRules: route({
    method: 'get',
    path: '/setup/rules',
    summary: 'Tolerances, approval and reservation, as the company decided them',
    right: 'setup.see',
    answer: view,
  }),
  saveHouseRules: route({
    method: 'put',
    path: '/setup/rules',
    summary: 'Decide on tolerances, approval and reservation',
    right: 'setup.edit',
    body: view,
    answer: view,
  }),
};
