/** Who owes what: customers by how old what is open is, and reminding them of it in three steps. */
import { and, eq, exists, gt, lt, max, min, ne, or, sql, type SQL } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import type { AnswerOf, ListQuery, Reminder } from '@terrace/contract';
import { BAND_ENDS, ageBands, asAmount, reminderDue, writeAmount, type AgeBand, type Amount, type ReminderStep } from '@terrace/core';
import { customer, customerOf } from '../catalogue';
import { inner, or0, scalar } from '../platform/expressions';
import { houseRules } from '../platform/house-rules';
import { asAmountText, asNumber, asText, list, listPage } from '../platform/list';
import { queueMail } from '../platform/outbox';
import { query } from '../platform/query';
import { changeRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { invoice } from './invoice-schema';
import { aheadOf, openOf, owesOn } from './owing';

/** What is open of an invoice, in its own currency. */
const LEFT = sql<Amount>`${invoice.total} - ${invoice.paid}`;
const open = (...more: SQL[]): SQL<Amount> => openOf(customer.id, ...more);
const isInvoice = eq(invoice.kind, 'invoice');
const paidAhead = aheadOf(customer.id);

/** The band of each age as a condition on the due date: past its end of the band before, and not past its own. */
function within(band: AgeBand, lastDay: (days: number) => SQL): SQL {
  const at = ageBands.indexOf(band);
  const [before, own] = [BAND_ENDS[at - 1]?.[1], BAND_ENDS[at]?.[1]];
  return (
    and(
      before === undefined ? undefined : lt(invoice.dueDate, lastDay(before)),
      own === undefined ? undefined : sql`${invoice.dueDate} >= ${lastDay(own)}`,
    ) ?? sql`1`
  );
}
const daysAgo =
  (today: string | SQL) =>
  (days: number): SQL =>
    sql`date(${today}, ${`-${days} days`})`;

const debtors = list(($: { today: string }) => {
  const credits = sql<Amount>`${open(eq(invoice.kind, 'credit'))} - ${paidAhead}`;
  return {
    columns: {
      id: asNumber(customer.id),
      code: asText(customer.code),
      customer: asText(customer.name),
      currency: asText(customer.currency),
      balance: asAmountText(owesOn(customer.id)),
      ...Object.fromEntries(ageBands.map((band) => [band, asAmountText(open(isInvoice, within(band, daysAgo($.today))))])),
      overdue: asAmountText(open(isInvoice, lt(invoice.dueDate, $.today))),
      credit: asAmountText(credits),
      oldest: asText(
        scalar(
          inner
            .select({ oldest: min(invoice.dueDate) })
            .from(invoice)
            .where(and(eq(invoice.customerId, customer.id), eq(invoice.state, 'open'), isInvoice)),
        ),
      ),
      reminded: asNumber(
        or0(
          scalar(
            inner
              .select({ step: max(invoice.reminded) })
              .from(invoice)
              .where(and(eq(invoice.customerId, customer.id), eq(invoice.state, 'open'), isInvoice)),
          ),
        ),
      ),
    },
    from: customer,
    where: or(
      exists(
        inner
          .select({ one: sql`1` })
          .from(invoice)
          .where(and(eq(invoice.customerId, customer.id), eq(invoice.state, 'open'))),
      ),
      ne(paidAhead, sql`0`),
    ),
    find: [customer.code, customer.name],
    order: [sql`${open(isInvoice, lt(invoice.dueDate, $.today))} desc`, customer.name],
    tie: [customer.id],
  };
});

export function listDebtors(work: Work, asked: ListQuery): AnswerOf<typeof api.accounts.debtors> {
  return listPage(work, debtors, asked, { today: work.today });
}

const overdue = query(
  ($: { today: string }) => (db) =>
    db
      .select({
        id: invoice.id,
        number: invoice.number,
        customerId: invoice.customerId,
        dueDate: invoice.dueDate,
        left: LEFT,
        step: invoice.reminded,
        last: invoice.remindedOn,
      })
      .from(invoice)
      .where(and(eq(invoice.kind, 'invoice'), eq(invoice.state, 'open'), lt(invoice.dueDate, $.today), gt(LEFT, sql`0`)))
      .orderBy(invoice.dueDate, invoice.id),
);

type Overdue = ReturnType<typeof overdue.all>[number];
interface Due {
  readonly invoice: Overdue;
  readonly step: ReminderStep;
}

/** What is due to be reminded of today, by customer; only those asked for, where some are. */
function dueBy(work: Work, only: ReadonlySet<number> | null): Map<number, Due[]> {
  const { remindAfter } = houseRules(work.store);
  const by = new Map<number, Due[]>();
  for (const each of overdue.all(work, { today: work.today })) {
    if (only && !only.has(each.customerId)) continue;
    const step = reminderDue(each, work.today, { after: remindAfter });
    if (step !== null) by.set(each.customerId, [...(by.get(each.customerId) ?? []), { invoice: each, step }]);
  }
  return by;
}

function reminderOf(work: Work, customerId: number, due: readonly Due[]): Reminder {
  const { name, email, currency } = customerOf(work, customerId);
  const why =
    due.length === 0 ? 'Nothing is due to be reminded of.' : email === '' ? 'There is no mail address: add one, or send the statement by post.' : '';
  return {
    customerId,
    customer: name,
    step: Math.max(0, ...due.map(({ step }) => step)),
    invoices: due.map(({ invoice: { id, number, dueDate, left }, step }) => ({ id, number, dueDate, open: writeAmount(left), step })),
    total: writeAmount(asAmount(due.reduce((sum, each) => sum + each.invoice.left, 0))),
    currency,
    why,
  };
}

/** Whom to remind today, and of what; who owes the most first. */
export function previewReminders(work: Work): Reminder[] {
  return [...dueBy(work, null)]
    .map(([customerId, due]) => reminderOf(work, customerId, due))
    .sort((a, b) => b.step - a.step || Number(b.total) - Number(a.total));
}

const WORDS: Readonly<Record<ReminderStep, { readonly subject: string; readonly before: string; readonly after: string }>> = {
  1: {
    subject: 'A friendly reminder',
    before: 'perhaps it escaped you: these invoices are past their day.',
    after: 'If you have paid meanwhile, please take no notice.',
  },
  2: {
    subject: 'Second reminder',
    before: 'these invoices are still open.',
    after: 'Please pay them within seven days, or tell us what stands in the way.',
  },
  3: {
    subject: 'Last reminder',
    before: 'in spite of our reminders these invoices are not paid.',
    after: 'Please pay them within seven days. After that we send nothing more, and take further steps.',
  },
};

/** Reminds customers by mail, with their statement. What can’t be sent says why; the rest goes out. */
export function remind(work: Work, customerIds: readonly number[]): Reminder[] {
  const due = dueBy(work, new Set(customerIds));
  return [...new Set(customerIds)].map((customerId) => {
    const mine = due.get(customerId) ?? [];
    const reminder = reminderOf(work, customerId, mine);
    if (reminder.why !== '') return reminder;
    const { code, name, email } = customerOf(work, customerId);
    const step = Math.max(...mine.map((each) => each.step)) as ReminderStep;
    const { subject, before, after } = WORDS[step];
    const lines = reminder.invoices.map((each) => `${each.number}, due on ${each.dueDate}: ${each.open} ${reminder.currency}`);
    queueMail(work, {
      to: email,
      subject: `${subject}: ${reminder.total} ${reminder.currency}`,
      body: `Dear ${name},\n\n${before}\n\n${lines.join('\n')}\n\n${after} Your statement is attached.\n\n${work.actor.name}`,
      document: { kind: 'customer', id: customerId, number: code },
    });
    for (const { invoice: each, step: own } of mine) {
      changeRow(work, invoice, each.id, { reminded: own, remindedOn: work.today });
      work.record('invoice', each.id, `reminded for the ${['first', 'second', 'last'][own - 1]} time`);
    }
    work.record('customer', customerId, `reminded of ${reminder.total}`);
    return reminder;
  });
}
