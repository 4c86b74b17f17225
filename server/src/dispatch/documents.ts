/** The kinds of documents that dispatch has. */
import { eq } from 'drizzle-orm';
import { customer } from '../catalogue';
import type { DocumentSpec } from '../platform/documents';
import { customerOrder } from '../selling';
import { pickListPaper } from './papers';
import { shipment } from './schema';

export const dispatchDocuments: readonly DocumentSpec[] = [
  {
    kind: 'shipment',
    table: shipment,
    prefix: 'SH',
    facts: { number: shipment.number, state: shipment.state, date: shipment.date, detail: customer.name },
    joins: [
      { table: customerOrder, on: eq(customerOrder.id, shipment.orderId) },
      { table: customer, on: eq(customer.id, customerOrder.customerId) },
    ],
    found: 5,
    paper: pickListPaper,
  },
];
