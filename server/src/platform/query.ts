/**
 * Statements that are said once with Drizzle's builder and made ready once for each database: {@link query} for what
 * answers rows, {@link command} for what changes some. Values are named and typed by the parameter of the builder.
 *
 * @example
 * const openLines = query(($: { orderId: number }) => (db) => db.select().from(line).where(eq(line.orderId, $.orderId)));
 * openLines.all(work, { orderId: 7 });
 */
import type Sqlite from 'better-sqlite3';
import { Column, Param, Placeholder, SQL, Subquery, getTableName, is, sql, type DriverValueDecoder } from 'drizzle-orm';
import type { Database, Store } from './database';

/** Anything that speaks to one database: a unit of work, or `{ store }`. */
export interface Source {
  readonly store: Store;
}

/** What a statement is given: nothing where it names no values. */
type Given<V> = keyof V extends never ? [] : [values: V];

export interface Query<V, R> {
  /** All rows. */
  readonly all: (source: Source, ...values: Given<V>) => R[];
  /** The first row. */
  readonly one: (source: Source, ...values: Given<V>) => R | undefined;
  /** Rows one by one, for many; nothing may be written before the last. */
  readonly each: (source: Source, ...values: Given<V>) => IterableIterator<R>;
}

export interface Command<V> {
  /** Carries it out: how many rows it changed, and the key of the last one that it added. */
  readonly run: (source: Source, ...values: Given<V>) => { readonly changes: number; readonly id: number };
}

/** What the builder makes: something that can be made ready, with the type of its rows. */
interface Buildable {
  readonly _: { readonly result: unknown };
  prepare: () => unknown;
}
type RowOf<B> = B extends { readonly _: { readonly result: readonly (infer R)[] } } ? R : never;

/** What Drizzle's prepared query holds (it has no public words for these). */
interface Prepared {
  readonly stmt: Sqlite.Statement;
  readonly query: { readonly sql: string; readonly params: readonly unknown[] };
  readonly fields?: Fields;
  readonly joinsNotNullableMap?: Readonly<Record<string, boolean>>;
}
interface Field {
  readonly path: readonly string[];
  readonly field: Column | SQL | SQL.Aliased | Subquery;
}
type Fields = readonly Field[];

/** A statement with the way in for its values and the way out for its rows. */
export interface Ready {
  readonly statement: Sqlite.Statement;
  readonly bind: (values: Readonly<Record<string, unknown>>) => unknown[];
  readonly read: (row: unknown[]) => unknown;
}

const everything: ((store: Store) => void)[] = [];

/** Makes every query and command ready that has been said so far: a statement that can't be is found without being asked. */
export function prepareEverything(store: Store): number {
  for (const prepare of everything) prepare(store);
  return everything.length;
}

/** Says a query. What `build` makes is asked for once for each database. */
export function query<V extends object = Record<never, never>, B extends Buildable = Buildable>(
  build: ($: V) => (db: Database) => B,
): Query<V, RowOf<B>> {
  const readyIn = once(build);
  type R = RowOf<B>;
  return {
    all: (source, ...values) => {
      const { statement, bind, read } = readyIn(source.store);
      const rows = statement.all(bind(valuesIn(values))) as unknown[][];
      for (let index = 0; index < rows.length; index += 1) (rows as unknown[])[index] = read(rows[index] as unknown[]);
      return rows as unknown as R[];
    },
    one: (source, ...values) => {
      const { statement, bind, read } = readyIn(source.store);
      const row = statement.get(bind(valuesIn(values))) as unknown[] | undefined;
      return row === undefined ? undefined : (read(row) as R);
    },
    each: function* (source, ...values) {
      const { statement, bind, read } = readyIn(source.store);
      for (const row of statement.iterate(bind(valuesIn(values)))) yield read(row as unknown[]) as R;
    },
  };
}

/** Says a command: an insert, update or delete that answers no rows. */
export function command<V extends object = Record<never, never>>(build: ($: V) => (db: Database) => Buildable): Command<V> {
  const readyIn = once(build);
  return {
    run: (source, ...values) => {
      const { statement, bind } = readyIn(source.store);
      return outcomeOf(statement.run(bind(valuesIn(values))));
    },
  };
}

export function outcomeOf({ changes, lastInsertRowid }: Sqlite.RunResult): { readonly changes: number; readonly id: number } {
  return { changes, id: Number(lastInsertRowid) };
}

const NOTHING: Readonly<Record<string, unknown>> = {};
const valuesIn = ([values = NOTHING]: readonly unknown[]): Readonly<Record<string, unknown>> => values as Readonly<Record<string, unknown>>;

