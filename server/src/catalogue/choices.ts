/** Everything short enough to choose from a list. */
import { eq, sql } from 'drizzle-orm';
import type { SQLiteColumn, SQLiteTable } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import type { AnswerOf } from '@terrace/contract';
import { query } from '../platform/query';
import { user } from '../platform/schema';
import type { Work } from '../platform/work';
import { customFields } from './custom-fields';
import { otherRooms } from './handed-in';
import { currency, customer, customerGroup, paymentTerm, supplier, taxCode } from './party-schema';
import { houseTaxCode } from './tax';
import { bin, calendar, itemGroup, reason, unit, warehouse } from './schema';

type Coded = SQLiteTable & { readonly code: SQLiteColumn };

/** Where a table's key is its code, the number of its row tells the choices apart. */
const rowNumber = (table: SQLiteTable) => sql<number>`${table}.rowid`;

function codedBy<T extends Coded>(table: T, name: SQLiteColumn = table.code) {
  return query(
    () => (db) =>
      db
        .select({ id: rowNumber(table), code: sql<string>`${table.code}`, name: sql<string>`${name}` })
        .from(table as SQLiteTable)
        .orderBy(table.code),
  );
}

const warehouses = query(
  () => (db) =>
    db
      .select({ id: warehouse.id, code: warehouse.code, name: warehouse.name })
      .from(warehouse)
      .where(eq(warehouse.active, true))
      .orderBy(warehouse.id),
);
const bins = query(
  () => (db) =>
    db
      .select({ id: bin.id, code: bin.code, name: bin.code, warehouseId: bin.warehouseId })
      .from(bin)
      .where(eq(bin.active, true))
      .orderBy(bin.warehouseId, bin.walk, bin.code),
);
const customers = query(
  () => (db) =>
    db
      .select({ id: customer.id, code: customer.code, name: customer.name, onHold: customer.onHold })
      .from(customer)
      .where(eq(customer.active, true))
      .orderBy(customer.name),
);
const suppliers = query(
  () => (db) =>
    db.select({ id: supplier.id, code: supplier.code, name: supplier.name }).from(supplier).where(eq(supplier.active, true)).orderBy(supplier.name),
);
const reasons = query(
  () => (db) =>
    db
      .select({ id: rowNumber(reason), code: reason.code, name: reason.name, noteNeeded: reason.noteNeeded })
      .from(reason)
      .where(eq(reason.active, true))
      .orderBy(reason.code),
);
const groups = codedBy(itemGroup, itemGroup.name);
const units = codedBy(unit, unit.name);
const currencies = codedBy(currency, currency.name);
const customerGroups = codedBy(customerGroup, customerGroup.name);
const taxCodes = codedBy(taxCode, taxCode.name);
const paymentTerms = query(
  () => (db) =>
    db
      .select({ id: rowNumber(paymentTerm), code: paymentTerm.code, name: paymentTerm.name })
      .from(paymentTerm)
      .where(eq(paymentTerm.active, true))
      .orderBy(paymentTerm.code),
);
const calendars = codedBy(calendar);
const people = query(
  () => (db) => db.select({ id: user.id, code: user.login, name: user.name }).from(user).where(eq(user.active, true)).orderBy(user.name),
);

export function choices(work: Work): AnswerOf<typeof api.catalogue.choices> {
  return {
    warehouses: warehouses.all(work),
    bins: bins.all(work),
    customers: customers.all(work),
    suppliers: suppliers.all(work),
    groups: groups.all(work),
    units: units.all(work),
    reasons: reasons.all(work),
    currencies: currencies.all(work),
    customerGroups: customerGroups.all(work),
    taxCodes: taxCodes.all(work),
    houseTaxCode: houseTaxCode(work),
    paymentTerms: paymentTerms.all(work),
    calendars: calendars.all(work),
    priceLists: otherRooms.get().priceLists(work),
    people: people.all(work),
    fields: [...customFields(work)].filter((each) => each.active),
  };
}
