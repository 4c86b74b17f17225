/** Which account is used for what, as the company has it. */
import { eq } from 'drizzle-orm';
import { CONTROL_ACCOUNTS, Refusal, type ControlAccounts, type ControlUse } from '@terrace/core';
import { countOf } from '../platform/expressions';
import { query } from '../platform/query';
import { keepRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { account, accountUse, journalLine } from './schema';

const kept = query(() => (db) => db.select({ use: accountUse.use, account: accountUse.account }).from(accountUse));
const linesOn = query(
  ($: { code: string }) => (db) =>
    db
      .select({ n: countOf(journalLine, eq(journalLine.account, account.code)) })
      .from(account)
      .where(eq(account.code, $.code)),
);
const known = new WeakMap<Work, ControlAccounts>();

/** The account of each use: as the company decided, else as proposed. */
export function accountUses(work: Work): ControlAccounts {
  let uses = known.get(work);
  if (!uses) {
    uses = { ...CONTROL_ACCOUNTS, ...Object.fromEntries(kept.all(work).map(({ use, account: code }) => [use, code])) };
    known.set(work, uses);
  }
  return uses;
}

/** Why the account of a use can’t be another any more, in words; empty where it can. */
export function whyUseStays(work: Work, use: ControlUse): string {
  const code = accountUses(work)[use];
  const lines = linesOn.one(work, { code })?.n ?? 0;
  return lines === 0
    ? ''
    : `${lines === 1 ? 'A line is' : `${lines} lines are`} posted on ${code} already: what stands there would be on two accounts.`;
}

/** Uses another account for something. Refuses `inUse` once something is posted on the old one, `unknownAccount`, and `usedOtherwise`. */
export function useAccount(work: Work, use: ControlUse, code: string): void {
  const uses = accountUses(work);
  if (uses[use] === code) return;
  const why = whyUseStays(work, use);
  const field = { field: 'account' };
  if (why !== '') throw new Refusal('inUse', why, field);
  const found = linesOn.one(work, { code });
  if (!found) throw new Refusal('unknownAccount', `There is no account "${code}": open it first.`, field);
  if (Object.values(uses).includes(code))
    throw new Refusal('usedOtherwise', `${code} is used for something else by itself: each use has an account of its own.`, field);
  if (found.n > 0) throw new Refusal('inUse', `On ${code} something is posted already: take one that is still empty.`, field);
  keepRow(work, accountUse, ['use'], { use, account: code });
  known.delete(work);
}
