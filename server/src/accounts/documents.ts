/** The kinds of documents that accounts has. */
import { eq } from 'drizzle-orm';
import { customer } from '../catalogue';
import type { DocumentSpec } from '../platform/documents';
import { takenBack } from '../platform/expressions';
import { invoicePaper } from './papers';
import { invoice, payment } from './invoice-schema';

export const accountsDocuments: readonly DocumentSpec[] = [
  {
    kind: 'invoice',
    table: invoice,
    prefix: 'INV',
    ownNumber: eq(invoice.kind, 'invoice'),
    alsoNumbered: [{ prefix: 'CR', which: eq(invoice.kind, 'credit') }],
    facts: { number: invoice.number, state: invoice.state, date: invoice.date, detail: customer.name },
    joins: [{ table: customer, on: eq(customer.id, invoice.customerId) }],
    found: 10,
    paper: invoicePaper,
  },
  {
    kind: 'payment',
    table: payment,
    prefix: 'PAY',
    facts: { number: payment.number, state: takenBack(payment.reversed), date: payment.date, detail: customer.name },
    joins: [{ table: customer, on: eq(customer.id, payment.customerId) }],
    found: 11,
  },
];
