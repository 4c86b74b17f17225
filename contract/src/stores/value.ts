/** What stock is worth: on any day, after late costs and under new standards. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, decimalText, idParams, listQuery, longText, page } from '../base/schemas';

export const worthRow = z.object({
  id: z.string(),
  name: z.string(),
  detail: z.string(),
  quantity: z.string(),
  unit: z.string(),
  unitCost: z.string(),
  value: z.string(),
  link: z.number().nullable(),
});

export const lateCostRow = z.object({
  id: z.number(),
  number: z.string(),
  date: z.string(),
  what: z.enum(['invoiceDifference', 'landedCost']),
  amount: z.string(),
  inStock: z.string(),
  gone: z.string(),
  note: z.string(),
  reversed: z.boolean(),
});

export const valueRoutes = {
  worth: route({
    method: 'get',
    path: '/stores/worth',
    summary: 'Value of stock on a day, by item, group or warehouse',
    right: 'accounts.see',
    query: listQuery.extend({
      date: dateText.optional(),
      by: z.enum(['item', 'group', 'warehouse']).default('group'),
      warehouse: z.coerce.number().optional(),
    }),
    answer: page(worthRow).extend({ date: z.string(), value: z.string() }),
  }),
  lateCosts: route({
    method: 'get',
    path: '/stores/receipts/:id/late-costs',
    summary: 'Costs that came after a receipt',
    right: 'stores.see',
    params: idParams,
    answer: z.array(lateCostRow),
  }),
  addLateCost: route({
    method: 'post',
    path: '/stores/receipts/:id/late-costs',
    summary: 'Add a cost to goods received before: split between what is here and what has gone',
    right: 'accounts.invoice',
    params: idParams,
    body: z.object({
      what: z.enum(['invoiceDifference', 'landedCost']),
      amount: decimalText,
      date: dateText.optional(),
      note: longText.default(''),
    }),
    answer: z.array(lateCostRow),
  }),
  reverseLateCost: route({
    method: 'post',
    path: '/stores/late-costs/:id/reverse',
    summary: 'Take a late cost back',
    right: 'accounts.invoice',
    params: idParams,
    answer: z.array(lateCostRow),
  }),
  setStandardCost: route({
    method: 'post',
    path: '/stores/items/:id/standard-cost',
    summary: 'A new standard cost: what is there is revalued with an entry',
    right: 'accounts.invoice',
    params: idParams,
    body: z.object({ unitCost: decimalText, seen: decimalText, note: longText.default('') }),
    answer: z.object({ number: z.string(), change: z.string(), unitCost: z.string() }),
  }),
};
