/** Items, units, parties and suppliers' terms. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, decimalText, idParams, listQuery, longText, page, shortText, version } from '../base/schemas';

export const itemKinds = ['stocked', 'nonStocked', 'service', 'charge', 'phantom'] as const;

export const itemRow = z.object({
  id: z.number(),
  code: z.string(),
  description: z.string(),
  kind: z.enum(itemKinds),
  group: z.string(),
  unit: z.string(),
  onHand: z.string(),
  free: z.string(),
  sellPrice: z.string(),
  active: z.boolean(),
});

export const supplierTerm = z.object({
  id: z.number(),
  supplierId: z.number(),
  supplier: z.string(),
  supplierItemCode: z.string(),
  price: z.string(),
  leadDays: z.number(),
  minimum: z.string(),
  multiple: z.string(),
  preferred: z.boolean(),
});

export const bomLine = z.object({
  position: z.number(),
  componentId: z.number(),
  component: z.string(),
  description: z.string(),
  unit: z.string(),
  quantity: z.string(),
  scrap: z.string(),
  offsetDays: z.number(),
  validFrom: z.string().nullable(),
  validTo: z.string().nullable(),
});

export const planningRuleView = z.object({
  warehouseId: z.number(),
  warehouse: z.string(),
  source: z.string(),
  leadDays: z.number(),
  safety: z.string(),
  minimum: z.string(),
  multiple: z.string(),
});

export const itemView = itemRow.omit({ onHand: true, free: true }).extend({
  secondCode: z.string().nullable(),
  barcodes: z.array(z.string()),
  decimals: z.number(),
  tracking: z.string(),
  costing: z.string(),
  sellingNotes: z.string(),
  packs: z.array(z.object({ code: z.string(), factor: z.string() })),
  terms: z.array(supplierTerm),
  bom: z.array(bomLine),
  usedIn: z.array(z.object({ id: z.number(), code: z.string(), description: z.string(), quantity: z.string() })),
  rules: z.array(planningRuleView),
  version,
});
export type ItemView = z.output<typeof itemView>;

export const itemInput = z.object({
  code: z.string().trim().min(1, 'Give a code.').max(40),
  description: z.string().trim().min(1, 'Give a description.').max(200),
  kind: z.enum(itemKinds).default('stocked'),
  group: z.string(),
  unit: z.string(),
  secondCode: shortText.nullable().default(null),
  barcodes: z.array(z.string().trim().min(1).max(40)).default([]),
  sellPrice: decimalText.default('0'),
  sellingNotes: longText.default(''),
  packs: z.array(z.object({ code: shortText.min(1), factor: decimalText })).default([]),
});

export const termInput = z.object({
  supplierId: z.number(),
  supplierItemCode: shortText.default(''),
  price: decimalText,
  leadDays: z.number().int().min(0).max(730),
  minimum: decimalText.default('0'),
  multiple: decimalText.default('0'),
  preferred: z.boolean().default(true),
});

export const bomInput = z.object({
  lines: z
    .array(
      z.object({
        componentId: z.number(),
        quantity: decimalText,
        scrap: decimalText.default('0'),
        offsetDays: z.number().int().min(0).max(365).default(0),
        validFrom: dateText.nullable().default(null),
        validTo: dateText.nullable().default(null),
      }),
    )
    .max(200),
});

export const ruleInput = z.object({
  warehouseId: z.number(),
  source: z.enum(['buy', 'make', 'none']),
  leadDays: z.number().int().min(0).max(730),
  safety: decimalText.default('0'),
  minimum: decimalText.default('0'),
  multiple: decimalText.default('0'),
  slackDays: z.number().int().min(0).max(60).default(0),
});

const partyView = z.object({
  id: z.number(),
  code: z.string(),
  name: z.string(),
  address: z.string(),
  email: z.string(),
  active: z.boolean(),
  paymentDays: z.number(),
  version,
});
export const customerView = partyView.extend({ taxRate: z.number(), onHold: z.boolean(), openOrders: z.number(), owes: z.string() });
export const supplierView = partyView.extend({ openOrders: z.number(), items: z.number() });
const partyInput = z.object({
  code: z.string().trim().min(1).max(20),
  name: z.string().trim().min(1).max(120),
  address: longText.default(''),
  email: z.union([z.email(), z.literal('')]).default(''),
  paymentDays: z.number().int().min(0).max(365).default(30),
});

export const itemChoice = z.object({
  id: z.number(),
  code: z.string(),
  description: z.string(),
  unit: z.string(),
  decimals: z.number(),
  sellPrice: z.string(),
  kind: z.string(),
  packs: z.array(z.object({ code: z.string(), factor: z.string() })),
});
export type ItemChoice = z.output<typeof itemChoice>;
const choice = z.object({ id: z.number(), code: z.string(), name: z.string() });
export type Choice = z.output<typeof choice>;

export const catalogueRoutes = {
  listItems: route({
    method: 'get',
    path: '/catalogue/items',
    summary: 'Items with what is there of them',
    right: 'catalogue.see',
    query: listQuery,
    answer: page(itemRow),
  }),
  findItems: route({
    method: 'get',
    path: '/catalogue/items/find',
    summary: 'Items by code, barcode or words, best first',
    right: 'catalogue.see',
    query: z.object({ text: z.string().max(200) }),
    answer: z.array(itemChoice),
  }),
  getItem: route({ method: 'get', path: '/catalogue/items/:id', summary: 'One item', right: 'catalogue.see', params: idParams, answer: itemView }),
  createItem: route({
    method: 'post',
    path: '/catalogue/items',
    summary: 'Set up an item',
    right: 'catalogue.edit',
    body: itemInput,
    answer: itemView,
  }),
  changeItem: route({
    method: 'put',
    path: '/catalogue/items/:id',
    summary: 'Change an item',
    right: 'catalogue.edit',
    params: idParams,
    body: itemInput.omit({ unit: true }).extend({ version, active: z.boolean() }),
    answer: itemView,
  }),
  setTerm: route({
    method: 'put',
    path: '/catalogue/items/:id/terms',
    summary: "Set a supplier's terms for an item",
    right: 'catalogue.edit',
    params: idParams,
    body: termInput,
    answer: itemView,
  }),
  setBom: route({
    method: 'put',
    path: '/catalogue/items/:id/bom',
    summary: 'Set what an item is made from',
    right: 'catalogue.edit',
    params: idParams,
    body: bomInput,
    answer: itemView,
  }),
  setRule: route({
    method: 'put',
    path: '/catalogue/items/:id/rules',
    summary: 'Set how an item is planned in a warehouse',
    right: 'catalogue.edit',
    params: idParams,
    body: ruleInput,
    answer: itemView,
  }),
  listCustomers: route({
    method: 'get',
    path: '/catalogue/customers',
    summary: 'Customers',
    right: 'catalogue.see',
    query: listQuery,
    answer: page(customerView),
  }),
  createCustomer: route({
    method: 'post',
    path: '/catalogue/customers',
    summary: 'Set up a customer',
    right: 'catalogue.edit',
    body: partyInput.extend({ taxRate: z.number().int().min(0).max(10_000).default(2000) }),
    answer: z.object({ id: z.number() }),
  }),
  listSuppliers: route({
    method: 'get',
    path: '/catalogue/suppliers',
    summary: 'Suppliers',
    right: 'catalogue.see',
    query: listQuery,
    answer: page(supplierView),
  }),
  createSupplier: route({
    method: 'post',
    path: '/catalogue/suppliers',
    summary: 'Set up a supplier',
    right: 'catalogue.edit',
    body: partyInput,
    answer: z.object({ id: z.number() }),
  }),
  choices: route({
    method: 'get',
    path: '/catalogue/choices',
    summary: 'Everything short enough to choose from a list',
    right: 'signedIn',
    answer: z.object({
      warehouses: z.array(choice),
      bins: z.array(choice.extend({ warehouseId: z.number() })),
      customers: z.array(choice.extend({ onHold: z.boolean() })),
      suppliers: z.array(choice),
      groups: z.array(choice),
      units: z.array(choice),
      reasons: z.array(choice.extend({ noteNeeded: z.boolean() })),
    }),
  }),
  setUp: route({
    method: 'post',
    path: '/catalogue/ground',
    summary: 'Set up units, calendars, groups, warehouses, bins and reasons',
    right: 'setup.edit',
    body: z.object({
      units: z.array(z.object({ code: shortText, name: shortText, decimals: z.number().int().min(0).max(5) })),
      calendars: z.array(z.object({ code: shortText, workdays: z.array(z.number().int().min(1).max(7)).min(1), holidays: z.array(dateText) })),
      groups: z.array(
        z.object({
          code: shortText,
          name: shortText,
          parent: shortText.nullable(),
          inventoryAccount: shortText,
          costOfSalesAccount: shortText,
          revenueAccount: shortText,
        }),
      ),
      warehouses: z.array(z.object({ code: shortText, name: shortText, calendar: shortText, bins: z.array(shortText).min(1), dock: shortText })),
      reasons: z.array(z.object({ code: shortText, name: shortText, account: shortText, noteNeeded: z.boolean() })),
      accounts: z.array(z.object({ code: shortText, name: shortText })),
    }),
    answer: z.object({}),
  }),
};
