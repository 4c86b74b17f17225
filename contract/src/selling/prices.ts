/** Price lists, and what a price is and why. */
import { z } from 'zod';
import { chargeBases, type PriceWay, type Rounding } from '@terrace/core';
import { route } from '../base/route';
import { dateText, decimalText, idParams, listQuery, page, shortText, version, versioned } from '../base/schemas';

export const priceWays = ['amount', 'offList', 'overCost', 'overStandard', 'marginOnCost'] as const satisfies readonly PriceWay[];
export const roundings = ['none', '0.01', '0.05', '0.10', '1.00', '.99', '.95'] as const satisfies readonly Rounding[];

export const priceListInput = z.object({
  code: z.string().trim().min(1, 'Give a code.').max(30),
  name: shortText.min(1, 'Give a name.'),
  /** Code of a currency; empty for that of the books. */
  currency: shortText.default(''),
  customerId: z.number().nullable().default(null),
  customerGroup: shortText.nullable().default(null),
  validFrom: dateText.nullable().default(null),
  validTo: dateText.nullable().default(null),
  rounding: z.enum(roundings).default('0.01'),
});
export const priceListView = priceListInput.extend({ id: z.number(), active: z.boolean(), version, audience: z.string(), entries: z.number() });
export type PriceListView = z.output<typeof priceListView>;

const priceBreak = z.object({
  /** From this quantity on. */
  from: decimalText.default('0'),
  /** A price, or percent. */
  value: decimalText,
});
export const priceEntryInput = z.object({
  itemId: z.number().nullable().default(null),
  groupCode: shortText.nullable().default(null),
  way: z.enum(priceWays),
  validFrom: dateText.nullable().default(null),
  validTo: dateText.nullable().default(null),
  breaks: z.array(priceBreak).min(1, 'Give a value at least.').max(20),
});
export const priceEntryRow = z.object({
  id: z.number(),
  itemId: z.number().nullable(),
  groupCode: z.string().nullable(),
  code: z.string(),
  description: z.string(),
  way: z.enum(priceWays),
  breaks: z.array(priceBreak),
  validFrom: z.string().nullable(),
  validTo: z.string().nullable(),
  version,
  /** For one item: what it makes today for its first break, in the list's currency, what it costs and what is left. */
  price: z.string(),
  cost: z.string(),
  margin: z.string(),
});

export const priceAnswer = z.object({
  price: z.string(),
  /** As the list states it, and in which currency. */
  stated: z.string(),
  currency: z.string(),
  /** What the price, the list price and the cost are in. */
  wantedIn: z.string(),
  list: z.object({ id: z.number(), code: z.string() }).nullable(),
  steps: z.array(z.string()),
  listPrice: z.string(),
  cost: z.string(),
  /** Percent of the price, or nothing where no cost is known. */
  margin: z.string(),
  ceiling: z.string().nullable(),
});
export type PriceAnswer = z.output<typeof priceAnswer>;

const massQuery = z.object({
  /** The list whose amounts change; without one, the items' own list prices. */
  listId: z.coerce.number().optional(),
  group: z.string().max(120).optional(),
  /** Percent up, or down with a minus. */
  percent: decimalText,
  rounding: z.enum(roundings).default('0.01'),
});
export const massRow = z.object({
  id: z.number(),
  code: z.string(),
  description: z.string(),
  from: z.string(),
  to: z.string(),
  cost: z.string(),
  marginFrom: z.string(),
  marginTo: z.string(),
});

const chargeStep = z.object({
  /** From so many kilograms, or so much of the books' currency without tax. */
  from: decimalText,
  /** What is charged then, in the books' currency; 0 for nothing. */
  price: decimalText,
});
export const chargeRuleInput = z.object({
  /** An item of kind charge. */
  itemId: z.number().int().positive('Choose a charge.'),
  by: z.enum(chargeBases),
  /** By whom the order must go; empty for anybody. */
  carrier: shortText.default(''),
  steps: z.array(chargeStep).min(1, 'Say from what on how much is charged.').max(30),
  active: z.boolean().default(true),
});
const chargeRuleView = chargeRuleInput.extend({ id: z.number(), code: z.string(), description: z.string(), version });
export type ChargeRuleView = z.output<typeof chargeRuleView>;

