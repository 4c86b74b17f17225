/** Files that come in and go out by themselves, in folders below the data folder. */
import { z } from 'zod';
import { route } from '../base/route';
import { idParams, shortText, version } from '../base/schemas';
import { importKinds } from '../bulk';

/** Lists that can be written every night. */
export const scheduledLists = [
  'stock',
  'customerOrders',
  'purchaseOrders',
  'productionOrders',
  'shipments',
  'invoices',
  'moves',
  'suggestions',
] as const;
export type ScheduledList = (typeof scheduledLists)[number];

const fields = {
  name: shortText.min(1, 'Give a name.').max(60),
  /** Whether files are taken in from the folder, or written into it. */
  direction: z.enum(['in', 'out']),
  /** What comes in or goes out: a kind of file, or (out only) a list. */
  kind: z.enum([...importKinds, ...scheduledLists]),
  /** Below `exchange` in the data folder. */
  folder: z
    .string()
    .trim()
    .regex(/^[\w-]{1,40}(\/[\w-]{1,40}){0,3}$/, 'Give a folder as orders/in: letters, figures and dashes, one within the other by /.'),
  /** Time of day where the company is, as HH:MM, at which it is written; a folder is watched all day. */
  at: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Give a time as 02:00.'),
  active: z.boolean(),
};
const schedule = z.object({
  ...fields,
  id: z.number().int(),
  /** In whose name: what they may not do is not done. */
  who: z.string(),
  /** Moment in world time. */
  lastRun: z.string().nullable(),
  /** What came of the last, in words. */
  lastWords: z.string(),
  version,
});
const view = z.object({
  schedules: z.array(schedule),
  /** Where the folders are, as a whole path. */
  place: z.string(),
});
export type SchedulesView = z.output<typeof view>;

export const scheduleRoutes = {
  schedules: route({
    method: 'get',
    path: '/setup/schedules',
    summary: 'Files that come in and go out by themselves',
    right: 'setup.see',
    answer: view,
  }),
  saveSchedule: route({
    method: 'put',
    path: '/setup/schedules',
    summary: 'Watch a folder for files, or write a list into one every night, in one’s own name',
    right: 'setup.edit',
    body: z.object({ ...fields, id: z.number().int().positive().optional(), version: version.optional() }),
    answer: view,
  }),
  dropSchedule: route({
    method: 'delete',
    path: '/setup/schedules/:id',
    summary: 'Watch or write no more; files stay',
    right: 'setup.edit',
    params: idParams,
    answer: view,
  }),
  runSchedule: route({
    method: 'post',
    path: '/setup/schedules/:id/run',
    summary: 'Take in what lies there, or write it, now',
    right: 'setup.edit',
    params: idParams,
    answer: view,
  }),
};
