/** A list as a file: CSV or XLSX with the columns that the screen shows. */
import { stringify } from 'csv-stringify/sync';
import { Refusal, guardCell } from '@terrace/core';

interface SheetColumn {
  readonly field: string;
  readonly title: string;
}

/** Columns as the query names them: `field:Title,field:Title`; each once. */
export function readColumns(text: string | undefined, row: Readonly<Record<string, unknown>> | undefined): SheetColumn[] {
  if (text === undefined || text === '') return Object.keys(row ?? {}).map((field) => ({ field, title: field }));
  const columns = new Map<string, SheetColumn>();
  for (const each of text.split(',')) {
    const [field = '', title = field] = each.split(':');
    if (!columns.has(field)) columns.set(field, { field, title });
  }
  return [...columns.values()];
}

const FIGURE = /^-?(0|[1-9]\d{0,11})(\.\d{1,6})?$/;

/** A cell that a spreadsheet would take for a formula is written as text. */
function safe(value: unknown): string | number {
  if (typeof value === 'number') return value;
  return guardCell(textOf(value));
}

/** A value as a cell's text. */
export function textOf(value: unknown): string {
  if (value === null || value === undefined) return '';
  return typeof value === 'string' ? value : JSON.stringify(value);
}

/** Writes rows as a file of the given kind. */
export async function writeSheet(
  kind: 'csv' | 'xlsx',
  columns: readonly SheetColumn[],
  rows: readonly Readonly<Record<string, unknown>>[],
): Promise<{ type: string; content: Buffer }> {
  if (columns.length === 0) throw new Refusal('noColumns', 'There is no column to write.');
  const cells = rows.map((row) => columns.map(({ field }) => safe(row[field])));
  return writeCells(
    kind,
    columns.map((each) => each.title),
    cells,
  );
}

/** Writes headings and cells; cells that are figures are numbers in a workbook, those of other columns where `figures` says so stay text. */
export async function writeCells(
  kind: 'csv' | 'xlsx',
  titles: readonly string[],
  cells: readonly (readonly (string | number)[])[],
  figures?: readonly boolean[],
): Promise<{ type: string; content: Buffer }> {
  if (kind === 'csv') {
    const content = stringify([titles.map(guardCell), ...cells]);
    return { type: 'text/csv; charset=utf-8', content: Buffer.from(`\uFEFF${content}`) };
  }
  // Rarely wanted: loaded at its first use.
  const { default: writeWorkbook } = await import('write-excel-file/node');
  const isFigure = (cell: string | number, column: number): boolean => typeof cell === 'number' || (figures?.[column] !== false && FIGURE.test(cell));
  const content = await writeWorkbook(
    [
      titles.map((value) => ({ value, type: String, fontWeight: 'bold' as const })),
      ...cells.map((row) =>
        row.map((cell, column) =>
          cell === '' ? null : isFigure(cell, column) ? { value: Number(cell), type: Number } : { value: String(cell), type: String },
        ),
      ),
    ],
    { sheet: 'List', columns: titles.map(() => ({ width: 16 })), stickyRowsCount: 1 },
  ).toBuffer();
  return { type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', content };
}
