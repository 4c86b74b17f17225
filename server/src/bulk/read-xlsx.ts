/**
 * The rows of a workbook's first sheet, read part by part from the packed file: nothing is unpacked that is not needed,
 * and no part may say less than it holds.
 */
import { SaxesParser, type SaxesTagPlain } from 'saxes';
import { Refusal, dateOf, dayOf } from '@terrace/core';
import { Packed, type Packing } from '../platform/packed';

export interface WorkbookRow {
  /** Number in the sheet. */
  readonly number: number;
  readonly cells: readonly string[];
}

/** Marks a cell that holds a number and no text, so that it is not read by anybody's decimal sign. */
export const NUMBER_MARK = '\u0001';

const MOST_UNPACKED = 400 * 1024 * 1024;
const MOST_PARTS = 2000;
/** As much text as a cell of a workbook can hold. */
const MOST_IN_CELL = 32_767;
/** Bytes from one tag to the next: a full cell with every letter written out as a number. */
const MOST_BETWEEN_TAGS = 400_000;
const MOST_CELLS = 10_000_000;
/** What unpacks to so many times its size is no sheet that somebody filled, unless it is small all the same. */
const MOST_TIMES_LARGER = 100;
const SMALL = 30 * 1024 * 1024;
const TAG = 0x3c;
/** The day before the first of the two day counts that workbooks have; 1900 counts a leap day that never was. */
const DAY_ZERO = { 1900: '1899-12-30', 1904: '1904-01-01' };
/** Number formats that every workbook has for dates. */
const BUILT_IN_DATES = new Set([14, 15, 16, 17, 18, 19, 20, 21, 22, 27, 30, 36, 45, 46, 47, 50, 57]);

const tooLarge = (words: string): Refusal => new Refusal('tooLarge', words, { field: 'file' });
const unreadable = (error: unknown): Refusal =>
  error instanceof Refusal
    ? error
    : new Refusal('unreadable', `The file can’t be read as XLSX: ${error instanceof Error ? error.message : 'it is broken'}. Save it again.`, {
        field: 'file',
      });

/** Reads the first sheet's rows, at most one more than `most`. Refuses `tooLarge`, `unreadable`. */
export async function readWorkbook(path: string, most: number, mostColumns: number): Promise<WorkbookRow[]> {
  const parts = await Parts.open(path);
  try {
    const { sheets, since1904 } = await workbookOf(parts);
    const targets = await targetsOf(parts);
    const [first] = sheets;
    const target = first === undefined ? undefined : targets.get(first);
    if (target === undefined) throw new Error('it has no sheet');
    const texts = await textsOf(parts);
    const dates = await dateStylesOf(parts);
    return await rowsOf(parts, target, { texts, dates, zero: dayOf(DAY_ZERO[since1904 ? 1904 : 1900]) }, most, mostColumns);
  } catch (error) {
    throw unreadable(error);
  } finally {
    parts.close();
  }
}

function assertNoBomb({ parts, said, packed }: Packing): void {
  if (said > SMALL && said > packed * MOST_TIMES_LARGER)
    throw tooLarge(`The file would unpack to more than ${MOST_TIMES_LARGER} times its size: that is no sheet of data.`);
  if (parts > MOST_PARTS || said > MOST_UNPACKED) throw tooLarge('The file would unpack to more than 400 MB: that is no sheet of data.');
}

/** The parts of a workbook by their names; what is unpacked of all of them together has a limit. */
class Parts {
  private unpacked = 0;
  private constructor(private readonly packed: Packed) {}

  static async open(path: string): Promise<Parts> {
    try {
      return new Parts(await Packed.open(path, assertNoBomb));
    } catch (error) {
      throw unreadable(error);
    }
  }

