/** Words of SQL that Drizzle's builder has none of its own for, said once with their types. */
import { Column, and, is, sql, type SQL, type SQLWrapper } from 'drizzle-orm';
import { QueryBuilder, type SQLiteColumn, type SQLiteTable } from 'drizzle-orm/sqlite-core';
import { namingDialect } from './dialect';

/** Builds queries that stand inside others, such as a count of the lines of each order. */
export const inner = new QueryBuilder(namingDialect);

type Expression = SQLiteColumn | SQL | SQL.Aliased;
type ValueOf<E> = E extends SQLiteColumn ? E['_']['data'] : E extends SQL<infer T> ? T : E extends SQL.Aliased<infer T> ? T : never;

/** How many rows of a table meet a condition, as a value within another query. */
export function countOf(table: SQLiteTable, where: SQL | undefined): SQL<number> {
  return sql<number>`(${inner
    .select({ n: sql<number>`count(*)` })
    .from(table)
    .where(where)})`;
}

type OnlyValue<Q> = Q extends { readonly _: { readonly result: readonly (infer R)[] } } ? R[keyof R] : unknown;

/** The one value of an inner query, or null where it has no row. */
export function scalar<Q extends SQLWrapper>(query: Q): SQL<OnlyValue<Q> | null> {
  return sql<OnlyValue<Q> | null>`${query}`;
}

/** Whether all of some conditions hold; at least one is given. */
export function allOf(...conditions: readonly [SQL, ...SQL[]]): SQL {
  return and(...conditions) ?? sql`1`;
}

/** Whether a column is one of a list of values, which is given as a whole: `$.ids` of an array. */
export function among(expression: Expression, values: SQLWrapper | readonly unknown[]): SQL<boolean> {
  return sql<boolean>`${expression} in (select value from json_each(${values as SQLWrapper}))`;
}

/** The sum over all rows; 0 where there is none. */
export function total<E extends Expression>(expression: E): SQL<NonNullable<ValueOf<E>>> {
  return sql<NonNullable<ValueOf<E>>>`coalesce(sum(${expression}), 0)`;
}

/** A value, or another where it is null. */
export function or0<E extends Expression>(expression: E): SQL<NonNullable<ValueOf<E>>> {
  return sql<NonNullable<ValueOf<E>>>`coalesce(${expression}, 0)`;
}

/** A text, or an empty one where it is null. */
export function orEmpty(expression: Expression): SQL<string> {
  return sql<string>`coalesce(${expression}, '')`;
}

/** A difference that is never below nothing. */
export function atLeast0<T = number>(expression: SQL): SQL<T> {
  return sql<T>`max(0, ${expression})`;
}

/** A condition as a value that is read as true or false. */
export function flag(condition: SQL): SQL<boolean> {
  return sql<boolean>`(${condition})`.mapWith((value: unknown) => value === 1);
}

/** A column with an amount added to it, for an update. */
export function plus<C extends SQLiteColumn>(column: C, amount: C['_']['data'] | SQLWrapper): SQL<C['_']['data']> {
  return sql`${column} + ${amount}`;
}

export function minus<C extends SQLiteColumn>(column: C, amount: C['_']['data'] | SQLWrapper): SQL<C['_']['data']> {
  return sql`${column} - ${amount}`;
}

/** The value that was to be inserted, for what is there already. */
export function inserted<C extends SQLiteColumn>(column: C): SQL<C['_']['data']> {
  return sql`excluded.${sql.identifier(columnName(column))}`;
}

/** A column's name in the database. */
export function columnName(column: Column): string {
  return namingDialect.casing.getColumnCasing(column);
}

/** Whether two values are the same, where both may be null. */
export function same(left: Expression, right: unknown): SQL<boolean> {
  return sql<boolean>`${left} is ${right}`;
}

/** Whether a text is the same but for capital letters. */
export function sameText(left: Expression, right: string | SQLWrapper): SQL<boolean> {
  return sql<boolean>`${left} = ${right} collate nocase`;
}

/** Whether an expression is a plain column, which an index may serve. */
export function isPlain(expression: Expression): boolean {
  return is(expression, Column);
}

/** One row of nothing: what a query is from that only asks inner queries. */
export const oneRow: SQL = sql`(select 1)`;

/** An expression under a name, for a query that others select from. */
export function named<E extends Expression>(expression: E, name: string): SQL.Aliased<ValueOf<E>> {
  return sql<ValueOf<E>>`${expression}`.as(name);
}

/** Each entry of a list that is kept as JSON, under a name, for a join: `value` of it is the entry. */
export function entriesOf(list: Expression | SQLWrapper, name: string): SQL {
  return sql`json_each(${list}) ${sql.identifier(name)}`;
}

/** A field of an entry of {@link entriesOf}. */
export function fieldOf<T>(name: string, field: string): SQL<T> {
  return sql<T>`json_extract(${sql.identifier(name)}.value, ${sql.raw(`'$.${field}'`)})`;
}

/**
 * All values that can be reached: those that `start` selects, and through any number of steps those that `step` selects
 * from the ones already reached. For a condition with `in`.
 */
export function closure(start: SQLWrapper, step: (reached: { readonly table: SQL; readonly value: SQL }) => SQLWrapper): SQL {
  const further = step({ table: sql`reached`, value: sql`reached.value` });
  return sql`(with recursive reached (value) as (${start.getSQL()} union ${further.getSQL()}) select value from reached)`;
}

/** The state of a document that only is or was taken back. */
export function takenBack(reversed: SQLiteColumn): SQL<string | null> {
  return sql<string | null>`case ${reversed} when 1 then 'reversed' end`;
}
