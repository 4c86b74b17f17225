/** Business days. A day is a whole number counted from 1970-01-01, so that comparing and stepping cost nothing. */

/** Whole days since 1970-01-01. */
export type Day = number;

const DATE = /^(\d{4})-(\d{2})-(\d{2})$/;
const LAST_YEAR = 2199;
const MS_PER_DAY = 86_400_000;

const MOST_KNOWN = 20_000;
const known = new Map<string, Day | null>();

/** The day of a `YYYY-MM-DD` date, or `null` where there is no such day or it is after 2199. Dates come in crowds: each is read once. */
export function readDay(text: string): Day | null {
  let day = known.get(text);
  if (day === undefined) {
    day = parseDay(text);
    if (known.size >= MOST_KNOWN) known.clear();
    known.set(text, day);
  }
  return day;
}

function parseDay(text: string): Day | null {
  const match = DATE.exec(text);
  if (!match) return null;
  const [year, month, date] = [Number(match[1]), Number(match[2]), Number(match[3])];
  if (year > LAST_YEAR) return null;
  const moment = new Date(0);
  moment.setUTCFullYear(year, month - 1, date);
  if (moment.getUTCFullYear() !== year || moment.getUTCMonth() !== month - 1 || moment.getUTCDate() !== date) return null;
  return Math.round(moment.getTime() / MS_PER_DAY);
}

/** The day of a date known to be one. */
export function dayOf(text: string): Day {
  const day = readDay(text);
  if (day === null) throw new RangeError(`${text} is not a date`);
  return day;
}

/** `YYYY-MM-DD` of a day. */
export function dateOf(day: Day): string {
  return new Date(day * MS_PER_DAY).toISOString().slice(0, 10);
}

/** The date some calendar days after (or, below zero, before) a date. */
export function addDays(date: string, days: number): string {
  return dateOf(dayOf(date) + days);
}

/** 1 for Monday to 7 for Sunday (ISO 8601). */
export function weekdayOf(day: Day): number {
  return ((((day + 3) % 7) + 7) % 7) + 1;
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** A date as it is said where its year goes without saying: "12 Mar". */
export function dayWords(date: string): string {
  return `${Number(date.slice(8, 10))} ${MONTHS[Number(date.slice(5, 7)) - 1] ?? ''}`;
}

/** What days are worked: ISO weekdays, less single holidays. */
export interface CalendarDefinition {
  readonly code: string;
  readonly workdays: readonly number[];
  readonly holidays: readonly string[];
}

/** A working calendar, ready to count. */
export class WorkingCalendar {
  private readonly works: readonly boolean[];
  private readonly holidays: ReadonlySet<Day>;

  /** Throws RangeError where no weekday is worked, since no working day could ever be reached. */
  constructor(definition: CalendarDefinition) {
    this.works = [1, 2, 3, 4, 5, 6, 7].map((weekday) => definition.workdays.includes(weekday));
    if (!this.works.some(Boolean)) throw new RangeError(`calendar ${definition.code} has no working days`);
    this.holidays = new Set(definition.holidays.map(dayOf));
  }

  isWorkday(day: Day): boolean {
    return this.works[weekdayOf(day) - 1] === true && !this.holidays.has(day);
  }

  /** Steps back one day at a time, counting the working days reached, until `count` are counted. */
  back(day: Day, count: number): Day {
    return this.step(day, count, -1);
  }

  /** Steps ahead one day at a time, counting the working days reached, until `count` are counted. */
  ahead(day: Day, count: number): Day {
    return this.step(day, count, 1);
  }

  /** The nearest working day not after `day`. */
  onOrBefore(day: Day): Day {
    return this.isWorkday(day) ? day : this.step(day, 1, -1);
  }

  /** The nearest working day not before `day`. */
  onOrAfter(day: Day): Day {
    return this.isWorkday(day) ? day : this.step(day, 1, 1);
  }

  /** The working days reached on the way from `from` ahead to `to`; `ahead(from, between(from, to))` is the last of them. None backwards. */
  between(from: Day, to: Day): number {
    let counted = 0;
    for (let day = from + 1; day <= to; day += 1) if (this.isWorkday(day)) counted += 1;
    return counted;
  }

  private step(from: Day, count: number, direction: 1 | -1): Day {
    let day = from;
    for (let counted = 0; counted < count;) {
      day += direction;
      if (this.isWorkday(day)) counted += 1;
    }
    return day;
  }
}
