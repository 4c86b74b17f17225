/** Keeping it safe: backups by themselves, each opened and checked. */
import { z } from 'zod';
import { route } from '../base/route';

const scheduleFields = {
  /** Whether backups are made by themselves. */
  on: z.boolean(),
  /** Time of day where the company is, as HH:MM. */
  at: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Give a time as 02:00.'),
  /** How many are kept. */
  keep: z.number().int().min(1, 'Keep one at least.').max(400, 'At most 400 are kept.'),
  /** Where: below the data folder, or anywhere by a whole path. */
  folder: z.string().trim().min(1, 'Say where.').max(400),
};

const keeping = z.object({
  schedule: z.object(scheduleFields),
  /** The folder as a whole path. */
  place: z.string(),
  /** Moment of the last good one, in world time. */
  lastGood: z.string().nullable(),
  /** Whether that is so long ago that somebody should look. */
  old: z.boolean(),
  /** What came of the last, in words; empty where there was none. */
  last: z.string(),
  running: z.boolean(),
  /** Those that are there, the latest first. */
  backups: z.array(z.object({ name: z.string(), bytes: z.number() })),
  /** Bytes free, of how many, where the data is. */
  disk: z.object({ free: z.number(), total: z.number() }),
});
export type Keeping = z.output<typeof keeping>;

const look = z.object({
  company: z.string(),
  /** What was done last in it: the moment, in world time. */
  lastAt: z.string(),
  /** How many of each kind of record it has. */
  counts: z.array(z.object({ what: z.string(), n: z.number() })),
});
export type BackupLook = z.output<typeof look>;

const archives = z.object({
  /** Those that are there, the latest first. */
  archives: z.array(z.object({ name: z.string(), bytes: z.number() })),
  /** How many are kept: a new one lets the oldest go. */
  kept: z.number().int(),
});
export type ArchivesView = z.output<typeof archives>;

/** What keeps the company from being worked on safely; nothing where all is well. */
const condition = z.object({
  condition: z
    .object({
      kind: z.enum(['damaged', 'clockBack', 'diskFull', 'diskLow']),
      /** Whether commands are refused while it is so. */
      stops: z.boolean(),
      /** For whoever sees it, on every screen. */
      words: z.string(),
    })
    .nullable(),
});

export const keepingRoutes = {
  condition: route({
    method: 'get',
    path: '/session/condition',
    summary: 'What keeps the company from being worked on safely: room on the disk, the clock, a damaged file',
    right: 'signedIn',
    answer: condition,
  }),
  believeClock: route({
    method: 'post',
    path: '/setup/clock',
    summary: 'Say that the server’s clock is right as it is now, after it has gone back',
    right: 'setup.edit',
    answer: condition,
  }),
  archives: route({
    method: 'get',
    path: '/setup/archives',
    summary: 'The whole company as open files in one: those that were written',
    right: 'setup.edit',
    answer: archives,
  }),
  writeArchive: route({
    method: 'post',
    path: '/setup/archives',
    summary: 'Write the whole company as open files into one',
    right: 'setup.edit',
    answer: archives,
  }),
  keeping: route({
    method: 'get',
    path: '/setup/keeping',
    summary: 'Backups: when, where, and how the last went',
    right: 'setup.see',
    answer: keeping,
  }),
  saveBackups: route({
    method: 'put',
    path: '/setup/keeping',
    summary: 'Say when backups are made, where, and how many are kept',
    right: 'setup.edit',
    body: z.object(scheduleFields),
    answer: keeping,
  }),
  backUpNow: route({
    method: 'post',
    path: '/setup/keeping/backups',
    summary: 'Make a backup now, and check it',
    right: 'setup.edit',
    answer: keeping,
  }),
  restoreBackup: route({
    method: 'post',
    path: '/setup/keeping/backups/:name/restore',
    summary: 'Put a backup in the place of what is there; everybody signs in again, and what was there is kept beside',
    right: 'setup.edit',
    params: z.object({ name: z.string().regex(/^terrace-\d{8}-\d{6}\.backup$/, 'This is no backup of Terrace’s own.') }),
    answer: z.object({}),
  }),
  lookIntoBackup: route({
    method: 'get',
    path: '/setup/keeping/backups/:name',
    summary: 'What is in a backup, before it takes the place of anything',
    right: 'setup.see',
    params: z.object({ name: z.string().regex(/^terrace-\d{8}-\d{6}\.backup$/, 'This is no backup of Terrace’s own.') }),
    answer: look,
  }),
};
