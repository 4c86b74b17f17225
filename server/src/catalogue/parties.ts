/** Customers and suppliers. */
import type { api } from '@terrace/contract';
import type { AnswerOf, BodyOf, CustomRecord, CustomerView, ListQuery, SupplierView } from '@terrace/contract';
import { Refusal, parseAmount, writeAmount, writePrice } from '@terrace/core';
import { asAmountText, asFlag, asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import { assertVersion, atField, changesBetween, orNotFound, type Change, type Work } from '../platform/work';
import { customColumns, customFind, customOf, keepCustom } from './custom';
import { booksCurrency } from './rates';

type Kind = 'customer' | 'supplier';

const party = {
  id: asNumber('p.id'),
  code: asText('p.code'),
  name: asText('p.name'),
  address: asText('p.address'),
  email: asText('p.email'),
  active: asFlag('p.active'),
  paymentDays: asNumber('p.payment_days'),
  currency: asText('p.currency'),
  version: asNumber('p.version'),
};
const OWES = "(select coalesce(sum(v.total - v.paid), 0) from invoice v where v.customer_id = p.id and v.state = 'open')";
const CUSTOMER_ORDERS = '(select count(*) from customer_order o where o.customer_id = p.id and o.open = 1)';
const PURCHASES = "(select count(*) from purchase_order o where o.supplier_id = p.id and o.state not in ('received', 'cancelled'))";

function listOf(work: Work, record: Kind & CustomRecord, more: ListDefinition['columns']): ListDefinition {
  return {
    columns: { ...party, ...more, ...customColumns(work, record, 'p.id') },
    from: `${record} p`,
    find: ['p.code', 'p.name', 'p.address', ...customFind(work, record, 'p.id')],
    order: 'p.name',
    tie: 'p.id',
  };
}

export function listCustomers(work: Work, query: ListQuery): AnswerOf<typeof api.catalogue.listCustomers> {
  const more = {
    taxRate: asNumber('p.tax_rate'),
    onHold: asFlag('p.on_hold'),
    group: asText('p.group_code'),
    carrier: asText('p.carrier'),
    openOrders: asNumber(CUSTOMER_ORDERS),
    owes: asAmountText(OWES),
  };
  return listPage(work, listOf(work, 'customer', more), query);
}

export function listSuppliers(work: Work, query: ListQuery): AnswerOf<typeof api.catalogue.listSuppliers> {
  const more = {
    openOrders: asNumber(PURCHASES),
    items: asNumber('(select count(distinct t.item_id) from supplier_term t where t.supplier_id = p.id)'),
  };
  return listPage(work, listOf(work, 'supplier', more), query);
}

type CustomerInput = BodyOf<typeof api.catalogue.createCustomer>;
type SupplierInput = BodyOf<typeof api.catalogue.createSupplier>;

const COMMON = 'code, name, address, email, payment_days, currency';
const CUSTOMER = `${COMMON}, tax_rate, tax_code, on_hold, group_code, price_list_id, carrier, service, credit_limit`;
const SUPPLIER = `${COMMON}, lead_days, calendar`;

const blankToNull = (text: string | null): string | null => (text === '' ? null : text);

function common(work: Work, input: CustomerInput | SupplierInput): (string | number | null)[] {
  if (input.currency !== booksCurrency(work) && !work.row('select 1 from currency where code = ?', input.currency))
    throw new Refusal('unknownCurrency', `There is no currency "${input.currency}": choose one from the list, or add it first.`, {
      field: 'currency',
    });
  return [input.code, input.name, input.address, input.email, input.paymentDays, input.currency];
}

function known(work: Work, table: string, code: string | null, field: string, what: string): string | null {
  if (code === null || code === '') return null;
  if (!work.row(`select 1 from ${table} where code = ?`, code))
    throw new Refusal('unknownChoice', `There is no ${what} "${code}": choose one from the list.`, { field });
  return code;
}

function customerValues(work: Work, input: CustomerInput): (string | number | null)[] {
  const taxCode = known(work, 'tax_code', input.taxCode, 'taxCode', 'tax code');
  const rate = taxCode === null ? undefined : work.row<{ rate: number }>('select rate from tax_code where code = ?', taxCode)?.rate;
  if (input.priceListId !== null && !work.row('select 1 from price_list where id = ?', input.priceListId))
    throw new Refusal('unknownChoice', 'There is no such price list: choose one from the list.', { field: 'priceListId' });
  const limit = blankToNull(input.creditLimit);
  return [
    ...common(work, input),
    rate ?? input.taxRate,
    taxCode,
    input.onHold ? 1 : 0,
    known(work, 'customer_group', input.group, 'group', 'customer group'),
    input.priceListId,
    input.carrier,
    input.service,
    limit === null
      ? null
      : atField('creditLimit', () => {
          const amount = parseAmount(limit, 'the credit limit');
          if (amount < 0) throw new Refusal('negative', 'A credit limit can’t be below 0: leave it empty for none.');
          return amount;
        }),
  ];
}

function supplierValues(work: Work, input: SupplierInput): (string | number | null)[] {
  return [...common(work, input), input.leadDays, known(work, 'calendar', input.calendar, 'calendar', 'calendar')];
}

function keepPeople(work: Work, kind: Kind, id: number, input: CustomerInput | SupplierInput): void {
  work.run('delete from party_address where party = ? and party_id = ?', kind, id);
  work.run('delete from party_contact where party = ? and party_id = ?', kind, id);
  input.addresses.forEach((each, index) =>
    work.run(
      'insert into party_address (party, party_id, label, address, position) values (?, ?, ?, ?, ?)',
      kind,
      id,
      each.label,
      each.address,
      index + 1,
    ),
  );
  input.contacts.forEach((each, index) =>
    work.run(
      'insert into party_contact (party, party_id, name, part, email, phone, position) values (?, ?, ?, ?, ?, ?, ?)',
      kind,
      id,
      each.name,
      each.part,
      each.email,
      each.phone,
      index + 1,
    ),
  );
}

function create(work: Work, kind: Kind, columns: string, values: readonly unknown[], input: CustomerInput | SupplierInput, what: string): number {
  assertCodeFree(work, kind, input.code, 0);
  const { id } = work.run(
    `insert into ${kind} (${columns}) values (${columns
      .split(',')
      .map(() => '?')
      .join(', ')})`,
    ...values,
  );
  keepPeople(work, kind, id, input);
  keepCustom(work, kind, id, input.custom);
  work.record(kind, id, what);
  return id;
}

type Versioned<T> = T & { version: number; active: boolean };

function change(
  work: Work,
  kind: Kind,
  id: number,
  columns: string,
  values: readonly unknown[],
  input: Versioned<CustomerInput | SupplierInput>,
  what?: string,
): Change[] {
  const before = orNotFound(
    work.row<Record<string, unknown> & { id: number; version: number; name: string }>(`select * from ${kind} where id = ?`, id),
    kind,
  );
  assertVersion(work, kind, before, input.version, before.name);
  assertCodeFree(work, kind, input.code, id);
  const people = (): string => JSON.stringify(peopleOf(work, kind, id));
  const peopleBefore = people();
  work.run(
    `update ${kind} set ${columns
      .split(',')
      .map((each) => `${each} = ?`)
      .join(', ')}, active = ?, version = version + 1 where id = ?`,
    ...values,
    input.active ? 1 : 0,
    id,
  );
  keepPeople(work, kind, id, input);
  const after = work.row<Record<string, unknown>>(`select * from ${kind} where id = ?`, id) ?? {};
  const changes = changesBetween({ ...before, version: 0 }, { ...after, version: 0 });
  changes.push(...keepCustom(work, kind, id, input.custom));
  const peopleAfter = people();
  if (peopleAfter !== peopleBefore) changes.push({ field: 'addresses and contacts', from: peopleBefore, to: peopleAfter });
  work.record(kind, id, what ?? `changed ${input.name}`, changes);
  return changes;
}

/** Sets a customer up and gives its number. Refuses `codeTaken` and what is not known. */
export function createCustomer(work: Work, input: CustomerInput, what = `set up ${input.name}`): number {
  return create(work, 'customer', CUSTOMER, customerValues(work, input), input, what);
}

export function changeCustomer(work: Work, id: number, input: Versioned<CustomerInput>, what?: string): Change[] {
  return change(work, 'customer', id, CUSTOMER, customerValues(work, input), input, what);
}

/** Sets a supplier up and gives its number. Refuses `codeTaken` and what is not known. */
export function createSupplier(work: Work, input: SupplierInput, what = `set up ${input.name}`): number {
  return create(work, 'supplier', SUPPLIER, supplierValues(work, input), input, what);
}

export function changeSupplier(work: Work, id: number, input: Versioned<SupplierInput>, what?: string): Change[] {
  return change(work, 'supplier', id, SUPPLIER, supplierValues(work, input), input, what);
}

function assertCodeFree(work: Work, table: Kind, code: string, exceptId: number): void {
  const taken = work.row<{ name: string }>(`select name from ${table} where code = ? collate nocase and id <> ?`, code, exceptId);
  if (taken) throw new Refusal('codeTaken', `The code ${code} belongs to ${taken.name} already: choose another.`, { field: 'code' });
}

function peopleOf(work: Work, kind: Kind, id: number): Pick<CustomerView, 'addresses' | 'contacts'> {
  return {
    addresses: work.rows('select label, address from party_address where party = ? and party_id = ? order by position', kind, id),
    contacts: work.rows('select name, part, email, phone from party_contact where party = ? and party_id = ? order by position', kind, id),
  };
}

const AS_VIEWED = 'p.id, p.code, p.name, p.address, p.email, p.payment_days as paymentDays, p.currency, p.active, p.version';

export function customerView(work: Work, id: number): CustomerView {
  const row = orNotFound(
    work.row<
      Omit<CustomerView, 'addresses' | 'contacts' | 'custom' | 'owes' | 'active' | 'onHold' | 'creditLimit'> & {
        owes: number;
        active: number;
        onHold: number;
        creditLimit: number | null;
      }
    >(
      `select ${AS_VIEWED}, p.tax_rate as taxRate, p.tax_code as taxCode, p.on_hold as onHold, p.group_code as "group", p.price_list_id as priceListId, p.carrier, p.service,
         p.credit_limit as creditLimit, ${OWES} as owes, ${CUSTOMER_ORDERS} as openOrders from customer p where p.id = ?`,
      id,
    ),
    'customer',
  );
  return {
    ...row,
    ...peopleOf(work, 'customer', id),
    active: row.active === 1,
    onHold: row.onHold === 1,
    creditLimit: row.creditLimit === null ? null : writeAmount(row.creditLimit),
    owes: writeAmount(row.owes),
    custom: customOf(work, 'customer', id),
  };
}

export function supplierView(work: Work, id: number): SupplierView {
  const row = orNotFound(
    work.row<Omit<SupplierView, 'addresses' | 'contacts' | 'custom' | 'active' | 'items'> & { active: number }>(
      `select ${AS_VIEWED}, p.lead_days as leadDays, p.calendar, ${PURCHASES} as openOrders from supplier p where p.id = ?`,
      id,
    ),
    'supplier',
  );
  const items = work.rows<{ id: number; code: string; description: string; price: number; currency: string; preferred: number }>(
    `select i.id, i.code, i.description, t.price, t.currency, t.preferred from supplier_term t join item i on i.id = t.item_id
     where t.supplier_id = ? and t.valid_from <= ? and (t.valid_to is null or t.valid_to >= ?) order by i.code limit 500`,
    id,
    work.today,
    work.today,
  );
  return {
    ...row,
    ...peopleOf(work, 'supplier', id),
    active: row.active === 1,
    custom: customOf(work, 'supplier', id),
    items: items.map((each) => ({ ...each, price: writePrice(each.price), preferred: each.preferred === 1 })),
  };
}

export interface Party {
  readonly id: number;
  readonly code: string;
  readonly name: string;
  readonly address: string;
  readonly email: string;
  readonly paymentDays: number;
  readonly active: number;
}

/** A customer with tax rate (basis points), hold, group and price list. */
export function customerOf(
  work: Work,
  id: number,
): Party & { readonly taxRate: number; readonly onHold: number; readonly groupCode: string | null; readonly priceListId: number | null } {
  return orNotFound(
    work.row(
      `select id, code, name, address, email, payment_days as paymentDays, active, tax_rate as taxRate, on_hold as onHold, group_code as groupCode, price_list_id as priceListId
       from customer where id = ?`,
      id,
    ),
    'customer',
  );
}

export function supplierOf(work: Work, id: number): Party {
  return orNotFound(
    work.row('select id, code, name, address, email, payment_days as paymentDays, active from supplier where id = ?', id),
    'supplier',
  );
}
