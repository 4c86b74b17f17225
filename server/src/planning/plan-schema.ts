/** Tables of the plan's file: a picture of what was computed. Quantities are decimal texts, as the plan writes them. */
import { isNull } from 'drizzle-orm';
import { index, integer, real, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Suggestion } from '@terrace/core';

/** One row: which plan it is and what it knows of. */
export const planState = sqliteTable('plan_state', {
  id: integer().primaryKey(),
  /** Counts the plans. */
  seq: integer().notNull(),
  at: text().notNull(),
  today: text().notNull(),
  horizon: text().notNull(),
  milliseconds: real().notNull(),
  /** Nodes that were planned anew. */
  planned: integer().notNull(),
  whole: integer({ mode: 'boolean' }).notNull(),
  /** The last line of history and the last stock move that it knows of. */
  historyId: integer().notNull(),
  moveId: integer().notNull(),
  /** Counted when they are written, so that nobody who looks has to count them. */
  suggestions: integer().notNull(),
  exceptions: integer().notNull(),
  endangered: integer().notNull(),
});

type Kind = Suggestion['kind'];

export const suggestion = sqliteTable(
  'suggestion',
  {
    id: integer().primaryKey(),
    /** The item in a warehouse, by the plan's own number. */
    node: integer().notNull(),
    name: text().notNull(),
    firmId: integer(),
    kind: text().$type<Kind>().notNull(),
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    fromId: integer(),
    code: text().notNull(),
    description: text().notNull(),
    unit: text().notNull(),
    decimals: integer().notNull(),
    groupCode: text().notNull(),
    warehouse: text().notNull(),
    /** Where a transfer comes from. */
    source: text(),
    quantity: text().notNull(),
    placeBy: text().notNull(),
    due: text().notNull(),
    neededBy: text().notNull(),
    daysLate: integer().notNull(),
    supplierId: integer(),
    supplier: text(),
    /** What would be ordered of it: as much, or what the supplier delivers at least. */
    ordered: text().notNull(),
    /** Who would usually deliver it, and how many days late, where somebody else is faster. */
    insteadOf: text(),
    insteadLate: integer().notNull(),
    cost: integer().notNull(),
    level: integer().notNull(),
    balance: text().notNull(),
    threshold: text().notNull(),
    missing: text().notNull(),
    sized: text().notNull(),
    pegs: text({ mode: 'json' }).$type<Suggestion['pegs']>().notNull(),
    ignoredUntil: text(),
    ignoredNote: text(),
    note: text(),
  },
  (table) => [
    index('suggestion_node').on(table.node),
    index('suggestion_name').on(table.name),
    index('suggestion_item').on(table.itemId, table.warehouseId),
    // The list as it opens.
    index('suggestion_open').on(table.placeBy, table.level, table.code, table.id).where(isNull(table.ignoredUntil)),
  ],
);

export const exception = sqliteTable(
  'exception',
  {
    id: integer().primaryKey(),
    node: integer().notNull(),
    kind: text().notNull(),
    subject: text().notNull(),
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    code: text().notNull(),
    description: text().notNull(),
    unit: text().notNull(),
    warehouse: text().notNull(),
    fromDate: text().notNull(),
    toDate: text(),
    quantity: text().notNull(),
  },
  (table) => [index('exception_node').on(table.node)],
);

export const problem = sqliteTable('problem', {
  id: integer().primaryKey(),
  /** -1 where it belongs to no node. */
  node: integer().notNull(),
  code: text().notNull(),
  subject: text().notNull(),
  message: text().notNull(),
  itemId: integer(),
  warehouseId: integer(),
});

/** What suggestions call for of their components, and what is forecast. */
export const called = sqliteTable(
  'called',
  {
    node: integer().notNull(),
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    /** Of the suggestion that calls. */
    name: text().notNull(),
    day: text().notNull(),
    quantity: text().notNull(),
  },
  (table) => [index('called_node').on(table.node), index('called_name').on(table.name), index('called_item').on(table.itemId, table.warehouseId)],
);

/** When each line of a customer's order can be served. */
export const promise = sqliteTable('promise', {
  demand: text().primaryKey(),
  wanted: text().notNull(),
  /** Empty where a part has no supply at all. */
  ready: text().notNull(),
  cause: text().notNull(),
});

/** How what is suggested differs from the plan before, and because of what. */
export const difference = sqliteTable(
  'difference',
  {
    id: integer().primaryKey(),
    seq: integer().notNull(),
    at: text().notNull(),
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    code: text().notNull(),
    description: text().notNull(),
    warehouse: text().notNull(),
    kind: text().notNull(),
    change: text().notNull(),
    before: text().notNull(),
    after: text().notNull(),
    cause: text().notNull(),
  },
  (table) => [index('difference_seq').on(table.seq)],
);

export const PLAN_TABLES = [planState, suggestion, exception, problem, called, promise, difference] as const;
