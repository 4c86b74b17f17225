import { api } from '@terrace/contract';
import type { Binder } from '../platform/http';
import type { WorkerPool } from './plan-pool';
import { previewRelease, releaseSuggestions } from './release';
import { planView, runPlan } from './run';

export { openWorkers } from './plan-pool';
export { gatherProblem } from './problem';
export { releaseSuggestions } from './release';
export { keepPlan, planView } from './run';
export { planningEvents } from './events';

export function bindPlanning(binder: Binder, pool: WorkerPool): void {
  const { planning } = api;
  binder.read(planning.getPlan, (work) => planView(work));
  binder.task(planning.runPlan, (commands, actor, _input, once) => runPlan(commands, pool, actor, once));
  binder.command(planning.previewRelease, (work, { body }) => previewRelease(work, body));
  binder.command(planning.release, (work, { body }) => releaseSuggestions(work, body));
}
