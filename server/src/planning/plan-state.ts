/** Which plan is kept and what it knows of. */
import { sql } from 'drizzle-orm';
import type { PlanState } from '@terrace/contract';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { planState as state, problem } from './plan-schema';

const kept = query(() => (db) => db.select().from(state));
const problems = query(() => (db) => db.select({ n: sql<number>`count(*)` }).from(problem));

/** The number of the plan and what it knows of. */
export function planStateRow(plan: Work): typeof state.$inferSelect | undefined {
  return kept.one(plan);
}

export function planState(work: Work): PlanState {
  const plan = work.inPlan();
  const row = plan && planStateRow(plan);
  const none = { seq: 0, at: '', today: work.today, horizon: '', milliseconds: 0, planned: 0, whole: true, behind: true };
  if (!plan || !row) return { ...none, suggestions: 0, exceptions: 0, problems: 0, endangered: 0 };
  const { id: _id, historyId, moveId: _moveId, ...rest } = row;
  return { ...rest, behind: work.lastHistory() > historyId || row.today !== work.today, problems: problems.one(plan)?.n ?? 0 };
}
