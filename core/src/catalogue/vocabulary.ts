/** Words that are known, and which of them somebody may have meant by a word that is not. */
import { trigrams } from './likeness';

const MOST_MEANT = 4;

/**
 * How many signs two words differ by (typed wrong, left out, typed twice or swapped with the next), or more than `most`.
 * Source: Damerau's and Levenshtein's distance with neighbours swapped, cut off at `most`.
 */
export function slips(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) > most) return most + 1;
  let before: number[] = [];
  let last = Array.from({ length: b.length + 1 }, (_, index) => index);
  for (let row = 1; row <= a.length; row += 1) {
    const here = [row];
    let least = row;
    for (let column = 1; column <= b.length; column += 1) {
      const same = a[row - 1] === b[column - 1] ? 0 : 1;
      let value = Math.min((last[column] ?? 0) + 1, (here[column - 1] ?? 0) + 1, (last[column - 1] ?? 0) + same);
      if (row > 1 && column > 1 && a[row - 1] === b[column - 2] && a[row - 2] === b[column - 1])
        value = Math.min(value, (before[column - 2] ?? 0) + 1);
      here.push(value);
      least = Math.min(least, value);
    }
    if (least > most) return most + 1;
    [before, last] = [last, here];
  }
  return last[b.length] ?? most + 1;
}

/** How many slips are forgiven in a word: none in a short one, since it would be another word. */
export function forgiven(word: string): number {
  if (word.length < 5 || /^\d+$/.test(word)) return 0;
  return word.length < 8 ? 1 : 2;
}

/** A set of words that answers which of them are near a given one, without looking at each. */
export class Vocabulary {
  private readonly words = new Set<string>();
  private readonly byTrigram = new Map<string, string[]>();

  /** Adds a word; one that is there already is not added again. */
  add(word: string): void {
    if (this.words.has(word)) return;
    this.words.add(word);
    for (const each of trigrams(word)) {
      const holders = this.byTrigram.get(each);
      if (holders) holders.push(word);
      else this.byTrigram.set(each, [word]);
    }
  }

  has(word: string): boolean {
    return this.words.has(word);
  }

  /** Words at most {@link forgiven} slips away, nearest first; also those of which a nearby form is the beginning. */
  meant(word: string): string[] {
    const most = forgiven(word);
    if (most === 0) return [];
    const shared = new Map<string, number>();
    for (const each of trigrams(word)) for (const holder of this.byTrigram.get(each) ?? []) shared.set(holder, (shared.get(holder) ?? 0) + 1);
    // A slip spoils three trigrams at most; what shares fewer than the rest is further away.
    const needed = Math.max(1, word.length - 3 * most);
    const near: { word: string; slips: number }[] = [];
    for (const [holder, count] of shared) {
      if (count < needed) continue;
      const whole = slips(word, holder, most);
      const begun = holder.length > word.length ? slips(word, holder.slice(0, word.length), most) : whole;
      const least = Math.min(whole, begun);
      if (least <= most) near.push({ word: holder, slips: least });
    }
    return near
      .sort((a, b) => a.slips - b.slips || a.word.length - b.word.length || (a.word < b.word ? -1 : 1))
      .slice(0, MOST_MEANT)
      .map((each) => each.word);
  }
}
