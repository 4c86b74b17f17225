/** What can come in and go out as a file: columns, how rows become records, and how records become rows. */
import { Refusal, readDateCell, readNumberCell, readYesNoCell, unguardCell, type CellHabits } from '@terrace/core';
import type { ImportKind } from '@terrace/contract';
import { eq } from 'drizzle-orm';
import { customer, item, supplier } from '../catalogue';
import { sameText } from '../platform/expressions';
import { query } from '../platform/query';
import type { Change, Work } from '../platform/work';
import { priceList } from '../selling';
import { NUMBER_MARK } from './read-xlsx';

export interface FileColumn {
  readonly key: string;
  readonly title: string;
  readonly type: 'text' | 'number' | 'whole' | 'date' | 'yesNo';
  readonly needed?: boolean;
  readonly hint?: string;
  /** Other headings by which it is recognised. */
  readonly known?: readonly string[];
}

export interface Taken {
  readonly outcome: 'added' | 'changed' | 'same';
  readonly name: string;
  readonly changes: readonly Change[];
}

export interface FileKind {
  readonly kind: ImportKind;
  readonly title: string;
  /** Rows with the same value here belong to one record and are taken together. */
  readonly together?: (row: Row) => string;
  /** A few rows of a made-up company, by which somebody sees how such a file is filled in. */
  readonly sample: readonly Readonly<Record<string, string>>[];
  readonly columns: (work: Work) => readonly FileColumn[];
  /** Takes rows of one record; `source` names the import in its history. */
  readonly take: (work: Work, rows: readonly Row[], source: string) => Taken;
  /** What is there, as rows that would come in again without a change. */
  readonly rows: (work: Work) => Readonly<Record<string, string>>[];
}

/** Empties a field; an empty cell leaves it as it is. */
const EMPTIED = '-';

/** One row of a file: its cells by column, read by the file's habits when they are asked for. */
export class Row {
  constructor(
    /** Number in the file; the headings are row 1. */
    readonly number: number,
    private readonly cells: Readonly<Record<string, string>>,
    private readonly habits: CellHabits,
    private readonly columns: ReadonlyMap<string, FileColumn>,
  ) {}

  /** Whether the file says anything of a column. */
  has(key: string): boolean {
    return (this.cells[key] ?? '') !== '';
  }

  /** The same row under other columns' names, for what a file of another kind would say of it. */
  as(names: Readonly<Record<string, string>>, columns: readonly FileColumn[]): Row {
    const cells = Object.fromEntries(Object.entries(names).flatMap(([to, from]) => (this.cells[from] === undefined ? [] : [[to, this.cells[from]]])));
    return new Row(this.number, cells, this.habits, new Map(columns.map((column) => [column.key, column])));
  }

  /** The value in its plain form: text, plain decimals, ISO dates, yes or no; empty where nothing is said or it is to be emptied. */
  get(key: string): string {
    const cell = this.cells[key] ?? '';
    const column = this.columns.get(key);
    if (cell === '') return '';
    if (cell === EMPTIED) return '';
    if (cell.startsWith(NUMBER_MARK)) return this.plainNumber(cell.slice(1), column);
    try {
      if (column?.type === 'number') return readNumberCell(cell, this.habits);
      if (column?.type === 'date') return readDateCell(cell, this.habits);
      if (column?.type === 'yesNo') return readYesNoCell(cell) ? 'yes' : 'no';
      if (column?.type === 'whole') {
        const whole = readNumberCell(cell, this.habits);
        if (!/^\d{1,9}$/.test(whole)) throw new Refusal('notWhole', `"${cell}" is no whole number.`);
        return whole;
      }
      return unguardCell(cell);
    } catch (error) {
      if (error instanceof Refusal) throw new Refusal(error.code, error.message, { ...error.details, field: key });
      throw error;
    }
  }

  /** A cell of a workbook that is a number already: only a date must not be one. */
  private plainNumber(text: string, column: FileColumn | undefined): string {
    if (column?.type === 'date')
      throw new Refusal('badDate', `"${text}" is a number and no date: give the cell a date format.`, { field: column.key });
    if (column?.type === 'yesNo') return readYesNoCell(text) ? 'yes' : 'no';
    if (column?.type === 'whole' && !/^\d{1,9}$/.test(text)) throw new Refusal('notWhole', `"${text}" is no whole number.`, { field: column.key });
    return text;
  }

  /** The column of the first cell with a formula, or nothing. */
  get formula(): string {
    return Object.keys(this.cells).find((key) => this.cells[key]?.startsWith('=')) ?? '';
  }

  /** What the row is called where it can't be read. */
  get name(): string {
    return (this.cells['code'] ?? this.cells['item'] ?? '').replace(NUMBER_MARK, '');
  }

  /** A value that has to be there. Refuses `missing`. */
  need(key: string): string {
    const value = this.get(key);
    if (value === '') throw new Refusal('missing', `${this.columns.get(key)?.title ?? key} is missing.`, { field: key });
    return value;
  }

  /** The value, or what is there already where the file says nothing. */
  or(key: string, otherwise: string): string {
    return this.has(key) ? this.get(key) : otherwise;
  }
}

type Coded = 'item' | 'supplier' | 'customer' | 'priceList';
const WORDS: Readonly<Record<Coded, string>> = { item: 'item', supplier: 'supplier', customer: 'customer', priceList: 'price list' };
/** By the code as it is written; where there is none, whatever its capital letters. */
const finders = (table: typeof item | typeof supplier | typeof customer | typeof priceList) => ({
  exactly: query(($: { code: string }) => (db) => db.select({ id: table.id }).from(table).where(eq(table.code, $.code))),
  nearly: query(($: { code: string }) => (db) => db.select({ id: table.id }).from(table).where(sameText(table.code, $.code))),
  everyId: query(() => (db) => db.select({ id: table.id }).from(table).orderBy(table.code)),
});
const FINDERS = { item: finders(item), supplier: finders(supplier), customer: finders(customer), priceList: finders(priceList) };

/** The id of a record with a code, whatever its capital letters. */
export function idCalled(work: Work, table: Coded, code: string): number | undefined {
  return FINDERS[table].nearly.one(work, { code })?.id;
}

/** The ids of all records of a table, by their codes. */
export function everyId(work: Work, table: Coded): number[] {
  return FINDERS[table].everyId.all(work).map((each) => each.id);
}

/** The id of a record that a cell names by its code. Refuses `unknownCode`. */
export function idByCode(work: Work, table: Coded, row: Row, key: string): number {
  const code = row.need(key);
  const id = FINDERS[table].exactly.one(work, { code })?.id ?? idCalled(work, table, code);
  if (id === undefined) throw new Refusal('unknownCode', `There is no ${WORDS[table]} "${code}".`, { field: key });
  return id;
}
