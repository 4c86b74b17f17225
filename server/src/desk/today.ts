/** Today: what waits for this person, and a few figures with their trend. */
import { and, eq, exists, gt, inArray, isNull, lt, lte, min, ne, not, notExists, or, sql, type SQL } from 'drizzle-orm';
import type { Right, TodayView } from '@terrace/contract';
import { addDays, writeAmount } from '@terrace/core';
import { invoice } from '../accounts';
import { purchaseOrder, purchaseOrderLine, stillToCome } from '../buying';
import { customer, item, supplier } from '../catalogue';
import { shipment } from '../dispatch';
import { suggestion } from '../planning';
import { entriesOf, flag, inner, total } from '../platform/expressions';
import { query, type Query } from '../platform/query';
import type { Work } from '../platform/work';
import { productionOrder } from '../production';
import { IN_WORK, customerOrder, customerOrderLine, stillToShip } from '../selling';
import { reservation, stockMove, worthChange } from '../stores';

const FIRST = 3;
const TREND_WEEKS = 8;

type Waiting = TodayView['waiting'][number];

/** Something that waits; the most urgent come first. */
interface WaitingRow {
  readonly id: number;
  readonly text: string;
  readonly detail: string;
  readonly date: string | null;
  readonly urgent: boolean;
}

interface Source {
  readonly key: string;
  readonly right: Right;
  readonly label: string;
  readonly link: string;
  readonly urgentWord: string;
  /** Whether the rows are those of the kept plan. */
  readonly inPlan?: true;
  readonly rows: Query<{ today: string }, WaitingRow>;
  readonly page: string;
}

type Day = { today: string };
const inDays = (today: string, days: number): SQL => sql`date(${today}, ${`${days >= 0 ? '+' : ''}${days} days`})`;

const ordersWhere = (urgent: ($: Day) => SQL, where: ($: Day) => SQL | undefined) =>
  query(
    ($: Day) => (db) =>
      db
        .select({
          id: customerOrder.id,
          text: customerOrder.number,
          detail: customer.name,
          date: customerOrder.requiredDate,
          urgent: flag(urgent($)),
        })
        .from(customerOrder)
        .innerJoin(customer, eq(customer.id, customerOrder.customerId))
        .where(where($))
        .orderBy(customerOrder.requiredDate),
  );

const shortLine = inner
  .select({ one: sql`1` })
  .from(customerOrderLine)
  .innerJoin(item, eq(item.id, customerOrderLine.itemId))
  .leftJoin(reservation, and(eq(reservation.holderKind, 'customerOrder'), eq(reservation.holderId, customerOrderLine.id)))
  .where(and(eq(customerOrderLine.orderId, customerOrder.id), eq(item.kind, 'stocked'), sql`coalesce(${reservation.quantity}, 0) < ${stillToShip}`));
const HAS_NOT_LEFT = inArray(shipment.state, ['draft', 'picking']);
const openShipment = inner
  .select({ one: sql`1` })
  .from(shipment)
  .where(and(eq(shipment.orderId, customerOrder.id), HAS_NOT_LEFT));

