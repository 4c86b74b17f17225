/** The plan that is kept all the time: in a thread of its own while serving, in the caller's where nobody waits. */
import { Worker } from 'node:worker_threads';
import { closeFile, isOpen } from '../platform/database-file';
import type { Store } from '../platform/database';
import { openPool, threadFile } from '../platform/threads';
import { NOBODY, Work } from '../platform/work';
import type { Answer, Question } from './ask-plan';
import type { FromPlanner, ToPlanner } from './plan-channel';
import { gatherCopy } from './plan-copy';
import type { CopyTask } from './plan-copy-worker';
import { dropPlanFile, openPlanFile } from './plan-file';
import { Planner, type PlanMade } from './planner';

export interface LivePlanner {
  /** Something has changed: the plan follows when it can. */
  readonly changed: () => void;
  /** Plans everything. */
  readonly whole: () => Promise<PlanMade>;
  /** Resolves when the plan knows of everything that is kept by now. */
  readonly settled: () => Promise<void>;
  readonly ask: (question: Question) => Promise<Answer>;
  /** The plan as it is now with all that it counts with, as JSON in parts: large, and written where nobody waits for it. */
  readonly copy: () => Promise<readonly Uint8Array[]>;
  /** Throws the plan's file away, which can't be read, and makes it anew; whoever reads it has closed it before. */
  readonly renew: () => Promise<void>;
  readonly close: () => Promise<void>;
}

export interface PlannerEvents {
  readonly planned: (made: PlanMade) => void;
  readonly promised: () => void;
  readonly failed: (message: string) => void;
  /** The plan's file can't be read or written. */
  readonly damaged: () => void;
}

/** Keeps the plan where it is asked for; every change is planned before the next thing happens. */
export function planHere(store: Store, dataFolder: string, clock: () => { today: string; now: string }, events: PlannerEvents): LivePlanner {
  let file = openPlanFile(dataFolder);
  let planner = new Planner(store, file, clock);
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
        // Its file is closed at the end, and while it can't be made anew.
        if (isOpen(store) && isOpen(file)) settle();
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
    copy: () => {
      settle();
      const { today, now } = clock();
      return Promise.resolve([Buffer.from(JSON.stringify(gatherCopy(new Work(store, NOBODY, today, now))))]);
    },
    renew: () => {
      closeFile(file);
      dropPlanFile(dataFolder);
      file = openPlanFile(dataFolder);
      planner = new Planner(store, file, clock);
      planner.planAllNow();
      return Promise.resolve();
    },
    close: () => {
      closeFile(file);
      return Promise.resolve();
    },
  };
}

interface Asked {
  readonly done: (message: Extract<FromPlanner, { say: 'answer' }>) => void;
  readonly fail: (error: Error) => void;
}

const AGAIN_AFTER_MS = 1000;

/** Keeps the plan in a thread; one that ends by itself is told of and begun again. */
export function planInThread(dataFolder: string, today: string | null, events: PlannerEvents): LivePlanner {
  const filename = threadFile('plan-thread', import.meta.url);
  const copies = openPool('plan-copy-worker', import.meta.url);
  const asked = new Map<number, Asked>();
  let next = 0;
  let closing = false;
  let worker: Worker | null = null;
  const hear = (message: FromPlanner): void => {
    if (message.say === 'planned') events.planned(message.made);
    else if (message.say === 'promised') events.promised();
    else if (message.say === 'failed') events.failed(message.message);
    else if (message.say === 'damaged') events.damaged();
    else {
      const waiting = asked.get(message.id);
      asked.delete(message.id);
      if (message.failed === undefined) waiting?.done(message);
      else waiting?.fail(new Error(message.failed));
    }
  };
  const begin = (): void => {
    if (closing) return;
    const thread = new Worker(filename, { workerData: { dataFolder, today } });
    worker = thread;
    thread.on('message', hear);
    thread.on('error', (error) => events.failed(error instanceof Error ? error.message : String(error)));
    thread.on('exit', (code) => {
      worker = null;
      for (const each of asked.values()) each.fail(new Error('the planner has stopped; it begins again in a moment'));
      asked.clear();
      if (closing) return;
      events.failed(`the planner's thread has ended with ${code}: another begins`);
      setTimeout(begin, AGAIN_AFTER_MS).unref();
    });
  };
  const send = (message: ToPlanner): void => worker?.postMessage(message);
  const request = (make: (id: number) => ToPlanner): Promise<Extract<FromPlanner, { say: 'answer' }>> =>
    new Promise((done, fail) => {
      if (!worker) {
        fail(new Error('the planner has stopped; it begins again in a moment'));
        return;
      }
      next += 1;
      asked.set(next, { done, fail });
      send(make(next));
    });
  begin();
  return {
    // A thread that begins later plans everything anyway.
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
    copy: async () => (await copies.run({ dataFolder, today } satisfies CopyTask)) as readonly Uint8Array[],
    renew: async () => {
      await request((id) => ({ do: 'renew', id }));
    },
    close: async () => {
      closing = true;
      await copies.destroy();
      if (!worker) return;
      const ended = new Promise((done) => worker?.once('exit', done));
      send({ do: 'close' });
      await ended;
    },
  };
}

function madeOf(message: Extract<FromPlanner, { say: 'answer' }>): PlanMade {
  if (!message.made) throw new Error('the planner made no plan');
  return message.made;
}