  /** Parses a part; says whether there is one. */
  async parse(
    name: string,
    hear: { open?: (tag: SaxesTagPlain) => void; text?: (text: string) => void; close?: (name: string) => void },
  ): Promise<boolean> {
    const stream = this.packed.read(name);
    if (!stream) return false;
    const parser = new SaxesParser();
    const { open, text, close } = hear;
    parser.on('error', (error) => {
      throw error;
    });
    if (open) parser.on('opentag', (tag) => open({ ...tag, name: bare(tag.name) }));
    if (text) parser.on('text', text);
    if (close) parser.on('closetag', (tag) => close(bare(tag.name)));
    const decoder = new TextDecoder('utf-8', { fatal: true });
    let between = 0;
    for await (const chunk of await stream) {
      this.unpacked += (chunk as Buffer).length;
      if (this.unpacked > MOST_UNPACKED) throw tooLarge('The file unpacks to more than 400 MB: that is no sheet of data.');
      between = assertShortRuns(chunk as Buffer, between);
      parser.write(decoder.decode(chunk as Buffer, { stream: true }));
    }
    parser.write(decoder.decode()).close();
    return true;
  }

  close(): void {
    this.packed.close();
  }
}

/** Refuses a text or tag that is longer than any can be, before it is put together: gives what stands since the last tag. */
function assertShortRuns(chunk: Buffer, before: number): number {
  let between = before;
  for (let from = 0; ;) {
    const at = chunk.indexOf(TAG, from);
    between += (at < 0 ? chunk.length : at) - from;
    if (between > MOST_BETWEEN_TAGS) throw tooLarge(`A cell holds more than ${MOST_IN_CELL} characters, which is more than a sheet can hold.`);
    if (at < 0) return between;
    between = 0;
    from = at + 1;
  }
}

/** A tag's name without what some programs put before it. */
const bare = (name: string): string => name.slice(name.indexOf(':') + 1);

async function workbookOf(parts: Parts): Promise<{ sheets: string[]; since1904: boolean }> {
  const sheets: string[] = [];
  let since1904 = false;
  await parts.parse('xl/workbook.xml', {
    open: ({ name, attributes }) => {
      if (name === 'workbookPr') since1904 = ['1', 'true'].includes(attributes['date1904'] ?? '');
      if (name === 'sheet') sheets.push(attributes['r:id'] ?? Object.entries(attributes).find(([key]) => key.endsWith(':id'))?.[1] ?? '');
    },
  });
  return { sheets, since1904 };
}

/** Where the parts are that the workbook speaks of. */
async function targetsOf(parts: Parts): Promise<Map<string, string>> {
  const targets = new Map<string, string>();
  await parts.parse('xl/_rels/workbook.xml.rels', {
    open: ({ name, attributes }) => {
      if (name !== 'Relationship') return;
      const target = attributes['Target'] ?? '';
      targets.set(attributes['Id'] ?? '', target.startsWith('/') ? target.slice(1) : `xl/${target}`);
    },
  });
  return targets;
}

/** Texts that cells share; how a reading is pronounced is left out. */
async function textsOf(parts: Parts): Promise<string[]> {
  const texts: string[] = [];
  let [text, within, pronounced] = ['', false, false];
  await parts.parse('xl/sharedStrings.xml', {
    open: ({ name }) => {
      if (name === 'si') text = '';
      if (name === 'rPh') pronounced = true;
      if (name === 't') within = true;
    },
    text: (more) => {
      if (within && !pronounced) text = longer(text, more);
    },
    close: (name) => {
      if (name === 'si') texts.push(text);
      if (name === 'rPh') pronounced = false;
      if (name === 't') within = false;
    },
  });
  return texts;
}

/** Which of the cells' styles are dates. */
async function dateStylesOf(parts: Parts): Promise<boolean[]> {
  const formats = new Map<number, boolean>();
  const styles: boolean[] = [];
  let within = false;
  await parts.parse('xl/styles.xml', {
    open: ({ name, attributes }) => {
      if (name === 'numFmt') formats.set(Number(attributes['numFmtId']), isDateFormat(attributes['formatCode'] ?? ''));
      if (name === 'cellXfs') within = true;
      if (name !== 'xf' || !within) return;
      const format = Number(attributes['numFmtId'] ?? 0);
      styles.push(formats.get(format) ?? BUILT_IN_DATES.has(format));
    },
    close: (name) => {
      if (name === 'cellXfs') within = false;
    },
  });
  return styles;
}

