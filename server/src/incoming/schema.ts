/** Orders that came as files. */
import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { IncomingOrder } from '@terrace/core';
import { customer } from '../catalogue';
import { customerOrder } from '../selling';

/** What somebody has said of it beyond its file. */
export interface Mended {
  readonly customerId?: number | null | undefined;
  readonly requiredDate?: string | undefined;
  readonly again?: boolean | undefined;
  readonly lines: Readonly<
    Record<
      string,
      { readonly itemId?: number | null | undefined; readonly quantity?: string | undefined; readonly price?: 'theirs' | 'ours' | undefined }
    >
  >;
}

export const incomingOrder = sqliteTable(
  'incoming_order',
  {
    id: integer().primaryKey(),
    number: text().notNull().unique(),
    at: text().notNull(),
    date: text().notNull(),
    fileName: text().notNull(),
    /** Of the whole file, by which it is known when it comes again. */
    checksum: text().notNull(),
    source: text().$type<'ubl' | 'csv'>().notNull(),
    /** The buyer's number of it, and who they say they are. */
    reference: text().notNull(),
    buyer: text().notNull(),
    said: text({ mode: 'json' }).$type<IncomingOrder>().notNull(),
    mended: text({ mode: 'json' }).$type<Mended>().notNull(),
    state: text().$type<'waiting' | 'taken' | 'dropped'>().notNull(),
    customerId: integer().references(() => customer.id),
    orderId: integer().references(() => customerOrder.id),
    why: text().notNull().default(''),
    version: integer().notNull().default(1),
  },
  (table) => [
    index('incoming_order_state').on(table.state),
    index('incoming_order_checksum').on(table.checksum),
    index('incoming_order_reference').on(table.reference),
  ],
);
