/** Cells of a sheet, as people's programs write them: decimal comma or point, dates in several orders, yes and no. */
import { Refusal } from '../base';

export type DecimalSign = 'point' | 'comma';
export type DateOrder = 'dayFirst' | 'monthFirst';

/** How the cells of one file are to be read. */
export interface CellHabits {
  readonly decimals: DecimalSign;
  readonly dates: DateOrder;
}

/** How numbers are written with each decimal sign: the sign that groups thousands, a number with figures before its decimal sign, one without. */
const NUMBERS = {
  point: { group: ',', whole: /^(-?)(\d{1,3}(?:,\d{3})+|\d+)(?:\.(\d+))?$/, fraction: /^(-?)()\.(\d+)$/ },
  comma: { group: '.', whole: /^(-?)(\d{1,3}(?:\.\d{3})+|\d+)(?:,(\d+))?$/, fraction: /^(-?)(),(\d+)$/ },
} as const;

/**
 * A number as plain decimal text. Signs that group thousands are taken out only where they group three figures; anything
 * else refuses `notANumber`.
 */
export function readNumberCell(cell: string, { decimals }: CellHabits): string {
  const text = cell.trim().replace(/[\u00a0\u202f' ]/g, '');
  const { group, whole: number, fraction: bare } = NUMBERS[decimals];
  const match = number.exec(text) ?? bare.exec(text);
  if (!match) {
    throw new Refusal(
      'notANumber',
      `"${cell}" is not a number with a decimal ${decimals}${decimals === 'point' ? ', such as 1250.5' : ', such as 1250,5'}.`,
      { text: cell },
    );
  }
  const [, sign = '', whole = '', fraction = ''] = match;
  const digits = (whole || '0').replaceAll(group, '').replace(/^0+(?=\d)/, '');
  return `${sign}${digits}${fraction === '' ? '' : `.${fraction}`}`;
}

/** The decimal sign that a column of cells speaks for: the one that some cell can only mean that way, else the point. */
export function decimalSignOf(cells: readonly string[]): DecimalSign {
  const comma = cells.some((cell) => /^-?\d{1,3}(\.\d{3})*,\d+$/.test(cell.trim()) && !/^-?\d{1,3}(,\d{3})+$/.test(cell.trim()));
  const point = cells.some((cell) => /^-?[\d,]*\.\d+$/.test(cell.trim()) && !/^-?\d{1,3}(\.\d{3})+$/.test(cell.trim()));
  return comma && !point ? 'comma' : 'point';
}

/** A date as YYYY-MM-DD; refuses `badDate`. */
export function readDateCell(cell: string, { dates }: CellHabits): string {
  const text = cell.trim().replace(/T00:00:00.*$/, '');
  const iso = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$/.exec(text);
  const other = /^(\d{1,2})[-/. ](\d{1,2})[-/. ](\d{4})$/.exec(text);
  const [year, month, day] = iso
    ? [iso[1], iso[2], iso[3]]
    : other
      ? [other[3], dates === 'dayFirst' ? other[2] : other[1], dates === 'dayFirst' ? other[1] : other[2]]
      : [];
  const written = year === undefined ? '' : `${year}-${(month ?? '').padStart(2, '0')}-${(day ?? '').padStart(2, '0')}`;
  const read = new Date(`${written}T00:00:00Z`);
  if (written === '' || Number.isNaN(read.getTime()) || read.toISOString().slice(0, 10) !== written)
    throw new Refusal(
      'badDate',
      `"${cell}" is no date that exists: write it as 2027-03-31${dates === 'dayFirst' ? ' or 31.3.2027' : ' or 3/31/2027'}.`,
      { text: cell },
    );
  return written;
}

const YES = new Set(['yes', 'y', 'true', '1', 'x']);
const NO = new Set(['no', 'n', 'false', '0', '']);

/** Yes or no; refuses `notYesOrNo`. */
export function readYesNoCell(cell: string): boolean {
  const text = cell.trim().toLowerCase();
  if (YES.has(text)) return true;
  if (NO.has(text)) return false;
  throw new Refusal('notYesOrNo', `"${cell}" is neither yes nor no.`, { text: cell });
}

/** A cell that a spreadsheet would take for a formula is written with a quote before it. */
export function guardCell(text: string): string {
  return /^[=+@\t\r]|^-(?!\d+(\.\d+)?$)|^'[=+@\t\r'-]/.test(text) ? `'${text}` : text;
}

/** Takes the quote off again that {@link guardCell} set. */
export function unguardCell(text: string): string {
  return /^'[=+@\t\r'-]/.test(text) ? text.slice(1) : text;
}
