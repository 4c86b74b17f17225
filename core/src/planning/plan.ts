/** Planning a whole problem at once, in exact numbers, or in integers of any size where those do not reach. */
import { bookOf } from './compact/book';
import { TooWide } from './compact/exact';
import { LivePlan } from './compact/live-plan';
import { PlanWriter, writeResult } from './compact/written';
import type { ExplainedPlan, PlanProblem, PlanResult, Reason, SupplyPeg } from './problem';
import { planWide } from './wide/plan';

/**
 * Plans a problem. Quantities are decimal strings of each item's decimals, dates `YYYY-MM-DD`.
 *
 * Never refuses for the content of a row: such rows are listed under `problems` and the rest is planned. Throws
 * RangeError for a problem that is none (today no date, a warehouse without a calendar). Rules: docs/planning.md.
 */
export function plan(problem: PlanProblem): PlanResult {
  const live = planLive(problem);
  return live ? writeResult(live) : planWide(problem).result;
}

/** {@link plan}, with reasons and all pegs. */
export function planExplained(problem: PlanProblem): ExplainedPlan {
  const live = planLive(problem);
  if (!live) return planWide(problem);
  const writer = new PlanWriter(live);
  const reasons = new Map<string, Reason>();
  const pegs: SupplyPeg[] = [];
  for (const node of live.graph.order) {
    for (const { suggestion, reason } of writer.suggestions(node)) reasons.set(suggestion.id, reason);
    pegs.push(...writer.pegs(node));
  }
  return { result: writeResult(live), reasons, pegs };
}

/** The problem planned and kept, or `null` where its figures are too large for exact numbers. */
export function planLive(problem: PlanProblem): LivePlan | null {
  try {
    const live = new LivePlan(bookOf(problem));
    live.runAll();
    return live;
  } catch (error) {
    if (error instanceof TooWide) return null;
    throw error;
  }
}
