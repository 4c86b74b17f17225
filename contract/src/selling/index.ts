/** Customer orders and price lists. */
import { z } from 'zod';
import { invoiceView } from '../accounts';
import { route } from '../base/route';
import { dividingRoutes } from './dividing';
import { figuresRoutes } from './figures';
import { orderInput, orderRow, orderView } from './order';
import { priceRoutes } from './prices';
import { quoteRoutes } from './quotes';
import { runRoutes } from './runs';
import { decimalText, idParams, listQuery, page, shortText, version, versioned } from '../base/schemas';

export * from './dividing';
export * from './figures';
export * from './order';
export * from './prices';
export * from './quotes';
export * from './runs';

/** Nothing, a warning that somebody may pass, or a stop. */
export const creditRule = z.enum(['off', 'warn', 'stop']);
/** Whether somebody has seen that it goes beyond the customer's credit limit, and goes on. */
const beyondCredit = z.boolean().default(false);

export const sellingRoutes = {
  ...priceRoutes,
  ...runRoutes,
  ...dividingRoutes,
  ...figuresRoutes,
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
  previewCharges: route({
    method: 'post',
    path: '/selling/charges',
    summary: 'What would be charged by rule for an order, and what it then comes to; nothing of it is kept',
    right: 'selling.edit',
    body: orderInput,
    answer: z.object({
      currency: z.string(),
      charges: z.array(z.object({ code: z.string(), description: z.string(), amount: z.string(), words: z.string() })),
      /** Without tax, with the charges, and with tax. */
      net: z.string(),
      total: z.string(),
    }),
  }),
  ...quoteRoutes,
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
      /** What the prices and the totals before and after are in. */
      currency: z.string(),
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
