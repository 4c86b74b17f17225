/** Quotes and blanket orders: what is offered, or agreed to be called off by and by. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, decimalText, idParams, listQuery, page, shortText, version, versioned } from '../base/schemas';
import { orderInput, orderView } from './order';

/** Why quotes are lost. */
export const quoteReasons = ['price', 'date', 'product', 'elsewhere', 'noNeed', 'noAnswer', 'other'] as const;
export type QuoteReason = (typeof quoteReasons)[number];

const offerFields = {
  /** The last day on which it holds. */
  validUntil: dateText,
  /** How likely it becomes an order, in percent; of a blanket order nothing follows from it. */
  probability: z.number().int('In whole percent.').min(0, 'Not below 0.').max(100, 'At most 100.').default(50),
};

const quoteRow = z.looseObject({
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
  /** What of it was lost, all or the rest of it, without tax, in the books' currency. */
  lost: z.string(),
});

export const quoteRoutes = {
  listQuotes: route({
    method: 'get',
    path: '/selling/quotes',
    summary: 'Quotes and blanket orders',
    right: 'selling.see',
    query: listQuery,
    answer: page(quoteRow),
  }),
  createQuote: route({
    method: 'post',
    path: '/selling/quotes',
    summary: 'Offer something to a customer, or agree on a blanket order',
    right: 'selling.edit',
    body: orderInput.extend({ kind: z.enum(['quote', 'blanket']).default('quote'), ...offerFields }),
    answer: orderView,
  }),
  changeQuote: route({
    method: 'put',
    path: '/selling/quotes/:id',
    summary: 'Change a quote or a blanket order',
    right: 'selling.edit',
    params: idParams,
    body: orderInput.extend({ ...offerFields, version }),
    answer: orderView,
  }),
  orderFromQuote: route({
    method: 'post',
    path: '/selling/quotes/:id/order',
    summary: 'Make an order of a quote, or call off from a blanket order: all that is left of it, or a part',
    right: 'selling.edit',
    params: idParams,
    body: versioned.extend({
      /** Left out, all that is left. */
      lines: z
        .array(z.object({ lineId: z.number().int(), quantity: decimalText }))
        .min(1, 'Choose a line at least.')
        .max(500)
        .optional(),
      /** When it is wanted; left out, as quoted, or today where that has passed. */
      requiredDate: dateText.optional(),
      reference: shortText.optional(),
    }),
    answer: orderView,
  }),
  loseQuote: route({
    method: 'post',
    path: '/selling/quotes/:id/lose',
    summary: 'Say that a quote is lost, and why; or end a blanket order',
    right: 'selling.edit',
    params: idParams,
    body: versioned.extend({ reason: z.enum(quoteReasons), note: shortText.default('') }),
    answer: orderView,
  }),
};
