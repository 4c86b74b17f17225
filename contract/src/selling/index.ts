/** Customer orders and price lists. */
import { z } from 'zod';
import { invoiceView } from '../accounts';
import { route } from '../base/route';
import { customInput, customView } from '../catalogue/custom';
import { dividingRoutes } from './dividing';
import { priceRoutes } from './prices';
import { offerFields, quoteReasons, quoteRow } from './quotes';
import { runRoutes } from './runs';
import { dateText, decimalText, idParams, listQuery, longText, page, shortText, version, versioned } from '../base/schemas';

export * from './dividing';
export * from './prices';
export * from './quotes';
export * from './runs';

export const orderStates = [
  'draft',
  'confirmed',
  'partShipped',
  'shipped',
  'invoiced',
  'closed',
  'cancelled',
  'offered',
  'agreed',
  'won',
  'lost',
] as const;
export const orderKinds = ['order', 'quote', 'blanket'] as const;

export const orderRow = z.looseObject({
  id: z.number(),
  number: z.string(),
  customer: z.string(),
  reference: z.string(),
  state: z.enum(orderStates),
  orderDate: z.string(),
  requiredDate: z.string(),
  promiseDate: z.string().nullable(),
  warehouse: z.string(),
  carrier: z.string(),
  /** Why nothing goes on with it; empty where it does. */
  held: z.string(),
  lines: z.number(),
  ready: z.enum(['all', 'part', 'nothing', 'done']),
  late: z.boolean(),
  /** Whether the plan has some of it later than wanted, or not at all. */
  endangered: z.boolean(),
  total: z.string(),
});
export type OrderRow = z.output<typeof orderRow>;

export const orderLine = z.object({
  id: z.number(),
  position: z.number(),
  itemId: z.number(),
  code: z.string(),
  description: z.string(),
  unit: z.string(),
  decimals: z.number(),
  quantity: z.string(),
  price: z.string(),
  discount: z.string(),
  requiredDate: z.string(),
  promiseDate: z.string().nullable(),
  /** Whether something of it is still to ship and its day has passed, or it is promised later than wanted, or not at all. */
  late: z.boolean(),
  reserved: z.string(),
  shipped: z.string(),
  invoiced: z.string(),
  cancelled: z.string(),
  outstanding: z.string(),
  /** How many of its pieces are free of charge. */
  free: z.string(),
  note: z.string(),
  /** Where it goes and by whom, if not as the order; else empty. */
  shipTo: z.string(),
  carrier: z.string(),
  /** Whether the supplier ships it. */
  direct: z.boolean(),
  /** Of a quote or a blanket order: what has become orders. */
  ordered: z.string(),
  /** What the customer calls the item; empty where they call it nothing of their own. */
  theirCode: z.string(),
  amount: z.string(),
  covered: z.string(),
  /** How its price came about. */
  priceSteps: z.array(z.string()),
  discountReason: z.string(),
  /** Items that could stand in where it is short, each with what is free. */
  substitutes: z.array(z.object({ id: z.number(), code: z.string(), description: z.string(), free: z.string(), ratio: z.string() })),
});
export type OrderLine = z.output<typeof orderLine>;

