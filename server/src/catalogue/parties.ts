/** Customers and suppliers: lists, pages, setting up and changing. */
import { and, eq, gte, isNull, lte, ne, or, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn, SQLiteTable } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import type { AnswerOf, BodyOf, CustomerView, ListQuery, SupplierView } from '@terrace/contract';
import { Refusal, parseAmount, writeAmount, writePrice } from '@terrace/core';
import { columnName, inner, sameText, scalar } from '../platform/expressions';
import { atField } from '../platform/fields';
import { asAmountText, asFlag, asNumber, asText, list, listPage, type Column } from '../platform/list';
import { query } from '../platform/query';
import { addRow, changeRow, dropRows, fetching, orNotFound } from '../platform/rows';
import { assertVersion, changesBetween } from '../platform/versions';
import type { Change, Work } from '../platform/work';
import { customColumns, customOf, keepCustom } from './custom-fields';
import { booksCurrency, currencyNamed, hasCurrency } from './exchange-rates';
import { otherRooms } from './handed-in';
import { customer, customerGroup, partyAddress, partyContact, supplier, supplierTerm, taxCode } from './party-schema';
import { calendar, item } from './schema';
import { houseTaxCode, rateOnDay, readTerm } from './tax';

type Kind = 'customer' | 'supplier';
type PartyTable = typeof customer | typeof supplier;

const partyColumns = (party: PartyTable): Record<string, Column> => ({
  id: asNumber(party.id),
  code: asText(party.code),
  name: asText(party.name),
  address: asText(party.address),
  email: asText(party.email),
  active: asFlag(party.active),
  paymentDays: asNumber(party.paymentDays),
  paymentTerm: asText(party.paymentTerm),
  currency: asText(party.currency),
  version: asNumber(party.version),
});
const partyList = (party: PartyTable, more: (today: SQL) => Record<string, Column>) =>
  list(($: { today: string }) => ({
    columns: { ...partyColumns(party), ...more(sql`${$.today}`) },
    from: party,
    find: [party.code, party.name, party.address],
    order: [party.name],
    tie: [party.id],
  }));

const customers = partyList(customer, (today) => ({
  taxRate: asNumber(rateOnDay(customer.taxCode, today, customer.taxRate)),
  onHold: asFlag(customer.onHold),
  group: asText(customer.groupCode),
  carrier: asText(customer.carrier),
  openOrders: asNumber(otherRooms.get().openOrdersOfCustomer(customer.id)),
  owes: asAmountText(otherRooms.get().owes(customer.id)),
}));
const itemsSold = scalar(
  inner
    .select({ n: sql<number>`count(distinct ${supplierTerm.itemId})` })
    .from(supplierTerm)
    .where(eq(supplierTerm.supplierId, supplier.id)),
);
const suppliers = partyList(supplier, () => ({
  openOrders: asNumber(otherRooms.get().openOrdersOfSupplier(supplier.id)),
  items: asNumber(itemsSold),
}));

export function listCustomers(work: Work, asked: ListQuery): AnswerOf<typeof api.catalogue.listCustomers> {
  return listPage(work, customers, asked, { today: work.today }, { more: customColumns(work, 'customer', customer.id) });
}

export function listSuppliers(work: Work, asked: ListQuery): AnswerOf<typeof api.catalogue.listSuppliers> {
  return listPage(work, suppliers, asked, { today: work.today }, { more: customColumns(work, 'supplier', supplier.id) });
}

type CustomerInput = BodyOf<typeof api.catalogue.createCustomer>;
type SupplierInput = BodyOf<typeof api.catalogue.createSupplier>;
type Common = 'code' | 'name' | 'address' | 'email' | 'paymentDays' | 'paymentTerm' | 'currency';
type CustomerValues = Omit<typeof customer.$inferInsert, 'id'>;
type SupplierValues = Omit<typeof supplier.$inferInsert, 'id'>;

const blankToNull = (text: string | null): string | null => (text === '' ? null : text);

