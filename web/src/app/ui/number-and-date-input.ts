/** Numbers and dates as people type them. Each reader gives the plain text that the server takes, or says why not. */
import { addDays, dateOf, dayOf, readDay, weekdayOf, writeDecimal } from '@terrace/core';
import { habitNow } from './habit';

/** A figure as it stands in a field: with the reader's decimal sign, and nothing between thousands. */
export function shownFigure(text: string): string {
  return /^-?\d+\.\d+$/.test(text) ? text.replace('.', habitNow().decimal) : text;
}

export type Typed = { readonly text: string } | { readonly wrong: string };

export interface Pack {
  readonly code: string;
  readonly factor: string;
}

interface Fraction {
  readonly mantissa: bigint;
  readonly scale: number;
}

/**
 * Reads `1.250,5`, `1,250.5`, `3 case` (with the item's packs) and `=12*4`. A single separator followed by three
 * figures after at most three others is read as thousands only when it is not the reader's own decimal sign.
 */
export function readTypedNumber(typed: string, packs: readonly Pack[] = []): Typed {
  const text = typed.trim();
  if (text === '') return { text: '' };
  if (text.startsWith('=')) return calculate(text.slice(1));
  const pack = /^(.+?)\s*([\p{L}][\p{L}\d-]*)$/u.exec(text);
  if (pack) {
    const named = packs.filter((each) => each.code.toLowerCase().startsWith((pack[2] ?? '').toLowerCase()));
    const [first] = named;
    const count = plainNumber(pack[1] ?? '');
    const factor = first && plainNumber(first.factor);
    if (!first || named.length > 1 || !count || !factor)
      return {
        wrong:
          packs.length === 0 ? `"${typed}" is not a number.` : `"${typed}" is not a number: units are ${packs.map((each) => each.code).join(', ')}.`,
      };
    return { text: write({ mantissa: count.mantissa * factor.mantissa, scale: count.scale + factor.scale }) };
  }
  const number = plainNumber(text);
  return number ? { text: write(number) } : { wrong: `"${typed}" is not a number.` };
}

function write({ mantissa, scale }: Fraction): string {
  return writeDecimal(mantissa, scale);
}

