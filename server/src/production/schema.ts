import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Amount, Quantity } from '@terrace/core';
import { item, warehouse } from '../catalogue';
import { quantityFrom0 } from '../platform/column-kinds';

export const productionOrder = sqliteTable(
  'production_order',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    warehouseId: integer()
      .notNull()
      .references(() => warehouse.id),
    quantity: integer().$type<Quantity>().notNull(),
    finished: integer().$type<Quantity>().notNull(),
    /** What is not made any more; it stays so, whatever of the rest is taken back. */
    cancelled: quantityFrom0(),
    startDate: text().notNull(),
    dueDate: text().notNull(),
    state: text().$type<'draft' | 'released' | 'running' | 'finished' | 'settled' | 'cancelled'>().notNull(),
    note: text().notNull(),
    version: integer().notNull().default(1),
  },
  (table) => [index('production_order_state').on(table.state), index('production_order_item').on(table.itemId)],
);

/** Components copied in from the BOM, so that the order keeps what it was planned with. */
export const productionComponent = sqliteTable(
  'production_component',
  {
    id: integer().primaryKey(),
    orderId: integer()
      .notNull()
      .references(() => productionOrder.id),
    position: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    per: text().notNull(),
    scrap: text().notNull(),
    offsetDays: integer().notNull(),
    /** For the order's whole quantity, scrap included. */
    needed: integer().$type<Quantity>().notNull(),
    issued: integer().$type<Quantity>().notNull(),
  },
  (table) => [index('production_component_order').on(table.orderId), index('production_component_item').on(table.itemId)],
);

export const completion = sqliteTable('completion', {
  id: integer().primaryKey(),
  number: text().notNull().unique(),
  orderId: integer()
    .notNull()
    .references(() => productionOrder.id),
  date: text().notNull(),
  quantity: integer().$type<Quantity>().notNull(),
  cost: integer().$type<Amount>().notNull(),
  reversed: integer({ mode: 'boolean' }).notNull().default(false),
});

/** What a completion took, for putting it back. */
export const completionTake = sqliteTable(
  'completion_take',
  {
    id: integer().primaryKey(),
    completionId: integer()
      .notNull()
      .references(() => completion.id),
    componentId: integer()
      .notNull()
      .references(() => productionComponent.id),
    quantity: integer().$type<Quantity>().notNull(),
  },
  (table) => [index('completion_take_completion').on(table.completionId)],
);
