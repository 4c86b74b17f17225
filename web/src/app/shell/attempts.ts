/** What somebody is told of attempts to sign in with their name. */
import type { Session } from '@terrace/contract';
import { moment } from '../ui/format';

export function attemptWords({ count, lastAt, from }: NonNullable<Session['attempts']>): string {
  const many = count === 1 ? 'One attempt' : `${count} attempts`;
  return `${many} to sign in with your name failed since you signed in before, the last on ${moment(lastAt)} from ${from}. If that was not you, tell an administrator.`;
}
