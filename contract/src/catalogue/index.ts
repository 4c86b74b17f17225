/** Items, units, groups, parties and suppliers' terms. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, decimalText, idParams, listQuery, longText, page, shortText, version, versioned } from '../base/schemas';
import { customInput, customView } from './custom';
import { groundRoutes } from './ground';
import { partyRoutes } from './parties';

export * from './custom';
export * from './ground';
export * from './parties';

export const itemKinds = ['stocked', 'nonStocked', 'service', 'charge', 'phantom'] as const;
export const trackings = ['none', 'lot', 'serial'] as const;
export const costings = ['movingAverage', 'fifo', 'standard'] as const;

/** Fields that an item takes from its group where they are not typed. */
export const givenFields = [
  'kind',
  'unit',
  'tracking',
  'costing',
  'discountCeiling',
  'shelfLifeDays',
  'restLifeDays',
  'storageOverhead',
  'planning',
] as const;
export type GivenField = (typeof givenFields)[number];

export const itemRow = z.looseObject({
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

const termBreak = z.object({ from: decimalText, price: decimalText });

export const supplierTerm = z.object({
  id: z.number(),
  supplierId: z.number(),
  supplier: z.string(),
  supplierItemCode: z.string(),
  supplierDescription: z.string(),
  price: z.string(),
  currency: z.string(),
  discount: z.string(),
  buyUnit: z.string().nullable(),
  leadDays: z.number(),
  minimum: z.string(),
  multiple: z.string(),
  preferred: z.boolean(),
  validFrom: z.string().nullable(),
  validTo: z.string().nullable(),
  /** Whether it holds today. */
  holds: z.boolean(),
  breaks: z.array(termBreak),
  version,
});
export type SupplierTermView = z.output<typeof supplierTerm>;

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
  slackDays: z.number(),
  version,
});

const unitSize = z.object({
  unit: z.string(),
  /** Grams. */
  weight: z.number().int().min(0).nullable(),
  /** Millimetres. */
  length: z.number().int().min(0).nullable(),
  width: z.number().int().min(0).nullable(),
  height: z.number().int().min(0).nullable(),
});

const barcode = z.object({ barcode: z.string().trim().min(1).max(40), unit: z.string().nullable().default(null) });

export const substituteView = z.object({
  id: z.number(),
  code: z.string(),
  description: z.string(),
  unit: z.string(),
  /** How many of it stand in for one. */
  ratio: z.string(),
  bothWays: z.boolean(),
  free: z.string(),
  active: z.boolean(),
});

export const itemView = z.object({
  id: z.number(),
  code: z.string(),
  description: z.string(),
  kind: z.enum(itemKinds),
  group: z.string(),
  unit: z.string(),
  sellPrice: z.string(),
  active: z.boolean(),
  secondCode: z.string().nullable(),
  barcodes: z.array(barcode),
  decimals: z.number(),
  tracking: z.enum(trackings),
  costing: z.enum(costings),
  sellingNotes: z.string(),
  manufacturer: z.string(),
  originCountry: z.string(),
  commodityCode: z.string(),
  buyPrice: z.string(),
  standardCost: z.string(),
  storageOverhead: z.string(),
  discountCeiling: z.string().nullable(),
  shelfLifeDays: z.number().nullable(),
  restLifeDays: z.number().nullable(),
  buyUnit: z.string().nullable(),
  sellUnit: z.string().nullable(),
  countUnit: z.string().nullable(),
  sizes: z.array(unitSize),
  /** Each value that follows a group, and which. */
  origins: z.record(z.string(), z.string()),
  /** What the group gives, also where something else was typed. */
  given: z.record(z.string(), z.object({ value: z.string(), group: z.string() })),
  /** What can't be changed any more, and why. */
  locks: z.record(z.string(), z.string()),
  family: z.object({ id: z.number(), code: z.string() }).nullable(),
  variant: z.record(z.string(), z.string()).nullable(),
  substitutes: z.array(substituteView),
  /** What would be left hanging if it became inactive. */
  inUse: z.array(z.string()),
  custom: customView,
  packs: z.array(z.object({ code: z.string(), factor: z.string() })),
  terms: z.array(supplierTerm),
  bom: z.array(bomLine),
  usedIn: z.array(z.object({ id: z.number(), code: z.string(), description: z.string(), quantity: z.string() })),
  rules: z.array(planningRuleView),
  version,
});
export type ItemView = z.output<typeof itemView>;

