/** Tables of customers' returns. */
import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Quantity, ReturnDecision, ReturnState } from '@terrace/core';
import { item, warehouse } from '../catalogue';
import { shipmentLine } from '../dispatch';
import { user } from '../platform/schema';
import { productionOrder } from '../production';
import { customerOrder, customerOrderLine } from '../selling';
import { amountFrom0, quantityFrom0 } from '../platform/column-kinds';

export const customerReturn = sqliteTable(
  'customer_return',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    orderId: integer()
      .notNull()
      .references(() => customerOrder.id),
    warehouseId: integer()
      .notNull()
      .references(() => warehouse.id),
    /** The day on which it was authorised. */
    date: text().notNull(),
    reason: text().notNull(),
    state: text().$type<ReturnState>().notNull(),
    /** The order that brings the same once more. */
    replacementId: integer().references(() => customerOrder.id),
    version: integer().notNull().default(1),
  },
  (table) => [index('customer_return_order').on(table.orderId), index('customer_return_state').on(table.state)],
);

const none = () => quantityFrom0();

export const customerReturnLine = sqliteTable(
  'customer_return_line',
  {
    id: integer().primaryKey(),
    returnId: integer()
      .notNull()
      .references(() => customerReturn.id),
    shipmentLineId: integer()
      .notNull()
      .references(() => shipmentLine.id),
    orderLineId: integer()
      .notNull()
      .references(() => customerOrderLine.id),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    lot: text().notNull(),
    serial: text().notNull(),
    /** Authorised, come in, decided on, and given back on credit notes. */
    quantity: integer().$type<Quantity>().notNull(),
    received: none(),
    decided: none(),
    credited: none(),
    /** What came in was worth. */
    value: amountFrom0(),
    /** Where it is held. */
    binId: integer().notNull().default(0),
  },
  (table) => [index('customer_return_line_return').on(table.returnId), index('customer_return_line_shipped').on(table.shipmentLineId)],
);

export const returnDecision = sqliteTable(
  'return_decision',
  {
    id: integer().primaryKey(),
    lineId: integer()
      .notNull()
      .references(() => customerReturnLine.id),
    decision: text().$type<ReturnDecision>().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
    date: text().notNull(),
    why: text().notNull(),
    productionId: integer().references(() => productionOrder.id),
    userId: integer()
      .notNull()
      .references(() => user.id),
  },
  (table) => [index('return_decision_line').on(table.lineId)],
);
