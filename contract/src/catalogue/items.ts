/** Items: as they are listed, shown and typed. */
import { RULE_FIELDS } from '@terrace/core';
import { z } from 'zod';
import type { Given } from '@terrace/core';
import { dateText, decimalText, longText, shortText, version } from '../base/schemas';
import { planningRuleView } from '../planning/rules';
import { customInput, customView } from './custom';

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
] as const satisfies readonly Given[];
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
  /** What its rules take where they say nothing themselves, and from where. */
  ruleGiven: z.record(z.enum(RULE_FIELDS), z.object({ value: z.string(), from: z.enum(['item', 'group', 'plain']), name: z.string() })),
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
  /** Code of a currency; empty for that of the books. */
  currency: shortText.default(''),
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
