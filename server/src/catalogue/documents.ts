/** The kinds of records that the catalogue has: people name them, so they have no numbers. */
import { sql } from 'drizzle-orm';
import type { DocumentSpec } from '../platform/documents';
import { customer, supplier } from './party-schema';
import { item } from './schema';

const none = sql<null>`null`;

export const catalogueDocuments: readonly DocumentSpec[] = [
  {
    kind: 'item',
    table: item,
    prefix: null,
    facts: { number: item.code, state: sql`case ${item.active} when 0 then 'inactive' end`, date: none, detail: item.description },
    found: 1,
  },
  { kind: 'customer', table: customer, prefix: null, facts: { number: customer.code, state: none, date: none, detail: customer.name }, found: 11 },
  { kind: 'supplier', table: supplier, prefix: null, facts: { number: supplier.code, state: none, date: none, detail: supplier.name }, found: 12 },
];
