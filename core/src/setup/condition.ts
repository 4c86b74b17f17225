/** What keeps a company from being worked on safely, before anything is lost by it. */

/** What can be seen of the machine. */
export interface Signs {
  /** Bytes that are free where the data is. */
  readonly free: number;
  /** Milliseconds by which the clock stands behind a moment that has been before; 0 or less where it goes on. */
  readonly behind: number;
  /** Whether a page of the database could not be read. */
  readonly damaged: boolean;
}

export interface Condition {
  readonly kind: 'damaged' | 'clockBack' | 'diskFull' | 'diskLow';
  /** Whether commands are refused while it is so. */
  readonly stops: boolean;
  readonly words: string;
}

const MEGABYTE = 1_000_000;
/** Below it nothing is taken on any more: what is under way, a backup's log and the plan still fit. */
export const FREE_TO_WORK = 200 * MEGABYTE;
/** Below it somebody should make room. */
export const FREE_TO_BE_CALM = 1000 * MEGABYTE;
/** Clocks are set by small steps now and then; a minute or two hurts nobody. */
export const MOST_BEHIND_MS = 120_000;

const spaceWords = (bytes: number): string => `${Math.max(0, Math.floor(bytes / MEGABYTE))} MB are free where the data is`;

function behindWords(ms: number): string {
  const minutes = Math.round(ms / 60_000);
  if (minutes < 120) return `${minutes} minutes`;
  const hours = Math.round(minutes / 60);
  return hours < 48 ? `${hours} hours` : `${Math.round(hours / 24)} days`;
}

/**
 * What is the matter, the worst first; `null` where all is well.
 *
 * @example conditionOf({ free: 5e7, behind: 0, damaged: false })?.stops // true: 50 MB are too little to take an order
 */
export function conditionOf({ free, behind, damaged }: Signs): Condition | null {
  if (damaged)
    return {
      kind: 'damaged',
      stops: true,
      words:
        'The database is damaged: what can be read is shown, nothing is taken on. Whoever runs Terrace stops it and puts the last good backup back (terrace restore FILE).',
    };
  if (behind > MOST_BEHIND_MS)
    return {
      kind: 'clockBack',
      stops: true,
      words: `The server’s clock has gone back by ${behindWords(behind)}: what is done now would stand before what was done already. Nothing is taken on until it is set right.`,
    };
  if (free < FREE_TO_WORK)
    return { kind: 'diskFull', stops: true, words: `Only ${spaceWords(free)}: nothing is taken on before whoever runs Terrace has made room.` };
  if (free < FREE_TO_BE_CALM)
    return {
      kind: 'diskLow',
      stops: false,
      words: `Only ${spaceWords(free)}: make room. Below ${FREE_TO_WORK / MEGABYTE} MB nothing more is taken on.`,
    };
  return null;
}
