/** A list as a file: CSV or XLSX with the columns that the screen shows. */
import { stringify } from 'csv-stringify/sync';
import { Refusal } from '@terrace/core';

interface SheetColumn {
  readonly field: string;
  readonly title: string;
}

/** Columns as the query names them: `field:Title,field:Title`. */
export function readColumns(text: string | undefined, row: Readonly<Record<string, unknown>> | undefined): SheetColumn[] {
  if (text === undefined || text === '') return Object.keys(row ?? {}).map((field) => ({ field, title: field }));
  return text.split(',').map((each) => {
    const [field = '', title = field] = each.split(':');
    return { field, title };
  });
}

/** A cell that a spreadsheet would take for a formula is written as text. */
function safe(value: unknown): string | number {
  if (typeof value === 'number') return value;
  const text = value === null || value === undefined ? '' : typeof value === 'string' ? value : JSON.stringify(value);
  return /^[=+@\t\r]|^-(?!\d)/.test(text) ? `'${text}` : text;
}

/** Writes rows as a file of the given kind. */
export async function writeSheet(
  kind: 'csv' | 'xlsx',
  columns: readonly SheetColumn[],
  rows: readonly Readonly<Record<string, unknown>>[],
): Promise<{ type: string; content: Buffer }> {
  if (columns.length === 0) throw new Refusal('noColumns', 'There is no column to write.');
  const cells = rows.map((row) => columns.map(({ field }) => safe(row[field])));
  if (kind === 'csv') {
    const content = stringify([columns.map((each) => each.title), ...cells]);
    return { type: 'text/csv; charset=utf-8', content: Buffer.from(`\uFEFF${content}`) };
  }
  // Heavy, and rarely wanted: loaded at its first use.
  const { default: excel } = await import('exceljs');
  const book = new excel.Workbook();
  const sheet = book.addWorksheet('List', { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.addRow(columns.map((each) => each.title)).font = { bold: true };
  for (const row of cells)
    sheet.addRow(row.map((cell) => (typeof cell === 'string' && /^-?\d{1,12}(\.\d{1,6})?$/.test(cell) && !/^0\d/.test(cell) ? Number(cell) : cell)));
  sheet.columns.forEach((each) => (each.width = 16));
  return { type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', content: Buffer.from(await book.xlsx.writeBuffer()) };
}
