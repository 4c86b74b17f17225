/** The kinds of documents that selling has. */
import { eq, sql } from 'drizzle-orm';
import { customer } from '../catalogue';
import type { DocumentSpec } from '../platform/documents';
import { orderPaper } from './papers';
import { customerOrder } from './schema';

export const sellingDocuments: readonly DocumentSpec[] = [
  {
    kind: 'customerOrder',
    table: customerOrder,
    prefix: 'CO',
    ownNumber: sql`${customerOrder.kind} = 'order' and (${customerOrder.familyId} is null or ${customerOrder.familyId} = ${customerOrder.id})`,
    alsoNumbered: [
      { prefix: 'QU', which: eq(customerOrder.kind, 'quote') },
      { prefix: 'BO', which: eq(customerOrder.kind, 'blanket') },
    ],
    facts: { number: customerOrder.number, state: customerOrder.state, date: customerOrder.orderDate, detail: customer.name },
    joins: [{ table: customer, on: eq(customer.id, customerOrder.customerId) }],
    found: 2,
    paper: orderPaper,
  },
];
