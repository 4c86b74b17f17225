/** The kinds of documents that production has. */
import { eq, sql } from 'drizzle-orm';
import { item } from '../catalogue';
import type { DocumentSpec } from '../platform/documents';
import { takenBack } from '../platform/expressions';
import { completion, productionOrder } from './schema';

export const productionDocuments: readonly DocumentSpec[] = [
  {
    kind: 'productionOrder',
    table: productionOrder,
    prefix: 'PRD',
    facts: {
      number: productionOrder.number,
      state: productionOrder.state,
      date: productionOrder.dueDate,
      detail: sql<string>`${item.code} || ' ' || ${item.description}`,
    },
    joins: [{ table: item, on: eq(item.id, productionOrder.itemId) }],
    found: 4,
  },
  {
    kind: 'completion',
    table: completion,
    prefix: 'FIN',
    facts: { number: completion.number, state: takenBack(completion.reversed), date: completion.date, detail: productionOrder.number },
    joins: [{ table: productionOrder, on: eq(productionOrder.id, completion.orderId) }],
  },
];
