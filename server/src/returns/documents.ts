/** The kind of document that returns have. */
import { eq } from 'drizzle-orm';
import { customer } from '../catalogue';
import type { DocumentSpec } from '../platform/documents';
import { customerOrder } from '../selling';
import { returnPaper } from './papers';
import { customerReturn } from './schema';

export const returnsDocuments: readonly DocumentSpec[] = [
  {
    kind: 'customerReturn',
    table: customerReturn,
    prefix: 'RET',
    facts: { number: customerReturn.number, state: customerReturn.state, date: customerReturn.date, detail: customer.name },
    joins: [
      { table: customerOrder, on: eq(customerOrder.id, customerReturn.orderId) },
      { table: customer, on: eq(customer.id, customerOrder.customerId) },
    ],
    found: 12,
    paper: returnPaper,
  },
];
