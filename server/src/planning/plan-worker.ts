/** The plan in a thread of its own, so that the server goes on answering. */
import { planExplained, type PlanProblem, type PlanResult, type Reason, type SupplyPeg } from '@terrace/core';

export interface WorkerPlan {
  readonly result: PlanResult;
  readonly reasons: readonly (readonly [string, Reason])[];
  readonly pegs: readonly SupplyPeg[];
  readonly milliseconds: number;
}

export default function run(problem: PlanProblem): WorkerPlan {
  const start = performance.now();
  const { result, reasons, pegs } = planExplained(problem);
  return { result, reasons: [...reasons], pegs, milliseconds: Math.round(performance.now() - start) };
}
