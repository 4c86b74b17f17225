/** What was done with many orders at once, and what became of each. */
import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { OrderAct } from '@terrace/contract';

export const orderRun = sqliteTable('order_run', {
  id: integer().primaryKey(),
  act: text({ mode: 'json' }).$type<OrderAct>().notNull(),
  userId: integer().notNull(),
  at: text().notNull(),
  state: text().$type<'running' | 'done' | 'stopped' | 'cut'>().notNull(),
});

export const orderRunRow = sqliteTable(
  'order_run_row',
  {
    runId: integer()
      .notNull()
      .references(() => orderRun.id),
    position: integer().notNull(),
    orderId: integer().notNull(),
    state: text().$type<'waiting' | 'done' | 'refused'>().notNull(),
    words: text().notNull(),
  },
  (table) => [primaryKey({ columns: [table.runId, table.position] }), index('order_run_row_order').on(table.orderId)],
);
