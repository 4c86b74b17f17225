/** The kinds of documents that the counter has. */
import { eq } from 'drizzle-orm';
import { customer, warehouse } from '../catalogue';
import type { DocumentSpec } from '../platform/documents';
import { customerOrder } from '../selling';
import { counterSale, drawer } from './schema';
import { sql } from 'drizzle-orm';

export const counterDocuments: readonly DocumentSpec[] = [
  {
    kind: 'counterSale',
    table: counterSale,
    prefix: 'CS',
    facts: { number: counterSale.number, state: sql`null`, date: counterSale.date, detail: customer.name },
    joins: [
      { table: customerOrder, on: eq(customerOrder.id, counterSale.orderId) },
      { table: customer, on: eq(customer.id, customerOrder.customerId) },
    ],
    found: 13,
  },
  {
    kind: 'drawer',
    table: drawer,
    prefix: 'DR',
    facts: {
      number: drawer.number,
      state: sql`case when ${drawer.closedAt} is null then 'openDrawer' else 'closedDrawer' end`,
      date: sql`substr(${drawer.openedAt}, 1, 10)`,
      detail: warehouse.code,
    },
    joins: [{ table: warehouse, on: eq(warehouse.id, drawer.warehouseId) }],
  },
];
