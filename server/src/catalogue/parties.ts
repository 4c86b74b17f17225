/** Customers and suppliers. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type ListQuery } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import { asAmountText, asFlag, asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import { orNotFound, type Work } from '../platform/work';

const party = {
  id: asNumber('p.id'),
  code: asText('p.code'),
  name: asText('p.name'),
  address: asText('p.address'),
  email: asText('p.email'),
  active: asFlag('p.active'),
  paymentDays: asNumber('p.payment_days'),
  version: asNumber('p.version'),
};

const customers: ListDefinition = {
  columns: {
    ...party,
    taxRate: asNumber('p.tax_rate'),
    onHold: asFlag('p.on_hold'),
    openOrders: asNumber('(select count(*) from customer_order o where o.customer_id = p.id and o.open = 1)'),
    owes: asAmountText("(select coalesce(sum(v.total - v.paid), 0) from invoice v where v.customer_id = p.id and v.state = 'open')"),
  },
  from: 'customer p',
  find: ['p.code', 'p.name', 'p.address'],
  order: 'p.name',
  tie: 'p.id',
};

const suppliers: ListDefinition = {
  columns: {
    ...party,
    openOrders: asNumber("(select count(*) from purchase_order o where o.supplier_id = p.id and o.state not in ('received', 'cancelled'))"),
    items: asNumber('(select count(*) from supplier_term t where t.supplier_id = p.id)'),
  },
  from: 'supplier p',
  find: ['p.code', 'p.name', 'p.address'],
  order: 'p.name',
  tie: 'p.id',
};

export function listCustomers(work: Work, query: ListQuery): AnswerOf<typeof api.catalogue.listCustomers> {
  return listPage(work, customers, query);
}

export function listSuppliers(work: Work, query: ListQuery): AnswerOf<typeof api.catalogue.listSuppliers> {
  return listPage(work, suppliers, query);
}

export function createCustomer(work: Work, input: BodyOf<typeof api.catalogue.createCustomer>): { id: number } {
  assertCodeFree(work, 'customer', input.code);
  const { id } = work.run(
    'insert into customer (code, name, address, email, payment_days, tax_rate) values (?, ?, ?, ?, ?, ?)',
    input.code,
    input.name,
    input.address,
    input.email,
    input.paymentDays,
    input.taxRate,
  );
  work.record('customer', id, `set up ${input.name}`);
  return { id };
}

export function createSupplier(work: Work, input: BodyOf<typeof api.catalogue.createSupplier>): { id: number } {
  assertCodeFree(work, 'supplier', input.code);
  const { id } = work.run(
    'insert into supplier (code, name, address, email, payment_days) values (?, ?, ?, ?, ?)',
    input.code,
    input.name,
    input.address,
    input.email,
    input.paymentDays,
  );
  work.record('supplier', id, `set up ${input.name}`);
  return { id };
}

function assertCodeFree(work: Work, table: 'customer' | 'supplier', code: string): void {
  const taken = work.row<{ name: string }>(`select name from ${table} where code = ? collate nocase`, code);
  if (taken) throw new Refusal('codeTaken', `The code ${code} belongs to ${taken.name} already: choose another.`, { field: 'code' });
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

/** A customer with tax rate (basis points) and hold. */
export function customerOf(work: Work, id: number): Party & { readonly taxRate: number; readonly onHold: number } {
  return orNotFound(
    work.row(
      'select id, code, name, address, email, payment_days as paymentDays, active, tax_rate as taxRate, on_hold as onHold from customer where id = ?',
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
