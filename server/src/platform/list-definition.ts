/** What is said of a list: its columns with their types, its tables and how it is ordered. */
import type { SQL, Subquery } from 'drizzle-orm';
import type { SQLiteColumn, SQLiteTable } from 'drizzle-orm/sqlite-core';
import type { Store } from './database';
import type { Ready } from './query';

export type ColumnType = 'text' | 'number' | 'optionalNumber' | 'quantity' | 'price' | 'amount' | 'flag';
export type Expression = SQLiteColumn | SQL | SQL.Aliased;

export interface Column {
  /** What is compared and sorted by. */
  readonly of: Expression;
  readonly type: ColumnType;
  /** What is shown, where that is something else. */
  readonly written?: Expression;
  /** What it is sorted by, where that is not what it is compared by. */
  readonly sortedBy?: Expression;
  /** It is worked out after reading: nothing is sorted or filtered by it. */
  readonly afterwards?: boolean;
}

const column =
  (type: ColumnType) =>
  (of: Expression): Column => ({ of, type });
export const asText = column('text');
export const asNumber = column('number');
/** A number that may be missing. */
export const asOptionalNumber = column('optionalNumber');
export const asQuantityText = column('quantity');
export const asPriceText = column('price');
export const asAmountText = column('amount');
export const asFlag = column('flag');

export type Joinable = SQLiteTable | Subquery;

/** A table that stands beside the list's own. */
export interface Join {
  readonly table: Joinable;
  readonly on: SQL;
  /** `left` where a row may have none. */
  readonly left: boolean;
  /** Rows without one are not of the list: it is joined whether a column speaks of it or not. */
  readonly always?: boolean;
}

/** The one row that each row of the list refers to: left out where no column in use speaks of it. */
export const refersTo = (table: Joinable, on: SQL): Join => ({ table, on, left: false });
/** A row that there must be for a row to be of the list. */
export const pairedWith = (table: Joinable, on: SQL): Join => ({ table, on, left: false, always: true });
/** The row that a row of the list may refer to. */
export const mayReferTo = (table: Joinable, on: SQL): Join => ({ table, on, left: true });

export interface ListDefinition {
  readonly columns: Readonly<Record<string, Column>>;
  readonly from: Joinable | SQL;
  readonly joins?: readonly Join[];
  /** Pairs each row of `from` with each row of this table. */
  readonly times?: SQLiteTable;
  readonly where?: SQL | undefined;
  /** Expressions that words are looked for in. */
  readonly find: readonly Expression[];
  readonly order: readonly (SQL | SQLiteColumn)[];
  /** Unique expressions that settle ties, so that pages neither overlap nor miss. */
  readonly tie: readonly (SQL | SQLiteColumn)[];
}

/** Columns that a list has besides those it was said with, such as fields of the company's own. */
export interface MoreColumns {
  /** Differs wherever the columns do. */
  readonly key: string;
  readonly columns: Readonly<Record<string, Column>>;
  readonly find: readonly Expression[];
}

/** What a list is given: values left out are not spoken of, and the description can ask which ones are there. */
export type Values = Readonly<Record<string, unknown>>;
type Has<V> = (name: keyof V) => boolean;

/** The names of all values, given or not: a description speaks only of those that are there. */
export type Names<V> = { readonly [K in keyof V]-?: Exclude<V[K], undefined> };

export interface List<V extends object> {
  readonly define: ($: Names<V>, has: Has<V>) => ListDefinition;
  readonly made: WeakMap<Store, Map<string, Ready>>;
  /** What it is, by what it is given and what the company added to it. */
  readonly defined: WeakMap<Store, Map<string, ListDefinition>>;
}

/** Says a list. `has` tells which of the values that may be left out are given. */
export function list<V extends object = Record<never, never>>(define: ($: Names<V>, has: Has<V>) => ListDefinition): List<V> {
  return { define, made: new WeakMap(), defined: new WeakMap() };
}
