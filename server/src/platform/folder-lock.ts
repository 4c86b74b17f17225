/**
 * One at a time in a data folder: the server, a restore, a migration, the building of the demo company. The lock is one that the
 * operating system holds for an open file of SQLite, so that it ends with the process, however that ends: there is none that
 * has to be cleared away after a kill.
 */
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { keepForOwner, makeForOwner } from './owner';

const LOCK_FILE = 'terrace.lock';
const HOLDER_FILE = 'terrace.lock.json';

/** Somebody else is at work in a data folder. */
export class FolderInUse extends Error {}

export interface FolderLock {
  readonly release: () => void;
}

/** Who holds a folder, as they have written it down; `null` where nobody has. */
function holderOf(dataFolder: string): { readonly what: string; readonly pid: number; readonly since: string } | null {
  try {
    return JSON.parse(readFileSync(join(dataFolder, HOLDER_FILE), 'utf8')) as { what: string; pid: number; since: string };
  } catch {
    // It is being written at this moment, or has gone in between: the lock itself says all that matters.
    return null;
  }
}

/**
 * Takes a data folder for oneself, and makes it where there is none; only its owner may look into it. Throws
 * {@link FolderInUse}, naming who has it.
 */
export function lockFolder(dataFolder: string, what: string): FolderLock {
  makeForOwner();
  mkdirSync(dataFolder, { recursive: true });
  keepForOwner(dataFolder);
  const lock = new Sqlite(join(dataFolder, LOCK_FILE), { timeout: 0 });
  try {
    lock.pragma('locking_mode = EXCLUSIVE');
    lock.exec('begin exclusive');
  } catch (error) {
    lock.close();
    if (!(error instanceof Sqlite.SqliteError) || error.code !== 'SQLITE_BUSY') throw error;
    const holder = holderOf(dataFolder);
    throw new FolderInUse(
      `${dataFolder} is in use${holder ? `: ${holder.what} (process ${holder.pid}) has it since ${holder.since}` : ''}. Stop that first, then try again.`,
    );
  }
  writeFileSync(join(dataFolder, HOLDER_FILE), JSON.stringify({ what, pid: process.pid, since: new Date().toISOString() }), { mode: 0o600 });
  return {
    release: () => {
      rmSync(join(dataFolder, HOLDER_FILE), { force: true });
      lock.close();
    },
  };
}

/** Does something that nobody else may be at work beside. */
export async function inFolder<T>(dataFolder: string, what: string, work: () => T | Promise<T>): Promise<T> {
  const lock = lockFolder(dataFolder, what);
  try {
    return await work();
  } finally {
    lock.release();
  }
}