function common(work: Work, input: CustomerInput | SupplierInput): Pick<CustomerValues, Common> {
  const currency = currencyNamed(work, input.currency);
  if (currency !== booksCurrency(work) && !hasCurrency(work, currency))
    throw new Refusal('unknownCurrency', `There is no currency "${currency}": choose one from the list, or add it first.`, {
      field: 'currency',
    });
  const { code, name, address, email, paymentDays } = input;
  return { code, name, address, email, paymentDays, paymentTerm: readTerm(work, input.paymentTerm), currency };
}

/** Says how a code that is chosen from a table is read: none, or one that there is. Refuses `unknownChoice`. */
function choiceOf(table: SQLiteTable & { readonly code: SQLiteColumn }, field: string, what: string) {
  const byCode = query(
    ($: { code: string }) => (db) =>
      db
        .select({ code: sql<string>`${table.code}` })
        .from(table as SQLiteTable)
        .where(eq(table.code, $.code)),
  );
  return (work: Work, code: string | null): string | null => {
    if (code === null || code === '') return null;
    if (!byCode.one(work, { code })) throw new Refusal('unknownChoice', `There is no ${what} "${code}": choose one from the list.`, { field });
    return code;
  };
}

const readTaxCode = choiceOf(taxCode, 'taxCode', 'tax code');
const readGroup = choiceOf(customerGroup, 'group', 'customer group');
const readCalendar = choiceOf(calendar, 'calendar', 'calendar');

function customerValues(work: Work, input: CustomerInput, before?: Pick<typeof customer.$inferSelect, 'taxRate'>): CustomerValues {
  const said = readTaxCode(work, input.taxCode);
  const code = said === null && input.taxRate === undefined && !before ? houseTaxCode(work) : said;
  if (input.priceListId !== null && !otherRooms.get().hasPriceList(work, input.priceListId))
    throw new Refusal('unknownChoice', 'There is no such price list: choose one from the list.', { field: 'priceListId' });
  const limit = blankToNull(input.creditLimit);
  return {
    ...common(work, input),
    taxRate: input.taxRate ?? before?.taxRate ?? 0,
    taxCode: code,
    onHold: input.onHold,
    groupCode: readGroup(work, input.group),
    priceListId: input.priceListId,
    carrier: input.carrier,
    service: input.service,
    invoicing: input.invoicing,
    creditLimit:
      limit === null
        ? null
        : atField('creditLimit', () => {
            const amount = parseAmount(limit, 'the credit limit');
            if (amount < 0) throw new Refusal('negative', 'A credit limit can’t be below 0: leave it empty for none.');
            return amount;
          }),
  };
}

function supplierValues(work: Work, input: SupplierInput): SupplierValues {
  return { ...common(work, input), leadDays: input.leadDays, calendar: readCalendar(work, input.calendar) };
}

function keepPeople(work: Work, party: Kind, partyId: number, input: CustomerInput | SupplierInput): void {
  dropRows(work, partyAddress, { party, partyId });
  dropRows(work, partyContact, { party, partyId });
  input.addresses.forEach((each, index) => addRow(work, partyAddress, { party, partyId, ...each, position: index + 1 }));
  input.contacts.forEach((each, index) => addRow(work, partyContact, { party, partyId, ...each, position: index + 1 }));
}

const addressesOf = query(
  ($: { party: Kind; id: number }) => (db) =>
    db
      .select({ label: partyAddress.label, address: partyAddress.address })
      .from(partyAddress)
      .where(and(eq(partyAddress.party, $.party), eq(partyAddress.partyId, $.id)))
      .orderBy(partyAddress.position),
);
const contactsOf = query(
  ($: { party: Kind; id: number }) => (db) =>
    db
      .select({ name: partyContact.name, part: partyContact.part, email: partyContact.email, phone: partyContact.phone })
      .from(partyContact)
      .where(and(eq(partyContact.party, $.party), eq(partyContact.partyId, $.id)))
      .orderBy(partyContact.position),
);

function peopleOf(work: Work, party: Kind, id: number): Pick<CustomerView, 'addresses' | 'contacts'> {
  return { addresses: addressesOf.all(work, { party, id }), contacts: contactsOf.all(work, { party, id }) };
}

