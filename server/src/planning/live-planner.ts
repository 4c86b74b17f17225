/** The plan that is kept all the time: in a thread of its own while serving, in the caller's where nobody waits. */
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import type Sqlite from 'better-sqlite3';
import type { Store } from '../platform/database';
import type { Answer, Question } from './ask-plan';
import type { FromPlanner, ToPlanner } from './plan-channel';
import { Planner, type PlanMade } from './planner';

export interface LivePlanner {
  /** Something has changed: the plan follows when it can. */
  readonly changed: () => void;
  /** Plans everything. */
  readonly whole: () => Promise<PlanMade>;
  /** Resolves when the plan knows of everything that is kept by now. */
  readonly settled: () => Promise<void>;
  readonly ask: (question: Question) => Promise<Answer>;
  readonly close: () => Promise<void>;
}

export interface PlannerEvents {
  readonly planned: (made: PlanMade) => void;
  readonly promised: () => void;
  readonly failed: (message: string) => void;
}

/** Keeps the plan where it is asked for; every change is planned before the next thing happens. */
export function planHere(store: Store, file: Sqlite.Database, clock: () => { today: string; now: string }, events: PlannerEvents): LivePlanner {
  const planner = new Planner(store, file, clock);
  let stale = true;
  const settle = (): void => {
    if (!stale) return;
    stale = false;
    const made = planner.settleNow();
    if (made) events.planned(made);
  };
  return {
    changed: () => {
      stale = true;
      setImmediate(() => {
        if (store.sqlite.open) settle();
      });
    },
    whole: () => Promise.resolve(planner.planAllNow()),
    settled: () => {
      settle();
      return Promise.resolve();
    },
    ask: (question) => {
      settle();
      return Promise.resolve(planner.ask(question));
    },
    close: () => {
      file.close();
      return Promise.resolve();
    },
  };
}

interface Asked {
  readonly done: (message: Extract<FromPlanner, { say: 'answer' }>) => void;
  readonly fail: (error: Error) => void;
}

/** Keeps the plan in a thread; in the bundle that is a file beside this one, otherwise its source is run as it is. */
export function planInThread(dataFolder: string, today: string | null, events: PlannerEvents): LivePlanner {
  const bundled = fileURLToPath(new URL('./plan-thread.js', import.meta.url));
  const fromBundle = existsSync(bundled);
  const worker = new Worker(fromBundle ? bundled : fileURLToPath(new URL('./plan-thread.ts', import.meta.url)), {
    workerData: { dataFolder, today },
    ...(fromBundle ? {} : { execArgv: ['--import', 'tsx'] }),
  });
  const asked = new Map<number, Asked>();
  let next = 0;
  let closing = false;
  const send = (message: ToPlanner): void => worker.postMessage(message);
  const request = (make: (id: number) => ToPlanner): Promise<Extract<FromPlanner, { say: 'answer' }>> =>
    new Promise((done, fail) => {
      next += 1;
      asked.set(next, { done, fail });
      send(make(next));
    });
  worker.on('message', (message: FromPlanner) => {
    if (message.say === 'planned') events.planned(message.made);
    else if (message.say === 'promised') events.promised();
    else if (message.say === 'failed') events.failed(message.message);
    else if (message.say === 'answer') {
      const waiting = asked.get(message.id);
      asked.delete(message.id);
      if (message.failed === undefined) waiting?.done(message);
      else waiting?.fail(new Error(message.failed));
    }
  });
  const gone = (why: string): void => {
    for (const each of asked.values()) each.fail(new Error(`the planner has stopped: ${why}`));
    asked.clear();
    if (!closing) events.failed(`the planner has stopped: ${why}`);
  };
  worker.on('error', (error) => gone(error instanceof Error ? error.message : String(error)));
  worker.on('exit', (code) => gone(`it ended with ${code}`));
  return {
    changed: () => send({ do: 'changed' }),
    whole: async () => madeOf(await request((id) => ({ do: 'whole', id }))),
    settled: async () => {
      await request((id) => ({ do: 'settle', id }));
    },
    ask: async (question) => {
      const { answer } = await request((id) => ({ do: 'ask', id, question }));
      if (!answer) throw new Error('the planner gave no answer');
      return answer;
    },
    close: async () => {
      closing = true;
      const ended = new Promise((done) => worker.once('exit', done));
      send({ do: 'close' });
      await ended;
    },
  };
}

function madeOf(message: Extract<FromPlanner, { say: 'answer' }>): PlanMade {
  if (!message.made) throw new Error('the planner made no plan');
  return message.made;
}
