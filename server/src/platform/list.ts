/**
 * Lists: one description of columns gives paging, sorting, finding and filtering by the database, and the same rows as
 * a file. Values are turned into the texts of the contract by their type.
 */
import { filterSchema, type ListQuery } from '@terrace/contract';
import { Refusal, parseAmount, parsePrice, parseQuantity, writeAmount, writePrice, writeQuantity } from '@terrace/core';
import type { Work } from './work';

type ColumnType = 'text' | 'number' | 'optionalNumber' | 'quantity' | 'price' | 'amount' | 'flag';

export interface Column {
  /** What is compared and sorted by. */
  readonly sql: string;
  readonly type: ColumnType;
  /** What is shown, where that is something else. */
  readonly written?: string;
  /** What it is sorted by, where that is not what it is compared by. */
  readonly sortedBy?: string;
  /** It is worked out after reading: nothing is sorted or filtered by it. */
  readonly afterwards?: boolean;
}

const column =
  (type: ColumnType) =>
  (sql: string): Column => ({ sql, type });
export const asText = column('text');
export const asNumber = column('number');
/** A number that may be missing. */
export const asOptionalNumber = column('optionalNumber');
export const asQuantityText = column('quantity');
export const asPriceText = column('price');
export const asAmountText = column('amount');
export const asFlag = column('flag');

export interface ListDefinition {
  readonly columns: Readonly<Record<string, Column>>;
  readonly from: string;
  /** The list's own table, for counting rows without the others where no condition speaks of them. */
  readonly countFrom?: string;
  readonly where?: string;
  readonly values?: readonly unknown[];
  /** How many rows there are where nothing is looked for or filtered, if that is known already. */
  readonly known?: number;
  /** Columns that words are looked for in. */
  readonly find: readonly string[];
  readonly order: string;
  /** Unique expression that settles ties, so that pages neither overlap nor miss. */
  readonly tie: string;
}

const WRITE: Readonly<Record<ColumnType, (value: unknown) => unknown>> = {
  text: (value) => value ?? null,
  number: (value) => Number(value ?? 0),
  optionalNumber: (value) => (value === null || value === undefined ? null : Number(value)),
  quantity: (value) => writeQuantity(Number(value ?? 0)),
  price: (value) => writePrice(Number(value ?? 0)),
  amount: (value) => writeAmount(Number(value ?? 0)),
  flag: (value) => value === 1,
};

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

const WRITTEN_BY: Readonly<Partial<Record<ColumnType, string>>> = {
  quantity: 'written_quantity',
  price: 'written_price',
  amount: 'written_amount',
};

/** What a column is compared and sorted by: a flag that says nothing is not raised. A plain column stays one, for its index. */
function comparedBy({ sql, type }: Column): string {
  return type === 'flag' && !/^\w+\.\w+$/.test(sql) ? `coalesce(${sql}, 0)` : sql;
}

/** What a column is looked into for words: what people see of it. */
function lookedInto(chosen: Column): string {
  const written = WRITTEN_BY[chosen.type];
  return chosen.written ?? (written === undefined ? chosen.sql : `${written}(${chosen.sql})`);
}

/** The sum of a column over all rows of a list, as it is narrowed. */
export function listSum(work: Work, definition: ListDefinition, query: ListQuery, name: string): number {
  const { where, values } = conditions(definition, query);
  const sql = definition.columns[name]?.sql ?? 'null';
  return work.row<{ sum: number | null }>(`select sum(${sql}) as sum from ${definition.from} ${where}`, ...values)?.sum ?? 0;
}

/**
 * A list of rows that are worked out, not kept: they are sorted, found and filtered by the database like all others.
 * Quantities are given as numbers, by their type.
 */
export function workedOut(rows: readonly object[], columns: Readonly<Record<string, (sql: string) => Column>>): ListDefinition {
  const spoken = Object.entries(columns).map(([name, as]) => [name, as(`json_extract(r.value, '$.${name}')`)] as const);
  return {
    columns: Object.fromEntries(spoken),
    from: 'json_each(?) r',
    values: [JSON.stringify(rows)],
    find: spoken.filter(([, { type }]) => type === 'text').map(([, { sql }]) => sql),
    order: 'r.key',
    tie: 'r.key',
  };
}

