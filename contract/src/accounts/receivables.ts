/** What customers owe: payments over several invoices, credit notes, accounts of customers, ageing, reminders. */
import { z } from 'zod';
import { ageBands } from '@terrace/core';
import { route } from '../base/route';
import { dateText, decimalText, idParams, listQuery, page, shortText, version } from '../base/schemas';
import { invoiceView } from './invoices';

export const paymentMethods = ['transfer', 'cash', 'card'] as const;
/** The open drawer that cash goes through; `null` where it is brought to the bank. */
export const drawerOfCash = z.number().int().nullable().default(null);
const method = z.enum(paymentMethods);

/** What of a payment goes to an invoice; amounts in the currency of both. */
const settle = z.object({
  invoiceId: z.number().int(),
  /** How much of the invoice is closed by it … */
  amount: decimalText,
  /** … and what of that is let off for paying early, and not paid. */
  letOff: decimalText.default('0'),
});
const settles = z.array(settle).max(500);

const paymentRow = z.object({
  id: z.number(),
  number: z.string(),
  customerId: z.number(),
  customer: z.string(),
  date: z.string(),
  /** What it was paid in, and how much of that; the figures below are in the books' currency. */
  currency: z.string(),
  theirAmount: z.string(),
  /** Below 0 where money went back. */
  amount: z.string(),
  method,
  /** What they wrote with it. */
  reference: z.string(),
  /** What of it closes no invoice yet: paid ahead. */
  rest: z.string(),
  reversed: z.boolean(),
});
/** Its amounts are in its own currency, but for the one that says otherwise. */
export const paymentView = paymentRow.omit({ theirAmount: true }).extend({
  /** What one of its currency was worth in the books', and its amount there. */
  rate: z.string(),
  booksAmount: z.string(),
  /** The order that it was paid ahead for. */
  orderId: z.number().nullable(),
  order: z.string(),
  settled: z.array(
    z.object({
      id: z.number(),
      invoiceId: z.number(),
      number: z.string(),
      date: z.string(),
      amount: z.string(),
      letOff: z.string(),
      reversed: z.boolean(),
    }),
  ),
});
export type PaymentView = z.output<typeof paymentView>;

/** Something open between a customer and us: an invoice, a credit note, or what was paid ahead. */
const openItem = z.object({
  kind: z.enum(['invoice', 'credit', 'payment']),
  id: z.number(),
  number: z.string(),
  date: z.string(),
  /** Empty of what was paid ahead. */
  dueDate: z.string(),
  total: z.string(),
  /** Below 0 where we owe it. */
  open: z.string(),
  /** How old it is, by days past its due date. */
  band: z.enum(ageBands),
  /** What is let off if it is paid today; 0 where nothing is. */
  letOff: z.string(),
  /** The last step of reminding, 0 for none, and its day. */
  reminded: z.number().int(),
  remindedOn: z.string().nullable(),
});
const bands = z.object(Object.fromEntries(ageBands.map((band) => [band, z.string()])) as Record<(typeof ageBands)[number], z.ZodString>);
export const customerAccount = z.object({
  customerId: z.number(),
  code: z.string(),
  customer: z.string(),
  email: z.string(),
  /** In the books' currency. */
  creditLimit: z.string().nullable(),
  /** What all other figures are in: the customer's. */
  currency: z.string(),
  /** What they owe, less what we owe them. */
  balance: z.string(),
  overdue: z.string(),
  /** What is open on invoices by how old it is. */
  bands,
  /** Paid ahead and on credit notes, below 0: with all bands it is the balance. */
  credit: z.string(),
  open: z.array(openItem),
  /** From this day on, what was open before it, and every movement since. */
  since: z.string(),
  before: z.string(),
  movements: z.array(
    z.object({
      kind: z.enum(['invoice', 'credit', 'payment', 'letOff']),
      id: z.number(),
      number: z.string(),
      date: z.string(),
      /** What it adds to what they owe. */
      amount: z.string(),
      /** What they owe after it. */
      balance: z.string(),
    }),
  ),
});
export type CustomerAccount = z.output<typeof customerAccount>;

const debtorRow = z.object({
  /** The customer's. */
  id: z.number(),
  code: z.string(),
  customer: z.string(),
  /** What they pay in; the figures are in the books' currency. */
  currency: z.string(),
  balance: z.string(),
  ...Object.fromEntries(ageBands.map((band) => [band, z.string()])),
  overdue: z.string(),
  /** Paid ahead and on credit notes, below 0. */
  credit: z.string(),
  /** The due date of what is due the longest; `null` where nothing is open. */
  oldest: z.string().nullable(),
  /** The highest step of reminding that was taken for what is open. */
  reminded: z.number().int(),
});

/** What reminding a customer comes to, or why it can't be done. */
const reminder = z.object({
  customerId: z.number(),
  customer: z.string(),
  /** The step: 1 to 3; 0 where nothing is due to be reminded of. */
  step: z.number().int(),
  invoices: z.array(z.object({ id: z.number(), number: z.string(), dueDate: z.string(), open: z.string(), step: z.number().int() })),
  total: z.string(),
  /** What it is in: the customer's. */
  currency: z.string(),
  /** Why it can't be sent; empty where it can. */
  why: z.string(),
});
export type Reminder = z.output<typeof reminder>;

