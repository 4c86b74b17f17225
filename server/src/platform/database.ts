/** Opens the database, brings its tables up to date and prepares statements once. */
import { mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { drizzle, type BetterSQLite3Database } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import * as schema from '../schema';

export type Database = BetterSQLite3Database<typeof schema>;

export interface Store {
  readonly db: Database;
  readonly sqlite: Sqlite.Database;
  /** A statement, prepared at its first use. */
  readonly statement: (sql: string) => Sqlite.Statement;
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

/** Opens one database file as it is. */
export function openFile(file: string, options: Sqlite.Options = {}): Store {
  mkdirSync(dirname(file), { recursive: true });
  const sqlite = new Sqlite(file, { timeout: 5000, ...options });
  sqlite.pragma('foreign_keys = ON');
  if (options.readonly !== true) {
    sqlite.pragma('journal_mode = WAL');
    sqlite.pragma('synchronous = FULL');
  }
  sqlite.pragma('cache_size = -64000');
  const statements = new Map<string, Sqlite.Statement>();
  const statement = (sql: string): Sqlite.Statement => {
    let prepared = statements.get(sql);
    if (!prepared) {
      prepared = sqlite.prepare(sql);
      statements.set(sql, prepared);
    }
    return prepared;
  };
  return { db: drizzle(sqlite, { schema, casing: 'snake_case' }), sqlite, statement };
}
