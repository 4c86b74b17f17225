/** The only place where it is asked what day it is. */
import type { Store } from './database';
import { settingOf } from './settings';

/** Where today and now come from; tests and the demo set their own. */
export interface Clock {
  readonly today: () => string;
  readonly now: () => string;
}

/**
 * The clock of a company: its day is that of its time zone, wherever the machine stands, or the one that is fixed. Whoever has a
 * company goes by this one, in whatever thread.
 */
export function companyClock(store: Store, fixedToday: string | null): Clock {
  return {
    today: () => fixedToday ?? dayIn(settingOf(store, 'timeZone'), new Date()),
    now: () => new Date().toISOString(),
  };
}

/** The day of the machine, for what is done before there is a company. */
export function machineDay(fixedToday: string | null): string {
  return fixedToday ?? dayIn(null, new Date());
}

const formats = new Map<string | null, Intl.DateTimeFormat>();

/** Minutes of the day that have passed at a moment in a time zone. */
export function minutesIn(timeZone: string | null, moment: Date): number {
  const parts = new Intl.DateTimeFormat('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
    ...(timeZone === null ? {} : { timeZone }),
  });
  const [hours = '0', minutes = '0'] = parts.format(moment).split(':');
  return Number(hours) * 60 + Number(minutes);
}

/** The day of a moment in a time zone, as YYYY-MM-DD. */
export function dayIn(timeZone: string | null, moment: Date): string {
  let format = formats.get(timeZone);
  if (!format) {
    const parts = { year: 'numeric', month: '2-digit', day: '2-digit' } as const;
    format = new Intl.DateTimeFormat('en-GB', { ...parts, ...(timeZone === null ? {} : { timeZone }) });
    formats.set(timeZone, format);
  }
  const [day = '', month = '', year = ''] = format.format(moment).split('/');
  return `${year}-${month}-${day}`;
}
