/** Invoices, payments, journal entries, and the checks that hold them to the ledger. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, decimalText, documentKind, idParams, listQuery, page, versioned } from '../base/schemas';
import { invoiceRow, invoiceView } from './invoices';
import { drawerOfCash, paymentMethods, receivablesRoutes } from './receivables';

export * from './invoices';
export * from './receivables';

export const journalRow = z.object({
  id: z.number(),
  entry: z.number(),
  date: z.string(),
  event: z.string(),
  document: z.string(),
  documentKind,
  documentId: z.number(),
  account: z.string(),
  accountName: z.string(),
  debit: z.string(),
  credit: z.string(),
});

export const accountsRoutes = {
  journal: route({
    method: 'get',
    path: '/accounts/journal',
    summary: 'Journal lines, newest first',
    right: 'accounts.see',
    query: listQuery,
    answer: page(journalRow),
  }),
  books: route({
    method: 'get',
    path: '/accounts/books',
    summary: 'Through which day the books are closed',
    right: 'accounts.see',
    answer: z.object({ closedThrough: z.string().nullable() }),
  }),
  closeBooks: route({
    method: 'post',
    path: '/accounts/books/close',
    summary: 'Close the books through a day: nothing more is posted on it or before',
    right: 'accounts.close',
    body: z.object({ through: dateText }),
    answer: z.object({ closedThrough: z.string() }),
  }),
  proof: route({
    method: 'get',
    path: '/accounts/proof',
    summary: 'Balances of all accounts, and whether they equal their ledgers',
    right: 'accounts.see',
    answer: z.object({
      accounts: z.array(z.object({ code: z.string(), name: z.string(), balance: z.string() })),
      checks: z.array(z.object({ name: z.string(), expected: z.string(), found: z.string(), holds: z.boolean() })),
    }),
  }),
  listInvoices: route({
    method: 'get',
    path: '/selling/invoices',
    summary: 'Customer invoices',
    right: 'accounts.see',
    query: listQuery,
    answer: page(invoiceRow),
  }),
  getInvoice: route({
    method: 'get',
    path: '/selling/invoices/:id',
    summary: 'A customer invoice',
    right: 'accounts.see',
    params: idParams,
    answer: invoiceView,
  }),
  reverseInvoice: route({
    method: 'post',
    path: '/selling/invoices/:id/reverse',
    summary: 'Take an unpaid invoice back',
    right: 'accounts.invoice',
    params: idParams,
    body: versioned,
    answer: invoiceView,
  }),
  payInvoice: route({
    method: 'post',
    path: '/selling/invoices/:id/payments',
    summary: 'Record a payment',
    right: 'accounts.pay',
    params: idParams,
    body: z.object({
      amount: decimalText,
      date: dateText.optional(),
      method: z.enum(paymentMethods),
      drawerId: drawerOfCash,
      /** Whether it closes the invoice with what is let off for paying early. */
      early: z.boolean().default(false),
    }),
    answer: invoiceView,
  }),
  ...receivablesRoutes,
};
