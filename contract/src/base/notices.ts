import { z } from 'zod';

/** What people are told of. Routine ones are gathered where several came on one day. */
export const noticeKinds = [
  'finished',
  'arrived',
  'shipped',
  'onItsWay',
  'stockAskedFor',
  'lotBlocked',
  'lotChanged',
  'released',
  'promise',
  /** The keeping of the company itself: backups, the disk, the plan. */
  'keeping',
  'other',
] as const;
export const noticeKind = z.enum(noticeKinds);
export type NoticeKind = z.output<typeof noticeKind>;
