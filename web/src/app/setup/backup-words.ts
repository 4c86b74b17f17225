/** Backups in words. */
import type { Keeping } from '@terrace/contract';
import { moment } from '../ui/format';

const UNITS = ['bytes', 'KB', 'MB', 'GB', 'TB'];
const THOUSAND = 1000;

/** A size as people say it: three figures and a unit. */
export function sizeWords(bytes: number): string {
  const step = Math.min(UNITS.length - 1, Math.max(0, Math.floor(Math.log10(Math.max(1, bytes)) / 3)));
  const value = bytes / THOUSAND ** step;
  return `${step === 0 || value >= 100 ? Math.round(value) : value.toFixed(1)} ${UNITS[step] ?? ''}`;
}

/** When the last good one was, and what to think of that. */
export function goodWords({ lastGood, old, schedule, backups }: Pick<Keeping, 'lastGood' | 'old' | 'schedule' | 'backups'>): string {
  const kept = backups.length === 1 ? 'one is kept' : `${backups.length} are kept`;
  const next = schedule.on ? `made at ${schedule.at} every day` : 'not made by themselves';
  if (lastGood === null) return `there has never been a good one; ${next}`;
  return `the last good one is of ${moment(lastGood)}${old ? ', which is long ago' : ''}; ${next}, ${kept}`;
}
