import { index, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { LotSizing, PlanningRule, Quantity, RuleField, SafetyBasis } from '@terrace/core';
import { item, warehouse } from '../catalogue';

/** A suggestion that somebody keeps, as it is or changed: every plan counts with it until it is released or dropped. */
export const planFirm = sqliteTable('plan_firm', {
  id: integer().primaryKey(),
  number: text().notNull().unique(),
  kind: text().$type<'buy' | 'make' | 'transfer'>().notNull(),
  itemId: integer().notNull(),
  warehouseId: integer().notNull(),
  /** Where a transfer comes from. */
  fromId: integer(),
  supplierId: integer(),
  quantity: integer().$type<Quantity>().notNull(),
  placeBy: text().notNull(),
  due: text().notNull(),
  note: text().notNull().default(''),
  userId: integer().notNull(),
  version: integer().notNull().default(1),
});

/** What is suggested for an item in a warehouse is not looked at until a date. */
export const planIgnored = sqliteTable(
  'plan_ignored',
  {
    id: integer().primaryKey(),
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    until: text().notNull(),
    note: text().notNull(),
    userId: integer().notNull(),
  },
  (table) => [uniqueIndex('plan_ignored_place').on(table.itemId, table.warehouseId)],
);

/** Suggestions that were released, so that none is released twice before the plan knows of it. */
export const planRelease = sqliteTable(
  'plan_release',
  {
    id: integer().primaryKey(),
    name: text().notNull(),
    /** Last line of history when it was released. */
    historyId: integer().notNull(),
    documentKind: text().$type<'purchaseOrder' | 'productionOrder' | 'transfer'>().notNull(),
    documentId: integer().notNull(),
    documentNumber: text().notNull(),
  },
  (table) => [index('plan_release_name').on(table.name)],
);

/** How an item's demand in a warehouse is forecast, and from what. */
export const forecastSeries = sqliteTable(
  'forecast_series',
  {
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    period: text().$type<'month' | 'week'>().notNull(),
    /** What was asked for: a method or `best`. */
    asked: text().notNull(),
    /** What it was computed by. */
    method: text().notNull(),
    at: text().notNull(),
    /** First days of the periods of history, oldest first. */
    history: text({ mode: 'json' })
      .$type<readonly { readonly start: string; readonly quantity: string; readonly outlier: boolean; readonly fit?: string | null }[]>()
      .notNull(),
    errors: text({ mode: 'json' }).$type<Readonly<Record<string, { readonly mase: number; readonly bias: number }>>>().notNull(),
    /** Whose history is taken where there is too little of its own, and times what. */
    referenceId: integer(),
    factor: text().notNull().default('1'),
    /** Whether figures unlike the others are left out. */
    leaveOutliers: integer({ mode: 'boolean' }).notNull().default(true),
    version: integer().notNull().default(1),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.warehouseId] })],
);

export const forecastFigure = sqliteTable(
  'forecast_figure',
  {
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    /** First day of the period. */
    start: text().notNull(),
    computed: integer().$type<Quantity>().notNull(),
    low: integer().$type<Quantity>().notNull(),
    high: integer().$type<Quantity>().notNull(),
    /** What somebody typed over it. */
    typed: integer().$type<Quantity>(),
    note: text().notNull().default(''),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.warehouseId, table.start] })],
);

/** Demand from before Terrace, by month, as the company brought it along. */
export const pastDemand = sqliteTable(
  'past_demand',
  {
    itemId: integer().notNull(),
    warehouseId: integer().notNull(),
    /** First day of the month. */
    start: text().notNull(),
    quantity: integer().$type<Quantity>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.warehouseId, table.start] })],
);

/** How an item is planned in a warehouse. */
export const planningRule = sqliteTable(
  'planning_rule',
  {
    itemId: integer()
      .notNull()
      .references(() => item.id),
    warehouseId: integer()
      .notNull()
      .references(() => warehouse.id),
    source: text().$type<'buy' | 'make' | 'transfer' | 'none'>().notNull(),
    /** Where a transfer comes from. */
    fromId: integer().references(() => warehouse.id),
    leadDays: integer().notNull(),
    safety: integer().$type<Quantity>().notNull(),
    minimum: integer().$type<Quantity>().notNull(),
    multiple: integer().$type<Quantity>().notNull(),
    slackDays: integer().notNull(),
    lotSizing: text({ mode: 'json' }).$type<LotSizing>().notNull().default({ kind: 'lotForLot' }),
    maximum: integer().$type<Quantity>(),
    /** Usable share of what is ordered, as a decimal. */
    usable: text().notNull().default('1'),
    fenceDays: integer().notNull().default(0),
    demand: text().$type<PlanningRule['demand']>().notNull().default('orders'),
    consumeBack: integer().notNull().default(0),
    consumeForward: integer().notNull().default(0),
    /** Figures that are taken from the item or its group. */
    follows: text({ mode: 'json' }).$type<RuleField[]>().notNull().default([]),
    /** How the safety stock is found: as it is written, for days of average demand, or for a service level. */
    safetyBy: text({ mode: 'json' }).$type<SafetyBasis>().notNull().default({ by: 'quantity' }),
    /** The day on which it was computed last, where it is. */
    safetyOn: text(),
    version: integer().notNull().default(1),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.warehouseId] })],
);
