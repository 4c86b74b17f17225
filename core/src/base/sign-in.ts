/** Who knocks at the door: the one form of a name, and how long whoever guesses has to wait. */

/**
 * The one form in which a name to sign in with is kept, looked up and counted: Unicode NFKC, without spaces around it and
 * with no difference between capital and small letters.
 *
 * @param text as it was typed
 * @returns the name in its one form
 * @example normalLogin(' Quill\u00a0') // 'quill'
 * @source Unicode Standard Annex 15, normalization form KC.
 */
export function normalLogin(text: string): string {
  // Lower case first and last: some letters take another form only as capitals.
  return text.normalize('NFKC').toLowerCase().normalize('NFKC').trim();
}

/** How tries are slowed down. */
export interface PauseRule {
  /** Tries that cost nothing. */
  readonly free: number;
  /** The pause after the first try beyond those, in milliseconds; each further one doubles it. */
  readonly firstMs: number;
  /** It never gets longer than this, in milliseconds. */
  readonly longestMs: number;
}

/**
 * How long to wait after a failed try: nothing at first, then twice as long each time, up to the longest. It is a pause and
 * no lock: nobody can keep somebody else out for good by guessing with their name.
 *
 * @param failed tries that have failed since the last one that succeeded, a whole number
 * @param rule how many are free, and how the pause grows
 * @returns milliseconds from the last try to the next that is looked at
 * @example pauseAfter(7, { free: 5, firstMs: 1000, longestMs: 60_000 }) // 2000
 * @source Exponential back-off: the pause is firstMs × 2^(failed − free − 1).
 */
export function pauseAfter(failed: number, { free, firstMs, longestMs }: PauseRule): number {
  return failed <= free ? 0 : Math.min(longestMs, firstMs * 2 ** (failed - free - 1));
}
