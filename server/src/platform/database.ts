/** Opens the database, brings its tables up to date and prepares statements once. */
import { existsSync, mkdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { BetterSQLite3Database, drizzle } from 'drizzle-orm/better-sqlite3';
import { BetterSQLiteSession } from 'drizzle-orm/better-sqlite3/session';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import {
  asAmount,
  asQuantity,
  unitCostOf,
  writeAmount,
  writePrice,
  writeQuantity,
  writeSafety,
  writeSizing,
  type LotSizing,
  type SafetyBasis,
} from '@terrace/core';
import { namingDialect } from './dialect';
import { makeForOwner } from './owner';

export type Database = BetterSQLite3Database<Record<string, never>>;

export interface Store {
  readonly db: Database;
  readonly sqlite: Sqlite.Database;
  /** The file that the plan is kept in, for reading; where nothing is planned, none. */
  plan: Store | null;
}

/** "TERR": marks a database as Terrace's. */
export const APPLICATION_ID = 0x54455252;

export const DATABASE_FILE = 'terrace.db';

/** Opens the database of a data folder, migrating it to the newest tables. */
export function openStore(dataFolder: string, migrationsFolder: string): Store {
  makeForOwner();
  mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
  const file = join(dataFolder, DATABASE_FILE);
  if (!existsSync(file)) begin(file, migrationsFolder);
  else assertNotEmpty(file);
  const store = openFile(file);
  migrate(drizzle(store.sqlite), { migrationsFolder });
  store.sqlite.pragma(`application_id = ${APPLICATION_ID}`);
  return store;
}

/** A new database takes its place only when it has its tables: a file of that name that is empty is a damaged one. */
function begin(file: string, migrationsFolder: string): void {
  const part = `${file}.part`;
  for (const ending of ['', '-wal', '-shm']) rmSync(`${part}${ending}`, { force: true });
  const store = openFile(part);
  migrate(drizzle(store.sqlite), { migrationsFolder });
  store.sqlite.pragma(`application_id = ${APPLICATION_ID}`);
  store.sqlite.pragma('journal_mode = DELETE');
  store.sqlite.close();
  renameSync(part, file);
}

/** Opens the database of a data folder as it is, to look at: nothing is made or changed. Throws where there is none, or none of Terrace. */
export function openToLook(dataFolder: string): Store {
  const file = join(dataFolder, DATABASE_FILE);
  if (!existsSync(file)) throw new Error(`there is no company in ${dataFolder}: ${file} is missing. Is TERRACE_DATA right?`);
  assertNotEmpty(file);
  const store = openFile(file, { readonly: true, fileMustExist: true });
  const kept = store.sqlite.pragma('application_id', { simple: true });
  if (kept === APPLICATION_ID) return store;
  store.sqlite.close();
  throw new Error(`${file} is a database, but not one of Terrace`);
}

function assertNotEmpty(file: string): void {
  if (statSync(file).size === 0) throw new Error(`${file} is damaged: it is empty. Restore the last backup with "terrace restore FILE".`);
}

/** Figures in the words that people see, so that lists can be looked through for them. */
function speakWords(sqlite: Sqlite.Database): void {
  const say = (name: string, words: (...given: never[]) => string | number): void => {
    const said = (...given: unknown[]): string | number | null => (given.includes(null) ? null : words(...(given as never[])));
    sqlite.function(name, { deterministic: true, varargs: true }, said);
  };
  say('written_quantity', writeQuantity);
  say('written_price', writePrice);
  say('written_amount', writeAmount);
  say('unit_cost', (value: number, quantity: number) => unitCostOf(asAmount(value), asQuantity(quantity)));
  say('written_safety', (basis: string, quantity: number) => writeSafety(JSON.parse(basis) as SafetyBasis, writeQuantity(quantity)));
  say('written_sizing', (sizing: string) => writeSizing(JSON.parse(sizing) as LotSizing));
}

const READ_ONLY = '. Where the folder can’t be written and a server was killed in it, copy the folder to where it can be, and take that';

/** Opens one database file as it is. What can't be opened is named, with the code of what is wrong with it. */
export function openFile(file: string, options: Sqlite.Options = {}): Store {
  try {
    return opened(file, options);
  } catch (error) {
    if (!(error instanceof Sqlite.SqliteError)) throw error;
    const why = error.code === 'SQLITE_CANTOPEN' && options.readonly === true ? READ_ONLY : '';
    throw Object.assign(new Error(`${file} can't be opened: ${error.message}${why}`, { cause: error }), { code: error.code });
  }
}

function opened(file: string, options: Sqlite.Options): Store {
  if (options.readonly !== true) mkdirSync(dirname(file), { recursive: true, mode: 0o700 });
  const sqlite = new Sqlite(file, { timeout: 5000, ...options });
  sqlite.pragma('foreign_keys = ON');
  if (options.readonly !== true) {
    sqlite.pragma('journal_mode = WAL');
    sqlite.pragma('synchronous = FULL');
    // Pages that many commits change are copied back once: commits stay durable, since the log itself is synced.
    sqlite.pragma('wal_autocheckpoint = 8000');
  }
  sqlite.pragma('cache_size = -64000');
  speakWords(sqlite);
  return { db: speaking(sqlite), sqlite, plan: null };
}

/** Drizzle on an open file, with every column named with its table. */
function speaking(sqlite: Sqlite.Database): Database {
  const session = new BetterSQLiteSession(sqlite, namingDialect, undefined, {});
  return new BetterSQLite3Database('sync', namingDialect, session as never, undefined);
}
