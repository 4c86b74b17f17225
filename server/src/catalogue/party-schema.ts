/** Tables of customers and suppliers, and of what suppliers ask. */
import { index, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { Amount, Quantity, Rate, UnitPrice } from '@terrace/core';
import { calendar, item } from './schema';

export const currency = sqliteTable('currency', { code: text().primaryKey(), name: text().notNull() });

export const exchangeRate = sqliteTable(
  'exchange_rate',
  {
    currency: text()
      .notNull()
      .references(() => currency.code),
    date: text().notNull(),
    rate: integer().$type<Rate>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.currency, table.date] })],
);

export const customerGroup = sqliteTable('customer_group', { code: text().primaryKey(), name: text().notNull() });

export const taxCode = sqliteTable('tax_code', { code: text().primaryKey(), name: text().notNull() });

/** What a tax code takes from a day on, in basis points; from the beginning where the day is empty. */
export const taxRate = sqliteTable(
  'tax_rate',
  {
    code: text()
      .notNull()
      .references(() => taxCode.code),
    from: text('valid_from').notNull(),
    rate: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.code, table.from] })],
);

/** When an invoice has to be paid, and what is let off whoever pays early. */
export const paymentTerm = sqliteTable('payment_term', {
  code: text().primaryKey(),
  name: text().notNull(),
  days: integer().notNull(),
  /** Whether the days count from the end of the invoice's month. */
  fromMonthEnd: integer({ mode: 'boolean' }).notNull(),
  discountDays: integer().notNull(),
  /** Basis points; 0 where nothing is let off. */
  discount: integer().notNull(),
  active: integer({ mode: 'boolean' }).notNull().default(true),
  version: integer().notNull().default(1),
});

const party = () => ({
  id: integer().primaryKey(),
  code: text().notNull().unique(),
  name: text().notNull(),
  address: text().notNull(),
  email: text().notNull(),
  paymentDays: integer().notNull(),
  /** Payment terms by their code, which go before the days. */
  paymentTerm: text().references(() => paymentTerm.code),
  currency: text().notNull().default('EUR'),
  active: integer({ mode: 'boolean' }).notNull().default(true),
  version: integer().notNull().default(1),
});

export const customer = sqliteTable('customer', {
  ...party(),
  /** Basis points. */
  taxRate: integer().notNull(),
  taxCode: text(),
  onHold: integer({ mode: 'boolean' }).notNull().default(false),
  groupCode: text(),
  /** A list that counts as made for this customer. */
  priceListId: integer(),
  carrier: text().notNull().default(''),
  service: text().notNull().default(''),
  /** What an invoice is for: each shipment, the whole order once it has gone, or all that went since the last. */
  invoicing: text().$type<'shipment' | 'order' | 'together'>().notNull().default('shipment'),
  /** The most that may be open, or no limit. */
  creditLimit: integer().$type<Amount>(),
});

export const supplier = sqliteTable('supplier', {
  ...party(),
  /** Working days where an item's terms say nothing. */
  leadDays: integer(),
  calendar: text().references(() => calendar.code),
});

type PartyKind = 'customer' | 'supplier';

export const partyAddress = sqliteTable(
  'party_address',
  {
    id: integer().primaryKey(),
    party: text().$type<PartyKind>().notNull(),
    partyId: integer().notNull(),
    label: text().notNull(),
    address: text().notNull(),
    position: integer().notNull(),
  },
  (table) => [index('party_address_party').on(table.party, table.partyId)],
);

export const partyContact = sqliteTable(
  'party_contact',
  {
    id: integer().primaryKey(),
    party: text().$type<PartyKind>().notNull(),
    partyId: integer().notNull(),
    name: text().notNull(),
    part: text().notNull(),
    email: text().notNull(),
    phone: text().notNull(),
    position: integer().notNull(),
  },
  (table) => [index('party_contact_party').on(table.party, table.partyId)],
);

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
    supplierDescription: text().notNull().default(''),
    price: integer().$type<UnitPrice>().notNull(),
    currency: text().notNull().default('EUR'),
    /** Basis points. */
    discount: integer().notNull().default(0),
    buyUnit: text(),
    leadDays: integer().notNull(),
    minimum: integer().$type<Quantity>().notNull(),
    multiple: integer().$type<Quantity>().notNull(),
    preferred: integer({ mode: 'boolean' }).notNull(),
    /** First and last day; nothing before the first is an empty text, so that it can be part of the key. */
    validFrom: text().notNull().default(''),
    validTo: text(),
    version: integer().notNull().default(1),
  },
  (table) => [
    uniqueIndex('supplier_term_pair').on(table.itemId, table.supplierId, table.validFrom),
    index('supplier_term_code').on(table.supplierItemCode),
    index('supplier_term_supplier').on(table.supplierId),
  ],
);

export const termBreak = sqliteTable(
  'term_break',
  {
    termId: integer()
      .notNull()
      .references(() => supplierTerm.id),
    from: integer('from_quantity').$type<Quantity>().notNull(),
    price: integer().$type<UnitPrice>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.termId, table.from] })],
);

/** What a customer calls an item. */
export const customerItem = sqliteTable(
  'customer_item',
  {
    customerId: integer()
      .notNull()
      .references(() => customer.id),
    itemId: integer()
      .notNull()
      .references(() => item.id),
    code: text().notNull(),
    description: text().notNull().default(''),
  },
  (table) => [primaryKey({ columns: [table.customerId, table.itemId] }), index('customer_item_code').on(table.customerId, table.code)],
);
