import { index, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { CostingMethod, Quantity, UnitPrice } from '@terrace/core';

export const unit = sqliteTable('unit', { code: text().primaryKey(), name: text().notNull(), decimals: integer().notNull() });

export const calendar = sqliteTable('calendar', {
  code: text().primaryKey(),
  workdays: text({ mode: 'json' }).$type<number[]>().notNull(),
  holidays: text({ mode: 'json' }).$type<string[]>().notNull(),
});

export const warehouse = sqliteTable('warehouse', {
  id: integer().primaryKey(),
  code: text().notNull().unique(),
  name: text().notNull(),
  calendar: text()
    .notNull()
    .references(() => calendar.code),
});

export const bin = sqliteTable(
  'bin',
  {
    id: integer().primaryKey(),
    warehouseId: integer()
      .notNull()
      .references(() => warehouse.id),
    code: text().notNull(),
    dock: integer({ mode: 'boolean' }).notNull().default(false),
  },
  (table) => [uniqueIndex('bin_code').on(table.warehouseId, table.code)],
);

export const itemGroup = sqliteTable('item_group', {
  code: text().primaryKey(),
  name: text().notNull(),
  parent: text(),
  inventoryAccount: text().notNull(),
  costOfSalesAccount: text().notNull(),
  revenueAccount: text().notNull(),
});

export const reason = sqliteTable('reason', {
  code: text().primaryKey(),
  name: text().notNull(),
  account: text().notNull(),
  noteNeeded: integer({ mode: 'boolean' }).notNull(),
});

export const item = sqliteTable(
  'item',
  {
    id: integer().primaryKey(),
    code: text().notNull().unique(),
    secondCode: text(),
    description: text().notNull(),
    kind: text().$type<'stocked' | 'nonStocked' | 'service' | 'charge' | 'phantom'>().notNull(),
    groupCode: text()
      .notNull()
      .references(() => itemGroup.code),
    unitCode: text()
      .notNull()
      .references(() => unit.code),
    tracking: text().$type<'none' | 'lot' | 'serial'>().notNull().default('none'),
    costing: text().$type<CostingMethod>().notNull().default('movingAverage'),
    sellPrice: integer().$type<UnitPrice>().notNull(),
    sellingNotes: text().notNull().default(''),
    active: integer({ mode: 'boolean' }).notNull().default(true),
    version: integer().notNull().default(1),
  },
  (table) => [index('item_second_code').on(table.secondCode)],
);

export const itemBarcode = sqliteTable('item_barcode', {
  barcode: text().primaryKey(),
  itemId: integer()
    .notNull()
    .references(() => item.id),
});

export const packUnit = sqliteTable(
  'pack_unit',
  {
    itemId: integer()
      .notNull()
      .references(() => item.id),
    code: text().notNull(),
    factor: integer().$type<Quantity>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.code] })],
);

const party = () => ({
  id: integer().primaryKey(),
  code: text().notNull().unique(),
  name: text().notNull(),
  address: text().notNull(),
  email: text().notNull(),
  paymentDays: integer().notNull(),
  active: integer({ mode: 'boolean' }).notNull().default(true),
  version: integer().notNull().default(1),
});

export const customer = sqliteTable('customer', {
  ...party(),
  /** Basis points. */
  taxRate: integer().notNull(),
  onHold: integer({ mode: 'boolean' }).notNull().default(false),
});

export const supplier = sqliteTable('supplier', party());

export const supplierTerm = sqliteTable(
  'supplier_term',
  {
    id: integer().primaryKey(),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    supplierId: integer()
      .notNull()
      .references(() => supplier.id),
    supplierItemCode: text().notNull(),
    price: integer().$type<UnitPrice>().notNull(),
    leadDays: integer().notNull(),
    minimum: integer().$type<Quantity>().notNull(),
    multiple: integer().$type<Quantity>().notNull(),
    preferred: integer({ mode: 'boolean' }).notNull(),
  },
  (table) => [uniqueIndex('supplier_term_pair').on(table.itemId, table.supplierId)],
);

export const bomLine = sqliteTable(
  'bom_line',
  {
    id: integer().primaryKey(),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    position: integer().notNull(),
    componentId: integer()
      .notNull()
      .references(() => item.id),
    quantity: text().notNull(),
    scrap: text().notNull(),
    offsetDays: integer().notNull(),
    validFrom: text(),
    validTo: text(),
  },
  (table) => [index('bom_line_item').on(table.itemId), index('bom_line_component').on(table.componentId)],
);

export const planningRule = sqliteTable(
  'planning_rule',
  {
    itemId: integer()
      .notNull()
      .references(() => item.id),
    warehouseId: integer()
      .notNull()
      .references(() => warehouse.id),
    source: text().$type<'buy' | 'make' | 'none'>().notNull(),
    leadDays: integer().notNull(),
    safety: integer().$type<Quantity>().notNull(),
    minimum: integer().$type<Quantity>().notNull(),
    multiple: integer().$type<Quantity>().notNull(),
    slackDays: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.warehouseId] })],
);
