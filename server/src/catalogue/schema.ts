import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { Attribute, CostingMethod, Defaults, Given, Quantity, RuleTexts, Shift, UnitPrice } from '@terrace/core';

export const unit = sqliteTable('unit', {
  code: text().primaryKey(),
  name: text().notNull(),
  decimals: integer().notNull(),
  version: integer().notNull().default(1),
});

export const calendar = sqliteTable('calendar', {
  code: text().primaryKey(),
  workdays: text({ mode: 'json' }).$type<number[]>().notNull(),
  holidays: text({ mode: 'json' }).$type<string[]>().notNull(),
  shifts: text({ mode: 'json' }).$type<Shift[]>().notNull().default([]),
  version: integer().notNull().default(1),
});

export const warehouse = sqliteTable('warehouse', {
  id: integer().primaryKey(),
  code: text().notNull().unique(),
  name: text().notNull(),
  calendar: text()
    .notNull()
    .references(() => calendar.code),
  address: text().notNull().default(''),
  active: integer({ mode: 'boolean' }).notNull().default(true),
  version: integer().notNull().default(1),
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
    /** The order in which bins are walked by, the lowest first. */
    walk: integer().notNull().default(0),
    /** What fits in, in the house's own words. */
    size: text().notNull().default(''),
    /** Nothing more is put there. */
    blocked: integer({ mode: 'boolean' }).notNull().default(false),
    active: integer({ mode: 'boolean' }).notNull().default(true),
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
  /** What items of it take where nothing else is typed. */
  defaults: text({ mode: 'json' }).$type<Defaults>().notNull().default({}),
  /** How its items are planned where neither they nor their rules say it. */
  planning: text({ mode: 'json' }).$type<RuleTexts>().notNull().default({}),
  version: integer().notNull().default(1),
});

export const reason = sqliteTable('reason', {
  code: text().primaryKey(),
  name: text().notNull(),
  account: text().notNull(),
  noteNeeded: integer({ mode: 'boolean' }).notNull(),
  active: integer({ mode: 'boolean' }).notNull().default(true),
  version: integer().notNull().default(1),
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
    manufacturer: text().notNull().default(''),
    originCountry: text().notNull().default(''),
    commodityCode: text().notNull().default(''),
    buyPrice: integer()
      .$type<UnitPrice>()
      .notNull()
      .default(sql`0`),
    standardCost: integer()
      .$type<UnitPrice>()
      .notNull()
      .default(sql`0`),
    /** Basis points of the value, a year. */
    storageOverhead: integer().notNull().default(0),
    /** Basis points off the price of the lists, or none. */
    discountCeiling: integer(),
    shelfLifeDays: integer(),
    /** Days of life that must be left when it ships. */
    restLifeDays: integer(),
    buyUnit: text(),
    sellUnit: text(),
    countUnit: text(),
    /** Fields that take their value from the group. */
    follows: text({ mode: 'json' }).$type<Given[]>().notNull().default([]),
    /** How it is planned where a rule does not say it. */
    planning: text({ mode: 'json' }).$type<RuleTexts>().notNull().default({}),
    familyId: integer().references(() => itemFamily.id),
    variant: text({ mode: 'json' }).$type<Readonly<Record<string, string>>>(),
    active: integer({ mode: 'boolean' }).notNull().default(true),
    version: integer().notNull().default(1),
  },
  (table) => [index('item_second_code').on(table.secondCode), index('item_of_group').on(table.groupCode), index('item_of_family').on(table.familyId)],
);

export const itemFamily = sqliteTable('item_family', {
  id: integer().primaryKey(),
  code: text().notNull().unique(),
  description: text().notNull(),
  groupCode: text()
    .notNull()
    .references(() => itemGroup.code),
  attributes: text({ mode: 'json' }).$type<Attribute[]>().notNull(),
  version: integer().notNull().default(1),
});

/** Another item that can stand in: `ratio` of it for one. */
export const itemSubstitute = sqliteTable(
  'item_substitute',
  {
    itemId: integer()
      .notNull()
      .references(() => item.id),
    substituteId: integer()
      .notNull()
      .references(() => item.id),
    ratio: integer().$type<Quantity>().notNull(),
    bothWays: integer({ mode: 'boolean' }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.substituteId] }), index('item_substitute_other').on(table.substituteId)],
);

/** Weight (g) and dimensions (mm) of the base unit and of packs. */
export const unitSize = sqliteTable(
  'unit_size',
  {
    itemId: integer()
      .notNull()
      .references(() => item.id),
    unitCode: text().notNull(),
    weight: integer(),
    length: integer(),
    width: integer(),
    height: integer(),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.unitCode] })],
);

/** How often and when last an item was named by a document: what is used comes first when somebody looks. */
export const itemUse = sqliteTable('item_use', { itemId: integer().primaryKey(), uses: integer().notNull(), last: text().notNull() });

export const itemBarcode = sqliteTable(
  'item_barcode',
  {
    barcode: text().primaryKey(),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    /** The pack that it is printed on; none for the base unit. */
    unitCode: text(),
  },
  (table) => [index('item_barcode_item').on(table.itemId)],
);

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