/** Whether a format shows days, months or years; texts in it, colours and conditions do not count. */
function isDateFormat(code: string): boolean {
  return /[dmy]/i.test(code.replace(/"[^"]*"|\\.|\[[^\]]*\]|_./g, '')) && !/general/i.test(code);
}

interface Reading {
  readonly texts: readonly string[];
  readonly dates: readonly boolean[];
  readonly zero: number;
}

async function rowsOf(parts: Parts, part: string, reading: Reading, most: number, mostColumns: number): Promise<WorkbookRow[]> {
  const rows: WorkbookRow[] = [];
  let cells: string[] = [];
  let [number, column, type, style] = [0, -1, '', 0];
  let count = 0;
  let [value, formula, inValue, inFormula, hasFormula] = ['', '', false, false, false];
  const there = await parts.parse(part, {
    open: ({ name, attributes }) => {
      switch (name) {
        case 'row':
          number = Number(attributes['r'] ?? number + 1);
          cells = [];
          column = -1;
          break;
        case 'c':
          count += 1;
          if (count > MOST_CELLS) throw tooLarge(`The sheet has more than ${MOST_CELLS} cells: cut it into several.`);
          column = attributes['r'] === undefined ? column + 1 : columnOf(attributes['r']);
          [type, style, value, formula, hasFormula] = [attributes['t'] ?? 'n', Number(attributes['s'] ?? 0), '', '', false];
          break;
        case 'v':
        case 't':
          inValue = true;
          break;
        case 'f':
          [inFormula, hasFormula] = [true, true];
          break;
      }
    },
    text: (more) => {
      if (inValue) value = longer(value, more);
      if (inFormula) formula = longer(formula, more);
    },
    close: (name) => {
      switch (name) {
        case 'v':
        case 't':
          inValue = false;
          break;
        case 'f':
          inFormula = false;
          break;
        case 'c':
          // One more than the most is kept, so that it can be refused.
          if (column <= mostColumns) cells[column] = hasFormula ? `=${formula}` : cellText(type, value, style, reading);
          break;
        case 'row':
          if (rows.length <= most) rows.push({ number, cells: Array.from(cells, (each) => each ?? '') });
          break;
      }
    },
  });
  if (!there) throw new Error('its first sheet is missing');
  return rows;
}

function longer(text: string, more: string): string {
  if (text.length + more.length > MOST_IN_CELL)
    throw tooLarge(`A cell holds more than ${MOST_IN_CELL} characters, which is more than a sheet can hold.`);
  return text + more;
}

/** The place of a cell in its row: A1 is 0, AB12 is 27. */
function columnOf(reference: string): number {
  let column = 0;
  for (const letter of reference) {
    const code = letter.charCodeAt(0) - 64;
    if (code < 1 || code > 26) break;
    column = column * 26 + code;
  }
  return column - 1;
}

/** A cell's value as text. */
function cellText(type: string, value: string, style: number, { texts, dates, zero }: Reading): string {
  switch (type) {
    case 's':
      return texts[Number(value)] ?? '';
    case 'str':
    case 'inlineStr':
      return value;
    case 'b':
      return value === '1' ? 'yes' : 'no';
    case 'e':
      return `=${value}`;
    case 'd':
      return value.slice(0, 10);
    default:
      if (value === '') return '';
      return dates[style] ? dateOf(zero + Math.floor(Number(value))) : plainNumber(Number(value));
  }
}

/** As many digits as workbooks keep, without an exponent. */
function plainNumber(value: number): string {
  const rounded = Number(value.toPrecision(15));
  const text = String(rounded);
  return NUMBER_MARK + (text.includes('e') ? rounded.toFixed(10).replace(/\.?0+$/, '') : text);
}
