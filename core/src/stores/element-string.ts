/**
 * GS1 element strings, as scanners send them and as labels carry them (GS1 General Specifications, section 3: application
 * identifiers). The ones that matter in stores are read; any other makes the text one that we can't read.
 */
import { Refusal } from '../base';

export interface Scanned {
  readonly gtin?: string;
  readonly lot?: string;
  readonly serial?: string;
  /** Made on, as YYYY-MM-DD. */
  readonly madeOn?: string;
  readonly expiry?: string;
  readonly sscc?: string;
  /** Pieces (AI 30 or 37) or net weight in kg, as decimal text. */
  readonly quantity?: string;
}

/** What separates an element of variable length from the next: FNC1, which scanners send as this control sign. */
export const SEPARATOR = '\u001d';
const SYMBOLOGY = /^\](C1|e0|d2|Q3|J1)/;

type Field = keyof Scanned;
interface Element {
  readonly field: Field;
  /** Fixed length, or the most it may have. */
  readonly length: number;
  readonly fixed: boolean;
}

const ELEMENTS: Readonly<Record<string, Element>> = {
  '00': { field: 'sscc', length: 18, fixed: true },
  '01': { field: 'gtin', length: 14, fixed: true },
  '02': { field: 'gtin', length: 14, fixed: true },
  '10': { field: 'lot', length: 20, fixed: false },
  '11': { field: 'madeOn', length: 6, fixed: true },
  '15': { field: 'expiry', length: 6, fixed: true },
  '17': { field: 'expiry', length: 6, fixed: true },
  '21': { field: 'serial', length: 20, fixed: false },
  '30': { field: 'quantity', length: 8, fixed: false },
  '37': { field: 'quantity', length: 8, fixed: false },
};
const WEIGHT = /^310([0-6])/;

/** The check digit of a GTIN or SSCC without it: weights 3 and 1 from the right. */
export function checkDigit(figures: string): string {
  const sum = [...figures].reverse().reduce((all, figure, index) => all + Number(figure) * (index % 2 === 0 ? 3 : 1), 0);
  return String((10 - (sum % 10)) % 10);
}

/** Whether the last figure of a GTIN or SSCC is its check digit. */
export function checksOut(number: string): boolean {
  return /^\d{8,18}$/.test(number) && checkDigit(number.slice(0, -1)) === number.slice(-1);
}

function refuse(text: string, why: string): never {
  throw new Refusal('badScan', `The code can't be read: ${why}. Scan it again, or type what is printed beneath it.`, { text });
}

/** Year of two figures: within 50 years of now (section 7.12 of the specifications), here of the year 2000 to 2099. */
function readDate(text: string, figures: string): string {
  const [year, month, day] = [figures.slice(0, 2), figures.slice(2, 4), figures.slice(4, 6)];
  const last = new Date(Date.UTC(2000 + Number(year), Number(month), 0)).getUTCDate();
  const date = `20${year}-${month}-${day === '00' ? String(last) : day}`;
  if (!/^\d{6}$/.test(figures) || Number(month) < 1 || Number(month) > 12 || Number(day) > last) refuse(text, `${figures} is no date`);
  return date;
}

function valueOf(text: string, field: Field, raw: string): string {
  switch (field) {
    case 'gtin':
    case 'sscc':
      if (!checksOut(raw)) refuse(text, `the check digit of ${raw} is wrong`);
      return raw;
    case 'madeOn':
    case 'expiry':
      return readDate(text, raw);
    case 'quantity':
      if (!/^\d{1,8}$/.test(raw)) refuse(text, `${raw} is no count`);
      return String(Number(raw));
    default:
      if (!/^[\x21-\x7e]+$/.test(raw)) refuse(text, 'a lot or serial number has signs that are not allowed');
      return raw;
  }
}

/** Rewrites `(01)…(10)…` as a scanner would send it. */
function withoutBrackets(text: string): string {
  const parts = [...text.matchAll(/\((\d{2,4})\)([^(]*)/g)];
  return parts.map(([, identifier = '', value = '']) => `${identifier}${value}${ELEMENTS[identifier]?.fixed ? '' : SEPARATOR}`).join('');
}

/**
 * Reads an element string, with or without brackets; `null` for a plain text that is none. A plain barcode of 8 to 14
 * figures is not an element string: it is looked up as it is.
 *
 * Refuses `badScan` for what begins like an element string and is broken.
 */
export function readElementString(text: string): Scanned | null {
  const trimmed = text.trim();
  const marked = SYMBOLOGY.test(trimmed);
  const bracketed = /^\(\d{2,4}\)/.test(trimmed);
  const bare = trimmed.replace(SYMBOLOGY, '').replace(new RegExp(`^${SEPARATOR}`), '');
  if (!marked && !bracketed && !/^(01\d{14}|00\d{18})/.test(bare)) return null;
  let rest = bracketed ? withoutBrackets(bare) : bare;
  const found: { -readonly [field in Field]?: string } = {};
  while (rest !== '') {
    const weight = WEIGHT.exec(rest);
    if (weight) {
      const figures = rest.slice(4, 10);
      if (!/^\d{6}$/.test(figures)) refuse(text, 'its weight is cut short');
      const decimals = Number(weight[1]);
      found.quantity = (Number(figures) / 10 ** decimals).toFixed(decimals).replace(/\.?0+$/, decimals === 0 ? '$&' : '');
      rest = rest.slice(10).replace(new RegExp(`^${SEPARATOR}`), '');
      continue;
    }
    const element = ELEMENTS[rest.slice(0, 2)];
    if (!element) refuse(text, `its part "${rest.slice(0, 6)}…" is of a kind not used in stores`);
    const body = rest.slice(2);
    const end = body.indexOf(SEPARATOR);
    const raw = element.fixed ? body.slice(0, element.length) : end < 0 ? body : body.slice(0, end);
    if (element.fixed ? raw.length < element.length : raw.length === 0 || raw.length > element.length)
      refuse(text, `its part "${raw}" has the wrong length`);
    found[element.field] = valueOf(text, element.field, raw);
    rest = body.slice(raw.length).replace(new RegExp(`^${SEPARATOR}`), '');
  }
  return found;
}

/** The barcodes under which the item of a GTIN may be kept: all its 14 figures, and without leading zeros. */
export function barcodesOf(gtin: string): string[] {
  const lengths = [14, 13, 12, 8];
  return lengths.filter((length) => /^0*$/.test(gtin.slice(0, 14 - length))).map((length) => gtin.slice(14 - length));
}

/** A GTIN of 14 figures from a barcode of 8, 12, 13 or 14, or `null` for any other barcode. */
export function gtinOf(barcode: string): string | null {
  return [8, 12, 13, 14].includes(barcode.length) && checksOut(barcode) ? barcode.padStart(14, '0') : null;
}

/** Writes an element string with brackets, as printed beneath a barcode; fixed lengths come first. */
export function writeElementString(scanned: Scanned): string {
  const date = (text: string): string => text.slice(2).replaceAll('-', '');
  const { sscc, gtin, madeOn, expiry, lot, serial, quantity } = scanned;
  return [
    sscc === undefined ? '' : `(00)${sscc}`,
    gtin === undefined ? '' : `(01)${gtin}`,
    madeOn === undefined ? '' : `(11)${date(madeOn)}`,
    expiry === undefined ? '' : `(17)${date(expiry)}`,
    lot === undefined ? '' : `(10)${lot}`,
    serial === undefined ? '' : `(21)${serial}`,
    quantity === undefined ? '' : `(30)${quantity}`,
  ].join('');
}
