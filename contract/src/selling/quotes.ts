/** Quotes and blanket orders: what is offered, or agreed to be called off by and by. */
import { z } from 'zod';
import { dateText } from '../base/schemas';

/** Why quotes are lost. */
export const quoteReasons = ['price', 'date', 'product', 'elsewhere', 'noNeed', 'noAnswer', 'other'] as const;
export type QuoteReason = (typeof quoteReasons)[number];

export const offerFields = {
  /** The last day on which it holds. */
  validUntil: dateText,
  /** How likely it becomes an order, in percent; of a blanket order nothing follows from it. */
  probability: z.number().int('In whole percent.').min(0, 'Not below 0.').max(100, 'At most 100.').default(50),
};

export const quoteRow = z.looseObject({
  id: z.number(),
  number: z.string(),
  kind: z.enum(['quote', 'blanket']),
  customer: z.string(),
  reference: z.string(),
  state: z.enum(['offered', 'agreed', 'won', 'lost', 'closed']),
  orderDate: z.string(),
  requiredDate: z.string(),
  validUntil: z.string(),
  /** Whether its last day has passed, or comes within a week, and it is still open. */
  lapsed: z.boolean(),
  soon: z.boolean(),
  /** Percent. */
  probability: z.number(),
  lines: z.number(),
  total: z.string(),
  /** Why it was lost; empty where it was not. */
  lostReason: z.string(),
});
