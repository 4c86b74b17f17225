/** Opens the database, brings its tables up to date and prepares statements once. */
import { mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { drizzle, type BetterSQLite3Database } from 'drizzle-orm/better-sqlite3';
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
import * as schema from '../schema';

export type Database = BetterSQLite3Database<typeof schema>;

export interface Store {
  readonly db: Database;
  readonly sqlite: Sqlite.Database;
  /** The file that the plan is kept in, for reading; where nothing is planned, none. */
  plan: Store | null;
  /** A statement, prepared at its first use. */
  readonly statement: (sql: string) => Sqlite.Statement;
  /** A typed query, built and prepared at its first use; the key names it. */
  readonly query: <T>(key: string, build: (db: Database) => T) => T;
}

const numbered = new WeakSet<Sqlite.Statement>();

/** Values as a statement takes them: in order, or by number where it counts its places (`?1`). */
export function valuesFor(statement: Sqlite.Statement, values: readonly unknown[]): readonly unknown[] {
  return numbered.has(statement) ? [Object.fromEntries(values.map((value, index) => [index + 1, value]))] : values;
}

/** "TERR": marks a database as Terrace's. */
export const APPLICATION_ID = 0x54455252;

export const DATABASE_FILE = 'terrace.db';

/** Opens the database of a data folder, migrating it to the newest tables. */
export function openStore(dataFolder: string, migrationsFolder: string): Store {
  mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
  const store = openFile(join(dataFolder, DATABASE_FILE));
  migrate(store.db, { migrationsFolder });
  store.sqlite.pragma(`application_id = ${APPLICATION_ID}`);
  return store;
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

/** Opens one database file as it is. */
export function openFile(file: string, options: Sqlite.Options = {}): Store {
  mkdirSync(dirname(file), { recursive: true });
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
  const statements = new Map<string, Sqlite.Statement>();
  // Lists that speak of a day or a place have a text of their own for each: the oldest are prepared again when asked for.
  const MOST_STATEMENTS = 2000;
  const statement = (sql: string): Sqlite.Statement => {
    let prepared = statements.get(sql);
    if (!prepared) {
      prepared = sqlite.prepare(sql);
      if (/\?\d/.test(sql)) numbered.add(prepared);
      statements.set(sql, prepared);
      const [oldest] = statements.keys();
      if (statements.size > MOST_STATEMENTS && oldest !== undefined) statements.delete(oldest);
    }
    return prepared;
  };
  const db = drizzle(sqlite, { schema, casing: 'snake_case' });
  const queries = new Map<string, unknown>();
  const query = <T>(key: string, build: (database: Database) => T): T => {
    let prepared = queries.get(key) as T | undefined;
    if (prepared === undefined) {
      prepared = build(db);
      queries.set(key, prepared);
    }
    return prepared;
  };
  return { db, sqlite, plan: null, statement, query };
}
