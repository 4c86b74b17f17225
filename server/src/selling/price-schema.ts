/** Tables of price lists. */
import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { ChargeBasis, PriceWay, Quantity, Rounding } from '@terrace/core';
import { customer, customerGroup, item, itemGroup } from '../catalogue';

export const priceList = sqliteTable('price_list', {
  id: integer().primaryKey(),
  code: text().notNull().unique(),
  name: text().notNull(),
  currency: text().notNull(),
  customerId: integer().references(() => customer.id),
  customerGroup: text().references(() => customerGroup.code),
  validFrom: text(),
  validTo: text(),
  rounding: text().$type<Rounding>().notNull(),
  active: integer({ mode: 'boolean' }).notNull().default(true),
  version: integer().notNull().default(1),
});

/** A price for one item, for a group of items, or (neither) for everything. */
export const priceEntry = sqliteTable(
  'price_entry',
  {
    id: integer().primaryKey(),
    listId: integer()
      .notNull()
      .references(() => priceList.id),
    itemId: integer().references(() => item.id),
    groupCode: text().references(() => itemGroup.code),
    way: text().$type<PriceWay>().notNull(),
    validFrom: text(),
    validTo: text(),
    version: integer().notNull().default(1),
  },
  (table) => [index('price_entry_list').on(table.listId), index('price_entry_item').on(table.itemId), index('price_entry_group').on(table.groupCode)],
);

export const priceBreak = sqliteTable(
  'price_break',
  {
    entryId: integer()
      .notNull()
      .references(() => priceEntry.id),
    from: integer('from_quantity').$type<Quantity>().notNull(),
    /** A price where the entry states an amount, else basis points. */
    value: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.entryId, table.from] })],
);

/** What is charged by itself, by what an order weighs or is worth. */
export const chargeRule = sqliteTable('charge_rule', {
  id: integer().primaryKey(),
  /** Of kind charge. */
  itemId: integer()
    .notNull()
    .references(() => item.id),
  by: text().$type<ChargeBasis>().notNull(),
  /** By whom the order must go; empty for anybody. */
  carrier: text().notNull(),
  /** From so much on (kilograms, or the books' currency) so much is charged; decimal texts, the lowest first. */
  steps: text({ mode: 'json' }).$type<{ from: string; price: string }[]>().notNull(),
  active: integer({ mode: 'boolean' }).notNull().default(true),
  version: integer().notNull().default(1),
});
