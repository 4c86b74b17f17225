/** How figures, dates and states are written on screens. */
import { Pipe, type PipeTransform } from '@angular/core';
import { dayOf, dayWords, weekdayOf, writeByHabit } from '@terrace/core';
import { habitNow } from './habit';

/** A decimal text as the reader is used to it, grouped by thousands; every decimal stays visible. */
export function grouped(figure: string | number | null | undefined): string {
  return figure === null || figure === undefined ? '' : writeByHabit(String(figure), habitNow());
}

const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** "Fri 12 Mar 2027". */
export function longDay(date: string | null | undefined): string {
  if (!date) return '';
  return `${WEEKDAYS[weekdayOf(dayOf(date)) - 1] ?? ''} ${shortDay(date)} ${date.slice(0, 4)}`;
}

/** "12 Mar". */
export function shortDay(date: string | null | undefined): string {
  if (!date) return '';
  const words = dayWords(date);
  return habitNow().monthFirst ? words.split(' ').reverse().join(' ') : words;
}

/** "12 Mar 09:41", in the reader's own time. */
export function moment(at: string): string {
  const time = new Date(at);
  const day = [String(time.getDate()), MONTHS[time.getMonth()] ?? ''];
  return `${(habitNow().monthFirst ? day.reverse() : day).join(' ')} ${String(time.getHours()).padStart(2, '0')}:${String(time.getMinutes()).padStart(2, '0')}`;
}

@Pipe({ name: 'grouped' })
export class GroupedPipe implements PipeTransform {
  transform = grouped;
}

/** A unit cost with as many decimals as are looked at: four at most. */
export function shortCost(cost: string): string {
  return grouped(cost.replace(/(\.\d{4})\d+$/, '$1'));
}

@Pipe({ name: 'cost' })
export class CostPipe implements PipeTransform {
  transform = shortCost;
}

@Pipe({ name: 'longDay' })
export class LongDayPipe implements PipeTransform {
  transform = longDay;
}

@Pipe({ name: 'shortDay' })
export class ShortDayPipe implements PipeTransform {
  transform = shortDay;
}

@Pipe({ name: 'moment' })
export class MomentPipe implements PipeTransform {
  transform = moment;
}

const READY: Readonly<Record<string, string>> = { all: 'all of it', part: 'a part', nothing: 'nothing yet', done: '' };

/** Whether an order can ship, in words. */
export function readyWords(ready: string): string {
  return READY[ready] ?? ready;
}
