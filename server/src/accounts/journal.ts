/** The journal as a list, and the accounts that it is kept in. */
import { eq, sql } from 'drizzle-orm';
import type { AnswerOf, ListQuery } from '@terrace/contract';
import type { api } from '@terrace/contract';
import { asAmountText, asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { addRowOnce } from '../platform/rows';
import type { Work } from '../platform/work';
import { account, journalEntry, journalLine } from './schema';

const journal = list(() => ({
  columns: {
    id: asNumber(journalLine.id),
    entry: asNumber(journalEntry.id),
    date: asText(journalEntry.date),
    event: asText(journalEntry.event),
    document: asText(journalEntry.documentNumber),
    documentKind: asText(journalEntry.documentKind),
    documentId: asNumber(journalEntry.documentId),
    account: asText(journalLine.account),
    accountName: asText(account.name),
    debit: asAmountText(journalLine.debit),
    credit: asAmountText(journalLine.credit),
  },
  from: journalLine,
  joins: [refersTo(journalEntry, eq(journalEntry.id, journalLine.entryId)), refersTo(account, eq(account.code, journalLine.account))],
  find: [journalEntry.documentNumber, journalEntry.event, journalLine.account, account.name],
  order: [sql`${journalLine.entryId} desc`],
  tie: [journalLine.id],
}));

export function listJournal(work: Work, asked: ListQuery): AnswerOf<typeof api.accounts.journal> {
  return listPage(work, journal, asked);
}

const accounts = query(
  () => (db) =>
    db
      .select({ id: sql<number>`${account}.rowid`, code: account.code, name: account.name })
      .from(account)
      .orderBy(account.code),
);
const byCode = query(($: { code: string }) => (db) => db.select({ name: account.name }).from(account).where(eq(account.code, $.code)));

/** All accounts, by their codes. */
export function allAccounts(work: Work): { id: number; code: string; name: string }[] {
  return accounts.all(work);
}

/** The name of an account; `null` where there is none of this code. */
export function accountName(work: Work, code: string): string | null {
  return byCode.one(work, { code })?.name ?? null;
}

/** Opens an account; one that is there by its code already is left as it is. */
export function openAccount(work: Work, code: string, name: string): void {
  addRowOnce(work, account, { code, name });
}