/** The first person to talk to at a party, the earliest entered. */
export function firstContactOf(work: Work, party: Kind, id: number): { name: string; email: string; phone: string } | undefined {
  return firstContact.one(work, { party, id });
}
const firstContact = query(
  ($: { party: Kind; id: number }) => (db) =>
    db
      .select({ name: partyContact.name, email: partyContact.email, phone: partyContact.phone })
      .from(partyContact)
      .where(and(eq(partyContact.party, $.party), eq(partyContact.partyId, $.id)))
      .orderBy(partyContact.id)
      .limit(1),
);

/** The two kinds of party, which are kept alike. */
function keeperOf(kind: Kind, table: PartyTable) {
  const codeTaken = query(
    ($: { code: string; except: number }) => (db) =>
      db
        .select({ name: table.name })
        .from(table as SQLiteTable)
        .where(and(sameText(table.code, $.code), ne(table.id, $.except))),
  );
  const fetch = fetching(table, kind) as (work: Work, id: number) => typeof customer.$inferSelect | typeof supplier.$inferSelect;
  const assertCodeFree = (work: Work, code: string, except: number): void => {
    const taken = codeTaken.one(work, { code, except });
    if (taken) throw new Refusal('codeTaken', `The code ${code} belongs to ${taken.name} already: choose another.`, { field: 'code' });
  };
  /** A party's own row by the names of its columns, flags as 0 and 1: as its history has always said it. */
  const asWritten = (row: Readonly<Record<string, unknown>>): Record<string, unknown> =>
    Object.fromEntries(
      Object.entries(row).map(([field, value]) => [
        columnName(table[field as 'code']),
        field === 'version' ? 0 : typeof value === 'boolean' ? Number(value) : value,
      ]),
    );
  return {
    add: (work: Work, values: CustomerValues | SupplierValues, input: CustomerInput | SupplierInput, what: string): number => {
      assertCodeFree(work, input.code, 0);
      const id = addRow(work, table, values);
      keepPeople(work, kind, id, input);
      keepCustom(work, kind, id, input.custom);
      work.record(kind, id, what);
      return id;
    },
    change: (
      work: Work,
      id: number,
      values: CustomerValues | SupplierValues,
      input: Versioned<CustomerInput | SupplierInput>,
      what?: string,
    ): Change[] => {
      const before = fetch(work, id);
      assertVersion(work, kind, before, input.version, before.name);
      assertCodeFree(work, input.code, id);
      const people = (): string => JSON.stringify(peopleOf(work, kind, id));
      const peopleBefore = people();
      changeRow(work, table, id, { ...values, active: input.active });
      keepPeople(work, kind, id, input);
      const changes = changesBetween(asWritten(before), asWritten(fetch(work, id)));
      changes.push(...keepCustom(work, kind, id, input.custom));
      const peopleAfter = people();
      if (peopleAfter !== peopleBefore) changes.push({ field: 'addresses and contacts', from: peopleBefore, to: peopleAfter });
      work.record(kind, id, what ?? `changed ${input.name}`, changes);
      return changes;
    },
  };
}

type Versioned<T> = T & { version: number; active: boolean };

const customerKeeper = keeperOf('customer', customer);
const supplierKeeper = keeperOf('supplier', supplier);

/** Sets a customer up and gives its number. Refuses `codeTaken` and what is not known. */
export function createCustomer(work: Work, input: CustomerInput, what = `set up ${input.name}`): number {
  return customerKeeper.add(work, customerValues(work, input), input, what);
}

export function changeCustomer(work: Work, id: number, input: Versioned<CustomerInput>, what?: string): Change[] {
  const before = customerOf(work, id);
  const values = customerValues(work, input, before);
  assertCurrencyStays(work, before, values.currency);
  return customerKeeper.change(work, id, values, input, what);
}

/** Refuses `stillOpen` where a customer would pay in another currency, and something is open in the one that they pay in. */
function assertCurrencyStays(work: Work, { id, name, currency: before }: ReturnType<typeof customerOf>, currency: string | undefined): void {
  if (currency === before) return;
  const [first, ...more] = otherRooms.get().openWith(work, id);
  if (first === undefined) return;
  const others = more.length === 0 ? '' : ` and ${more.length} ${more.length === 1 ? 'other' : 'others'}`;
  throw new Refusal(
    'stillOpen',
    `${first}${others} of ${name} are open in ${before}: end those first, or set up another customer for ${currency ?? ''}.`,
    {
      field: 'currency',
    },
  );
}

