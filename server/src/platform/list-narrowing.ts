/** How a list is looked at: the words that are found in it, its filters and its order, as conditions with values named. */
import { asc, between, desc, eq, gte, inArray, lte, or, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import { filterSchema, type ListQuery } from '@terrace/contract';
import { Refusal, ownOf, parseAmount, parsePrice, parseQuantity } from '@terrace/core';
import { isPlain } from './expressions';
import type { Column, ColumnType, Expression, ListDefinition } from './list-definition';

function readNumber(text: string): number {
  const read = text.trim() === '' ? NaN : Number(text);
  if (!Number.isFinite(read)) throw new Refusal('notANumber', `“${text}” is no number to filter by.`, { field: 'filter' });
  return read;
}

const READ: Readonly<Record<ColumnType, (text: string) => unknown>> = {
  text: (text) => text,
  number: readNumber,
  optionalNumber: readNumber,
  quantity: (text) => parseQuantity(text, 5, 'the figure to filter by'),
  price: (text) => parsePrice(text, 'the figure to filter by'),
  amount: (text) => parseAmount(text, 'the figure to filter by'),
  flag: (text) => (text === 'true' ? 1 : 0),
};

const WRITTEN_BY: Readonly<Partial<Record<ColumnType, (of: Expression) => SQL>>> = {
  quantity: (of) => sql`written_quantity(${of})`,
  price: (of) => sql`written_price(${of})`,
  amount: (of) => sql`written_amount(${of})`,
};

/** What a column is compared and sorted by: a flag that says nothing is not raised. A plain column stays one, for its index. */
function comparedBy({ of, type }: Column): Expression {
  return type === 'flag' && !isPlain(of) ? sql`coalesce(${of}, 0)` : of;
}

/** What a column is looked into for words: what people see of it. */
function lookedInto(chosen: Column): Expression {
  return chosen.written ?? WRITTEN_BY[chosen.type]?.(chosen.of) ?? chosen.of;
}

const like = (expression: Expression, value: SQL): SQL => sql`${expression} like ${value} escape '\\'`;

/** Names of what a list binds besides its own values; a stroke, so that none is a value's. */
const WORD = 'list-word-';
const FILTER = 'list-filter-';
export const placeNamed = (name: string): SQL => sql`${sql.placeholder(name)}`;

interface Filter {
  readonly name: string;
  readonly op: string;
  readonly values: readonly string[];
}

export interface Narrowed {
  readonly words: readonly string[];
  readonly filters: readonly Filter[];
}

export function narrowed(query: ListQuery): Narrowed {
  return {
    words: (query.find ?? '').trim().split(/\s+/).filter(Boolean),
    filters: Object.entries(readFilter(query.filter)).map(([name, { op, value }]) => {
      const several = Array.isArray(value) ? value : [value];
      return { name, op, values: op === 'among' ? several : op === 'between' ? [several[0] ?? '', several[1] ?? ''] : [several[0] ?? ''] };
    }),
  };
}

function columnOf(definition: ListDefinition, name: string, what: 'sort' | 'filter'): Column {
  const chosen = ownOf(definition.columns, name);
  if (!chosen || chosen.afterwards === true)
    throw new Refusal('unknownField', `This list has no column ${name} to ${what} by.`, { field: what === 'sort' ? 'sort' : name });
  return chosen;
}

/** The conditions that a look at the list adds, with their values named. */
export function conditions(definition: ListDefinition, { words, filters }: Narrowed): SQL[] {
  return [
    ...words.map((_, index) => or(...definition.find.map((each) => like(each, placeNamed(`${WORD}${index}`)))) ?? sql`0`),
    ...filters.map(({ name, op, values }, index) => {
      const chosen = columnOf(definition, name, 'filter');
      const compared = sql`${comparedBy(chosen)}`;
      const value = (place = 0): SQL => placeNamed(`${FILTER}${index}-${place}`);
      if (op === 'contains') return like(lookedInto(chosen), value());
      if (op === 'equals') return eq(compared, value());
      if (op === 'atLeast') return gte(compared, value());
      if (op === 'atMost') return lte(compared, value());
      if (op === 'between') return between(compared, value(0), value(1));
      return inArray(
        compared,
        values.map((_, place) => value(place)),
      );
    }),
  ];
}

export function boundTo(definition: ListDefinition, { words, filters }: Narrowed): Record<string, unknown> {
  const bound: Record<string, unknown> = {};
  words.forEach((word, index) => (bound[`${WORD}${index}`] = `%${escapeLike(word)}%`));
  filters.forEach(({ name, op, values }, index) => {
    const { type } = columnOf(definition, name, 'filter');
    values.forEach((text, place) => {
      bound[`${FILTER}${index}-${place}`] = op === 'contains' ? `%${escapeLike(text)}%` : READ[type](text);
    });
  });
  return bound;
}

export function orderOf(definition: ListDefinition, sort: string | undefined): (SQL | SQLiteColumn)[] {
  if (sort === undefined) return [...definition.order, ...definition.tie];
  const falling = sort.startsWith('-');
  const chosen = columnOf(definition, falling ? sort.slice(1) : sort, 'sort');
  const by = chosen.sortedBy ?? comparedBy(chosen);
  return [(falling ? desc : asc)(by), ...definition.tie];
}

function readFilter(text: string | undefined): Readonly<Record<string, { op: string; value: string | string[] }>> {
  if (text === undefined || text === '') return {};
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new Refusal('badFilter', 'The filter is not JSON.', { field: 'filter' });
  }
  const read = filterSchema.safeParse(json);
  if (!read.success) throw new Refusal('badFilter', 'The filter names an unknown comparison.', { field: 'filter' });
  return read.data;
}

/** A text as a pattern looks for it, letter by letter. */
export function escapeLike(word: string): string {
  return word.replace(/[\\%_]/g, (sign) => `\\${sign}`);
}