/** What is typed of an item. A field of the group that is left out follows the group. */
export const itemInput = z.object({
  code: z.string().trim().min(1, 'Give a code.').max(40),
  description: z.string().trim().min(1, 'Give a description.').max(200),
  group: z.string(),
  kind: z.enum(itemKinds).optional(),
  unit: z.string().optional(),
  tracking: z.enum(trackings).optional(),
  costing: z.enum(costings).optional(),
  /** Percent. */
  discountCeiling: decimalText.optional(),
  shelfLifeDays: decimalText.optional(),
  restLifeDays: decimalText.optional(),
  /** Percent of the value, a year. */
  storageOverhead: decimalText.optional(),
  secondCode: shortText.nullable().default(null),
  barcodes: z.array(barcode).max(50).default([]),
  sellPrice: decimalText.default('0'),
  buyPrice: decimalText.default('0'),
  standardCost: decimalText.default('0'),
  sellingNotes: longText.default(''),
  manufacturer: shortText.default(''),
  originCountry: z
    .union([
      z
        .string()
        .trim()
        .regex(/^[A-Za-z]{2}$/, 'Give two letters, such as PT.'),
      z.literal(''),
    ])
    .default(''),
  commodityCode: z
    .union([
      z
        .string()
        .trim()
        .regex(/^\d{6,10}$/, 'Give 6 to 10 figures.'),
      z.literal(''),
    ])
    .default(''),
  packs: z
    .array(z.object({ code: shortText.min(1, 'Name the pack.'), factor: decimalText }))
    .max(20)
    .default([]),
  buyUnit: shortText.nullable().default(null),
  sellUnit: shortText.nullable().default(null),
  countUnit: shortText.nullable().default(null),
  sizes: z.array(unitSize).max(20).default([]),
  custom: customInput,
});
export type ItemInput = z.input<typeof itemInput>;

export const termInput = z.object({
  /** The terms that are changed; without it, new ones. */
  id: z.number().optional(),
  version: version.optional(),
  supplierId: z.number(),
  supplierItemCode: shortText.default(''),
  supplierDescription: shortText.default(''),
  price: decimalText,
  currency: shortText.default('EUR'),
  /** Percent. */
  discount: decimalText.default('0'),
  buyUnit: shortText.nullable().default(null),
  /** Working days; without them the supplier's own hold. */
  leadDays: z.number().int().min(0).max(730).optional(),
  minimum: decimalText.default('0'),
  multiple: decimalText.default('0'),
  preferred: z.boolean().default(true),
  validFrom: dateText.nullable().default(null),
  validTo: dateText.nullable().default(null),
  breaks: z.array(termBreak).max(20).default([]),
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
  version: version.optional(),
});

export const ruleInput = z.object({
  warehouseId: z.number(),
  source: z.enum(['buy', 'make', 'none']),
  leadDays: z.number().int().min(0).max(730),
  safety: decimalText.default('0'),
  minimum: decimalText.default('0'),
  multiple: decimalText.default('0'),
  slackDays: z.number().int().min(0).max(60).default(0),
  version: version.optional(),
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
  /** The pack that it is usually bought and sold in, where that is not the base unit. */
  buyUnit: z.string().nullable().optional(),
  sellUnit: z.string().nullable().optional(),
  /** The pack whose barcode was scanned. */
  scanned: z.string().nullable().optional(),
});
export type ItemChoice = z.output<typeof itemChoice>;
export const likeItem = z.object({
  id: z.number(),
  code: z.string(),
  description: z.string(),
  group: z.string(),
  active: z.boolean(),
  why: z.string(),
});

const attribute = z.object({
  name: shortText.min(1, 'Name the attribute.'),
  values: z.array(z.object({ code: shortText.min(1, 'Give a code.').max(12), name: shortText.min(1, 'Give a name.') })).max(60),
});
export const familyInput = z.object({
  code: z.string().trim().min(1, 'Give a code.').max(30),
  description: z.string().trim().min(1, 'Give a description.').max(150),
  group: z.string(),
  attributes: z.array(attribute).max(4),
});
export const variantRow = z.object({
  code: z.string(),
  description: z.string(),
  values: z.record(z.string(), z.string()),
  /** The item that it is already. */
  itemId: z.number().nullable(),
  sellPrice: z.string(),
  onHand: z.string(),
  /** Another item that has the code. */
  taken: z.string(),
});
export const familyView = familyInput.extend({ id: z.number(), version, variants: z.array(variantRow) });
export type FamilyView = z.output<typeof familyView>;

