/** A customer's account: what is open, how old it is, and how it came about; and the statement that says so on paper. */
import { and, eq, gte, inArray, lt, ne, sql } from 'drizzle-orm';
import type { CustomerAccount } from '@terrace/contract';
import { addDays, ageBands, asAmount, bandOf, letOffOn, writeAmount, type AgeBand, type Amount } from '@terrace/core';
import { customerOf } from '../catalogue';
import { total } from '../platform/expressions';
import { addressOf, type DocumentPaper } from '../platform/paper';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { invoice, payment, settlement } from './invoice-schema';

const openInvoices = query(
  ($: { customerId: number }) => (db) =>
    db
      .select()
      .from(invoice)
      .where(and(eq(invoice.customerId, $.customerId), eq(invoice.state, 'open')))
      .orderBy(invoice.dueDate, invoice.id),
);
const rests = query(
  ($: { customerId: number }) => (db) =>
    db
      .select({
        id: payment.id,
        number: payment.number,
        date: payment.date,
        amount: payment.amount,
        taken: total(sql<Amount>`case when ${settlement.reversed} then 0 else ${settlement.amount} - ${settlement.letOff} end`),
      })
      .from(payment)
      .leftJoin(settlement, eq(settlement.paymentId, payment.id))
      .where(and(eq(payment.customerId, $.customerId), eq(payment.reversed, false)))
      .groupBy(payment.id)
      .having(
        sql`${payment.amount} <> coalesce(sum(case when ${settlement.reversed} then 0 else ${settlement.amount} - ${settlement.letOff} end), 0)`,
      )
      .orderBy(payment.id),
);
interface Moved {
  customerId: number;
  /** What they pay in: what was in another one is closed. */
  currency: string;
  since: string;
}
const invoicesSince = query(
  ($: Moved) => (db) =>
    db
      .select({ id: invoice.id, kind: invoice.kind, number: invoice.number, date: invoice.date, amount: invoice.total })
      .from(invoice)
      .where(and(eq(invoice.customerId, $.customerId), eq(invoice.currency, $.currency), ne(invoice.state, 'reversed'), gte(invoice.date, $.since))),
);
const paymentsSince = query(
  ($: Moved) => (db) =>
    db
      .select({ id: payment.id, number: payment.number, date: payment.date, amount: payment.amount })
      .from(payment)
      .where(and(eq(payment.customerId, $.customerId), eq(payment.currency, $.currency), eq(payment.reversed, false), gte(payment.date, $.since))),
);
const letOffSince = query(
  ($: Moved) => (db) =>
    db
      .select({ id: invoice.id, number: invoice.number, date: settlement.date, amount: settlement.letOff })
      .from(settlement)
      .innerJoin(invoice, eq(invoice.id, settlement.invoiceId))
      .where(
        and(
          eq(invoice.customerId, $.customerId),
          eq(invoice.currency, $.currency),
          eq(settlement.reversed, false),
          ne(settlement.letOff, sql`0`),
          gte(settlement.date, $.since),
        ),
      ),
);
const sumBefore = {
  invoices: query(
    ($: Moved) => (db) =>
      db
        .select({ sum: total(invoice.total) })
        .from(invoice)
        .where(and(eq(invoice.customerId, $.customerId), eq(invoice.currency, $.currency), ne(invoice.state, 'reversed'), lt(invoice.date, $.since))),
  ),
  payments: query(
    ($: Moved) => (db) =>
      db
        .select({ sum: total(payment.amount) })
        .from(payment)
        .where(and(eq(payment.customerId, $.customerId), eq(payment.currency, $.currency), eq(payment.reversed, false), lt(payment.date, $.since))),
  ),
  letOff: query(
    ($: Moved) => (db) =>
      db
        .select({ sum: total(settlement.letOff) })
        .from(settlement)
        .where(
          and(
            inArray(
              settlement.invoiceId,
              db
                .select({ id: invoice.id })
                .from(invoice)
                .where(and(eq(invoice.customerId, $.customerId), eq(invoice.currency, $.currency))),
            ),
            eq(settlement.reversed, false),
            lt(settlement.date, $.since),
          ),
        ),
  ),
};

type OpenItem = CustomerAccount['open'][number] & { readonly left: Amount };

