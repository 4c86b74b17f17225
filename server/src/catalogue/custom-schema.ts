/** Tables of the fields that a company adds by itself. */
import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { CustomRecord, CustomType } from '@terrace/contract';

export const customField = sqliteTable('custom_field', {
  id: integer().primaryKey(),
  record: text().$type<CustomRecord>().notNull(),
  title: text().notNull(),
  type: text().$type<CustomType>().notNull(),
  choices: text({ mode: 'json' }).$type<string[]>().notNull(),
  active: integer({ mode: 'boolean' }).notNull().default(true),
  version: integer().notNull().default(1),
});

export const customValue = sqliteTable(
  'custom_value',
  {
    fieldId: integer()
      .notNull()
      .references(() => customField.id),
    recordId: integer().notNull(),
    value: text().notNull(),
  },
  (table) => [primaryKey({ columns: [table.fieldId, table.recordId] }), index('custom_value_value').on(table.fieldId, table.value)],
);