export const orderView = z.object({
  id: z.number(),
  number: z.string(),
  kind: z.enum(orderKinds),
  /** Of a quote or a blanket order: the last day on which it holds, and whether that has passed. */
  validUntil: z.string().nullable(),
  lapsed: z.boolean(),
  /** How likely a quote becomes an order, in percent. */
  probability: z.number().int(),
  /** Why a quote was lost; empty where it was not. */
  lostReason: z.string(),
  state: z.enum(orderStates),
  customerId: z.number(),
  customer: z.string(),
  reference: z.string(),
  orderDate: z.string(),
  requiredDate: z.string(),
  /** What the plan says of it; `null` where it says nothing. */
  planned: z.object({ ready: z.string().nullable(), endangered: z.boolean() }).nullable(),
  /** Whether one of its lines is late. */
  late: z.boolean(),
  promiseDate: z.string().nullable(),
  warehouseId: z.number(),
  warehouse: z.string(),
  /** By whom it goes, and how. */
  carrier: z.string(),
  service: z.string(),
  /** Why nothing goes on with it; empty where it does. */
  held: z.string(),
  /** Where it goes, as entered; empty for the customer's own address. */
  shipTo: z.string(),
  /** How it was agreed to be paid: a code of payment terms, or none where by days; and in words. */
  paymentTerm: z.string().nullable(),
  terms: z.string(),
  /** Who sells it. */
  salesPersonId: z.number().nullable(),
  salesPerson: z.string(),
  /** Whether it goes as a whole or not at all. */
  complete: z.boolean(),
  /** The orders that it was divided into, or that were divided with it, itself included; none where it never was. */
  family: z.array(
    z.object({ id: z.number(), number: z.string(), state: z.enum(orderStates), promiseDate: z.string().nullable(), total: z.string(), version }),
  ),
  note: z.string(),
  lines: z.array(orderLine),
  net: z.string(),
  tax: z.string(),
  total: z.string(),
  ready: z.enum(['all', 'part', 'nothing', 'done']),
  custom: customView,
  version,
});
export type OrderView = z.output<typeof orderView>;

export const orderInput = z.object({
  customerId: z.number('Choose a customer.').int().positive('Choose a customer.'),
  reference: shortText.default(''),
  requiredDate: dateText,
  warehouseId: z.number().int().positive('Choose a warehouse.'),
  note: z.string().max(2000).default(''),
  /** By whom it goes, and how; left out, as the customer has it, or as it was. */
  carrier: shortText.optional(),
  service: shortText.optional(),
  /** Where it goes; empty for the customer's own address. */
  shipTo: longText.default(''),
  /** How it is to be paid; left out, as the customer does, or as it was. */
  paymentTerm: shortText.nullable().optional(),
  /** Who sells it; left out, whoever enters it, or as it was. */
  salesPersonId: z.number().int().nullable().optional(),
  /** Whether it goes as a whole or not at all. */
  complete: z.boolean().default(false),
  custom: customInput,
  lines: z
    .array(
      z.object({
        id: z.number().optional(),
        itemId: z.number().int().positive('Choose an item.'),
        quantity: decimalText,
        price: decimalText.optional(),
        discount: decimalText.default('0'),
        /** Why more than the ceiling is given away. */
        discountReason: shortText.default(''),
        requiredDate: dateText.optional(),
        /** How many of its pieces are free of charge. */
        free: decimalText.default('0'),
        note: longText.default(''),
        /** Where it goes and by whom, if not as the order. */
        shipTo: longText.default(''),
        carrier: shortText.default(''),
        /** Whether the supplier ships it. */
        direct: z.boolean().default(false),
      }),
    )
    .min(1, 'An order needs a line at least.')
    .max(500),
});
export type OrderInput = z.input<typeof orderInput>;

/** Nothing, a warning that somebody may pass, or a stop. */
export const creditRule = z.enum(['off', 'warn', 'stop']);
/** Whether somebody has seen that it goes beyond the customer's credit limit, and goes on. */
const beyondCredit = z.boolean().default(false);

