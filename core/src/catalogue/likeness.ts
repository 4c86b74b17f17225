/** How alike two descriptions are, so that one thing is not set up twice under two codes. */

const MARKS = /\p{Mark}/gu;
const NOT_WORD = /[^\p{Letter}\p{Number}]+/gu;

/** Text as it is compared: without accents, case and punctuation. */
export function plainWords(text: string): string[] {
  return text.normalize('NFD').replace(MARKS, '').toLowerCase().replace(NOT_WORD, ' ').trim().split(' ').filter(Boolean);
}

/**
 * The trigrams of a text: every three signs in a row of each of its words, with a space before and after each, so that
 * the order of words does not matter.
 * @example trigrams('hive') // ' hi', 'hiv', 'ive', 've '
 */
export function trigrams(text: string): ReadonlySet<string> {
  const found = new Set<string>();
  for (const word of plainWords(text)) {
    const padded = ` ${word} `;
    for (let at = 0; at + 3 <= padded.length; at += 1) found.add(padded.slice(at, at + 3));
  }
  return found;
}

/** Shared trigrams over all trigrams (Jaccard's measure): 1 for the same words in any order, 0 for nothing in common. */
export function likeness(a: string, b: string): number {
  const [left, right] = [trigrams(a), trigrams(b)];
  if (left.size === 0 || right.size === 0) return 0;
  let shared = 0;
  for (const each of left) if (right.has(each)) shared += 1;
  return shared / (left.size + right.size - shared);
}

/** From here on two descriptions are shown as likely doubles. */
export const NEARLY_SAME = 0.6;

/**
 * Whether two descriptions are so alike that somebody should look. Descriptions that differ only in figures ("Screw
 * 4 × 40", "Screw 4 × 60") are sizes of one thing and no doubles.
 */
export function nearlySame(a: string, b: string): boolean {
  const figures = (text: string): string =>
    plainWords(text)
      .filter((word) => /\d/.test(word))
      .sort()
      .join(' ');
  return figures(a) === figures(b) && likeness(a, b) >= NEARLY_SAME;
}
