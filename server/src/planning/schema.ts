import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Peg } from '@terrace/core';

export const planRun = sqliteTable('plan_run', {
  id: integer().primaryKey(),
  at: text().notNull(),
  today: text().notNull(),
  horizon: text().notNull(),
  milliseconds: integer().notNull(),
  /** Last line of history that the run knew of. */
  historyId: integer().notNull(),
});

export const planSuggestion = sqliteTable(
  'plan_suggestion',
  {
    id: integer().primaryKey(),
    runId: integer()
      .notNull()
      .references(() => planRun.id),
    name: text().notNull(),
    kind: text().$type<'buy' | 'make' | 'transfer'>().notNull(),
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    quantity: text().notNull(),
    placeBy: text().notNull(),
    due: text().notNull(),
    neededBy: text().notNull(),
    daysLate: integer().notNull(),
    supplierId: integer(),
    why: text().notNull(),
    level: integer().notNull(),
    pegs: text({ mode: 'json' }).$type<readonly Peg[]>().notNull(),
    releasedKind: text().$type<'purchaseOrder' | 'productionOrder'>(),
    releasedId: integer(),
    releasedNumber: text(),
  },
  (table) => [index('plan_suggestion_run').on(table.runId), index('plan_suggestion_item').on(table.itemId)],
);

export const planException = sqliteTable('plan_exception', {
  id: integer().primaryKey(),
  runId: integer()
    .notNull()
    .references(() => planRun.id),
  kind: text().notNull(),
  subject: text().notNull(),
  item: text().notNull(),
  warehouse: text().notNull(),
  fromDate: text().notNull(),
  toDate: text(),
  quantity: text().notNull(),
});

export const planProblem = sqliteTable('plan_problem', {
  id: integer().primaryKey(),
  runId: integer()
    .notNull()
    .references(() => planRun.id),
  code: text().notNull(),
  subject: text().notNull(),
  message: text().notNull(),
});

/** Which supply serves which demand, from the last run. */
export const planPeg = sqliteTable(
  'plan_peg',
  {
    id: integer().primaryKey(),
    runId: integer()
      .notNull()
      .references(() => planRun.id),
    item: text().notNull(),
    warehouse: text().notNull(),
    supplyKind: text().$type<'stock' | 'receipt' | 'suggestion'>().notNull(),
    supply: text().notNull(),
    day: text().notNull(),
    demand: text().notNull(),
    quantity: text().notNull(),
  },
  (table) => [index('plan_peg_demand').on(table.demand), index('plan_peg_supply').on(table.supply)],
);
