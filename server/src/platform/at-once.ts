/** How much work elsewhere one person may have under way at once, so that nobody waits behind all that another has asked for. */
import { Refusal } from '@terrace/core';

const MOST_AT_ONCE = 3;

export class AtOnce {
  private readonly underWay = new Map<number, number>();

  /** Carries work out for a person. Refuses `busyForYou` where as much as may be is under way for them already. */
  async for<T>(personId: number, work: () => Promise<T>): Promise<T> {
    const now = this.underWay.get(personId) ?? 0;
    if (now >= MOST_AT_ONCE) throw new Refusal('busyForYou', `${MOST_AT_ONCE} files are being made for you already: wait until one of them is done.`);
    this.underWay.set(personId, now + 1);
    try {
      return await work();
    } finally {
      const left = (this.underWay.get(personId) ?? 1) - 1;
      if (left > 0) this.underWay.set(personId, left);
      else this.underWay.delete(personId);
    }
  }
}
