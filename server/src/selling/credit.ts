/** What a customer may owe: looked at when an order is confirmed, or when a confirmed one grows. */
import { and, eq, inArray, ne, sql } from 'drizzle-orm';
import type { AnswerOf, api } from '@terrace/contract';
import {
  BOOKS_RATE,
  Refusal,
  amountToBooks,
  asAmount,
  asQuantity,
  charged,
  freeOfNext,
  totalOf,
  writeAmount,
  type Amount,
  type Quantity,
} from '@terrace/core';
import { owedBy } from '../accounts';
import type { customerOf } from '../catalogue';
import { total } from '../platform/expressions';
import { query } from '../platform/query';
import { keepSetting, settingOf } from '../platform/settings';
import type { Work } from '../platform/work';
import { customerOrder, customerOrderLine } from './schema';

type Rule = AnswerOf<typeof api.selling.getCreditRule>['rule'];
const RULES: readonly Rule[] = ['off', 'warn', 'stop'];

/** What the company does where a credit limit is passed: nothing, warn, or stop. */
export function creditRule(work: Work): Rule {
  return RULES.find((each) => each === settingOf(work.store, 'creditRule')) ?? 'warn';
}

export function setCreditRule(work: Work, rule: Rule): void {
  keepSetting(work.store, 'creditRule', rule);
  work.record('setup', 0, `credit limits: ${rule}`);
}

const untouched = query(
  ($: { customerId: number; except: number }) => (db) =>
    db
      .select({ worth: total(customerOrder.booksTotal) })
      .from(customerOrder)
      .where(and(eq(customerOrder.customerId, $.customerId), ne(customerOrder.id, $.except), eq(customerOrder.state, 'confirmed'))),
);

const linesBegun = query(
  ($: { customerId: number; except: number }) => (db) =>
    db
      .select({
        orderId: customerOrder.id,
        quantity: customerOrderLine.quantity,
        shipped: customerOrderLine.shipped,
        invoiced: customerOrderLine.invoiced,
        cancelled: customerOrderLine.cancelled,
        free: customerOrderLine.free,
        freeInvoiced: customerOrderLine.freeInvoiced,
        price: customerOrderLine.price,
        discount: customerOrderLine.discount,
        taxRate: customerOrder.taxRate,
        rate: customerOrder.rate,
      })
      .from(customerOrderLine)
      .innerJoin(customerOrder, eq(customerOrder.id, customerOrderLine.orderId))
      .where(
        and(
          eq(customerOrder.customerId, $.customerId),
          ne(customerOrder.id, $.except),
          inArray(customerOrder.state, ['partShipped', 'shipped']),
          sql`${customerOrderLine.quantity} - ${customerOrderLine.cancelled} > ${customerOrderLine.invoiced}`,
        ),
      ),
);

type Line = ReturnType<typeof linesBegun.all>[number];

export interface CreditUse {
  /** Open on invoices, shipped and not invoiced, still to ship; with tax, in the books' currency. */
  readonly invoices: Amount;
  readonly shipped: Amount;
  readonly orders: Amount;
}

/** What is charged of a line's pieces that have shipped and are not invoiced, and of those that are still to ship. */
function chargedShipped(line: Line): Quantity {
  const gone = asQuantity(Math.max(0, line.shipped - line.invoiced));
  return asQuantity(gone - freeOfNext(line, gone));
}
function chargedToShip(line: Line): Quantity {
  return asQuantity(Math.max(0, charged(line) - (line.invoiced - line.freeInvoiced) - chargedShipped(line)));
}

/** What of a customer's credit is in use, without one order. */
export function creditUse(work: Work, customerId: number, exceptOrder: number): CreditUse {
  const byOrder = new Map<number, Line[]>();
  for (const line of linesBegun.all(work, { customerId, except: exceptOrder }))
    byOrder.set(line.orderId, [...(byOrder.get(line.orderId) ?? []), line]);
  const worth = (lines: readonly Line[], quantityOf: (line: Line) => Quantity): number =>
    amountToBooks(
      totalOf(
        lines.map((line) => ({ ...line, quantity: quantityOf(line) })),
        lines[0]?.taxRate ?? 0,
      ).total,
      lines[0]?.rate ?? BOOKS_RATE,
    );
  const all = [...byOrder.values()];
  const shipped = all.reduce((sum, lines) => sum + worth(lines, chargedShipped), 0);
  // Of an order of which nothing has shipped the whole worth is still to ship.
  const whole = untouched.one(work, { customerId, except: exceptOrder })?.worth ?? 0;
  const orders = all.reduce((sum, lines) => sum + worth(lines, chargedToShip), whole);
  return { invoices: owedBy(work, customerId), shipped: asAmount(shipped), orders: asAmount(orders) };
}

/**
 * Refuses `creditLimit` where an order takes its customer beyond what they may owe and the company stops such orders, and
 * `beyondCredit` where it warns and nobody has said to go on.
 */
export function assertCredit(
  work: Work,
  customer: Pick<ReturnType<typeof customerOf>, 'id' | 'name' | 'creditLimit'>,
  order: { readonly id: number; readonly number: string; readonly booksTotal: Amount },
  goOn: boolean,
): void {
  const rule = creditRule(work);
  const { creditLimit: limit } = customer;
  if (limit === null || rule === 'off' || (rule === 'warn' && goOn)) return;
  const use = creditUse(work, customer.id, order.id);
  const all = use.invoices + use.shipped + use.orders + order.booksTotal;
  if (all <= limit) return;
  const words = (amount: number): string => writeAmount(amount);
  throw new Refusal(
    rule === 'stop' ? 'creditLimit' : 'beyondCredit',
    `With ${order.number} (${words(order.booksTotal)}) ${customer.name} would owe ${words(all)}, and the credit limit is ${words(limit)}: ` +
      `${words(use.invoices)} on invoices, ${words(use.shipped)} shipped and not invoiced, ${words(use.orders)} still to ship. ` +
      (rule === 'stop' ? 'Ask for a payment, or have the limit raised.' : 'Confirm it all the same, or ask for a payment first.'),
    { limit: words(limit), use: words(all) },
  );
}
