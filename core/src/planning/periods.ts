/** The days of a plan cut into periods. */
import { dateOf, weekdayOf, type Day } from '../base';

export type Period = 'day' | 'week' | 'month';

function begins(day: Day, period: Period): boolean {
  return period === 'day' || (period === 'week' ? weekdayOf(day) === 1 : dateOf(day).endsWith('-01'));
}

/** Periods from the plan's first day to its last; weeks begin on Monday, and the first period on the plan's first day. */
export class Periods {
  readonly starts: readonly Day[];

  constructor(today: Day, horizon: Day, period: Period) {
    const starts = [today];
    for (let day = today + 1; day <= horizon; day += 1) if (begins(day, period)) starts.push(day);
    this.starts = starts;
  }

  /** The place of a day's period: the first for what is past, the last for what lies beyond. */
  at(day: Day): number {
    let [low, high] = [0, this.starts.length - 1];
    while (low < high) {
      const middle = Math.ceil((low + high) / 2);
      if ((this.starts[middle] ?? 0) <= day) low = middle;
      else high = middle - 1;
    }
    return low;
  }
}