const willBeLate = ordersWhere(
  ($) => lt(customerOrder.requiredDate, $.today),
  ($) =>
    and(IN_WORK, or(lt(customerOrder.requiredDate, $.today), sql`coalesce(${customerOrder.promiseDate}, '9999') > ${customerOrder.requiredDate}`)),
);
const readyToShip = ordersWhere(
  ($) => lte(customerOrder.requiredDate, $.today),
  () => and(IN_WORK, notExists(shortLine), not(exists(openShipment))),
);
const toConfirm = ordersWhere(
  ($) => lte(customerOrder.requiredDate, inDays($.today, 7)),
  () => eq(customerOrder.state, 'draft'),
);
const toPick = query(
  (_: Day) => (db) =>
    db
      .select({ id: shipment.id, text: shipment.number, detail: customer.name, date: shipment.date, urgent: flag(eq(shipment.state, 'picking')) })
      .from(shipment)
      .innerJoin(customerOrder, eq(customerOrder.id, shipment.orderId))
      .innerJoin(customer, eq(customer.id, customerOrder.customerId))
      .where(HAS_NOT_LEFT)
      .orderBy(shipment.id),
);
const toPlace = query(
  ($: Day) => (db) =>
    db
      .select({
        id: suggestion.id,
        text: sql<string>`${suggestion.code} || ' ' || ${suggestion.quantity} || ' ' || ${suggestion.unit}`,
        detail: suggestion.kind,
        date: suggestion.placeBy,
        urgent: flag(gt(suggestion.daysLate, 0)),
      })
      .from(suggestion)
      .where(and(isNull(suggestion.ignoredUntil), lte(suggestion.placeBy, inDays($.today, 7))))
      .orderBy(sql`${suggestion.daysLate} desc`, suggestion.placeBy),
);
const toApprove = query(
  ($: Day) => (db) =>
    db
      .select({
        id: purchaseOrder.id,
        text: purchaseOrder.number,
        detail: supplier.name,
        date: purchaseOrder.orderDate,
        urgent: flag(
          exists(
            db
              .select({ one: sql`1` })
              .from(purchaseOrderLine)
              .where(and(eq(purchaseOrderLine.orderId, purchaseOrder.id), lte(purchaseOrderLine.dueDate, inDays($.today, 7)))),
          ),
        ),
      })
      .from(purchaseOrder)
      .innerJoin(supplier, eq(supplier.id, purchaseOrder.supplierId))
      .where(eq(purchaseOrder.state, 'draft'))
      .orderBy(purchaseOrder.id),
);
const firstDue = min(purchaseOrderLine.dueDate);
const toReceive = query(
  ($: Day) => (db) =>
    db
      .select({
        id: purchaseOrder.id,
        text: purchaseOrder.number,
        detail: supplier.name,
        date: firstDue,
        urgent: flag(sql`${firstDue} < ${$.today}`),
      })
      .from(purchaseOrder)
      .innerJoin(supplier, eq(supplier.id, purchaseOrder.supplierId))
      .innerJoin(purchaseOrderLine, eq(purchaseOrderLine.orderId, purchaseOrder.id))
      .where(and(inArray(purchaseOrder.state, ['sent', 'partReceived']), gt(stillToCome, sql`0`), lte(purchaseOrderLine.dueDate, inDays($.today, 7))))
      .groupBy(purchaseOrder.id)
      .orderBy(firstDue),
);
const toMake = query(
  ($: Day) => (db) =>
    db
      .select({
        id: productionOrder.id,
        text: productionOrder.number,
        detail: item.description,
        date: productionOrder.dueDate,
        urgent: flag(lt(productionOrder.dueDate, $.today)),
      })
      .from(productionOrder)
      .innerJoin(item, eq(item.id, productionOrder.itemId))
      .where(
        or(
          and(eq(productionOrder.state, 'draft'), lte(productionOrder.startDate, inDays($.today, 2))),
          and(inArray(productionOrder.state, ['released', 'running']), lte(productionOrder.dueDate, inDays($.today, 2))),
        ),
      )
      .orderBy(productionOrder.dueDate),
);
const toBePaid = query(
  ($: Day) => (db) =>
    db
      .select({
        id: invoice.id,
        text: invoice.number,
        detail: customer.name,
        date: invoice.dueDate,
        urgent: flag(lt(invoice.dueDate, inDays($.today, -30))),
      })
      .from(invoice)
      .innerJoin(customer, eq(customer.id, invoice.customerId))
      .where(and(eq(invoice.state, 'open'), lt(invoice.dueDate, $.today)))
      .orderBy(invoice.dueDate),
);

const SOURCES: readonly Source[] = [
  {
    key: 'endangered',
    right: 'selling.see',
    label: 'Orders that will be late',
    link: '/selling?view=late',
    urgentWord: 'wanted already',
    page: '/selling/orders',
    rows: willBeLate,
  },
  {
    key: 'ship',
    right: 'dispatch.see',
    label: 'Orders ready to ship',
    link: '/selling?view=ready',
    urgentWord: 'wanted by today',
    page: '/selling/orders',
    rows: readyToShip,
  },
  {
    key: 'pick',
    right: 'dispatch.see',
    label: 'Shipments to pick',
    link: '/dispatch',
    urgentWord: 'being picked',
    page: '/dispatch/shipments',
    rows: toPick,
  },
  {
    key: 'confirm',
    right: 'selling.confirm',
    label: 'Orders to confirm',
    link: '/selling?view=drafts',
    urgentWord: 'wanted this week',
    page: '/selling/orders',
    rows: toConfirm,
  },
  {
    key: 'plan',
    right: 'planning.see',
    label: 'Suggestions to place this week',
    link: '/planning',
    urgentWord: 'come too late',
    page: '/planning',
    inPlan: true,
    rows: toPlace,
  },
  {
    key: 'approve',
    right: 'buying.approve',
    label: 'Purchase orders to approve',
    link: '/buying?view=drafts',
    urgentWord: 'due this week',
    page: '/buying/orders',
    rows: toApprove,
  },
  {
    key: 'receive',
    right: 'buying.receive',
    label: 'Deliveries due this week',
    link: '/buying?view=open',
    urgentWord: 'overdue',
    page: '/buying/orders',
    rows: toReceive,
  },
  {
    key: 'make',
    right: 'production.see',
    label: 'Production to start or finish',
    link: '/production',
    urgentWord: 'overdue',
    page: '/production/orders',
    rows: toMake,
  },
  {
    key: 'paid',
    right: 'accounts.pay',
    label: 'Invoices past their due date',
    link: '/accounts?view=overdue',
    urgentWord: 'over a month',
    page: '/accounts/invoices',
    rows: toBePaid,
  },
];

