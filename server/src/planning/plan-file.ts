/**
 * The file that the plan is kept in, beside the database: a picture of what was computed, for lists to read. Nobody
 * types anything into it, so that it can be thrown away and computed again at any time; and whoever writes it never keeps
 * a command waiting.
 */
import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { DATABASE_FILE, openFile, type Store } from '../platform/database';
import { closeFile, isDamage, isWhole, makeTables, mayLoseTheLast, readBeside, shapeKept } from '../platform/database-file';
import { shapeOf, tablesAsText } from '../platform/make-tables';
import { PLAN_TABLES } from './plan-schema';

export const PLAN_FILE = 'plan.db';
/** An older file, of other tables, is thrown away. */
const SHAPE = shapeOf(tablesAsText(PLAN_TABLES));

/**
 * Opens the plan's file of a data folder for writing, made anew where it is not of today's shape or can't be read; of the latter
 * `damaged` hears.
 */
export function openPlanFile(dataFolder: string, damaged: (file: string) => void = () => undefined): Store {
  const file = join(dataFolder, PLAN_FILE);
  const opened = (): Store => {
    const store = openFile(file, { timeout: BUSY_MS });
    // Plans are computed again.
    mayLoseTheLast(store);
    return store;
  };
  try {
    const store = opened();
    const today = shapeKept(store) === SHAPE;
    if (today && isWhole(store)) return store;
    closeFile(store);
    if (today) damaged(file);
  } catch (error) {
    if (!isDamage(error)) throw error;
    damaged(file);
  }
  dropPlanFile(dataFolder);
  const store = opened();
  makeTables(store, PLAN_TABLES, SHAPE);
  return store;
}

/** Whether a kept plan can be read. */
export function isPlanWhole(store: Store): boolean {
  try {
    return shapeKept(store) === SHAPE && isWhole(store);
  } catch (error) {
    if (isDamage(error)) return false;
    throw error;
  }
}

const BUSY_MS = 20_000;

/** Opens a data folder's plan for reading; what is kept of its documents can be joined to it as `kept`. */
export function openPlanToRead(dataFolder: string): Store {
  const store = openFile(join(dataFolder, PLAN_FILE), { readonly: true });
  readBeside(store, join(dataFolder, DATABASE_FILE), 'kept');
  return store;
}

/** Opens a data folder's database to be read, with its plan; without, where that is being made anew at this moment. */
export function openKept(dataFolder: string): Store {
  const store = openFile(join(dataFolder, DATABASE_FILE), { readonly: true });
  try {
    store.plan = openPlanToRead(dataFolder);
  } catch (error) {
    if (!isDamage(error)) throw error;
  }
  return store;
}

/** Closes what {@link openKept} has opened. */
export function closeKept(store: Store): void {
  if (store.plan) closeFile(store.plan);
  closeFile(store);
}

/** Throws the plan's file of a data folder away. */
export function dropPlanFile(dataFolder: string): void {
  for (const end of ['', '-wal', '-shm']) {
    const file = join(dataFolder, `${PLAN_FILE}${end}`);
    if (existsSync(file)) rmSync(file);
  }
}
