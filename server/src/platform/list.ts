/**
 * Lists: one description of columns gives paging, sorting, finding and filtering by the database, and the same rows as
 * a file. Values are turned into the texts of the contract by their type.
 *
 * A list is said once, like a query; each way of sorting and filtering it is made ready once for each database, with
 * its values bound. Which tables are joined follows from the columns in use.
 */
import { Column as TableColumn, SQL, and, getTableName, is, sql, type SQLWrapper, Subquery } from 'drizzle-orm';
import type { SQLiteTable } from 'drizzle-orm/sqlite-core';
import type { ListQuery } from '@terrace/contract';
import { writeAmount, writePrice, writeQuantity } from '@terrace/core';
import type { Database } from './database';
import {
  list,
  type Column,
  type ColumnType,
  type Expression,
  type Join,
  type Joinable,
  type List,
  type ListDefinition,
  type MoreColumns,
  type Names,
  type Values,
} from './list-definition';
import { boundTo, conditions, narrowed, orderOf, placeNamed, type Narrowed } from './list-narrowing';
import { makeReady, names, type Ready, type Source } from './query';

export * from './list-definition';

interface Asked {
  readonly query: ListQuery;
  readonly values: Values;
  readonly more: MoreColumns | undefined;
}

const WRITE: Readonly<Record<ColumnType, (value: unknown) => unknown>> = {
  text: (value) => value ?? null,
  number: (value) => Number(value ?? 0),
  optionalNumber: (value) => (value === null || value === undefined ? null : Number(value)),
  quantity: (value) => writeQuantity(Number(value ?? 0)),
  price: (value) => writePrice(Number(value ?? 0)),
  amount: (value) => writeAmount(Number(value ?? 0)),
  flag: (value) => value === 1 || value === true,
};

/** Names of what a page binds; a stroke, so that none is a value's. */
const LIMIT = 'list-limit';
const OFFSET = 'list-offset';

/** The tables that expressions speak of, by name. */
function tablesOf(expressions: readonly unknown[]): Set<string> {
  const found = new Set<string>();
  const look = (value: unknown): void => {
    if (is(value, TableColumn)) found.add(getTableName(value.table));
    else if (is(value, SQL)) value.queryChunks.forEach(look);
    else if (is(value, SQL.Aliased)) look(value.sql);
    else if (Array.isArray(value)) value.forEach(look);
    else if (is(value, Subquery)) look(value._.sql);
    else if (typeof value === 'object' && value !== null && 'getSQL' in value) {
      const within = (value as SQLWrapper).getSQL();
      // A text, a value or a placeholder says itself.
      if (within.queryChunks[0] !== value) look(within);
    }
  };
  expressions.forEach(look);
  return found;
}

function nameOf(table: Joinable): string {
  return '_' in table && 'alias' in table._ ? table._.alias : getTableName(table as SQLiteTable);
}

/** The joins that expressions need, and those that they need in turn. */
function joinsFor({ joins = [] }: ListDefinition, expressions: readonly unknown[]): readonly Join[] {
  const needed = new Set<Join>();
  const add = (used: Set<string>): void => {
    for (const join of joins)
      if (!needed.has(join) && (join.always === true || used.has(nameOf(join.table)))) {
        needed.add(join);
        add(tablesOf([join.on]));
      }
  };
  add(tablesOf(expressions));
  return joins.filter((join) => needed.has(join));
}

/** What is selected of a list: its rows, how many there are, or what a column comes to. */
function selection(db: Database, definition: ListDefinition, fields: Record<string, Expression>, where: readonly SQL[], more: readonly unknown[]) {
  // Whatever a template says of columns by their text is of the list's own table.
  let built = db
    .select(fields as Record<string, SQL>)
    .from(definition.from as SQLiteTable)
    .$dynamic();
  if (definition.times) built = built.crossJoin(definition.times);
  for (const join of joinsFor(definition, [...Object.values(fields), ...where, definition.where, ...more])) {
    const table = join.table as SQLiteTable;
    built = join.left ? built.leftJoin(table, join.on) : built.innerJoin(table, join.on);
  }
  return built.where(and(definition.where, ...where));
}