/** All that is open between a customer and us, what is due first before the rest; what was paid ahead last. */
export function openItemsOf(work: Work, customerId: number): OpenItem[] {
  const invoices = openInvoices.all(work, { customerId }).map((each): OpenItem => {
    const left = asAmount(each.total - each.paid);
    return {
      kind: each.kind,
      id: each.id,
      number: each.number,
      date: each.date,
      dueDate: each.dueDate,
      total: writeAmount(each.total),
      open: writeAmount(left),
      left,
      band: each.kind === 'credit' ? 'notDue' : bandOf(each.dueDate, work.today),
      letOff: writeAmount(each.kind === 'credit' ? 0 : letOffOn(each, work.today)),
      reminded: each.reminded,
      remindedOn: each.remindedOn,
    };
  });
  const ahead = rests.all(work, { customerId }).map(({ id, number, date, amount, taken }): OpenItem => {
    const left = asAmount(taken - amount);
    const none = { dueDate: '', band: 'notDue', letOff: '0.00', reminded: 0, remindedOn: null } as const;
    return { kind: 'payment', id, number, date, total: writeAmount(-amount), open: writeAmount(left), left, ...none };
  });
  return [...invoices, ...ahead];
}

const sumOf = (some: readonly OpenItem[]): Amount => asAmount(some.reduce((sum, each) => sum + each.left, 0));

type Bands = Readonly<Record<AgeBand, Amount>>;
/** What is open on invoices, by how old it is. */
const inBands = (open: readonly OpenItem[]): Bands =>
  Object.fromEntries(ageBands.map((band) => [band, sumOf(open.filter((each) => each.kind === 'invoice' && each.band === band))])) as Bands;

/** Three months, unless it is asked for otherwise. */
const DAYS_BACK = 92;

/** A customer's account as it stands today. */
export function customerAccount(work: Work, customerId: number, asked: string | undefined): CustomerAccount {
  const customer = customerOf(work, customerId);
  const since = asked ?? addDays(work.today, -DAYS_BACK);
  const open = openItemsOf(work, customerId);
  const bands = inBands(open);
  const key = { customerId, currency: customer.currency, since };
  const sum = (rows: { readonly sum: number } | undefined): number => rows?.sum ?? 0;
  const before = sum(sumBefore.invoices.one(work, key)) - sum(sumBefore.payments.one(work, key)) - sum(sumBefore.letOff.one(work, key));
  const moved = [
    ...invoicesSince.all(work, key),
    ...paymentsSince.all(work, key).map((each) => ({ ...each, kind: 'payment' as const, amount: asAmount(-each.amount) })),
    ...letOffSince.all(work, key).map((each) => ({ ...each, kind: 'letOff' as const, amount: asAmount(-each.amount) })),
  ].sort((a, b) => (a.date === b.date ? ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind) || a.id - b.id : a.date < b.date ? -1 : 1));
  let balance = before;
  return {
    customerId,
    code: customer.code,
    customer: customer.name,
    email: customer.email,
    currency: customer.currency,
    creditLimit: customer.creditLimit === null ? null : writeAmount(customer.creditLimit),
    balance: writeAmount(sumOf(open)),
    overdue: writeAmount(bands.to30 + bands.to60 + bands.to90 + bands.older),
    bands: Object.fromEntries(ageBands.map((band) => [band, writeAmount(bands[band])])) as Record<AgeBand, string>,
    credit: writeAmount(sumOf(open.filter(({ kind }) => kind !== 'invoice'))),
    open: open.map(({ left: _left, ...each }) => each),
    since,
    before: writeAmount(before),
    movements: moved.map((each) => {
      balance += each.amount;
      return { ...each, amount: writeAmount(each.amount), balance: writeAmount(balance) };
    }),
  };
}
const ORDER = ['invoice', 'credit', 'payment', 'letOff'];

const MOVED_WORDS = { invoice: 'Invoice', credit: 'Credit note', payment: 'Payment', letOff: 'Let off, paid early' } as const;

/** The statement of a customer: every movement of the last months, and what is open. */
export const statementPaper: DocumentPaper = {
  right: 'accounts.see',
  make: (work, id) => {
    const account = customerAccount(work, id, undefined);
    return {
      title: 'Statement of account',
      number: account.code,
      to: addressOf(customerOf(work, id)),
      scannable: false,
      note:
        account.overdue === '0.00' ? 'Nothing is overdue. Thank you.' : `${account.overdue} ${account.currency} are overdue: please pay them now.`,
      facts: [
        ['As of', work.today],
        ['Since', account.since],
        ['Open before', account.before],
      ],
      table: {
        widths: [64, '*', 90, 76, 76],
        right: [3, 4],
        head: ['Date', '', 'Number', 'Amount', 'Balance'],
        rows: account.movements.map((each) => [each.date, MOVED_WORDS[each.kind], each.number, each.amount, each.balance]),
      },
      totals: [
        ['Not due yet', account.bands.notDue],
        ['Overdue up to 30 days', account.bands.to30],
        ['31 to 60 days', account.bands.to60],
        ['61 to 90 days', account.bands.to90],
        ['Longer', account.bands.older],
        ['Paid ahead and credited', account.credit],
        [`Balance ${account.currency}`, account.balance],
      ],
    };
  },
};