/** Fields that many items can be given at once. */
export const bulkFields = [
  'description',
  'group',
  'sellPrice',
  'buyPrice',
  'standardCost',
  'manufacturer',
  'discountCeiling',
  'secondCode',
  'sellingNotes',
  'active',
] as const;
export type BulkField = (typeof bulkFields)[number];

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
    body: itemInput.extend({ version, active: z.boolean() }),
    answer: itemView,
  }),
  changeItems: route({
    method: 'put',
    path: '/catalogue/items',
    summary: 'Change many items in one transaction',
    right: 'catalogue.edit',
    body: z.object({
      changes: z
        .array(z.object({ id: z.number(), version, fields: z.partialRecord(z.enum(bulkFields), z.string().max(2000)) }))
        .min(1)
        .max(5000),
    }),
    answer: z.object({ changed: z.number() }),
  }),
  likeItems: route({
    method: 'get',
    path: '/catalogue/items/like',
    summary: 'Items that may be the same thing under another code',
    right: 'catalogue.see',
    query: z.object({
      description: z.string().max(200).default(''),
      barcodes: z.string().max(1000).default(''),
      supplierCode: z.string().max(120).default(''),
      except: z.coerce.number().default(0),
    }),
    answer: z.array(likeItem),
  }),
  groupGives: route({
    method: 'get',
    path: '/catalogue/items/given',
    summary: 'What a group gives to its items, and which group above it says so',
    right: 'catalogue.see',
    query: z.object({ group: z.string() }),
    answer: z.record(z.string(), z.object({ value: z.string(), group: z.string() })),
  }),
  setSubstitutes: route({
    method: 'put',
    path: '/catalogue/items/:id/substitutes',
    summary: 'Set which items can stand in for one',
    right: 'catalogue.edit',
    params: idParams,
    body: versioned.extend({
      lines: z.array(z.object({ itemId: z.number(), ratio: decimalText.default('1'), bothWays: z.boolean().default(false) })).max(30),
    }),
    answer: itemView,
  }),
  dropTerm: route({
    method: 'delete',
    path: '/catalogue/items/:id/terms/:term',
    summary: "Drop a supplier's terms for an item",
    right: 'catalogue.edit',
    params: z.object({ id: z.coerce.number().int().positive(), term: z.coerce.number().int().positive() }),
    answer: itemView,
  }),
  listFamilies: route({
    method: 'get',
    path: '/catalogue/families',
    summary: 'Families of items',
    right: 'catalogue.see',
    query: listQuery,
    answer: page(z.object({ id: z.number(), code: z.string(), description: z.string(), group: z.string(), items: z.number() })),
  }),
  getFamily: route({
    method: 'get',
    path: '/catalogue/families/:id',
    summary: 'A family with all its variants, made or not',
    right: 'catalogue.see',
    params: idParams,
    answer: familyView,
  }),
  createFamily: route({
    method: 'post',
    path: '/catalogue/families',
    summary: 'Set up a family',
    right: 'catalogue.edit',
    body: familyInput,
    answer: familyView,
  }),
  changeFamily: route({
    method: 'put',
    path: '/catalogue/families/:id',
    summary: 'Change a family',
    right: 'catalogue.edit',
    params: idParams,
    body: familyInput.extend({ version }),
    answer: familyView,
  }),
  makeVariants: route({
    method: 'post',
    path: '/catalogue/families/:id/variants',
    summary: 'Make items of chosen variants, each with what differs',
    right: 'catalogue.edit',
    params: idParams,
    body: versioned.extend({
      variants: z
        .array(
          z.object({
            values: z.record(z.string(), z.string()),
            code: shortText.min(1),
            description: shortText.min(1),
            sellPrice: decimalText.default('0'),
          }),
        )
        .min(1, 'Choose a variant at least.')
        .max(500),
    }),
    answer: familyView,
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
  ...partyRoutes,
  ...groundRoutes,
};
