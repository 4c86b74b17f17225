/** What the plan says of a customer's order: when all of it can be ready, and whether that is too late. */
import { and, gte, lt, sql } from 'drizzle-orm';
import { flag } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import type { PlannedOrder } from '../selling';
import { promise } from './plan-schema';

const lines = query(
  ($: { from: string; before: string }) => (db) =>
    db
      .select({
        lines: sql<number>`count(*)`,
        missing: flag(sql`max(${promise.ready} = '')`),
        ready: sql<string | null>`max(${promise.ready})`,
        endangered: flag(sql`max(${promise.ready} = '' or ${promise.ready} > ${promise.wanted})`),
      })
      .from(promise)
      .where(and(gte(promise.demand, $.from), lt(promise.demand, $.before))),
);

/** `null` where the plan says nothing of the order: it is not confirmed, or all of it is shipped. */
export function plannedOrder(work: Work, number: string): PlannedOrder | null {
  const plan = work.inPlan();
  // The ids of an order's lines are its number, a stroke and the place; "0" is the character after the stroke.
  const row = plan && lines.one(plan, { from: `${number}/`, before: `${number}0` });
  if (!row || row.lines === 0) return null;
  return { ready: row.missing ? null : row.ready, endangered: row.endangered };
}

const late = query(
  () => (db) =>
    db
      .select({ demand: promise.demand })
      .from(promise)
      .where(sql`${promise.ready} = '' or ${promise.ready} > ${promise.wanted}`),
);

/** The numbers of the orders of which the plan has something later than wanted, or not at all; none as long as there is no plan. */
export function endangeredOrders(work: Work): string[] {
  const plan = work.inPlan();
  if (!plan) return [];
  return [...new Set(late.all(plan).map(({ demand }) => demand.slice(0, Math.max(0, demand.indexOf('/')))))].filter(Boolean);
}
