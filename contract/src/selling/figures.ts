/** Figures of selling, each with what it is made of. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText } from '../base/schemas';

export const marginsBy = ['customer', 'group', 'person', 'order'] as const;

const margin = z.object({
  /** Of the customer, order or person; 0 of a group. */
  id: z.number().int(),
  name: z.string(),
  /** Invoiced less given back, without tax, in the books' currency. */
  revenue: z.string(),
  /** What the goods cost that left, less those that came back. */
  cost: z.string(),
  margin: z.string(),
  /** Percent of the revenue, one decimal; `null` without revenue. */
  share: z.number().nullable(),
});
const lateLine = z.object({
  orderId: z.number().int(),
  order: z.string(),
  customer: z.string(),
  code: z.string(),
  wished: z.string(),
  promised: z.string().nullable(),
  /** The day on which the last of it left; `null` where something has not. */
  left: z.string().nullable(),
});
export const sellingFigures = z.object({
  from: z.string(),
  until: z.string(),
  weeks: z.array(
    z.object({
      /** Its Monday. */
      week: z.string(),
      /** Ordered in it, and still to ship that is promised, or else wanted, for it; without tax. */
      intake: z.string(),
      backlog: z.string(),
    }),
  ),
  intake: z.string(),
  backlog: z.string(),
  /** Lines that were promised, or wished, for a day in the period, and those of them that had left in full by then. */
  promised: z.object({ lines: z.number().int(), kept: z.number().int() }),
  wished: z.object({ lines: z.number().int(), kept: z.number().int() }),
  /** Those that had not, the latest first; fifty at most. */
  late: z.array(lateLine),
  by: z.enum(marginsBy),
  margins: z.array(margin),
  margin: margin.pick({ revenue: true, cost: true, margin: true, share: true }),
  lost: z.array(z.object({ reason: z.string(), quotes: z.number().int(), value: z.string() })),
});
export type SellingFigures = z.output<typeof sellingFigures>;

export const figuresRoutes = {
  figures: route({
    method: 'get',
    path: '/selling/figures',
    summary: 'Order intake, backlog, deliveries on time and in full, margins, lost quotes',
    right: 'accounts.see',
    query: z.object({ from: dateText.optional(), until: dateText.optional(), by: z.enum(marginsBy).default('customer') }),
    answer: sellingFigures,
  }),
};
