/** The proof that the journal equals the ledgers. */
import { and, eq, isNotNull, isNull, ne, sql } from 'drizzle-orm';
import type { AnswerOf, api } from '@terrace/contract';
import { writeAmount } from '@terrace/core';
import { itemGroup } from '../catalogue';
import { total } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { accountUses } from './uses';
import { otherRooms } from './handed-in';
import { invoice, payment, settlement } from './invoice-schema';
import { account, journalEntry, journalLine } from './schema';

type Proof = AnswerOf<typeof api.accounts.proof>;

const balance = total(sql<number>`${journalLine.debit} - ${journalLine.credit}`);
const balances = query(
  () => (db) =>
    db
      .select({ code: account.code, name: account.name, balance })
      .from(account)
      .leftJoin(journalLine, eq(journalLine.account, account.code))
      .groupBy(account.code)
      .orderBy(account.code),
);
const groupAccounts = query(() => (db) => db.selectDistinct({ account: itemGroup.inventoryAccount }).from(itemGroup));
const journalSums = query(() => (db) => db.select({ debit: total(journalLine.debit), credit: total(journalLine.credit) }).from(journalLine));
const unbalanced = query(
  () => (db) =>
    db
      .select({ entryId: journalLine.entryId })
      .from(journalLine)
      .groupBy(journalLine.entryId)
      .having(sql`sum(${journalLine.debit}) <> sum(${journalLine.credit})`),
);
const receivable = query(
  () => (db) =>
    db
      .select({ open: total(sql<number>`${invoice.booksTotal} - ${invoice.booksPaid}`) })
      .from(invoice)
      .where(ne(invoice.state, 'reversed')),
);

const received = query(
  () => (db) =>
    db
      .select({ sum: total(payment.booksAmount) })
      .from(payment)
      .where(eq(payment.reversed, false)),
);
const taken = query(
  () => (db) =>
    db
      .select({ sum: total(settlement.booksTaken) })
      .from(settlement)
      .where(and(isNotNull(settlement.paymentId), eq(settlement.reversed, false))),
);

/** Cash of payments that went through no drawer, as it could before drawers were asked for. */
const besideDrawers = query(
  ($: { account: string }) => (db) =>
    db
      .select({ sum: balance })
      .from(journalLine)
      .innerJoin(journalEntry, eq(journalEntry.id, journalLine.entryId))
      .innerJoin(payment, and(eq(journalEntry.documentKind, 'payment'), eq(journalEntry.documentId, payment.id)))
      .where(and(eq(journalLine.account, $.account), isNull(payment.drawerId))),
);

/** Balances of all accounts, and each control account against the ledger that it stands for. */
export function proveAccounts(work: Work): Proof {
  const accounts = balances.all(work);
  const uses = accountUses(work);
  const balanceOf = (code: string): number => accounts.find((each) => each.code === code)?.balance ?? 0;
  const { stockValue, stockValueByAccount, receivedValue, workInProcess, cashInDrawers } = otherRooms.get();
  const check = (name: string, expected: number, found: number): Proof['checks'][number] => ({
    name,
    expected: writeAmount(expected),
    found: writeAmount(found),
    holds: expected === found,
  });
  const sums = journalSums.one(work);
  // An account that no group names any more holds nothing; what stays on it would be stock that is nowhere.
  const byAccount = stockValueByAccount(work);
  const inventory = new Set([...groupAccounts.all(work), ...byAccount].map((each) => each.account));
  return {
    accounts: accounts.map((each) => ({ ...each, balance: writeAmount(each.balance) })),
    checks: [
      check('All debits equal all credits', sums?.debit ?? 0, sums?.credit ?? 0),
      check('Entries that do not balance', 0, unbalanced.all(work).length),
      check(
        'Inventory accounts equal the stock ledger',
        stockValue(work),
        [...inventory].reduce((sum, code) => sum + balanceOf(code), 0),
      ),
      ...byAccount.map((each) => check(`Inventory account ${each.account} equals its items`, each.value, balanceOf(each.account))),
      check('Goods received not invoiced equal receipts', -receivedValue(work), balanceOf(uses.grni)),
      check('Work in process equals open production orders', workInProcess(work), balanceOf(uses.wip)),
      check('Receivables equal open invoices', receivable.one(work)?.open ?? 0, balanceOf(uses.receivables)),
      check(
        'Paid ahead equals payments that close nothing',
        -((received.one(work)?.sum ?? 0) - (taken.one(work)?.sum ?? 0)),
        balanceOf(uses.advances),
      ),
      check(
        'Cash equals what is expected in drawers',
        cashInDrawers(work) + (besideDrawers.one(work, { account: uses.cash })?.sum ?? 0),
        balanceOf(uses.cash),
      ),
    ],
  };
}
