/**
 * The door: how often somebody may try to sign in. Tries are counted for each name, for each address that they come from, and
 * for each device on which that person has signed in before; the last has a count of its own, so that whoever guesses with
 * a name elsewhere does not keep its owner out. What is counted has a bound, whatever is sent.
 */
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import { Refusal, pauseAfter, type PauseRule } from '@terrace/core';

const SECOND = 1000;
const MINUTE = 60 * SECOND;
const HOUR = 60 * MINUTE;

const BY_NAME: PauseRule = { free: 5, firstMs: SECOND, longestMs: 5 * MINUTE };
const BY_ADDRESS: PauseRule = { free: 30, firstMs: SECOND, longestMs: MINUTE };
const MOST_COUNTED = 20_000;
const MOST_AT_ONCE = 100;

interface Tries {
  readonly failed: number;
  /** When the last of them was, in milliseconds. */
  readonly at: number;
}

/** A try that has been let in: it counts as failed until it is said to have succeeded. */
export interface Knock {
  readonly succeeded: () => void;
  /** The password has been looked at, whatever came of it. */
  readonly over: () => void;
}

export class Door {
  private readonly tries = new LRUCache<string, Tries>({ max: MOST_COUNTED });
  private within = 0;

  constructor(
    /** Signs what a known device shows. */
    private readonly secret: string,
    /** Milliseconds since some moment. */
    private readonly now: () => number = () => Date.now(),
  ) {}

  /**
   * Lets a try in, or refuses `tooManyAttempts` and says how long to wait. A try that is refused is not counted.
   * `login` in its one form; `device` as {@link deviceOf} gave it.
   */
  knock(login: string, address: string, device: string | undefined): Knock {
    const own = this.isDeviceOf(login, device);
    const lanes: readonly (readonly [string, PauseRule])[] = own
      ? [[`device ${device ?? ''}`, BY_NAME]]
      : [
          [`name ${login}`, BY_NAME],
          [`address ${address}`, BY_ADDRESS],
        ];
    const wait = Math.max(...lanes.map(([key, rule]) => this.waitOf(key, rule)));
    if (wait > 0) {
      const seconds = Math.ceil(wait / SECOND);
      throw new Refusal('tooManyAttempts', `Too many attempts to sign in have failed: wait ${pauseWords(seconds)} and try again.`, { seconds });
    }
    if (this.within >= MOST_AT_ONCE)
      throw new Refusal('tooManyAttempts', 'Too many people are signing in at this moment: try again in a few seconds.', { seconds: 5 });
    this.within += 1;
    const before = lanes.map(([key]) => [key, this.tries.get(key)] as const);
    for (const [key, tries] of before) this.tries.set(key, { failed: this.counted(tries) + 1, at: this.now() });
    return {
      succeeded: () => {
        // What others tried from the same address still counts.
        for (const [key, tries] of before)
          if (key.startsWith('address ') && tries) this.tries.set(key, tries);
          else this.tries.delete(key);
      },
      over: () => (this.within -= 1),
    };
  }

  /** What a device is given to show that this person has signed in on it. */
  deviceOf(login: string): string {
    const mark = randomBytes(12).toString('base64url');
    return `${mark}.${this.signed(login, mark)}`;
  }

  isDeviceOf(login: string, device: string | undefined): boolean {
    const [mark = '', seal = ''] = (device ?? '').split('.');
    const right = Buffer.from(this.signed(login, mark));
    const shown = Buffer.from(seal);
    return mark !== '' && right.length === shown.length && timingSafeEqual(right, shown);
  }

  private signed(login: string, mark: string): string {
    return createHmac('sha256', this.secret).update(`device ${mark} ${login}`).digest('base64url');
  }

  private waitOf(key: string, rule: PauseRule): number {
    const tries = this.tries.get(key);
    return tries ? tries.at + pauseAfter(this.counted(tries), rule) - this.now() : 0;
  }

  /** Nobody remembers a slip for longer than an hour. */
  private counted(tries: Tries | undefined): number {
    return tries && this.now() - tries.at < HOUR ? tries.failed : 0;
  }
}

function pauseWords(seconds: number): string {
  if (seconds < 90) return seconds === 1 ? 'a second' : `${seconds} seconds`;
  return `${Math.ceil(seconds / 60)} minutes`;
}
