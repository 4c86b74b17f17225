/** The planner in a thread of its own: told that something has changed, it catches up and says what it has planned. */
import { join } from 'node:path';
import { parentPort, workerData } from 'node:worker_threads';
import { closeFile, isDamage } from '../platform/database-file';
import { DATABASE_FILE, openFile } from '../platform/database';
import { companyClock } from '../platform/clock';
import { dropPlanFile, isPlanWhole, openPlanFile } from './plan-file';
import { Planner } from './planner';
import type { FromPlanner, ToPlanner } from './plan-channel';

/** Changes that come together are planned together; and planning takes at most about a tenth of the time. */
const TOGETHER_MS = 15;
const REST = 9;
const LONGEST_REST_MS = 2000;
const PROMISES_AFTER_MS = 60;

const { dataFolder, today } = workerData as { dataFolder: string; today: string | null };
const port = parentPort;
if (!port) throw new Error('the planner runs as a thread');
const store = openFile(join(dataFolder, DATABASE_FILE), { readonly: true });
const clock = companyClock(store, today);
const say = (message: FromPlanner): void => port.postMessage(message);
const moment = (): { today: string; now: string } => ({ today: clock.today(), now: clock.now() });
let file = openPlanFile(dataFolder, () => say({ say: 'damaged' }));
let planner = new Planner(store, file, moment);

function failed(error: unknown): void {
  say({ say: 'failed', message: error instanceof Error ? error.message : String(error) });
  if (isDamage(error) && !isPlanWhole(file)) say({ say: 'damaged' });
}

/** What keeps the plan from following is said where people look for problems, not only in the log. */
function notPlanned(error: unknown): void {
  failed(error);
  if (isDamage(error)) return;
  try {
    planner.noteFailure(error instanceof Error ? error.message : String(error));
    say({ say: 'promised' });
  } catch (second) {
    failed(second);
  }
}

/** Makes the plan's file anew: nothing of it was typed. */
function renew(): void {
  closeFile(file);
  dropPlanFile(dataFolder);
  file = openPlanFile(dataFolder);
  planner = new Planner(store, file, moment);
  planner.planAllNow();
}

let waiting = false;
let restUntil = 0;
let promises: NodeJS.Timeout | null = null;

function settle(): void {
  waiting = false;
  const start = performance.now();
  try {
    const made = planner.catchUp();
    if (made) {
      say({ say: 'planned', made });
      promises ??= setTimeout(keepPromises, PROMISES_AFTER_MS);
    }
  } catch (error) {
    notPlanned(error);
  }
  restFrom(start);
}

/** After work that began then: rests for a multiple of what it took. */
function restFrom(start: number): void {
  const now = performance.now();
  restUntil = Math.max(restUntil, now + Math.min(REST * (now - start), LONGEST_REST_MS));
}

function keepPromises(): void {
  promises = null;
  const start = performance.now();
  try {
    if (planner.keepPromises()) say({ say: 'promised' });
  } catch (error) {
    failed(error);
  }
  restFrom(start);
}

function soon(): void {
  if (waiting) return;
  waiting = true;
  setTimeout(settle, Math.max(TOGETHER_MS, restUntil - performance.now()));
}

function answerTo(message: Exclude<ToPlanner, { do: 'changed' | 'close' }>): Omit<Extract<FromPlanner, { say: 'answer' }>, 'say' | 'id'> {
  switch (message.do) {
    case 'whole':
      return { made: planner.planAllNow() };
    case 'settle':
      return { made: planner.settleNow() };
    case 'ask':
      return { answer: planner.ask(message.question) };
    case 'renew':
      renew();
      return {};
  }
}

port.on('message', (message: ToPlanner) => {
  if (message.do === 'changed') soon();
  else if (message.do === 'close') {
    closeFile(store);
    closeFile(file);
    process.exit(0);
  } else {
    try {
      say({ say: 'answer', id: message.id, ...answerTo(message) });
    } catch (error) {
      if (isDamage(error)) failed(error);
      say({ say: 'answer', id: message.id, failed: error instanceof Error ? error.message : String(error) });
    }
  }
});
soon();