function plainNumber(text: string): Fraction | null {
  const compact = text.replace(/[\s’']/g, '');
  if (!/^-?[\d.,]+$/.test(compact) || !/\d/.test(compact)) return null;
  const last = Math.max(compact.lastIndexOf('.'), compact.lastIndexOf(','));
  if (last < 0) return { mantissa: BigInt(compact), scale: 0 };
  const mark = compact[last] ?? '';
  const other = mark === '.' ? ',' : '.';
  const marks = compact.split(mark).length - 1;
  const grouped = (part: string, by: string): boolean =>
    part.split(by).every((group, index) => (index === 0 ? /^-?\d{1,3}$/ : /^\d{3}$/).test(group));
  const allThousands = marks > 1 || (mark !== habitNow().decimal && !compact.includes(other) && grouped(compact, mark));
  if (allThousands) return grouped(compact, mark) ? { mantissa: BigInt(compact.replaceAll(mark, '')), scale: 0 } : null;
  const whole = compact.slice(0, last);
  const fraction = compact.slice(last + 1);
  if (whole.includes(other) && !grouped(whole, other)) return null;
  if (!/^\d*$/.test(fraction) || whole.includes(mark)) return null;
  const digits = `${whole.replaceAll(other, '') || '0'}${fraction}`;
  return { mantissa: BigInt(digits === '-' ? '0' : digits.replace('-', digits.startsWith('-') ? '-' : '')), scale: fraction.length };
}

/** A figure of a calculation: exact, whatever is divided. */
interface Ratio {
  readonly over: bigint;
  readonly under: bigint;
}

const MOST_DECIMALS = 10;

/** Sums and products with brackets, exact; figures as elsewhere. What it comes to must come out even in 10 decimals. */
function calculate(formula: string): Typed {
  const tokens = formula.match(/[\d.,’']+|[-+*/()]/g) ?? [];
  if (tokens.join('') !== formula.replace(/\s/g, '') || tokens.length === 0)
    return { wrong: `"=${formula}" can’t be calculated: use figures, + - * / and brackets.` };
  let at = 0;
  const atom = (): Ratio | null => {
    const token = tokens[at++];
    if (token === '-') {
      const value = atom();
      return value && { over: -value.over, under: value.under };
    }
    if (token === '(') {
      const value = sum();
      return tokens[at++] === ')' ? value : null;
    }
    const number = plainNumber(token ?? '');
    return number && { over: number.mantissa, under: 10n ** BigInt(number.scale) };
  };
  const product = (): Ratio | null => {
    let value = atom();
    while (value !== null && (tokens[at] === '*' || tokens[at] === '/')) {
      const operator = tokens[at++];
      const next = atom();
      if (next === null || (operator === '/' && next.over === 0n)) return null;
      const [over, under]: [bigint, bigint] = operator === '*' ? [next.over, next.under] : [next.under, next.over];
      value = { over: value.over * over, under: value.under * under };
    }
    return value;
  };
  const sum = (): Ratio | null => {
    let value = product();
    while (value !== null && (tokens[at] === '+' || tokens[at] === '-')) {
      const sign = tokens[at++] === '+' ? 1n : -1n;
      const next = product();
      value = next && { over: value.over * next.under + sign * next.over * value.under, under: value.under * next.under };
    }
    return value;
  };
  const value = sum();
  if (value === null || at !== tokens.length) return { wrong: `"=${formula}" does not come out as a number.` };
  const scaled = value.over * 10n ** BigInt(MOST_DECIMALS);
  if (scaled % value.under !== 0n) return { wrong: `"=${formula}" does not come out even: round it yourself.` };
  return { text: writeDecimal(scaled / value.under, MOST_DECIMALS) };
}

const WEEKDAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'];
const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/** Reads `fri`, `+5`, `wk 14`, `today`, `tomorrow`, `12 mar`, `12.3.`, `12/3/27` and `2027-03-12` as of a day. */
export function readTypedDate(typed: string, today: string): Typed {
  const text = typed.trim().toLowerCase();
  if (text === '') return { text: '' };
  const wrong = { wrong: `"${typed}" is not a date: try fri, +5, wk 14, 12 mar or 2027-03-12.` };
  const date = dateFrom(text, today);
  return date !== null && readDay(date) !== null ? { text: date } : wrong;
}

function dateFrom(text: string, today: string): string | null {
  if (/^\d{4}-\d{2}-\d{2}$/.test(text)) return text;
  if (text === 'today' || text === '0') return today;
  if (text === 'tomorrow') return addDays(today, 1);
  const plus = /^([+-])(\d{1,3})(w?)$/.exec(text);
  if (plus) return addDays(today, Number(`${plus[1]}${plus[2]}`) * (plus[3] === 'w' ? 7 : 1));
  const weekday = WEEKDAYS.findIndex((each) => text.length >= 2 && (text.startsWith(each) || each.startsWith(text)));
  if (weekday >= 0 && /^[a-z]+$/.test(text)) return addDays(today, ((weekday + 1 - weekdayOf(dayOf(today)) + 6) % 7) + 1);
  const week = /^w(?:k|eek)?\s*(\d{1,2})$/.exec(text);
  if (week) return mondayOfWeek(Number(week[1]), today);
  const named = /^(\d{1,2})\.?\s*([a-z]{3,9})\.?\s*(\d{2,4})?$/.exec(text);
  if (named) {
    const month = MONTHS.findIndex((each) => (named[2] ?? '').startsWith(each));
    return month < 0 ? null : nearest(Number(named[1]), month + 1, named[3], today);
  }
  const figures = /^(\d{1,2})[./](\d{1,2})[./]?(\d{2,4})?$/.exec(text);
  if (!figures) return null;
  // With a stroke between them, the month comes first where people write it so.
  const [day, month] = habitNow().monthFirst && text.includes('/') ? [figures[2], figures[1]] : [figures[1], figures[2]];
  return nearest(Number(day), Number(month), figures[3], today);
}

/** Without a year, the next such day from a month ago on. */
function nearest(day: number, month: number, year: string | undefined, today: string): string | null {
  const make = (each: number): string => `${String(each).padStart(4, '0')}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
  if (year !== undefined) return make(year.length === 2 ? 2000 + Number(year) : Number(year));
  const thisYear = make(Number(today.slice(0, 4)));
  if (readDay(thisYear) === null) return null;
  return thisYear < addDays(today, -31) ? make(Number(today.slice(0, 4)) + 1) : thisYear;
}

/** Monday of an ISO week, this year's or, where that is well past, next year's. */
function mondayOfWeek(week: number, today: string): string | null {
  if (week < 1 || week > 53) return null;
  const monday = (year: number): string => {
    const fourth = dayOf(`${year}-01-04`);
    return dateOf(fourth - weekdayOf(fourth) + 1 + (week - 1) * 7);
  };
  const year = Number(today.slice(0, 4));
  const here = monday(year);
  return here < addDays(today, -31) ? monday(year + 1) : here;
}