type Weekly = Query<{ after: string; until: string }, { n: number }>;
type Week = { after: string; until: string };
const ordersTaken: Weekly = query(
  ($: Week) => (db) =>
    db
      .select({ n: total(sql<number>`${customerOrder.total}`) })
      .from(customerOrder)
      .where(and(ne(customerOrder.state, 'cancelled'), gt(customerOrder.orderDate, $.after), lte(customerOrder.orderDate, $.until))),
);
const invoiced: Weekly = query(
  ($: Week) => (db) =>
    db
      .select({ n: total(sql<number>`${invoice.total}`) })
      .from(invoice)
      .where(and(ne(invoice.state, 'reversed'), gt(invoice.date, $.after), lte(invoice.date, $.until))),
);
const goodsReceived: Weekly = query(
  ($: Week) => (db) =>
    db
      .select({ n: total(sql<number>`${stockMove.value}`) })
      .from(stockMove)
      .where(
        and(eq(stockMove.documentKind, 'receipt'), eq(stockMove.fromKind, 'supplier'), gt(stockMove.date, $.after), lte(stockMove.date, $.until)),
      ),
);
/** What stock was worth at the end of days; all changes are looked at once, by the first of the days that they count on. */
const worthOnDays = query(($: { days: readonly string[] }) => (db) => {
  const day = sql`asked.value`;
  return db
    .select({
      n: sql<number>`(${db
        .select({ n: total(sql<number>`${worthChange.value}`) })
        .from(worthChange)
        .where(sql`${worthChange.date} <= ${day}`)})`,
    })
    .from(entriesOf(sql`${$.days}`, 'asked'))
    .orderBy(sql`asked.key`);
});

function waitingFor(work: Work, source: Source): Waiting {
  const kept = source.inPlan === true ? work.inPlan() : work;
  const rows = kept ? source.rows.all(kept, { today: work.today }) : [];
  const urgent = rows.filter((row) => row.urgent).length;
  return {
    key: source.key,
    label: source.label,
    count: rows.length,
    urgent,
    detail: urgent > 0 ? `${urgent} ${source.urgentWord}` : '',
    link: source.link,
    first: rows.slice(0, FIRST).map((row) => ({
      text: row.text,
      detail: row.detail,
      date: row.date ?? '',
      link: source.page === '/planning' ? source.page : `${source.page}/${row.id}`,
    })),
  };
}

/** Sums per week, the oldest first, the last of them up to today. */
function weekly(work: Work, sum: Weekly): number[] {
  return Array.from({ length: TREND_WEEKS }, (_, index) => {
    const until = addDays(work.today, -7 * (TREND_WEEKS - 1 - index));
    return sum.one(work, { after: addDays(until, -7), until })?.n ?? 0;
  });
}

/** The last of a trend and the one before it. */
function compared(trend: readonly number[]): Pick<TodayView['figures'][number], 'value' | 'before' | 'trend'> {
  return { value: writeAmount(trend.at(-1) ?? 0), before: writeAmount(trend.at(-2) ?? 0), trend: trend.map((each) => each / 100) };
}

function figuresFor(work: Work): TodayView['figures'] {
  const figures: TodayView['figures'] = [];
  const amount = (key: string, label: string, sum: Weekly, link: string): void => {
    const trend = weekly(work, sum);
    figures.push({ key, label, link, ...compared(trend), period: 'last 7 days', beforePeriod: 'the 7 days before' });
  };
  if (work.mayI('selling.see')) amount('intake', 'Orders taken', ordersTaken, '/selling');
  if (work.mayI('accounts.see')) amount('invoiced', 'Invoiced', invoiced, '/accounts');
  if (work.mayI('buying.see')) amount('received', 'Goods received', goodsReceived, '/stores/moves');
  if (work.mayI('stores.see')) {
    // What the ledger says it is worth, with costs that came late and new standards: one look at all changes gives every week.
    const days = Array.from({ length: TREND_WEEKS }, (_, index) => addDays(work.today, -7 * (TREND_WEEKS - 1 - index)));
    const trend = worthOnDays.all(work, { days }).map((each) => each.n);
    figures.push({
      key: 'stock',
      label: 'Stock value',
      link: '/stores',
      ...compared(trend),
      period: 'now',
      beforePeriod: 'a week ago',
    });
  }
  return figures;
}

export function todayView(work: Work): TodayView {
  return {
    today: work.today,
    waiting: SOURCES.filter((source) => work.mayI(source.right)).map((source) => waitingFor(work, source)),
    figures: figuresFor(work),
  };
}
