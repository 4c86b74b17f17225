import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Quantity } from '@terrace/core';
import { warehouse } from '../catalogue';
import { customerOrder, customerOrderLine } from '../selling';

export const shipment = sqliteTable(
  'shipment',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    orderId: integer()
      .notNull()
      .references(() => customerOrder.id),
    warehouseId: integer()
      .notNull()
      .references(() => warehouse.id),
    date: text().notNull(),
    carrier: text().notNull(),
    /** Where it goes, as it was ordered; empty for the customer's own address. */
    shipTo: text().notNull().default(''),
    state: text().$type<'draft' | 'picking' | 'shipped' | 'reversed' | 'cancelled'>().notNull(),
    entryId: integer(),
    version: integer().notNull().default(1),
  },
  (table) => [index('shipment_order').on(table.orderId), index('shipment_state').on(table.state)],
);

export const shipmentLine = sqliteTable(
  'shipment_line',
  {
    id: integer().primaryKey(),
    shipmentId: integer()
      .notNull()
      .references(() => shipment.id),
    orderLineId: integer()
      .notNull()
      .references(() => customerOrderLine.id),
    itemId: integer().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
  },
  (table) => [index('shipment_line_shipment').on(table.shipmentId), index('shipment_line_order_line').on(table.orderLineId)],
);

/** What was named for a line when picking: bin, lot, serial number. */
export const shipmentPick = sqliteTable(
  'shipment_pick',
  {
    id: integer().primaryKey(),
    lineId: integer()
      .notNull()
      .references(() => shipmentLine.id),
    binId: integer().notNull(),
    lot: text().notNull(),
    serial: text().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
  },
  (table) => [index('shipment_pick_line').on(table.lineId)],
);
