/** Codes of bins as people write many of them: one by one, as a list, or as a range. */
import { Refusal } from '../base';

/** More at once are a slip. */
const MOST = 2000;
const RANGE = /^(.+?)\s*(?:\.{2,}|…|–|—|\bto\b)\s*(.+)$/;

type Part =
  | { readonly kind: 'same'; readonly text: string }
  | { readonly kind: 'counts'; readonly from: number; readonly to: number; readonly wide: number };

/** The parts of a code: figures, single letters that count, and what is between. */
function partsOf(code: string): string[] {
  return code.match(/\d+|[A-Za-z]+|[^\dA-Za-z]+/g) ?? [];
}

function partBetween(from: string, to: string, range: string): Part {
  const wrong = (): never => {
    throw new Refusal(
      'badRange',
      `"${range}" is no range: both ends are written alike, and only figures or one letter differ, such as A-01-01 … A-10-04.`,
    );
  };
  if (from === to) return { kind: 'same', text: from };
  if (/^\d+$/.test(from) && /^\d+$/.test(to)) {
    if (from.length !== to.length && (from.startsWith('0') || to.startsWith('0'))) wrong();
    if (Number(from) > Number(to) || to.length > 6) wrong();
    return { kind: 'counts', from: Number(from), to: Number(to), wide: from.startsWith('0') || from.length === to.length ? from.length : 0 };
  }
  const letter = /^[A-Z]$/;
  if (!letter.test(from) || !letter.test(to) || from > to) wrong();
  return { kind: 'counts', from: from.charCodeAt(0), to: to.charCodeAt(0), wide: -1 };
}

function valuesOf(part: Part): string[] {
  if (part.kind === 'same') return [part.text];
  return Array.from({ length: part.to - part.from + 1 }, (_, index) => {
    const value = part.from + index;
    return part.wide === -1 ? String.fromCharCode(value) : String(value).padStart(part.wide, '0');
  });
}

function rangeOf(text: string, most: number): string[] {
  const [, first = '', last = ''] = RANGE.exec(text) ?? [];
  const [from, to] = [partsOf(first), partsOf(last)];
  if (from.length !== to.length)
    throw new Refusal(
      'badRange',
      `"${text}" is no range: both ends are written alike, and only figures or one letter differ, such as A-01-01 … A-10-04.`,
    );
  const parts = from.map((part, index) => partBetween(part, to[index] ?? '', text));
  const many = parts.reduce((product, part) => product * (part.kind === 'same' ? 1 : part.to - part.from + 1), 1);
  if (many > most) throw new Refusal('tooMany', `"${text}" would be ${many} bins: at most ${MOST} can be added at once.`);
  return parts.reduce<string[]>((codes, part) => codes.flatMap((code) => valuesOf(part).map((value) => code + value)), ['']);
}

/**
 * The codes that a text names, in its order, each once: by line, comma or semicolon; a range counts every part that differs,
 * the last fastest.
 *
 * @param text as it was typed or pasted
 * @returns codes of bins; refuses `badRange`, and `tooMany` beyond 2,000
 * @example binsFrom('DOCK\nA-01-01 … A-02-02') // ['DOCK', 'A-01-01', 'A-01-02', 'A-02-01', 'A-02-02']
 */
export function binsFrom(text: string): string[] {
  const codes = new Set<string>();
  for (const each of text.split(/[\n,;\t]+/)) {
    const line = each.trim();
    if (line === '') continue;
    for (const code of RANGE.test(line) ? rangeOf(line, MOST) : [line]) codes.add(code);
    if (codes.size > MOST) throw new Refusal('tooMany', `These are more than ${MOST} bins: add them in several goes.`);
  }
  return [...codes];
}
