/** What is done to a database file as a whole: transactions, copies, closing, how much a power cut may cost. */
import { getTableName } from 'drizzle-orm';
import type { SQLiteTable } from 'drizzle-orm/sqlite-core';
import { APPLICATION_ID, openFile, type Store } from './database';
import { tablesAsText } from './make-tables';

/** Writes in one transaction that nobody else writes beside. */
export function atOnce<T>({ sqlite }: Store, write: () => T): T {
  return sqlite.transaction(write).immediate();
}

/** Within a transaction: references may lead nowhere until its end, so that rows can be added in any order. */
export function referencesLater({ sqlite }: Store): void {
  sqlite.pragma('defer_foreign_keys = ON');
}

/** Reads everything as it is at one moment, whatever others write meanwhile. */
export function atOneMoment<T>({ sqlite }: Store, read: () => T): T {
  return sqlite.inTransaction ? read() : sqlite.transaction(read).deferred();
}

/** One for each file: a file of rows has a savepoint for each, and making the transaction costs more than beginning it. */
const within = new WeakMap<Store, (write: () => unknown) => unknown>();

/** Within a transaction: what throws leaves nothing of itself behind, and the rest goes on. */
export function onItsOwn<T>(store: Store, write: () => T): T {
  let run = within.get(store);
  if (!run) {
    run = store.sqlite.transaction((each: () => unknown) => each());
    within.set(store, run);
  }
  return run(write) as T;
}

/** Rows looked at of each index: enough to tell many from few, and done in milliseconds however large the table is. */
const SAMPLE = 1000;
/** All tables that have grown much since, those never looked at too: the mask that SQLite's documentation of `pragma optimize` names for it. */
const WHAT_HAS_GROWN = 0x10002;

/** Lets the database see how many rows its tables have: without that it takes ten for a million, and reads them all. */
export function noteSizes({ sqlite }: Store): void {
  sqlite.pragma(`analysis_limit = ${SAMPLE}`);
  sqlite.pragma(`optimize = ${WHAT_HAS_GROWN}`);
}

export function isOpen({ sqlite }: Store): boolean {
  return sqlite.open;
}

/** Closes a file that was read, or that others go on writing. */
export function closeFile({ sqlite }: Store): void {
  sqlite.close();
}

/** Closes a file for good: what its log holds is written into it. */
export function closeWhole({ sqlite }: Store): void {
  sqlite.pragma('wal_checkpoint(TRUNCATE)');
  sqlite.close();
}

/** Closes a file so that it is one file alone, without a log beside it. */
export function closeAlone({ sqlite }: Store): void {
  sqlite.pragma('journal_mode = DELETE');
  sqlite.close();
}

/** For what can be made again: a power cut may cost the last of it. */
export function mayLoseTheLast({ sqlite }: Store): void {
  sqlite.pragma('synchronous = OFF');
}

/** For a copy that is thrown away: nothing of it has to last. */
export function mayLoseAll({ sqlite }: Store): void {
  sqlite.pragma('journal_mode = MEMORY');
  sqlite.pragma('synchronous = OFF');
}

const PAGES_AT_ONCE = 1000;
/** A copy that gets no further for so long never will. */
const STUCK_MS = 20_000;
/** So long each step waits for whoever holds the file. */
const BUSY_MS = 5000;

/** Copies a database while it is in use. Throws where it can't be read to its end. */
export async function copyFile(from: string, to: string, stuckMs = STUCK_MS): Promise<void> {
  const source = openFile(from, { readonly: true, fileMustExist: true, timeout: Math.min(stuckMs, BUSY_MS) });
  try {
    let left = Infinity;
    let moved = performance.now();
    await source.sqlite.backup(to, {
      progress: ({ remainingPages }) => {
        if (remainingPages !== left) moved = performance.now();
        left = remainingPages;
        if (performance.now() - moved > stuckMs)
          throw new Error(
            `${from} can't be copied: for ${Math.round(stuckMs / 1000)} seconds nothing of it could be read. Does another program hold it, or is the folder read-only with the log of a server that was killed? Copy the folder to where it can be written, and back that up.`,
          );
        return PAGES_AT_ONCE;
      },
    });
  } finally {
    source.sqlite.close();
  }
}

/** Nothing that was dropped from a file from now on can be read in it any more. */
export function wipeWhatGoes({ sqlite }: Store): void {
  sqlite.pragma('secure_delete = ON');
}

/** Whether what went wrong is that a file of a database can't be read as one. */
export function isDamage(error: unknown): boolean {
  if (!(error instanceof Error) || !('code' in error) || typeof error.code !== 'string') return false;
  return /^SQLITE_(CORRUPT|NOTADB|IOERR|CANTOPEN|ERROR)/.test(error.code);
}

/** Whether all pages of a file hang together. */
export function isWhole({ sqlite }: Store): boolean {
  try {
    return sqlite.pragma('quick_check(1)', { simple: true }) === 'ok';
  } catch (error) {
    if (isDamage(error)) return false;
    throw error;
  }
}

/** The tables of another file can be read beside a store's own, under a name. */
export function readBeside({ sqlite }: Store, file: string, name: string): void {
  sqlite.prepare(`attach database ? as "${name}"`).run(file);
}

/** A number that tells which tables a file has, see `shapeOf`; nothing was made in it: 0. */
export function shapeKept({ sqlite }: Store): number {
  return Number(sqlite.pragma('user_version', { simple: true }));
}

/** Makes tables in a file of their own kind. */
export function makeTables(store: Store, tables: readonly SQLiteTable[], shape = 0): void {
  onItsOwn(store, () => {
    store.sqlite.exec(tablesAsText(tables));
    if (shape !== 0) store.sqlite.pragma(`user_version = ${shape}`);
  });
}

export function hasTable({ sqlite }: Store, table: SQLiteTable): boolean {
  return sqlite.prepare('select 1 from sqlite_master where name = ?').get(getTableName(table)) !== undefined;
}

export function dropTable({ sqlite }: Store, table: SQLiteTable): void {
  sqlite.exec(`drop table "${getTableName(table)}"`);
}

/** Whether a database is one of Terrace. */
export function isOurs({ sqlite }: Store): boolean {
  return sqlite.pragma('application_id', { simple: true }) === APPLICATION_ID;
}

/** What is wrong with a file itself: damage as SQLite tells it ("ok" where none), and references that lead nowhere. */
export function damageOf({ sqlite }: Store): { readonly integrity: string; readonly orphans: number } {
  return {
    integrity: String(sqlite.pragma('integrity_check', { simple: true })),
    orphans: (sqlite.pragma('foreign_key_check') as unknown[]).length,
  };
}
