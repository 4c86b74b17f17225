/** Suggestions of the plan, and what they call for, as events that are not firm. */
import { and, eq } from 'drizzle-orm';
import { asQuantity, parseQuantity } from '@terrace/core';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import type { StockEvent } from '../stores';
import { called, suggestion } from './plan-schema';

const suggested = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({ name: suggestion.name, date: suggestion.due, quantity: suggestion.quantity })
      .from(suggestion)
      .where(and(eq(suggestion.itemId, $.item), eq(suggestion.warehouseId, $.warehouse))),
);
const calledFor = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({ name: called.name, date: called.day, quantity: called.quantity })
      .from(called)
      .where(and(eq(called.itemId, $.item), eq(called.warehouseId, $.warehouse))),
);

export function planningEvents(work: Work, item: number, warehouse: number): StockEvent[] {
  const plan = work.inPlan();
  if (!plan) return [];
  const events = (kind: StockEvent['kind'], rows: ReturnType<typeof suggested.all>): StockEvent[] =>
    rows.map(({ name, date, quantity }) => ({
      kind,
      date,
      quantity: asQuantity(parseQuantity(quantity, 5)),
      document: name,
      firm: false,
      link: null,
      holder: null,
    }));
  return [...events('supply', suggested.all(plan, { item, warehouse })), ...events('demand', calledFor.all(plan, { item, warehouse }))];
}
