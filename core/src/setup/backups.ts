/** When a backup is due, and which are kept. */

export interface BackupSchedule {
  /** Time of day, as HH:MM. */
  readonly at: string;
  /** How many are kept; the latest. */
  readonly keep: number;
}

/** Hours after which a backup is old. */
export const OLD_BACKUP_HOURS = 48;

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;

/**
 * Whether a backup is due: the last time of day that was scheduled has come since the last good one. Whoever was off at that
 * time is due as soon as they are there.
 *
 * @param schedule when
 * @param lastGood the moment of the last good one, in milliseconds; `null` where there is none
 * @param now the moment, in milliseconds
 * @param minutes how many minutes of the day have passed at that moment where the company is
 * @example isBackupDue({ at: '02:00', keep: 7 }, yesterdayAtThree, todayAtNine, 9 * 60) // true: two o'clock of today has come
 */
export function isBackupDue({ at }: BackupSchedule, lastGood: number | null, now: number, minutes: number): boolean {
  if (lastGood === null) return true;
  const [hour = '0', minute = '0'] = at.split(':');
  const since = minutes - (Number(hour) * 60 + Number(minute));
  const scheduled = now - (since >= 0 ? since : since + DAY_MS / 60_000) * 60_000;
  return lastGood < scheduled;
}

/** Whether the last good backup is so old that somebody should be told. */
export function isBackupOld(lastGood: number | null, now: number): boolean {
  return lastGood === null || now - lastGood > OLD_BACKUP_HOURS * HOUR_MS;
}

/**
 * The backups that are dropped: all but the latest few, by their names, which begin with their time.
 *
 * @example backupsToDrop(['terrace-20270228-020000.backup', 'terrace-20270301-020000.backup'], 1) // the first
 */
export function backupsToDrop(names: readonly string[], keep: number): string[] {
  return [...names].sort().slice(0, Math.max(0, names.length - keep));
}
