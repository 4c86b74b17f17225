/** Threads for heavy computation. */
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import type { PlanProblem } from '@terrace/core';
import type { WorkerPlan } from './plan-worker';

export interface WorkerPool {
  readonly plan: (problem: PlanProblem) => Promise<WorkerPlan>;
  readonly close: () => Promise<void>;
}

/** Opens the threads; in the bundle the worker is a file beside this one, otherwise its source is run as it is. */
export function openWorkers(): WorkerPool {
  const bundled = fileURLToPath(new URL('./plan-worker.js', import.meta.url));
  const fromBundle = existsSync(bundled);
  const pool = new Piscina({
    filename: fromBundle ? bundled : fileURLToPath(new URL('./plan-worker.ts', import.meta.url)),
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 30_000,
    ...(fromBundle ? {} : { execArgv: ['--import', 'tsx'] }),
  });
  return { plan: (problem) => pool.run(problem) as Promise<WorkerPlan>, close: () => pool.destroy() };
}