export const priceRoutes = {
  chargeRules: route({
    method: 'get',
    path: '/selling/charge-rules',
    summary: 'What is charged by itself, by what an order weighs or is worth',
    right: 'selling.see',
    answer: z.array(chargeRuleView),
  }),
  addChargeRule: route({
    method: 'post',
    path: '/selling/charge-rules',
    summary: 'Have something charged by rule',
    right: 'selling.price',
    body: chargeRuleInput,
    answer: chargeRuleView,
  }),
  changeChargeRule: route({
    method: 'put',
    path: '/selling/charge-rules/:id',
    summary: 'Change a rule of charges; orders that are confirmed keep what they have',
    right: 'selling.price',
    params: idParams,
    body: chargeRuleInput.extend({ version }),
    answer: chargeRuleView,
  }),
  listPriceLists: route({
    method: 'get',
    path: '/selling/price-lists',
    summary: 'Price lists',
    right: 'selling.see',
    query: listQuery,
    answer: page(priceListView),
  }),
  getPriceList: route({
    method: 'get',
    path: '/selling/price-lists/:id',
    summary: 'A price list',
    right: 'selling.see',
    params: idParams,
    answer: priceListView,
  }),
  createPriceList: route({
    method: 'post',
    path: '/selling/price-lists',
    summary: 'Set up a price list',
    right: 'selling.price',
    body: priceListInput,
    answer: priceListView,
  }),
  changePriceList: route({
    method: 'put',
    path: '/selling/price-lists/:id',
    summary: 'Change a price list',
    right: 'selling.price',
    params: idParams,
    body: priceListInput.extend({ version, active: z.boolean() }),
    answer: priceListView,
  }),
  listPriceEntries: route({
    method: 'get',
    path: '/selling/price-lists/:id/entries',
    summary: 'Prices of a list, each with cost and margin',
    right: 'selling.see',
    params: idParams,
    query: listQuery,
    answer: page(priceEntryRow),
  }),
  addPriceEntry: route({
    method: 'post',
    path: '/selling/price-lists/:id/entries',
    summary: 'Add a price to a list',
    right: 'selling.price',
    params: idParams,
    body: priceEntryInput,
    answer: z.object({ id: z.number() }),
  }),
  changePriceEntry: route({
    method: 'put',
    path: '/selling/price-entries/:id',
    summary: 'Change a price of a list',
    right: 'selling.price',
    params: idParams,
    body: priceEntryInput.extend({ version }),
    answer: z.object({ id: z.number() }),
  }),
  dropPriceEntry: route({
    method: 'post',
    path: '/selling/price-entries/:id/drop',
    summary: 'Take a price off its list',
    right: 'selling.price',
    params: idParams,
    body: versioned,
    answer: z.object({}),
  }),
  explainPrice: route({
    method: 'get',
    path: '/selling/price',
    summary: 'The price of an item for a customer, and why',
    right: 'selling.see',
    query: z.object({
      customerId: z.coerce.number().optional(),
      itemId: z.coerce.number(),
      quantity: decimalText.default('1'),
      date: dateText.optional(),
      warehouseId: z.coerce.number().optional(),
      /** A line of an order that is there already: it keeps the price that was agreed as long as item and quantity break stay. */
      lineId: z.coerce.number().int().positive().optional(),
    }),
    answer: priceAnswer,
  }),
  previewPrices: route({
    method: 'get',
    path: '/selling/price-change',
    summary: 'What a change of many prices would do',
    right: 'selling.price',
    query: massQuery,
    answer: z.object({ rows: z.array(massRow), unchanged: z.number(), print: z.string() }),
  }),
  changePrices: route({
    method: 'post',
    path: '/selling/price-change',
    summary: 'Change many prices as previewed',
    right: 'selling.price',
    body: massQuery.extend({ print: z.string(), except: z.array(z.number()).default([]) }),
    answer: z.object({ changed: z.number() }),
  }),
};
