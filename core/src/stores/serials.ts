/** Serial numbers: read from what people type, scan or paste, and made from a pattern. */
import { Refusal, writeQuantity, type Quantity } from '../base';

const MOST = 10_000;
const SERIAL = /^[\x21-\x7e]{1,40}$/;
const RANGE = /^(\S+?)\s*(?:\.\.|…)\s*(\S+)$/;

/**
 * Reads a list: numbers separated by lines, commas, semicolons, tabs or blanks; `A-0001..A-0010` is a range.
 * Refuses `badSerial`, `badRange`, `serialTwice` and `tooMany`.
 */
export function readSerials(text: string): string[] {
  const found: string[] = [];
  const joined = text.replace(/[ \t]*(\.\.|…)[ \t]*/g, '$1');
  for (const part of joined.split(/[\s,;]+/).filter((each) => each !== '')) {
    const range = RANGE.exec(part);
    found.push(...(range ? rangeOf(range[1] ?? '', range[2] ?? '') : [part]));
    if (found.length > MOST) throw new Refusal('tooMany', `More than ${MOST} serial numbers at once: split them.`, { most: MOST });
  }
  const seen = new Set<string>();
  for (const serial of found) {
    if (!SERIAL.test(serial))
      throw new Refusal('badSerial', `"${serial}" can't be a serial number: up to 40 letters, figures and signs, no blanks.`, { serial });
    // Numbers that differ in capitals only could not be told apart.
    const spelt = serial.toLowerCase();
    if (seen.has(spelt)) throw new Refusal('serialTwice', `${serial} is there twice: each piece has a number of its own.`, { serial });
    seen.add(spelt);
  }
  return found;
}

/** The numbers from one to another that differ in their last figures only. Refuses `badRange`. */
function rangeOf(first: string, last: string): string[] {
  const [, head = '', low = '', tail = ''] = /^(.*?)(\d+)(\D*)$/.exec(first) ?? [];
  const wrong = (why: string): Refusal => new Refusal('badRange', `${first}..${last} is no range: ${why}.`, { first, last });
  if (low === '') throw wrong('the first number has no figures to count up');
  const high = last.startsWith(head) && last.endsWith(tail) ? last.slice(head.length, last.length - tail.length) : last;
  if (!/^\d+$/.test(high)) throw wrong('both ends must be alike but for their last figures');
  const count = Number(BigInt(high) - BigInt(low)) + 1;
  if (count < 1) throw wrong('its end comes before its beginning');
  if (count > MOST)
    throw new Refusal('tooMany', `${first}..${last} would be ${count} serial numbers, more than ${MOST} at once: split them.`, { most: MOST });
  return Array.from({ length: count }, (_, index) => `${head}${(BigInt(low) + BigInt(index)).toString().padStart(low.length, '0')}${tail}`);
}

/** Refuses `serialCount` where there are not as many numbers as pieces, with the difference. */
export function assertSerialCount(item: string, serials: readonly string[], quantity: Quantity, unit: Quantity): void {
  const difference = serials.length * unit - quantity;
  if (difference === 0) return;
  const count = writeQuantity(Math.abs(difference));
  throw new Refusal(
    'serialCount',
    `${writeQuantity(quantity)} of ${item} need as many serial numbers: there are ${serials.length}, ${count} too ${difference > 0 ? 'many' : 'few'}.`,
    { serials: serials.length, quantity: writeQuantity(quantity), field: 'serials' },
  );
}

const SIGNS = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ';

/** The check character of ISO 7064 MOD 37,36 over the letters and figures of a text; other signs don't count. */
export function checkCharacter(text: string): string {
  let product = 36;
  for (const sign of text.toUpperCase()) {
    const value = SIGNS.indexOf(sign);
    if (value < 0) continue;
    const sum = (product + value) % 36;
    product = ((sum === 0 ? 36 : sum) * 2) % 37;
  }
  return SIGNS[(37 - product) % 36] ?? '0';
}

const COUNTER = /\{n:(\d)\}/;

/**
 * Makes serial numbers from a pattern: `{YYYY}`, `{YY}`, `{MM}`, `{DD}` of the date, `{n:5}` a counter of five figures,
 * `{c}` a check character over all before it. Refuses `badPattern`, and `tooMany` where the counter is too short.
 * @example makeSerials('MX{YY}-{n:4}{c}', '2027-03-01', 7, 1) // ['MX27-0007T']
 */
export function makeSerials(pattern: string, date: string, first: number, count: number): string[] {
  const [, width] = COUNTER.exec(pattern) ?? [];
  if (width === undefined || Number(width) < 1)
    throw new Refusal('badPattern', `The pattern "${pattern}" has no counter: put {n:5} where five figures count up.`, { pattern });
  const unknown = pattern.replace(/\{(YYYY|YY|MM|DD|c|n:\d)\}/g, '').match(/[{}]/);
  if (unknown || (pattern.includes('{c}') && !pattern.endsWith('{c}')))
    throw new Refusal('badPattern', `The pattern "${pattern}" can't be read: {YYYY}, {YY}, {MM}, {DD} and {n:5} may be in it, {c} at its end.`, {
      pattern,
    });
  if (count > MOST) throw new Refusal('tooMany', `More than ${MOST} serial numbers at once: split them.`, { most: MOST });
  if (String(first + count - 1).length > Number(width))
    throw new Refusal('tooMany', `${count} more numbers don't fit the ${width} figures of "${pattern}": make the counter longer.`, { pattern });
  const dated = pattern
    .replace('{YYYY}', date.slice(0, 4))
    .replace('{YY}', date.slice(2, 4))
    .replace('{MM}', date.slice(5, 7))
    .replace('{DD}', date.slice(8, 10));
  return Array.from({ length: count }, (_, index) => {
    const body = dated.replace(COUNTER, String(first + index).padStart(Number(width), '0')).replace('{c}', '');
    return pattern.endsWith('{c}') ? `${body}${checkCharacter(body)}` : body;
  });
}

/** The text that all numbers of a pattern and date begin with, to find the last one made. */
export function patternStart(pattern: string, date: string): string {
  return pattern
    .slice(0, pattern.search(COUNTER))
    .replace('{YYYY}', date.slice(0, 4))
    .replace('{YY}', date.slice(2, 4))
    .replace('{MM}', date.slice(5, 7))
    .replace('{DD}', date.slice(8, 10));
}

/** The counter within a number made from a pattern, or `null` for another number. */
export function counterOf(pattern: string, date: string, serial: string): number | null {
  const width = Number(COUNTER.exec(pattern)?.[1] ?? 0);
  const start = patternStart(pattern, date);
  const figures = serial.slice(start.length, start.length + width);
  return serial.startsWith(start) && /^\d+$/.test(figures) && figures.length === width ? Number(figures) : null;
}
