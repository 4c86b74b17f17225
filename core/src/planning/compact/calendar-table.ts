/** A working calendar as a table of its days, so that counting a lead time costs two look-ups however long it is. */
import type { Day, WorkingCalendar } from '../../base';

const BEFORE = 800;
const AFTER = 1200;

/** What dating a suggestion asks of a calendar. */
export type DayCounter = Pick<WorkingCalendar, 'back' | 'ahead' | 'onOrBefore' | 'onOrAfter'>;

/** Counts like the calendar it is made from, which is asked itself for days far away. */
export class CalendarTable implements DayCounter {
  private readonly first: Day;
  private readonly last: Day;
  /** For each day of the table, how many working days of the table come before it. */
  private readonly before: Int32Array;
  private readonly days: Int32Array;

  constructor(
    private readonly calendar: WorkingCalendar,
    today: Day,
    horizon: Day,
  ) {
    this.first = today - BEFORE;
    this.last = Math.min(Math.max(horizon, today), today + 20_000) + AFTER;
    const length = this.last - this.first + 1;
    this.before = new Int32Array(length + 1);
    const found: Day[] = [];
    for (let day = this.first; day <= this.last; day += 1) {
      this.before[day - this.first] = found.length;
      if (calendar.isWorkday(day)) found.push(day);
    }
    this.before[length] = found.length;
    this.days = Int32Array.from(found);
  }

  back(day: Day, count: number): Day {
    if (count === 0) return day;
    return (
      (day < this.first || day > this.last ? undefined : this.days[(this.before[day - this.first] ?? 0) - count]) ?? this.calendar.back(day, count)
    );
  }

  ahead(day: Day, count: number): Day {
    if (count === 0) return day;
    return (
      (day < this.first || day > this.last ? undefined : this.days[(this.before[day - this.first + 1] ?? 0) + count - 1]) ??
      this.calendar.ahead(day, count)
    );
  }

  onOrBefore(day: Day): Day {
    return this.isWorkday(day) ? day : this.back(day, 1);
  }

  onOrAfter(day: Day): Day {
    return this.isWorkday(day) ? day : this.ahead(day, 1);
  }

  private isWorkday(day: Day): boolean {
    if (day < this.first || day > this.last) return this.calendar.isWorkday(day);
    return this.before[day - this.first] !== this.before[day - this.first + 1];
  }
}
