/** Customer invoices and credit notes as they are shown. */
import { z } from 'zod';
import { version } from '../base/schemas';

export const invoiceRow = z.object({
  id: z.number(),
  number: z.string(),
  customer: z.string(),
  order: z.string(),
  orderId: z.number(),
  date: z.string(),
  dueDate: z.string(),
  /** A credit note's amounts are below 0. */
  kind: z.enum(['invoice', 'credit']),
  state: z.enum(['open', 'paid', 'reversed']),
  /** What it is asked for in, and the total there; the figures below are in the books' currency. */
  currency: z.string(),
  theirTotal: z.string(),
  total: z.string(),
  paid: z.string(),
  open: z.string(),
  overdue: z.boolean(),
});
/** Its amounts are in its own currency, but for those that say otherwise. */
export const invoiceView = invoiceRow.omit({ theirTotal: true }).extend({
  customerId: z.number(),
  /** What one of its currency was worth in the books' on its day, and its tax there. */
  rate: z.string(),
  booksTax: z.string(),
  /** Its total in the books' currency. */
  booksTotal: z.string(),
  net: z.string(),
  tax: z.string(),
  /** How it was agreed to be paid, in words; empty of invoices from before terms were kept with them. */
  terms: z.string(),
  /** The last day of a discount for early payment, and what is let off until then; `null` and 0 where nothing is. */
  discountUntil: z.string().nullable(),
  discountAmount: z.string(),
  /** What is let off if it is paid in full today; 0 where nothing is. */
  letOff: z.string(),
  /** Of a credit note: the invoice that it gives back, and why. */
  creditOfId: z.number().nullable(),
  creditOf: z.string(),
  reason: z.string(),
  /** The last step of reminding, 0 for none, and its day. */
  reminded: z.number().int(),
  remindedOn: z.string().nullable(),
  version,
  lines: z.array(
    z.object({
      id: z.number(),
      code: z.string(),
      description: z.string(),
      quantity: z.string(),
      /** Free of charge of these. */
      free: z.string(),
      unit: z.string(),
      price: z.string(),
      discount: z.string(),
      amount: z.string(),
      /** Given back on credit notes: pieces, and what they were worth. */
      credited: z.string(),
      creditedAmount: z.string(),
      /** The order that it is of, where an invoice is for several; empty where it is not. */
      order: z.string(),
    }),
  ),
  /** What closes it: payments, and credit notes. */
  payments: z.array(
    z.object({
      id: z.number(),
      /** Its payment or credit note. */
      documentId: z.number(),
      kind: z.enum(['payment', 'credit']),
      number: z.string(),
      date: z.string(),
      /** How much it closes, and what of that is let off. */
      amount: z.string(),
      letOff: z.string(),
      method: z.string(),
      reversed: z.boolean(),
    }),
  ),
});
export type InvoiceView = z.output<typeof invoiceView>;