const MOST_WAYS = 400;

/** Makes one way of looking at a list ready, at its first use. */
function readyFor<V extends object>(source: Source, said: List<V>, key: string, build: (db: Database) => Parameters<typeof makeReady>[0]): Ready {
  let ways = said.made.get(source.store);
  if (!ways) said.made.set(source.store, (ways = new Map<string, Ready>()));
  let ready = ways.get(key);
  if (!ready) {
    ready = makeReady(build(source.store.db));
    ways.set(key, ready);
    const [oldest] = ways.keys();
    if (ways.size > MOST_WAYS && oldest !== undefined) ways.delete(oldest);
  }
  return ready;
}

function definitionOf<V extends object>(source: Source, said: List<V>, { values, more }: Asked): ListDefinition {
  let known = said.defined.get(source.store);
  if (!known) said.defined.set(source.store, (known = new Map<string, ListDefinition>()));
  const key = `${givenOf(values)}|${more?.key ?? ''}`;
  let definition = known.get(key);
  if (!definition) {
    const plain = said.define(names<Names<V>>(), (name) => values[name as string] !== undefined);
    definition = more ? { ...plain, columns: { ...plain.columns, ...more.columns }, find: [...plain.find, ...more.find] } : plain;
    known.set(key, definition);
  }
  return definition;
}

/** The names of the values that are given. */
function givenOf(values: Values): string {
  return Object.keys(values)
    .filter((name) => values[name] !== undefined)
    .join();
}

/** What the statement of a look depends on; its values do not belong to it. */
function keyOf({ values, more }: Asked, { words, filters }: Narrowed): string {
  return [givenOf(values), more?.key ?? '', words.length, ...filters.map(({ name, op, values: several }) => `${name} ${op} ${several.length}`)].join(
    '|',
  );
}

export interface PageOptions {
  /** How many rows there are where nothing is looked for or filtered, if that is known already. */
  readonly known?: number | undefined;
  readonly more?: MoreColumns | undefined;
}

/** A page of rows and how many there are in all. */
export function listPage<Row, V extends object = Record<never, never>>(
  source: Source,
  said: List<V>,
  query: ListQuery,
  values: V = {} as V,
  { known, more }: PageOptions = {},
): { rows: Row[]; total: number } {
  const asked: Asked = { query, values: values as Values, more };
  const definition = definitionOf(source, said, asked);
  const look = narrowed(query);
  const rows = rowsOf<Row, V>(source, said, definition, asked, look);
  if (query.offset === 0 && rows.length < query.limit) return { rows, total: rows.length };
  if (known !== undefined && look.words.length === 0 && look.filters.length === 0) return { rows, total: known };
  return { rows, total: countOf(source, said, definition, asked, look) };
}

/** The rows of a page, where nobody asks how many there are. */
export function listRows<Row, V extends object = Record<never, never>>(
  source: Source,
  said: List<V>,
  query: ListQuery,
  values: V = {} as V,
  more?: MoreColumns,
): Row[] {
  const asked: Asked = { query, values: values as Values, more };
  return rowsOf<Row, V>(source, said, definitionOf(source, said, asked), asked, narrowed(query));
}

/** How many rows a list has, as it is narrowed. */
export function listCount<V extends object>(source: Source, said: List<V>, query: ListQuery, values: V, more?: MoreColumns): number {
  const asked: Asked = { query, values: values as Values, more };
  return countOf(source, said, definitionOf(source, said, asked), asked, narrowed(query));
}

function countOf<V extends object>(source: Source, said: List<V>, definition: ListDefinition, asked: Asked, look: Narrowed): number {
  return figureOf(source, said, definition, asked, look, `count|${keyOf(asked, look)}`, () => sql<number>`count(*)`);
}

