/** Shifts: at which times of a day of work work is done. */
import { Refusal } from '../base';

export interface Shift {
  readonly name: string;
  /** Days of the week on which it begins: 1 for Monday to 7 for Sunday. */
  readonly days: readonly number[];
  /** Times of day as HH:MM; one that ends at or before its beginning ends on the next day. */
  readonly from: string;
  readonly to: string;
}

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const LINE = /^(.+?)\s+([a-z]{3}(?:\s*[-–,]\s*[a-z]{3})*)\s+(\d{1,2}:\d{2})\s*[-–]\s*(\d{1,2}:\d{2})$/i;
const WEEK_MINUTES = 7 * 24 * 60;

function dayNamed(text: string): number {
  const at = DAYS.findIndex((day) => day.toLowerCase() === text.trim().toLowerCase());
  if (at < 0) throw new Refusal('badShift', `“${text.trim()}” is no day of the week: they are ${DAYS.join(', ')}.`);
  return at + 1;
}

function readDays(text: string): number[] {
  const days = text.split(',').flatMap((part) => {
    const [first = '', last = first] = part.split(/[-–]/);
    const [from, to] = [dayNamed(first), dayNamed(last)];
    const many = ((to - from + 7) % 7) + 1;
    return Array.from({ length: many }, (_, index) => ((from - 1 + index) % 7) + 1);
  });
  return [...new Set(days)].sort();
}

function readTime(text: string): string {
  const [hours = '', minutes = ''] = text.split(':');
  if (Number(hours) > 23 || Number(minutes) > 59) throw new Refusal('badShift', `${text} is no time of day.`);
  return `${hours.padStart(2, '0')}:${minutes}`;
}

const minutesOf = (time: string): number => Number(time.slice(0, 2)) * 60 + Number(time.slice(3));

/** Minutes from the beginning of Monday at which a shift begins and ends, for each of its days. */
function spansOf({ days, from, to }: Shift): { readonly begin: number; readonly end: number }[] {
  const length = (minutesOf(to) - minutesOf(from) + 24 * 60) % (24 * 60) || 24 * 60;
  return days.map((day) => {
    const begin = (day - 1) * 24 * 60 + minutesOf(from);
    return { begin, end: begin + length };
  });
}

function assertApart(shifts: readonly Shift[]): void {
  const spans = shifts
    .flatMap((shift) => spansOf(shift).flatMap(({ begin, end }) => [-WEEK_MINUTES, 0].map((off) => ({ shift, begin: begin + off, end: end + off }))))
    .sort((a, b) => a.begin - b.begin);
  spans.forEach((each, index) => {
    const next = spans[index + 1];
    if (next && next.begin < each.end)
      throw new Refusal('badShift', `${each.shift.name} and ${next.shift.name} overlap: nobody works twice at once. Change one of them.`);
  });
}

/**
 * Reads shifts, one a line. Refuses `badShift` where a line is none, or two overlap.
 *
 * @param text lines such as `Early Mon-Fri 06:00-14:00`
 * @example readShifts('Night Mon-Thu 22:00-06:00')[0].days // [1, 2, 3, 4]
 */
export function readShifts(text: string): Shift[] {
  const lines = text.split('\n').filter((line) => line.trim() !== '');
  const shifts = lines.map((line): Shift => {
    const [, name, days, from, to] = LINE.exec(line.trim()) ?? [];
    if (name === undefined || days === undefined || from === undefined || to === undefined)
      throw new Refusal('badShift', `“${line.trim()}” is no shift: write a name, the days and the times, as in “Early Mon-Fri 06:00-14:00”.`);
    return { name, days: readDays(days), from: readTime(from), to: readTime(to) };
  });
  assertApart(shifts);
  return shifts;
}

/** Shifts as they are read, one a line. */
export function writeShifts(shifts: readonly Shift[]): string {
  return shifts.map(({ name, days, from, to }) => `${name} ${writeDays(days)} ${from}-${to}`).join('\n');
}

function writeDays(days: readonly number[]): string {
  const runs: [number, number][] = [];
  for (const day of days) {
    const last = runs.at(-1);
    if (last && last[1] === day - 1) last[1] = day;
    else runs.push([day, day]);
  }
  const name = (day: number): string => DAYS[day - 1] ?? '';
  return runs.map(([from, to]) => (from === to ? name(from) : `${name(from)}-${name(to)}`)).join(',');
}
