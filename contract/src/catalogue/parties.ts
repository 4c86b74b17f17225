/** Customers and suppliers. */
import { z } from 'zod';
import { route } from '../base/route';
import { decimalText, idParams, listQuery, longText, page, shortText, version } from '../base/schemas';
import { customInput, customView } from './custom';

const email = z.union([z.email('Give an address such as name@example.com.'), z.literal('')]);
const address = z.object({ label: shortText.min(1, 'Name the address.'), address: longText.min(1, 'Give the address.') });
const contact = z.object({
  name: shortText.min(1, 'Give a name.'),
  part: shortText.default(''),
  email: email.default(''),
  phone: shortText.default(''),
});

const partyRow = z.looseObject({
  id: z.number(),
  code: z.string(),
  name: z.string(),
  address: z.string(),
  email: z.string(),
  active: z.boolean(),
  paymentDays: z.number(),
  /** Payment terms by their code; they go before the days. */
  paymentTerm: z.string().nullable(),
  currency: z.string(),
  version,
});
export const customerRow = partyRow.extend({
  taxRate: z.number(),
  onHold: z.boolean(),
  group: z.string().nullable(),
  openOrders: z.number(),
  owes: z.string(),
});
export const supplierRow = partyRow.extend({ openOrders: z.number(), items: z.number() });

const partyInput = z.object({
  code: z.string().trim().min(1, 'Give a code.').max(20),
  name: z.string().trim().min(1, 'Give a name.').max(120),
  address: longText.default(''),
  email: email.default(''),
  paymentDays: z.number().int().min(0).max(365).default(30),
  /** Payment terms by their code; they go before the days. */
  paymentTerm: shortText.nullable().default(null),
  /** Code of a currency; empty for that of the books. */
  currency: shortText.default(''),
  addresses: z.array(address).max(40).default([]),
  contacts: z.array(contact).max(40).default([]),
  custom: customInput,
});
export const invoicingWays = ['shipment', 'order', 'together'] as const;
export const customerInput = partyInput.extend({
  /** Basis points; the tax code's own rate goes before it. Who is new and has neither has the tax code of the house. */
  taxRate: z.number().int().min(0).max(10_000).optional(),
  taxCode: shortText.nullable().default(null),
  group: shortText.nullable().default(null),
  priceListId: z.number().nullable().default(null),
  carrier: shortText.default(''),
  service: shortText.default(''),
  /** What an invoice is for: each shipment, the whole order once it has gone, or all that went since the last. */
  invoicing: z.enum(invoicingWays).default('shipment'),
  creditLimit: decimalText.nullable().default(null),
  onHold: z.boolean().default(false),
});
export const supplierInput = partyInput.extend({
  leadDays: z.number().int().min(0).max(730).nullable().default(null),
  calendar: shortText.nullable().default(null),
});
export type CustomerInput = z.input<typeof customerInput>;
export type SupplierInput = z.input<typeof supplierInput>;

const kept = { id: z.number(), active: z.boolean(), version, custom: customView };
export const customerView = customerInput.extend(kept).extend({ taxRate: z.number(), owes: z.string(), openOrders: z.number() });
export const supplierView = supplierInput.extend(kept).extend({
  openOrders: z.number(),
  items: z.array(
    z.object({ id: z.number(), code: z.string(), description: z.string(), price: z.string(), currency: z.string(), preferred: z.boolean() }),
  ),
});
export type CustomerView = z.output<typeof customerView>;

const customerItems = z.array(
  z.object({
    itemId: z.number().int(),
    code: z.string(),
    description: z.string(),
    /** What the customer calls it. */
    theirCode: z.string(),
    theirDescription: z.string(),
  }),
);
export type SupplierView = z.output<typeof supplierView>;

const changed = { version, active: z.boolean() };

export const partyRoutes = {
  listCustomers: route({
    method: 'get',
    path: '/catalogue/customers',
    summary: 'Customers',
    right: 'catalogue.see',
    query: listQuery,
    answer: page(customerRow),
  }),
  getCustomer: route({
    method: 'get',
    path: '/catalogue/customers/:id',
    summary: 'A customer',
    right: 'catalogue.see',
    params: idParams,
    answer: customerView,
  }),
  customerItems: route({
    method: 'get',
    path: '/catalogue/customers/:id/items',
    summary: 'What a customer calls items',
    right: 'catalogue.see',
    params: idParams,
    answer: customerItems,
  }),
  keepCustomerItem: route({
    method: 'put',
    path: '/catalogue/customers/:id/items',
    summary: 'Say what a customer calls an item',
    right: 'catalogue.edit',
    params: idParams,
    body: z.object({
      itemId: z.number().int().positive('Choose an item.'),
      theirCode: shortText.min(1, 'Give their number.'),
      theirDescription: shortText.default(''),
    }),
    answer: customerItems,
  }),
  dropCustomerItem: route({
    method: 'delete',
    path: '/catalogue/customers/:id/items/:item',
    summary: 'Forget what a customer calls an item',
    right: 'catalogue.edit',
    params: idParams.extend({ item: idParams.shape.id }),
    answer: customerItems,
  }),
  createCustomer: route({
    method: 'post',
    path: '/catalogue/customers',
    summary: 'Set up a customer',
    right: 'catalogue.edit',
    body: customerInput,
    answer: customerView,
  }),
  changeCustomer: route({
    method: 'put',
    path: '/catalogue/customers/:id',
    summary: 'Change a customer',
    right: 'catalogue.edit',
    params: idParams,
    body: customerInput.extend(changed),
    answer: customerView,
  }),
  listSuppliers: route({
    method: 'get',
    path: '/catalogue/suppliers',
    summary: 'Suppliers',
    right: 'catalogue.see',
    query: listQuery,
    answer: page(supplierRow),
  }),
  getSupplier: route({
    method: 'get',
    path: '/catalogue/suppliers/:id',
    summary: 'A supplier',
    right: 'catalogue.see',
    params: idParams,
    answer: supplierView,
  }),
  createSupplier: route({
    method: 'post',
    path: '/catalogue/suppliers',
    summary: 'Set up a supplier',
    right: 'catalogue.edit',
    body: supplierInput,
    answer: supplierView,
  }),
  changeSupplier: route({
    method: 'put',
    path: '/catalogue/suppliers/:id',
    summary: 'Change a supplier',
    right: 'catalogue.edit',
    params: idParams,
    body: supplierInput.extend(changed),
    answer: supplierView,
  }),
};