/** Sets a supplier up and gives its number. Refuses `codeTaken` and what is not known. */
export function createSupplier(work: Work, input: SupplierInput, what = `set up ${input.name}`): number {
  return supplierKeeper.add(work, supplierValues(work, input), input, what);
}

export function changeSupplier(work: Work, id: number, input: Versioned<SupplierInput>, what?: string): Change[] {
  return supplierKeeper.change(work, id, supplierValues(work, input), input, what);
}

/** What both kinds of party show on their pages. */
const shownOf = (party: PartyTable) => ({
  id: party.id,
  code: party.code,
  name: party.name,
  address: party.address,
  email: party.email,
  paymentDays: party.paymentDays,
  paymentTerm: party.paymentTerm,
  currency: party.currency,
  active: party.active,
  version: party.version,
});

const customerShown = query(
  ($: { id: number; today: string }) => (db) =>
    db
      .select({
        ...shownOf(customer),
        taxRate: rateOnDay(customer.taxCode, $.today, customer.taxRate),
        taxCode: customer.taxCode,
        onHold: customer.onHold,
        group: customer.groupCode,
        priceListId: customer.priceListId,
        carrier: customer.carrier,
        service: customer.service,
        invoicing: customer.invoicing,
        creditLimit: customer.creditLimit,
        owes: otherRooms.get().owes(customer.id),
        openOrders: otherRooms.get().openOrdersOfCustomer(customer.id),
      })
      .from(customer)
      .where(eq(customer.id, $.id)),
);

export function customerView(work: Work, id: number): CustomerView {
  const row = orNotFound(customerShown.one(work, { id, today: work.today }), 'customer');
  return {
    ...row,
    ...peopleOf(work, 'customer', id),
    creditLimit: row.creditLimit === null ? null : writeAmount(row.creditLimit),
    owes: writeAmount(row.owes),
    custom: customOf(work, 'customer', id),
  };
}

const supplierShown = query(
  ($: { id: number }) => (db) =>
    db
      .select({
        ...shownOf(supplier),
        leadDays: supplier.leadDays,
        calendar: supplier.calendar,
        openOrders: otherRooms.get().openOrdersOfSupplier(supplier.id),
      })
      .from(supplier)
      .where(eq(supplier.id, $.id)),
);
const MOST_ITEMS_SHOWN = 500;
const soldToday = query(
  ($: { supplierId: number; today: string }) => (db) =>
    db
      .select({
        id: item.id,
        code: item.code,
        description: item.description,
        price: supplierTerm.price,
        currency: supplierTerm.currency,
        preferred: supplierTerm.preferred,
      })
      .from(supplierTerm)
      .innerJoin(item, eq(item.id, supplierTerm.itemId))
      .where(
        and(
          eq(supplierTerm.supplierId, $.supplierId),
          lte(supplierTerm.validFrom, $.today),
          or(isNull(supplierTerm.validTo), gte(supplierTerm.validTo, $.today)),
        ),
      )
      .orderBy(item.code)
      .limit(MOST_ITEMS_SHOWN),
);

export function supplierView(work: Work, id: number): SupplierView {
  return {
    ...orNotFound(supplierShown.one(work, { id }), 'supplier'),
    ...peopleOf(work, 'supplier', id),
    custom: customOf(work, 'supplier', id),
    items: soldToday.all(work, { supplierId: id, today: work.today }).map((each) => ({ ...each, price: writePrice(each.price) })),
  };
}

/** A customer with tax rate (basis points), hold, group and price list. Refuses `notFound`. */
export const customerOf = fetching(customer, 'customer');

const customerCalled = query(($: { code: string }) => (db) => db.select({ id: customer.id }).from(customer).where(sameText(customer.code, $.code)));
/** The customer with a code, if there is one. */
export function customerByCode(work: Work, code: string): number | undefined {
  return customerCalled.one(work, { code })?.id;
}

/** A supplier. Refuses `notFound`. */
export const supplierOf = fetching(supplier, 'supplier');
