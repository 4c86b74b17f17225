/**
 * Rows of one table, by the names of their columns: added, kept under a key, changed and dropped. The statement follows
 * from the columns that are named and is made ready once for each set of them.
 */
import { and, eq, getTableColumns, getTableName, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn, SQLiteTable } from 'drizzle-orm/sqlite-core';
import { Refusal } from '@terrace/core';
import type { Store } from './database';
import { inserted } from './expressions';
import { command, makeReady, outcomeOf, query, type Command, type Ready, type Source } from './query';

type Added<T extends SQLiteTable> = T['$inferInsert'];
type Changed<T extends SQLiteTable> = Partial<T['$inferInsert']>;
/** A table whose rows have a number. */
export type Numbered = SQLiteTable & { readonly id: SQLiteColumn };
type Values = Readonly<Record<string, unknown>>;

const made = new WeakMap<Store, Map<string, Ready>>();

function readyFor({ store }: Source, key: string, build: () => Parameters<typeof makeReady>[0]): Ready {
  let known = made.get(store);
  if (!known) made.set(store, (known = new Map<string, Ready>()));
  let ready = known.get(key);
  if (!ready) known.set(key, (ready = makeReady(build())));
  return ready;
}

const namedIn = (values: Values): string[] => Object.keys(values).filter((name) => values[name] !== undefined);
const places = (fields: readonly string[]): Record<string, SQL> =>
  Object.fromEntries(fields.map((field) => [field, sql.placeholder(field)])) as unknown as Record<string, SQL>;

/** Adds a row and gives its number. */
export function addRow<T extends SQLiteTable>(source: Source, table: T, values: Added<T>): number {
  const fields = namedIn(values);
  const { statement, bind } = readyFor(source, `add ${getTableName(table)} ${fields.join()}`, () =>
    source.store.db.insert(table).values(places(fields) as Added<T>),
  );
  return outcomeOf(statement.run(bind(values))).id;
}

/** Says how rows are added whose every column is named but the number: for many of them, made ready before the first. */
export function adding<T extends SQLiteTable>(table: T): Command<Omit<T['$inferSelect'], 'id'>> {
  const fields = Object.keys(getTableColumns(table)).filter((field) => field !== 'id');
  return command<Omit<T['$inferSelect'], 'id'>>(() => (db) => db.insert(table).values(places(fields) as Added<T>));
}

/** Adds a row unless there is one with its key; says whether it did. */
export function addRowOnce<T extends SQLiteTable>(source: Source, table: T, values: Added<T>): boolean {
  const fields = namedIn(values);
  const { statement, bind } = readyFor(source, `once ${getTableName(table)} ${fields.join()}`, () =>
    source.store.db
      .insert(table)
      .values(places(fields) as Added<T>)
      .onConflictDoNothing(),
  );
  return statement.run(bind(values)).changes > 0;
}

/**
 * Adds a row, or where there is one with the same key gives it these values; its version moves on, where it has one.
 * `key` names the columns of the key.
 */
export function keepRow<T extends SQLiteTable>(source: Source, table: T, key: readonly (keyof Added<T> & string)[], values: Added<T>): void {
  const fields = namedIn(values);
  const { statement, bind } = readyFor(source, `keep ${getTableName(table)} ${key.join()} ${fields.join()}`, () => {
    const columns = getTableColumns(table) as Record<string, SQLiteColumn>;
    const set: Record<string, SQL> = {};
    for (const field of fields) {
      const column = columns[field];
      if (column && !(key as readonly string[]).includes(field)) set[field] = inserted(column);
    }
    const version = columns['version'];
    if (version && !fields.includes('version')) set['version'] = sql`${version} + 1`;
    return source.store.db
      .insert(table)
      .values(places(fields) as Added<T>)
      .onConflictDoUpdate({ target: key.flatMap((field) => columns[field] ?? []), set: set });
  });
  statement.run(bind(values));
}

/** Gives a row other values; its version stays. */
export function setRow<T extends Numbered>(source: Source, table: T, id: number, values: Changed<T>): void {
  change(source, table, id, values, false);
}

/** Gives a row other values, and moves its version on: whoever saw it before has seen an older one. */
export function changeRow<T extends Numbered & { readonly version: SQLiteColumn }>(source: Source, table: T, id: number, values: Changed<T>): void {
  change(source, table, id, values, true);
}

function change(source: Source, table: Numbered, id: number, values: Values, moves: boolean): void {
  const fields = namedIn(values);
  const { statement, bind } = readyFor(source, `${moves ? 'change' : 'set'} ${getTableName(table)} ${fields.join()}`, () => {
    const { version } = getTableColumns(table);
    const set = { ...places(fields), ...(moves && version ? { version: sql`${version} + 1` } : {}) };
    return source.store.db
      .update(table)
      .set(set)
      .where(eq(table.id, sql.placeholder(ROW)));
  });
  statement.run(bind({ ...values, [ROW]: id }));
}

/** A name that no column has. */
const ROW = 'the-row';

/** Drops a row. */
export function dropRow(source: Source, table: Numbered, id: number): void {
  const { statement, bind } = readyFor(source, `drop ${getTableName(table)}`, () =>
    source.store.db.delete(table).where(eq(table.id, sql.placeholder(ROW))),
  );
  statement.run(bind({ [ROW]: id }));
}

/** Drops all rows with these values, such as the lines of a document; says how many. */
export function dropRows<T extends SQLiteTable>(source: Source, table: T, where: Changed<T>): number {
  const fields = namedIn(where);
  const { statement, bind } = readyFor(source, `drop ${getTableName(table)} by ${fields.join()}`, () => {
    const columns = getTableColumns(table) as Record<string, SQLiteColumn>;
    return source.store.db.delete(table).where(and(...fields.map((field) => eq(columns[field] as SQLiteColumn, sql.placeholder(field)))));
  });
  return statement.run(bind(where)).changes;
}

/** Says how a row is fetched by its number, refusing `notFound` with a word for what it is. */
export function fetching<T extends Numbered>(table: T, what: string): (source: Source, id: number) => T['$inferSelect'] {
  const byId = query(
    ($: { id: number }) => (db) =>
      db
        .select()
        .from(table as Numbered)
        .where(eq(table.id, $.id)),
  );
  return (source, id) => orNotFound(byId.one(source, { id }) as T['$inferSelect'] | undefined, what);
}

/** Says how the rows that belong to another are fetched, in their order: the lines of a document. */
export function fetchingAll<T extends SQLiteTable>(
  table: T,
  belongsTo: SQLiteColumn,
  order: SQLiteColumn,
): (source: Source, id: number) => T['$inferSelect'][] {
  const all = query(
    ($: { id: number }) => (db) =>
      db
        .select()
        .from(table as SQLiteTable)
        .where(eq(belongsTo, $.id))
        .orderBy(order),
  );
  return (source, id) => all.all(source, { id });
}

/** Refuses `notFound`. */
export function orNotFound<T>(record: T | undefined, what: string): T {
  if (record === undefined) throw new Refusal('notFound', `There is no such ${what}. It may have been removed, or the link is wrong.`);
  return record;
}
