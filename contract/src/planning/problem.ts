/** A planning problem in the form that `terrace compute plan` reads. */
import type { PlanProblem } from '@terrace/core';
import { z } from 'zod';

const days = z.number().int().min(0).max(100_000);
const code = z.string();
const text = z.string();
const realDate = z.iso.date();

function unique<T>(name: string, key: (row: T) => string): (rows: readonly T[], context: { addIssue: (issue: string) => void }) => void {
  return (rows, context) => {
    const seen = new Set<string>();
    for (const row of rows) {
      const each = key(row);
      if (seen.has(each)) context.addIssue(`${name} ${each} is there twice`);
      seen.add(each);
    }
  };
}

export const lotSizing = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('lotForLot') }),
  z.object({ kind: z.literal('fixed'), quantity: text }),
  z.object({ kind: z.literal('period'), days }),
  z.object({ kind: z.literal('reorderPoint'), point: text, quantity: text }),
  z.object({ kind: z.literal('minMax'), min: text, max: text }),
  z.object({ kind: z.literal('leastCost'), orderCost: text, holdingPerUnitDay: text }),
]);

const ruleKey = (row: { item: string; warehouse: string }): string => JSON.stringify([row.item, row.warehouse]);

/** One planning problem. What is wrong within a row is the plan's to list; what breaks this shape is no problem at all. */
export const planProblem = z
  .object({
    today: realDate,
    horizon: realDate,
    calendars: z
      .array(z.object({ code, workdays: z.array(z.number().int().min(1).max(7)).min(1, 'no working days'), holidays: z.array(realDate) }))
      .superRefine(unique('calendar', (each) => each.code)),
    warehouses: z.array(z.object({ code, calendar: code })).superRefine(unique('warehouse', (each) => each.code)),
    items: z
      .array(z.object({ code, decimals: z.number().int().min(0).max(20), phantom: z.boolean() }))
      .superRefine(unique('item', (each) => each.code)),
    rules: z
      .array(
        z.object({
          item: code,
          warehouse: code,
          source: z.enum(['buy', 'make', 'transfer', 'none']),
          from: code.nullable(),
          leadDays: days,
          safety: text,
          lotSizing,
          minimum: text,
          multiple: text,
          maximum: text.nullable(),
          yield: text,
          fenceDays: days,
          slackDays: days,
          demand: z.enum(['orders', 'forecast', 'both', 'consume']),
          consumeBack: days,
          consumeForward: days,
          quotesFrom: text.nullable(),
          quotesWeighted: z.boolean(),
        }),
      )
      .superRefine(unique('rule', ruleKey)),
    boms: z
      .array(
        z.object({
          item: code,
          lines: z.array(z.object({ component: code, quantity: text, scrap: text, offsetDays: days, from: text.nullable(), to: text.nullable() })),
        }),
      )
      .superRefine(unique('bill of materials', (each) => each.item)),
    stock: z.array(z.object({ item: code, warehouse: code, quantity: text, usableUntil: text.nullable() })),
    receipts: z
      .array(
        z.object({
          id: text,
          item: code,
          warehouse: code,
          date: text.nullish().transform((date) => date ?? null),
          quantity: text,
          locked: z.boolean(),
        }),
      )
      .superRefine(unique('receipt', (each) => each.id)),
    demands: z
      .array(
        z.object({
          id: text,
          item: code,
          warehouse: code,
          date: text.nullish().transform((date) => date ?? null),
          quantity: text,
          kind: z.enum(['order', 'component', 'transfer', 'forecast', 'quote']),
          probability: text.nullable(),
        }),
      )
      .superRefine(unique('demand', (each) => each.id)),
  })
  .superRefine((problem, context) => {
    const known = new Set(problem.calendars.map((each) => each.code));
    problem.warehouses.forEach((warehouse, index) => {
      if (!known.has(warehouse.calendar))
        context.addIssue({ code: 'custom', path: ['warehouses', index, 'calendar'], message: `there is no calendar ${warehouse.calendar}` });
    });
  }) satisfies z.ZodType<PlanProblem>;