/** A page of rows and how many there are in all. */
export function listPage<Row>(work: Work, definition: ListDefinition, query: ListQuery): { rows: Row[]; total: number } {
  const { where, values, needsJoins } = conditions(definition, query);
  const fields = Object.entries(definition.columns);
  const select = fields.map(([name, { sql, written }]) => `${written ?? sql} as "${name}"`).join(', ');
  const raw = work.rows<Record<string, unknown>>(
    `select ${select} from ${definition.from} ${where} order by ${orderOf(definition, query)} limit ? offset ?`,
    ...values,
    query.limit,
    query.offset,
  );
  const rows = raw.map(
    (row) =>
      Object.fromEntries(
        fields.map(([name, { type, written }]) => [name, written === undefined ? WRITE[type](row[name]) : (row[name] ?? null)]),
      ) as Row,
  );
  if (query.offset === 0 && rows.length < query.limit) return { rows, total: rows.length };
  if (definition.known !== undefined && !query.find && !query.filter) return { rows, total: definition.known };
  const countFrom = needsJoins ? definition.from : (definition.countFrom ?? definition.from);
  const total = work.row<{ total: number }>(`select count(*) as total from ${countFrom} ${where}`, ...values)?.total ?? 0;
  return { rows, total };
}

function orderOf(definition: ListDefinition, query: ListQuery): string {
  if (query.sort === undefined) return `${definition.order}, ${definition.tie}`;
  const falling = query.sort.startsWith('-');
  const name = falling ? query.sort.slice(1) : query.sort;
  const chosen = definition.columns[name];
  if (!chosen || chosen.afterwards === true) throw new Refusal('unknownField', `This list has no column ${name} to sort by.`, { field: 'sort' });
  return `${chosen.sortedBy ?? comparedBy(chosen)} ${falling ? 'desc' : 'asc'}, ${definition.tie}`;
}

function conditions(definition: ListDefinition, query: ListQuery): { where: string; values: unknown[]; needsJoins: boolean } {
  const parts: string[] = definition.where === undefined ? [] : [definition.where];
  const values: unknown[] = [...(definition.values ?? [])];
  const given = parts.length;
  for (const word of (query.find ?? '').trim().split(/\s+/).filter(Boolean)) {
    parts.push(`(${definition.find.map((sql) => `${sql} like ? escape '\\'`).join(' or ')})`);
    values.push(...definition.find.map(() => `%${escapeLike(word)}%`));
  }
  for (const [name, { op, value }] of Object.entries(readFilter(query.filter))) {
    const chosen = definition.columns[name];
    if (!chosen || chosen.afterwards === true) throw new Refusal('unknownField', `This list has no column ${name} to filter by.`, { field: name });
    const several = Array.isArray(value) ? value : [value];
    const first = several[0] ?? '';
    const compared = comparedBy(chosen);
    if (op === 'contains') parts.push(`${lookedInto(chosen)} like ? escape '\\'`);
    else if (op === 'equals') parts.push(`${compared} = ?`);
    else if (op === 'atLeast') parts.push(`${compared} >= ?`);
    else if (op === 'atMost') parts.push(`${compared} <= ?`);
    else parts.push(`${compared} in (${several.map(() => '?').join(', ')})`);
    if (op === 'contains') values.push(`%${escapeLike(first)}%`);
    else values.push(...(op === 'among' ? several : [first]).map((each) => READ[chosen.type](each)));
  }
  return {
    where: parts.length === 0 ? '' : `where ${parts.join(' and ')}`,
    values,
    needsJoins: parts.slice(given).some((part) => !isOf(part, aliasOf(definition))),
  };
}

/** The alias of the list's own table: the last word of its smaller FROM. */
function aliasOf(definition: ListDefinition): string {
  return (definition.countFrom ?? '').split(' ').pop() ?? '';
}

/** Whether a condition speaks of one table alone. */
function isOf(part: string, alias: string): boolean {
  return !part.includes('select') && [...part.matchAll(/\b([a-z])\./g)].every(([, used]) => used === alias);
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

function escapeLike(word: string): string {
  return word.replace(/[\\%_]/g, (sign) => `\\${sign}`);
}