export const sellingRoutes = {
  ...priceRoutes,
  ...runRoutes,
  ...dividingRoutes,
  boughtBefore: route({
    method: 'get',
    path: '/selling/customers/:id/bought',
    summary: 'What a customer ordered before, the latest first, each item as it was ordered last',
    right: 'selling.see',
    params: idParams,
    answer: z.array(
      z.object({
        itemId: z.number(),
        code: z.string(),
        description: z.string(),
        unit: z.string(),
        decimals: z.number(),
        theirCode: z.string(),
        quantity: z.string(),
        price: z.string(),
        discount: z.string(),
        orderDate: z.string(),
        orderId: z.number(),
        number: z.string(),
      }),
    ),
  }),
  shippedDirect: route({
    method: 'get',
    path: '/selling/direct',
    summary: 'Lines that a supplier ships, and nobody has ordered yet: open needs',
    right: 'buying.see',
    answer: z.array(
      z.object({
        lineId: z.number(),
        orderId: z.number(),
        order: z.string(),
        position: z.number(),
        customer: z.string(),
        itemId: z.number(),
        code: z.string(),
        description: z.string(),
        unit: z.string(),
        /** Still to ship, in the item’s unit. */
        quantity: z.string(),
        wanted: z.string(),
        promised: z.string().nullable(),
        /** Whom the item is bought from in the first place; empty where nobody is known. */
        supplier: z.string(),
        supplierId: z.number().nullable(),
        shipTo: z.string(),
      }),
    ),
  }),
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
  cancelLine: route({
    method: 'post',
    path: '/selling/orders/:id/lines/:line/cancel',
    summary: 'Cancel what of a line has not shipped, or a part of it',
    right: 'selling.edit',
    params: idParams.extend({ line: idParams.shape.id }),
    body: versioned.extend({
      reason: shortText.min(1, 'Say why.'),
      /** How much of it; left out, all that has not shipped. */
      quantity: decimalText.optional(),
    }),
    answer: orderView,
  }),
  mailConfirmation: route({
    method: 'post',
    path: '/selling/orders/:id/mail',
    summary: 'Send the customer the confirmation of an order by mail',
    right: 'selling.confirm',
    params: idParams,
    body: versioned,
    answer: orderView,
  }),
  holdOrder: route({
    method: 'post',
    path: '/selling/orders/:id/hold',
    summary: 'Hold an order: nothing goes on with it until it is let go',
    right: 'selling.confirm',
    params: idParams,
    body: versioned.extend({ reason: shortText.min(1, 'Say why.') }),
    answer: orderView,
  }),
  letGoOrder: route({
    method: 'post',
    path: '/selling/orders/:id/let-go',
    summary: 'Let a held order go on',
    right: 'selling.confirm',
    params: idParams,
    body: versioned,
    answer: orderView,
  }),
  listOrders: route({
    method: 'get',
    path: '/selling/orders',
    summary: 'The order book',
    right: 'selling.see',
    query: listQuery,
    answer: page(orderRow),
  }),
  getOrder: route({
    method: 'get',
    path: '/selling/orders/:id',
    summary: 'A customer order',
    right: 'selling.see',
    params: idParams,
    answer: orderView,
  }),
  createOrder: route({
    method: 'post',
    path: '/selling/orders',
    summary: 'Enter a customer order',
    right: 'selling.edit',
    body: orderInput.extend({ confirm: z.boolean().default(false), beyondCredit }),
    answer: orderView,
  }),
  changeOrder: route({
    method: 'put',
    path: '/selling/orders/:id',
    summary: 'Change a customer order',
    right: 'selling.edit',
    params: idParams,
    body: orderInput.extend({ version, beyondCredit }),
    answer: orderView,
  }),
  previewChange: route({
    method: 'post',
    path: '/selling/orders/:id/change/preview',
    summary: 'What a change of an order would bring about; nothing of it is kept',
    right: 'selling.edit',
    params: idParams,
    body: orderInput.extend({ version }),
    answer: z.object({
      /** What becomes of each line that changes. */
      rows: z.array(z.object({ position: z.number(), code: z.string(), words: z.string(), trouble: z.boolean() })),
      /** The total with tax before and after. */
      from: z.string(),
      to: z.string(),
      /** Why it takes the customer beyond their credit limit; empty where it does not. */
      beyondCredit: z.string(),
    }),
  }),
  confirmOrder: route({
    method: 'post',
    path: '/selling/orders/:id/confirm',
    summary: 'Confirm: reserve what is free, promise dates for the rest',
    right: 'selling.confirm',
    params: idParams,
    body: versioned.extend({ allOrNothing: z.boolean().default(false), beyondCredit }),
    answer: orderView,
  }),
  reserveOrder: route({
    method: 'post',
    path: '/selling/orders/:id/reserve',
    summary: 'Reserve what is free by now',
    right: 'selling.confirm',
    params: idParams,
    answer: orderView,
  }),
  cancelOrder: route({
    method: 'post',
    path: '/selling/orders/:id/cancel',
    summary: 'Cancel what has not shipped',
    right: 'selling.edit',
    params: idParams,
    body: versioned.extend({ reason: shortText.min(1, 'Say why.') }),
    answer: orderView,
  }),
  freeForWaiting: route({
    method: 'get',
    path: '/selling/waiting',
    summary: 'Free stock, and the lines that wait for it in the order in which they would get it',
    right: 'selling.see',
    answer: z.object({
      /** Whether it is reserved by itself as soon as it is free. */
      byItself: z.boolean(),
      rows: z.array(
        z.object({
          lineId: z.number(),
          orderId: z.number(),
          order: z.string(),
          position: z.number(),
          customer: z.string(),
          itemId: z.number(),
          code: z.string(),
          description: z.string(),
          unit: z.string(),
          warehouse: z.string(),
          wanted: z.string(),
          promised: z.string().nullable(),
          /** What is not reserved of it, and what it would get; in the item's unit. */
          waits: z.string(),
          gets: z.string(),
        }),
      ),
    }),
  }),
  reserveForWaiting: route({
    method: 'post',
    path: '/selling/waiting',
    summary: 'Reserve what is free for the lines that wait, in order of their promises',
    right: 'selling.confirm',
    answer: z.object({ reserved: z.number() }),
  }),
  setReservesByItself: route({
    method: 'put',
    path: '/selling/waiting',
    summary: 'Whether free stock is reserved by itself for the orders that wait',
    right: 'setup.edit',
    body: z.object({ byItself: z.boolean() }),
    answer: z.object({ byItself: z.boolean() }),
  }),
  getCreditRule: route({
    method: 'get',
    path: '/selling/credit-rule',
    summary: 'What is done where an order takes a customer beyond the credit limit',
    right: 'selling.see',
    answer: z.object({ rule: creditRule }),
  }),
  setCreditRule: route({
    method: 'put',
    path: '/selling/credit-rule',
    summary: 'Say what is done where an order takes a customer beyond the credit limit',
    right: 'setup.edit',
    body: z.object({ rule: creditRule }),
    answer: z.object({ rule: creditRule }),
  }),
  pricesAgain: route({
    method: 'get',
    path: '/selling/orders/:id/prices',
    summary: 'What the prices of today would change of an order',
    right: 'selling.see',
    params: idParams,
    answer: z.object({
      lines: z.array(
        z.object({
          id: z.number(),
          position: z.number(),
          code: z.string(),
          description: z.string(),
          /** Of one unit, as agreed and as of today. */
          from: z.string(),
          to: z.string(),
          /** How today's price comes about, a sentence a step. */
          steps: z.array(z.string()),
        }),
      ),
      /** The total with tax, as agreed and with all of these. */
      from: z.string(),
      to: z.string(),
    }),
  }),
  priceAgain: route({
    method: 'post',
    path: '/selling/orders/:id/prices',
    summary: 'Take the prices of today for lines of an order',
    right: 'selling.edit',
    params: idParams,
    body: z.object({
      version,
      lines: z.array(z.number()).min(1, 'Choose a line at least.').max(500, 'Choose at most 500 lines at once.'),
      /** Whether they may take a confirmed order beyond its customer's credit limit, where the company only warns. */
      beyondCredit: z.boolean().default(false),
    }),
    answer: orderView,
  }),
  invoiceOrder: route({
    method: 'post',
    path: '/selling/orders/:id/invoice',
    summary: 'Invoice what has shipped and is not invoiced',
    right: 'accounts.invoice',
    params: idParams,
    body: z.object({ shipmentId: z.number().optional() }),
    answer: invoiceView,
  }),
};
