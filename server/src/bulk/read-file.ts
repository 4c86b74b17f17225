/** Reads a CSV or XLSX file as rows of cells, and refuses what is no such file, is too large, or would unpack too large. */
import { readFileSync } from 'node:fs';
import { CsvError, parse } from 'csv-parse/sync';
import { Refusal } from '@terrace/core';
import { readWorkbook } from './read-xlsx';

export type FileType = 'csv' | 'xlsx';

export interface SheetRow {
  /** Number in the file. */
  readonly number: number;
  readonly cells: readonly string[];
}

export interface Sheet {
  readonly headings: readonly string[];
  readonly rows: readonly SheetRow[];
}

const MOST_ROWS = 250_000;
const MOST_COLUMNS = 200;
const MOST_IN_HEADING = 120;
/** As much text as a cell of a workbook can hold. */
export const MOST_IN_CELL = 32_767;
const MOST_IN_ROW = 1_000_000;
const MOST_SAID = 60;
const ZIP = Buffer.from([0x50, 0x4b, 0x03, 0x04]);

/** The type that name and content agree on. Refuses `notWhatItSays`. */
export function fileTypeOf(name: string, content: Buffer): FileType {
  const ending = name.split('.').pop()?.toLowerCase() ?? '';
  const zipped = content.subarray(0, 4).equals(ZIP);
  if (ending === 'xlsx' && zipped) return 'xlsx';
  if ((ending === 'csv' || ending === 'txt') && !zipped && !content.subarray(0, 4096).includes(0)) return 'csv';
  if ((ending === 'csv' || ending === 'txt') && isWide(content)) return 'csv';
  throw new Refusal(
    'notWhatItSays',
    ending === 'xlsx' || ending === 'csv'
      ? `"${clip(name)}" is not what it says: its content is no ${ending.toUpperCase()}. Save it again from the program that made it.`
      : `"${clip(name)}" can't be read: CSV and XLSX files can.`,
    { field: 'file' },
  );
}

/** A text as it may be repeated to people: its beginning, where it is long. */
export function clip(text: string): string {
  return text.length > MOST_SAID ? `${text.slice(0, MOST_SAID - 1)}…` : text;
}

function isWide(content: Buffer): boolean {
  return content[0] === 0xff && content[1] === 0xfe;
}

/** Reads a file. Refuses `wrongEncoding`, `noHeadings`, `twoHeadings`, `tooManyRows`, `tooLarge`, `unreadable`. */
export async function readSheet(path: string, type: FileType): Promise<Sheet> {
  const rows = type === 'csv' ? readCsv(readFileSync(path)) : await readXlsx(path);
  const [first, ...rest] = rows;
  const headings = (first?.cells ?? []).map((each) => each.trim());
  while (headings.at(-1) === '') headings.pop();
  if (headings.length === 0) throw new Refusal('noHeadings', 'The first row has no headings: put the names of the columns there.', { field: 'file' });
  if (headings.length > MOST_COLUMNS)
    throw new Refusal('tooLarge', `The file has ${headings.length} columns; the most is ${MOST_COLUMNS}.`, { field: 'file' });
  const long = headings.findIndex((each) => each.length > MOST_IN_HEADING);
  if (long >= 0)
    throw new Refusal(
      'tooLarge',
      `The heading of column ${long + 1}, "${clip(headings[long] ?? '')}", has ${headings[long]?.length ?? 0} characters; the most is ${MOST_IN_HEADING}. Put names of columns into the first row.`,
      { field: 'file' },
    );
  const full = rest.find((row) => row.cells.some((cell) => cell.length > MOST_IN_CELL));
  if (full) throw new Refusal('tooLarge', `A cell in row ${full.number} holds more than ${MOST_IN_CELL} characters.`, { field: 'file' });
  const twice = headings.find((each, index) => each !== '' && headings.indexOf(each) !== index);
  if (twice !== undefined) throw new Refusal('twoHeadings', `Two columns are called "${clip(twice)}": name them apart.`, { field: 'file' });
  return { headings, rows: rest.filter((row) => row.cells.some((cell) => cell.trim() !== '')) };
}

function readCsv(content: Buffer): SheetRow[] {
  const wide = isWide(content);
  let text: string;
  try {
    text = new TextDecoder(wide ? 'utf-16le' : 'utf-8', { fatal: true }).decode(content);
  } catch (error) {
    if (!(error instanceof TypeError)) throw error;
    throw new Refusal('wrongEncoding', `The file is not in UTF-8 (line ${badLine(content)} can’t be read): save it as "CSV UTF-8".`, {
      field: 'file',
    });
  }
  try {
    const records = parse(text, {
      bom: true,
      delimiter: delimiterOf(text),
      relax_column_count: true,
      skip_empty_lines: false,
      to: MOST_ROWS + 2,
      max_record_size: MOST_IN_ROW,
    });
    if (records.length > MOST_ROWS + 1) throw tooMany();
    return records.map((cells, index) => ({ number: index + 1, cells }));
  } catch (error) {
    if (error instanceof Refusal) throw error;
    if (error instanceof CsvError && error.code === 'CSV_MAX_RECORD_SIZE')
      throw new Refusal(
        'tooLarge',
        `A row of the file holds more than ${MOST_IN_ROW} characters, which is no row of data: look for a quotation mark that is not closed.`,
        { field: 'file' },
      );
    throw new Refusal('unreadable', `The file can’t be read as CSV: ${clip(error instanceof Error ? error.message : 'it is broken')}.`, {
      field: 'file',
    });
  }
}

function tooMany(): Refusal {
  return new Refusal('tooManyRows', `The file has more than ${MOST_ROWS} rows: cut it into several.`, { field: 'file' });
}

/** The first line that is no UTF-8. */
function badLine(content: Buffer): number {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  let line = 1;
  for (let start = 0; start < content.length; line += 1) {
    const end = content.indexOf(0x0a, start);
    try {
      decoder.decode(content.subarray(start, end < 0 ? content.length : end));
    } catch (error) {
      if (error instanceof TypeError) return line;
      throw error;
    }
    if (end < 0) break;
    start = end + 1;
  }
  return line;
}

/** Comma, semicolon or tab: whichever the headings have most of. */
function delimiterOf(text: string): string {
  const first = text.slice(0, Math.min(MOST_IN_ROW, Math.max(0, text.indexOf('\n')) || text.length)).replace(/"[^"]*"/g, '');
  return [',', ';', '\t'].map((sign) => ({ sign, count: first.split(sign).length })).sort((a, b) => b.count - a.count)[0]?.sign ?? ',';
}

async function readXlsx(path: string): Promise<readonly SheetRow[]> {
  const rows = await readWorkbook(path, MOST_ROWS + 1, MOST_COLUMNS);
  if (rows.length > MOST_ROWS + 1) throw tooMany();
  return rows;
}