const toInvoiceRow = z.object({
  /** The shipment's. */
  id: z.number(),
  number: z.string(),
  date: z.string(),
  orderId: z.number(),
  order: z.string(),
  customerId: z.number(),
  customer: z.string(),
  /** What an invoice of this customer is for. */
  invoicing: z.enum(['shipment', 'order', 'together']),
  /** Whether all of the order has gone. */
  whole: z.boolean(),
});

export const receivablesRoutes = {
  listPayments: route({
    method: 'get',
    path: '/selling/payments',
    summary: 'Payments of customers, the newest first',
    right: 'accounts.see',
    query: listQuery,
    answer: page(paymentRow),
  }),
  getPayment: route({
    method: 'get',
    path: '/selling/payments/:id',
    summary: 'A payment, and what it closes',
    right: 'accounts.see',
    params: idParams,
    answer: paymentView,
  }),
  openDrawers: route({
    method: 'get',
    path: '/accounts/drawers',
    summary: 'Drawers that are open: where cash of a payment can go',
    right: 'accounts.pay',
    answer: z.array(z.object({ id: z.number(), number: z.string(), warehouse: z.string() })),
  }),
  recordPayment: route({
    method: 'post',
    path: '/selling/payments',
    summary: 'Record a payment over one or several invoices; what none takes is paid ahead',
    right: 'accounts.pay',
    body: z.object({
      customerId: z.number().int(),
      /** In the customer's currency. */
      amount: decimalText,
      /** What one of it was worth in the books' currency, as the bank says; that of the day where nobody says. */
      rate: decimalText.optional(),
      date: dateText.optional(),
      method,
      drawerId: drawerOfCash,
      reference: shortText.default(''),
      /** The order that it is paid ahead for. */
      orderId: z.number().int().nullable().default(null),
      settle: settles,
    }),
    answer: paymentView,
  }),
  settlePayment: route({
    method: 'post',
    path: '/selling/payments/:id/settle',
    summary: 'Close invoices with what was paid ahead',
    right: 'accounts.pay',
    params: idParams,
    body: z.object({ settle: settles.min(1, 'Say which invoice.') }),
    answer: paymentView,
  }),
  reversePayment: route({
    method: 'post',
    path: '/selling/payments/:id/reverse',
    summary: 'Take a payment back',
    right: 'accounts.pay',
    params: idParams,
    answer: paymentView,
  }),
  creditInvoice: route({
    method: 'post',
    path: '/selling/invoices/:id/credit',
    summary: 'Give back what an invoice charged, by pieces or by an amount; it closes the invoice as far as that is open',
    right: 'accounts.invoice',
    params: idParams,
    body: z.object({
      version,
      reason: z.string().trim().min(1, 'Say why.').max(200),
      lines: z
        .array(
          z.object({
            /** The invoice's line. */
            lineId: z.number().int(),
            /** Pieces that are given back, in the item's unit; 0 where only money is. */
            quantity: decimalText.default('0'),
            /** Money given back without pieces, without tax. */
            amount: decimalText.default('0'),
          }),
        )
        .min(1, 'Say which line.'),
    }),
    answer: invoiceView,
  }),
  settleCredit: route({
    method: 'post',
    path: '/selling/invoices/:id/settle',
    summary: 'Close invoices with a credit note',
    right: 'accounts.pay',
    params: idParams,
    body: z.object({ version, settle: settles.min(1, 'Say which invoice.') }),
    answer: invoiceView,
  }),
  refundCredit: route({
    method: 'post',
    path: '/selling/invoices/:id/refund',
    summary: 'Pay a credit note out',
    right: 'accounts.pay',
    params: idParams,
    body: z.object({ version, amount: decimalText, date: dateText.optional(), method, drawerId: drawerOfCash }),
    answer: invoiceView,
  }),
  customerAccount: route({
    method: 'get',
    path: '/selling/customers/:id/account',
    summary: 'What is open between a customer and us, how old it is, and how it came about',
    right: 'accounts.see',
    params: idParams,
    query: z.object({ since: dateText.optional() }),
    answer: customerAccount,
  }),
  debtors: route({
    method: 'get',
    path: '/accounts/debtors',
    summary: 'Customers with anything open, by how old it is',
    right: 'accounts.see',
    query: listQuery,
    answer: page(debtorRow),
  }),
  previewReminders: route({
    method: 'get',
    path: '/accounts/reminders',
    summary: 'Whom to remind today, of what, and for the how manyth time',
    right: 'accounts.see',
    answer: z.array(reminder),
  }),
  remind: route({
    method: 'post',
    path: '/accounts/reminders',
    summary: 'Remind customers of what is overdue, by mail',
    right: 'accounts.invoice',
    body: z.object({ customerIds: z.array(z.number().int()).min(1, 'Choose whom to remind.').max(500) }),
    answer: z.array(reminder),
  }),
  toInvoice: route({
    method: 'get',
    path: '/selling/to-invoice',
    summary: 'Shipments that have left and are on no invoice',
    right: 'accounts.see',
    query: listQuery,
    answer: page(toInvoiceRow),
  }),
  invoiceShipments: route({
    method: 'post',
    path: '/selling/to-invoice',
    summary: 'Invoice shipments: one invoice for those of a customer that are agreed alike, or one each, as the customer wants it',
    right: 'accounts.invoice',
    body: z.object({ shipmentIds: z.array(z.number().int()).min(1, 'Choose shipments.').max(500) }),
    answer: z.array(
      z.object({ id: z.number(), number: z.string(), customer: z.string(), total: z.string(), currency: z.string(), shipments: z.number().int() }),
    ),
  }),
};