/**
 * A page of a list of which some rows come before the rest. Those are few and fetched as a list of their own; the rest comes in its own order by
 * its index, so that nothing is sorted that isn't shown. `first` and `rest` are the parts, `whole` is both.
 */
export function listPageInTwo<Row, V extends object>(
  source: Source,
  { first, rest, whole }: Readonly<Record<'first' | 'rest' | 'whole', List<V>>>,
  query: ListQuery,
  values: V,
  more?: MoreColumns,
): { rows: Row[]; total: number } {
  const before = listCount(source, first, query, values, more);
  const rows = query.offset < before ? listRows<Row, V>(source, first, query, values, more) : [];
  const left = query.limit - rows.length;
  const offset = Math.max(0, query.offset - before);
  if (left > 0) rows.push(...listRows<Row, V>(source, rest, { ...query, offset, limit: left }, values, more));
  return { rows, total: listCount(source, whole, query, values, more) };
}

function rowsOf<Row, V extends object>(source: Source, said: List<V>, definition: ListDefinition, asked: Asked, look: Narrowed): Row[] {
  const { query, values } = asked;
  const bound = { ...values, ...boundTo(definition, look), [LIMIT]: query.limit, [OFFSET]: query.offset };
  const fields = Object.entries(definition.columns);
  const { statement, bind } = readyFor(source, said, `rows|${query.sort ?? ''}|${keyOf(asked, look)}`, (db) => {
    const order = orderOf(definition, query.sort);
    const shown = Object.fromEntries(fields.map(([name, { of, written }]) => [name, sql`${written ?? of}`.as(name)]));
    return selection(db, definition, shown, conditions(definition, look), order)
      .orderBy(...order)
      .limit(placeNamed(LIMIT) as unknown as number)
      .offset(placeNamed(OFFSET) as unknown as number);
  });
  return (statement.all(bind(bound)) as unknown[][]).map((raw) => {
    const row: Record<string, unknown> = {};
    fields.forEach(([name, { type, written }], index) => (row[name] = written === undefined ? WRITE[type](raw[index]) : (raw[index] ?? null)));
    return row as Row;
  });
}

/** The sum of a column over all rows of a list, as it is narrowed. */
export function listSum<V extends object>(source: Source, said: List<V>, query: ListQuery, name: string, values: V): number {
  const asked: Asked = { query, values: values as Values, more: undefined };
  const definition = definitionOf(source, said, asked);
  const look = narrowed(query);
  return figureOf(
    source,
    said,
    definition,
    asked,
    look,
    `sum ${name}|${keyOf(asked, look)}`,
    () => sql`coalesce(sum(${definition.columns[name]?.of}), 0)`,
  );
}

function figureOf<V extends object>(
  source: Source,
  said: List<V>,
  definition: ListDefinition,
  { values }: Asked,
  look: Narrowed,
  key: string,
  figure: () => SQL,
): number {
  const { statement, bind } = readyFor(source, said, key, (db) => selection(db, definition, { n: figure() }, conditions(definition, look), []));
  const [n] = statement.get(bind({ ...values, ...boundTo(definition, look) })) as [number];
  return n;
}

/**
 * A list of rows that are worked out, not kept: they are sorted, found and filtered by the database like all others.
 * Quantities are given as numbers, by their type. The rows are the value `rows`.
 */
export function workedOut(columns: Readonly<Record<string, (of: SQL) => Column>>): List<{ rows: readonly object[] }> {
  return list(($: { rows: readonly object[] }) => {
    const spoken = Object.entries(columns).map(([name, as]) => [name, as(sql`json_extract(r.value, ${sql.raw(`'$.${name}'`)})`)] as const);
    return {
      columns: Object.fromEntries(spoken),
      from: sql`json_each(${$.rows}) r`,
      find: spoken.filter(([, { type }]) => type === 'text').map(([, { of }]) => of),
      order: [sql`r.key`],
      tie: [sql`r.key`],
    };
  });
}
