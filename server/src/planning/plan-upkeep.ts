/**
 * Keeps the plan's file readable: opened at the start, made anew where it can't be read, at the start or later, and tried again
 * until it can be. Meanwhile there is none, and whoever needs it hears "planning anew".
 */
import { join } from 'node:path';
import { closeFile, isDamage, isOpen } from '../platform/database-file';
import type { Commands } from '../platform/commands';
import { NOBODY } from '../platform/work';
import { planHere, planInThread, type LivePlanner } from './live-planner';
import { PLAN_FILE, isPlanWhole, openPlanFile, openPlanToRead } from './plan-file';

const AGAIN_AFTER_MS = 2000;
const DAMAGED = 'The plan’s file could not be read and is made anew: nothing that anybody typed was in it.';

export interface PlanUpkeep {
  readonly planner: LivePlanner;
  /** Whether what went wrong is that the plan can't be read; then there is none from now on, until it is made anew. */
  readonly isSpoilt: (error: unknown) => boolean;
}

export interface PlanSetting {
  readonly dataFolder: string;
  /** A fixed business day, or `null` for the real one. */
  readonly today: string | null;
  /** Plans in the caller's own thread, each change before the next thing happens; for tests. */
  readonly here: boolean;
  /** Hears of what went wrong. */
  readonly log: (message: string, about: object) => void;
}

/** Opens the plan's file and begins to keep the plan; the open screens are told whenever it has changed. */
export function keepPlan(commands: Commands, { dataFolder, today, here, log }: PlanSetting): PlanUpkeep {
  const { store, clock } = commands;
  const file = join(dataFolder, PLAN_FILE);
  let renewing = false;
  const tellOfDamage = (): void => {
    log('the plan’s file is damaged and is made anew', { file });
    void commands
      .performTogether(NOBODY, (work) => work.notify('keeping', DAMAGED, null))
      .catch((error: unknown) => log('nobody could be told of the damaged plan', { err: error }));
  };
  closeFile(openPlanFile(dataFolder, tellOfDamage));
  store.plan = openPlanToRead(dataFolder);
  const makeAnew = async (): Promise<void> => {
    try {
      await planner.renew();
      store.plan = openPlanToRead(dataFolder);
      renewing = false;
      commands.tell(NOBODY, ['plan'], 'planned');
    } catch (error) {
      log('the plan can’t be made anew: it is tried again', { err: error, file });
      setTimeout(() => void (isOpen(store) ? makeAnew() : undefined), AGAIN_AFTER_MS).unref();
    }
  };
  const renew = (): void => {
    if (renewing || !isOpen(store)) return;
    renewing = true;
    if (store.plan) closeFile(store.plan);
    store.plan = null;
    tellOfDamage();
    void makeAnew();
  };
  const events = {
    planned: (): void => commands.tell(NOBODY, ['plan'], 'planned'),
    promised: (): void => commands.tell(NOBODY, ['plan'], 'promises'),
    failed: (message: string): void => log(`planning: ${message}`, {}),
    damaged: renew,
  };
  const planner = here
    ? planHere(store, dataFolder, () => ({ today: clock.today(), now: clock.now() }), events)
    : planInThread(dataFolder, today, events);
  const isSpoilt = (error: unknown): boolean => {
    if (!isDamage(error) || (store.plan !== null && isPlanWhole(store.plan))) return false;
    renew();
    return true;
  };
  return { planner, isSpoilt };
}
