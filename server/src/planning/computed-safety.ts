/** Safety stocks that go by the past: how demand was, and how late what was ordered came; computed anew every day. */
import { and, eq, gte, lt, notInArray, sql } from 'drizzle-orm';
import {
  addDays,
  asQuantity,
  dateOf,
  dayOf,
  safetyForService,
  spreadOf,
  weekdayOf,
  writeQuantity,
  type DemandFigures,
  type Quantity,
  type SafetyBasis,
} from '@terrace/core';
import { purchaseOrder, purchaseOrderLine, receipt, receiptLine } from '../buying';
import { firstSupplierOf, item, unit, warehouse } from '../catalogue';
import type { Commands } from '../platform/commands';
import { isOpen } from '../platform/database-file';
import { command, query } from '../platform/query';
import { NOBODY, type Work } from '../platform/work';
import { productionComponent, productionOrder } from '../production';
import { orderedInPast } from '../selling';
import { planningRule } from './schema';

const PAST_WEEKS = 26;
const WORKDAYS = 5;

type Past = { itemId: number; warehouseId: number; from: string; through: string };
const neededForProduction = query(
  ($: Past) => (db) =>
    db
      .select({ date: productionOrder.startDate, quantity: sql<number>`${productionComponent.needed}` })
      .from(productionComponent)
      .innerJoin(productionOrder, eq(productionOrder.id, productionComponent.orderId))
      .where(
        and(
          eq(productionComponent.itemId, $.itemId),
          eq(productionOrder.warehouseId, $.warehouseId),
          notInArray(productionOrder.state, ['draft', 'cancelled']),
          gte(productionOrder.startDate, $.from),
          lt(productionOrder.startDate, $.through),
        ),
      ),
);
const daysLate = query(
  ($: { itemId: number; warehouseId: number }) => (db) =>
    db
      .select({ days: sql<number>`julianday(${receipt.date}) - julianday(${purchaseOrderLine.dueDate})` })
      .from(receiptLine)
      .innerJoin(receipt, and(eq(receipt.id, receiptLine.receiptId), eq(receipt.reversed, false)))
      .innerJoin(purchaseOrderLine, eq(purchaseOrderLine.id, receiptLine.orderLineId))
      .innerJoin(purchaseOrder, eq(purchaseOrder.id, purchaseOrderLine.orderId))
      .where(and(eq(purchaseOrderLine.itemId, $.itemId), eq(purchaseOrder.warehouseId, $.warehouseId))),
);

/** What the last half year's demand was like in a warehouse, and how late what was ordered came. */
export function figuresOf(work: Work, itemId: number, warehouseId: number, ruleLead: number): DemandFigures {
  const since = addDays(work.today, -7 * PAST_WEEKS);
  const asked = { itemId, warehouseId, from: since, through: work.today };
  const byDay = new Map<string, number>();
  for (const row of [...orderedInPast.all(work, asked), ...neededForProduction.all(work, asked)])
    byDay.set(row.date, (byDay.get(row.date) ?? 0) + row.quantity);
  const rows = [...byDay].map(([date, quantity]) => ({ date, quantity }));
  const wanted = new Map(rows.map((row) => [row.date, row.quantity / 100_000]));
  const first = rows.reduce((least, row) => (row.date < least ? row.date : least), work.today);
  const days: number[] = [];
  for (let day = dayOf(first); day < dayOf(work.today); day += 1) {
    const date = dateOf(day);
    if (weekdayOf(day) <= WORKDAYS || wanted.has(date)) days.push(wanted.get(date) ?? 0);
  }
  const late = daysLate.all(work, { itemId, warehouseId });
  const lead = ruleLead > 0 ? ruleLead : (firstSupplierOf(work, itemId)?.leadDays ?? 0);
  return { ...spreadOf(days), leadDays: lead, leadDeviation: spreadOf(late.map((each) => each.days)).deviation };
}

function short(value: number): string {
  return String(Math.round(value * 100) / 100);
}

export function wordsOf(basis: SafetyBasis, figures: DemandFigures): string {
  const demand = `${short(figures.mean)} a working day on average`;
  if (basis.by === 'days') return `${demand}, for ${basis.days} days`;
  if (basis.by === 'quantity') return '';
  const { z } = safetyForService(figures, Number(basis.level));
  return `${demand}, give or take ${short(figures.deviation)}; ${short(figures.leadDays)} days to come, give or take ${short(figures.leadDeviation)}; ${short(z)} deviations for ${basis.level}`;
}

/** What is computed of the past for an item in a warehouse, rounded up to the item's unit. */
export function computedSafety(
  work: Work,
  rule: { readonly itemId: number; readonly warehouseId: number; readonly leadDays: number },
  basis: Exclude<SafetyBasis, { by: 'quantity' }>,
  decimals: number,
): Quantity {
  const figures = figuresOf(work, rule.itemId, rule.warehouseId, rule.leadDays);
  const wanted = basis.by === 'days' ? figures.mean * basis.days : safetyForService(figures, Number(basis.level)).safety;
  return asQuantity(Math.ceil(wanted * 10 ** decimals - 1e-9) * 10 ** (5 - decimals));
}

/** So many at once keep nobody waiting. */
const AT_ONCE = 20;
const computedBefore = query(
  ($: { today: string }) => (db) =>
    db
      .select({
        itemId: planningRule.itemId,
        code: item.code,
        warehouseId: planningRule.warehouseId,
        warehouse: warehouse.code,
        leadDays: planningRule.leadDays,
        safety: planningRule.safety,
        safetyBy: planningRule.safetyBy,
        decimals: unit.decimals,
      })
      .from(planningRule)
      .innerJoin(item, eq(item.id, planningRule.itemId))
      .innerJoin(unit, eq(unit.code, item.unitCode))
      .innerJoin(warehouse, eq(warehouse.id, planningRule.warehouseId))
      .where(and(sql`json_extract(${planningRule.safetyBy}, '$.by') <> 'quantity'`, sql`coalesce(${planningRule.safetyOn}, '') < ${$.today}`))
      .orderBy(planningRule.safetyOn, planningRule.itemId)
      .limit(AT_ONCE),
);

const keepComputed = command(
  ($: { itemId: number; warehouseId: number; safety: Quantity; today: string }) => (db) =>
    db
      .update(planningRule)
      .set({ safety: $.safety, safetyOn: $.today })
      .where(and(eq(planningRule.itemId, $.itemId), eq(planningRule.warehouseId, $.warehouseId))),
);

/**
 * Computes some of the safety stocks that go by the past and were not computed today, those that were not for the longest time
 * first; says whether any are left.
 */
export function reviewSomeSafeties(work: Work): boolean {
  const rules = computedBefore.all(work, { today: work.today });
  for (const rule of rules) {
    if (rule.safetyBy.by === 'quantity') continue;
    const safety = computedSafety(work, rule, rule.safetyBy, rule.decimals);
    keepComputed.run(work, { itemId: rule.itemId, warehouseId: rule.warehouseId, safety, today: work.today });
    if (safety !== rule.safety)
      work.record(
        'item',
        rule.itemId,
        `the safety stock of ${rule.code} in ${rule.warehouse} was computed anew: ${writeQuantity(safety)} instead of ${writeQuantity(rule.safety)}`,
      );
  }
  return rules.length === AT_ONCE;
}

/** Computes all of them, a few at a time, so that nobody waits for long in between. */
export async function reviewSafeties(commands: Commands): Promise<void> {
  while (isOpen(commands.store) && (await commands.performTogether(NOBODY, reviewSomeSafeties)));
}
