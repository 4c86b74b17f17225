import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { asQuantity, type Amount, type Quantity, type UnitPrice } from '@terrace/core';
import { item, supplier, warehouse } from '../catalogue';

const NOTHING = asQuantity(0);

export const purchaseOrder = sqliteTable(
  'purchase_order',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    supplierId: integer()
      .notNull()
      .references(() => supplier.id),
    warehouseId: integer()
      .notNull()
      .references(() => warehouse.id),
    orderDate: text().notNull(),
    state: text().$type<'draft' | 'approved' | 'sent' | 'partReceived' | 'received' | 'cancelled'>().notNull(),
    note: text().notNull(),
    total: integer()
      .$type<Amount>()
      .notNull()
      .default(0 as Amount),
    version: integer().notNull().default(1),
  },
  (table) => [index('purchase_order_state').on(table.state)],
);

export const purchaseOrderLine = sqliteTable(
  'purchase_order_line',
  {
    id: integer().primaryKey(),
    orderId: integer()
      .notNull()
      .references(() => purchaseOrder.id),
    position: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    quantity: integer().$type<Quantity>().notNull(),
    price: integer().$type<UnitPrice>().notNull(),
    dueDate: text().notNull(),
    received: integer().$type<Quantity>().notNull(),
    cancelled: integer().$type<Quantity>().notNull(),
  },
  (table) => [index('purchase_order_line_order').on(table.orderId), index('purchase_order_line_item').on(table.itemId)],
);

export const receipt = sqliteTable('receipt', {
  id: integer().primaryKey(),
  number: text().notNull().unique(),
  purchaseOrderId: integer()
    .notNull()
    .references(() => purchaseOrder.id),
  date: text().notNull(),
  deliveryNote: text().notNull(),
  entryId: integer(),
  reversed: integer({ mode: 'boolean' }).notNull().default(false),
});

export const receiptLine = sqliteTable('receipt_line', {
  id: integer().primaryKey(),
  receiptId: integer()
    .notNull()
    .references(() => receipt.id),
  orderLineId: integer()
    .notNull()
    .references(() => purchaseOrderLine.id),
  quantity: integer().$type<Quantity>().notNull(),
  /** What was left of the line and, being within tolerance, is not expected any more. */
  letGo: integer().$type<Quantity>().notNull().default(NOTHING),
});