/** Names of values: `$.orderId` stands where the value of that name will. */
export function names<V extends object>(): V {
  return new Proxy({}, { get: (_, name) => sql.placeholder(String(name)) }) as V;
}

function once<V extends object>(build: ($: V) => (db: Database) => Buildable): (store: Store) => Ready {
  const made = new WeakMap<Store, Ready>();
  const readyIn = (store: Store): Ready => {
    let ready = made.get(store);
    if (!ready) {
      ready = makeReady(build(names<V>())(store.db));
      made.set(store, ready);
    }
    return ready;
  };
  everything.push((store) => {
    readyIn(store);
  });
  return readyIn;
}

/** Makes what was built ready. */
export function makeReady(built: Buildable): Ready {
  const { stmt, query: said, fields, joinsNotNullableMap } = built.prepare() as Prepared;
  return {
    statement: fields ? stmt.raw(true) : stmt,
    bind: binderOf(said.params, said.sql),
    read: fields ? readerOf(fields, joinsNotNullableMap) : (row) => row,
  };
}

/** A value as the database takes it: flags as 0 and 1, lists and objects as JSON. */
function driverValue(value: unknown): unknown {
  if (typeof value === 'boolean') return value ? 1 : 0;
  return typeof value === 'object' && value !== null && !ArrayBuffer.isView(value) ? JSON.stringify(value) : value;
}

function binderOf(params: readonly unknown[], said: string): Ready['bind'] {
  const names: (string | null)[] = [];
  /** How a value goes in; nothing where texts and numbers go in as they are. */
  const writes: (((value: unknown) => unknown) | null)[] = [];
  const constants: unknown[] = [];
  for (const param of params) {
    const placeholder = is(param, Placeholder) ? param : is(param, Param) && is(param.value, Placeholder) ? param.value : null;
    const encoder = is(param, Param) ? param.encoder : null;
    const plain = encoder === null || encoder.mapToDriverValue === Column.prototype.mapToDriverValue;
    names.push(placeholder === null ? null : placeholder.name);
    writes.push(plain ? null : (value) => driverValue(encoder.mapToDriverValue(value)));
    constants.push(placeholder === null ? driverValue(param) : null);
  }
  const most = names.length;
  return (values) => {
    const bound = new Array<unknown>(most);
    for (let index = 0; index < most; index += 1) {
      const name = names[index];
      if (typeof name !== 'string') {
        bound[index] = constants[index];
        continue;
      }
      const value = values[name];
      if (value === undefined) throw new RangeError(`no value for "${name}" of: ${said}`);
      const write = writes[index];
      bound[index] =
        value === null ? null : write ? write(value) : typeof value === 'object' || typeof value === 'boolean' ? driverValue(value) : value;
    }
    return bound;
  };
}

/** How a column's values come out; nothing where they come out as they are. */
function decoderOf(field: Fields[number]['field']): ((value: unknown) => unknown) | null {
  if (is(field, Column)) {
    if (field.mapFromDriverValue === Column.prototype.mapFromDriverValue) return null;
    return (value) => field.mapFromDriverValue(value);
  }
  const holder = is(field, SQL) ? field : is(field, Subquery) ? field._.sql : field.sql;
  const { decoder } = holder as unknown as { decoder: DriverValueDecoder<unknown, unknown> };
  return decoder.mapFromDriverValue === PLAIN_DECODER.mapFromDriverValue ? null : (value) => decoder.mapFromDriverValue(value);
}
const PLAIN_DECODER = (sql`` as unknown as { decoder: DriverValueDecoder<unknown, unknown> }).decoder;

function readerOf(fields: Fields, joinsNotNullableMap: Prepared['joinsNotNullableMap']): Ready['read'] {
  const nested = fields.some((field) => field.path.length > 1);
  if (fields.some(({ path, field }) => path.length > 1 && is(field, Column) && joinsNotNullableMap?.[getTableName(field.table)] === false))
    throw new RangeError('a table that may be missing is selected column by column, not as a whole');
  const keys = fields.map((field) => field.path.at(-1) ?? '');
  const parts = nested ? fields.map((field) => (field.path.length > 1 ? (field.path[0] ?? '') : null)) : null;
  const decoders = fields.map((field) => decoderOf(field.field));
  const most = keys.length;
  return (row) => {
    const record: Record<string, unknown> = {};
    for (let index = 0; index < most; index += 1) {
      const decode = decoders[index];
      const value = row[index];
      const part = parts?.[index];
      const target = typeof part === 'string' ? ((record[part] ??= {}) as Record<string, unknown>) : record;
      target[keys[index] as string] = decode && value !== null ? decode(value) : value;
    }
    return record;
  };
}
