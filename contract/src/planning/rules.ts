/** Planning rules: how an item is planned in a warehouse. */
import { z } from 'zod';
import { RULE_FIELDS } from '@terrace/core';
import { decimalText, version } from '../base/schemas';

const lotSizingInput = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('lotForLot') }),
  z.object({ kind: z.literal('fixed'), quantity: decimalText }),
  z.object({ kind: z.literal('period'), days: z.number().int().min(1).max(400) }),
  z.object({ kind: z.literal('reorderPoint'), point: decimalText, quantity: decimalText }),
  z.object({ kind: z.literal('minMax'), min: decimalText, max: decimalText }),
  z.object({ kind: z.literal('leastCost'), orderCost: decimalText, holdingPerUnitDay: decimalText }),
]);
const safetyBasis = z.discriminatedUnion('by', [
  z.object({ by: z.literal('quantity') }),
  z.object({ by: z.literal('days'), days: z.number().min(0).max(400) }),
  z.object({ by: z.literal('service'), level: decimalText }),
]);
export const planningSources = ['buy', 'make', 'transfer', 'none'] as const;
export const demandModes = ['orders', 'forecast', 'both', 'consume'] as const;

export const planningRuleView = z.object({
  warehouseId: z.number(),
  warehouse: z.string(),
  source: z.enum(planningSources),
  fromId: z.number().nullable(),
  from: z.string().nullable(),
  leadDays: z.number(),
  safety: z.string(),
  safetyBy: safetyBasis,
  /** What a safety stock that is computed follows from, in words. */
  safetyWords: z.string(),
  lotSizing: lotSizingInput,
  minimum: z.string(),
  multiple: z.string(),
  maximum: z.string().nullable(),
  usable: z.string(),
  fenceDays: z.number(),
  slackDays: z.number(),
  demand: z.enum(demandModes),
  consumeBack: z.number(),
  consumeForward: z.number(),
  /** Figures that are taken from the item or its group. */
  follows: z.array(z.enum(RULE_FIELDS)),
  /** Each figure as people type it. */
  texts: z.record(z.enum(RULE_FIELDS), z.string()),
  version,
});

export const ruleInput = z.object({
  warehouseId: z.number(),
  source: z.enum(planningSources),
  /** Where a transfer comes from. */
  fromId: z.number().nullable().default(null),
  leadDays: z.number().int().min(0).max(730),
  safety: decimalText.default('0'),
  safetyBy: safetyBasis.default({ by: 'quantity' }),
  lotSizing: lotSizingInput.default({ kind: 'lotForLot' }),
  minimum: decimalText.default('0'),
  multiple: decimalText.default('0'),
  maximum: decimalText.nullable().default(null),
  /** Usable share of what is ordered. */
  usable: decimalText.default('1'),
  fenceDays: z.number().int().min(0).max(400).default(0),
  slackDays: z.number().int().min(0).max(60).default(0),
  demand: z.enum(demandModes).default('orders'),
  consumeBack: z.number().int().min(0).max(400).default(0),
  consumeForward: z.number().int().min(0).max(400).default(0),
  /** Figures to take from the item or its group, whatever is said of them here. */
  follows: z.array(z.enum(RULE_FIELDS)).default([]),
  version: version.optional(),
});

/** Figures of a rule in the text that people type; one that is not there is taken from further up. */
export const ruleTexts = z.partialRecord(z.enum(RULE_FIELDS), z.string().max(100));
export const ruleColumns = ['source', ...RULE_FIELDS] as const;
export type RuleColumn = (typeof ruleColumns)[number];

/** One rule in the list of all. */
export const ruleRow = z.object({
  id: z.number(),
  itemId: z.number(),
  code: z.string(),
  description: z.string(),
  unit: z.string(),
  group: z.string(),
  warehouseId: z.number(),
  warehouse: z.string(),
  source: z.string(),
  leadDays: z.string(),
  safety: z.string(),
  /** The quantity that a computed safety stock comes to. */
  safetyStock: z.string(),
  sizing: z.string(),
  minimum: z.string(),
  multiple: z.string(),
  maximum: z.string(),
  usable: z.string(),
  fenceDays: z.string(),
  slackDays: z.string(),
  demand: z.string(),
  consumeBack: z.string(),
  consumeForward: z.string(),
  /** What is taken from the item or its group, in words. */
  follows: z.string(),
  version,
});
