/**
 * The file that the plan is kept in, beside the database: a picture of what was computed, for lists to read. Nobody
 * types anything into it, so that it can be thrown away and computed again at any time; and whoever writes it never keeps
 * a command waiting.
 */
import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { DATABASE_FILE, openFile, type Store } from '../platform/database';

export const PLAN_FILE = 'plan.db';
/** Counted up whenever the tables change: an older file is thrown away. */
const SHAPE = 3;

const TABLES = `
create table plan_state (
  id integer primary key check (id = 1), seq integer not null, at text not null, today text not null, horizon text not null,
  milliseconds real not null, planned integer not null, whole integer not null, history_id integer not null, move_id integer not null,
  -- Counted when they are written, so that nobody who looks has to count them.
  suggestions integer not null, exceptions integer not null, endangered integer not null
);
create table suggestion (
  id integer primary key, node integer not null, name text not null, firm_id integer, kind text not null, item_id integer not null,
  warehouse_id integer not null, from_id integer, code text not null, description text not null, unit text not null, decimals integer not null,
  group_code text not null, warehouse text not null, source text, quantity text not null, place_by text not null, due text not null, needed_by text not null,
  days_late integer not null, supplier_id integer, supplier text, cost integer not null, level integer not null, balance text not null,
  threshold text not null, missing text not null, sized text not null, pegs text not null, ignored_until text, ignored_note text, note text
);
create index suggestion_node on suggestion (node);
create index suggestion_name on suggestion (name);
create index suggestion_item on suggestion (item_id, warehouse_id);
-- The list as it opens.
create index suggestion_open on suggestion (place_by, level, code, id) where ignored_until is null;
create table exception (
  id integer primary key, node integer not null, kind text not null, subject text not null, item_id integer not null, warehouse_id integer not null,
  code text not null, description text not null, unit text not null, warehouse text not null, from_date text not null, to_date text, quantity text not null
);
create index exception_node on exception (node);
create table problem (
  id integer primary key, node integer not null, code text not null, subject text not null, message text not null, item_id integer, warehouse_id integer
);
create table called (node integer not null, item_id integer not null, warehouse_id integer not null, name text not null, day text not null, quantity text not null);
create index called_node on called (node);
create index called_name on called (name);
create index called_item on called (item_id, warehouse_id);
create table promise (demand text primary key, wanted text not null, ready text not null, cause text not null) without rowid;
create table difference (
  id integer primary key, seq integer not null, at text not null, item_id integer not null, warehouse_id integer not null, code text not null, description text not null,
  warehouse text not null, kind text not null, change text not null, before text not null, after text not null, cause text not null
);
create index difference_seq on difference (seq);
`;

/** Opens the plan's file of a data folder for writing, made anew where it is not of today's shape. */
export function openPlanFile(dataFolder: string): Sqlite.Database {
  const file = join(dataFolder, PLAN_FILE);
  const opened = (): Sqlite.Database => {
    const sqlite = new Sqlite(file, { timeout: 20_000 });
    sqlite.pragma('journal_mode = WAL');
    // A power cut may cost the last plans: they are computed again.
    sqlite.pragma('synchronous = OFF');
    return sqlite;
  };
  let sqlite = opened();
  if (Number(sqlite.pragma('user_version', { simple: true })) === SHAPE) return sqlite;
  sqlite.close();
  dropPlanFile(dataFolder);
  sqlite = opened();
  sqlite.exec(`begin immediate; ${TABLES} pragma user_version = ${SHAPE}; commit`);
  return sqlite;
}

/** Opens a data folder's plan for reading; what is kept of its documents can be joined to it as `kept`. */
export function openPlanToRead(dataFolder: string): Store {
  const store = openFile(join(dataFolder, PLAN_FILE), { readonly: true });
  store.sqlite.prepare('attach database ? as kept').run(join(dataFolder, DATABASE_FILE));
  return store;
}

/** Throws the plan's file of a data folder away. */
export function dropPlanFile(dataFolder: string): void {
  for (const end of ['', '-wal', '-shm']) {
    const file = join(dataFolder, `${PLAN_FILE}${end}`);
    if (existsSync(file)) rmSync(file);
  }
}
