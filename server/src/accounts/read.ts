/** The journal as a list, and the proof that it equals the ledgers. */
import type { AnswerOf, ListQuery } from '@terrace/contract';
import type { api } from '@terrace/contract';
import { CONTROL_ACCOUNTS, writeAmount } from '@terrace/core';
import { asAmountText, asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import type { Work } from '../platform/work';

const journal: ListDefinition = {
  columns: {
    id: asNumber('l.id'),
    entry: asNumber('e.id'),
    date: asText('e.date'),
    event: asText('e.event'),
    document: asText('e.document_number'),
    documentKind: asText('e.document_kind'),
    documentId: asNumber('e.document_id'),
    account: asText('l.account'),
    accountName: asText('a.name'),
    debit: asAmountText('l.debit'),
    credit: asAmountText('l.credit'),
  },
  from: 'journal_line l join journal_entry e on e.id = l.entry_id join account a on a.code = l.account',
  countFrom: 'journal_line l',
  find: ['e.document_number', 'e.event', 'l.account', 'a.name'],
  order: 'l.entry_id desc',
  tie: 'l.id',
};

export function listJournal(work: Work, query: ListQuery): AnswerOf<typeof api.accounts.journal> {
  return listPage(work, journal, query);
}

type Proof = AnswerOf<typeof api.accounts.proof>;

/** Balances of all accounts, and each control account against the ledger that it stands for. */
export function proveAccounts(work: Work): Proof {
  const accounts = work.rows<{ code: string; name: string; balance: number }>(
    'select a.code, a.name, coalesce(sum(l.debit - l.credit), 0) as balance from account a left join journal_line l on l.account = a.code group by a.code order by a.code',
  );
  const balanceOf = (code: string): number => accounts.find((each) => each.code === code)?.balance ?? 0;
  const one = (sql: string, ...values: readonly unknown[]): number => work.row<{ n: number | null }>(sql, ...values)?.n ?? 0;
  const check = (name: string, expected: number, found: number): Proof['checks'][number] => ({
    name,
    expected: writeAmount(expected),
    found: writeAmount(found),
    holds: expected === found,
  });
  const inventory = one(
    'select sum(l.debit - l.credit) as n from journal_line l where l.account in (select distinct inventory_account from item_group)',
  );
  const perGroup = work.rows<{ account: string; value: number }>(
    'select g.inventory_account as account, sum(c.value) as value from cost_pool c join item i on i.id = c.item_id join item_group g on g.code = i.group_code group by 1 order by 1',
  );
  return {
    accounts: accounts.map((each) => ({ ...each, balance: writeAmount(each.balance) })),
    checks: [
      check('All debits equal all credits', one('select sum(debit) as n from journal_line'), one('select sum(credit) as n from journal_line')),
      check(
        'Entries that do not balance',
        0,
        one('select count(*) as n from (select 1 from journal_line group by entry_id having sum(debit) <> sum(credit))'),
      ),
      check('Inventory accounts equal the stock ledger', one('select sum(value) as n from cost_pool'), inventory),
      ...perGroup.map((each) => check(`Inventory account ${each.account} equals its items`, each.value, balanceOf(each.account))),
      check('Goods received not invoiced equal receipts', -one(RECEIVED_VALUE), balanceOf(CONTROL_ACCOUNTS.grni)),
      check('Work in process equals open production orders', one(WIP_VALUE), balanceOf(CONTROL_ACCOUNTS.wip)),
      check(
        'Receivables equal open invoices',
        one("select sum(total - paid) as n from invoice where state <> 'reversed'"),
        balanceOf(CONTROL_ACCOUNTS.receivables),
      ),
    ],
  };
}

/** Worth of goods received, less what was taken back, as the moves say it. */
const RECEIVED_VALUE = `select sum(m.value + m.variance) as n from stock_move m
  where m.document_kind = 'receipt' and m.from_kind = 'supplier' and not exists (select 1 from stock_move r where r.reversal_of = m.id)`;

/** What went into production orders and has not come out, as the moves say it. */
const WIP_VALUE = `select sum(case when to_kind = 'production' then value else -value - variance end) as n from stock_move m
  where (to_kind = 'production' or from_kind = 'production') and m.reversal_of is null and not exists (select 1 from stock_move r where r.reversal_of = m.id)`;
