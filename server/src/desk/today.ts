/** Today: what waits for this person, and a few figures with their trend. */
import { and, gt, lte, ne, notInArray, sql } from 'drizzle-orm';
import { viewFilter, type ListFilter, type ListQuery, type Right, type TodayView } from '@terrace/contract';
import { addDays, writeAmount } from '@terrace/core';
import { invoice, listInvoices } from '../accounts';
import { listPurchases } from '../buying';
import { listShipments } from '../dispatch';
import { listSuggestions } from '../planning';
import { entriesOf, or0, scalar, total } from '../platform/expressions';
import { query, type Query } from '../platform/query';
import type { Work } from '../platform/work';
import { listProduction } from '../production';
import { IS_ORDER, customerOrder, freeForWaiting, listOrders, listQuotes } from '../selling';
import { listIncoming } from '../incoming';
import { listReturns } from '../returns';
import { isReceived, listTransfers, receivedWorth, stockMove, worthChange } from '../stores';

const FIRST = 3;
const TREND_WEEKS = 8;

type Waiting = TodayView['waiting'][number];

interface Asked {
  readonly filter: ListFilter;
  readonly sort?: string;
  readonly limit: number;
}

/** Something that waits: a view of a list, counted as the list that it opens counts it. */
interface Source {
  readonly key: string;
  readonly right: Right;
  readonly label: string;
  readonly link: string;
  readonly filter: ListFilter;
  readonly sort?: string;
  readonly urgentWord: string;
  /** What of them is urgent. */
  readonly urgent: (today: string) => ListFilter;
  /** Rows and how many there are in all. */
  readonly list: (work: Work, asked: Asked) => { readonly rows: readonly Waiting['first'][number][]; readonly total: number };
}

const YES = { op: 'equals', value: 'true' } as const;
const before = (field: string, day: string): ListFilter => ({ [field]: { op: 'atMost', value: addDays(day, -1) } });
const through = (field: string, day: string): ListFilter => ({ [field]: { op: 'atMost', value: day } });

/** A list of documents, each with its page. */
function documents<Row extends { readonly id: number; readonly number: string }>(
  list: (work: Work, asked: ListQuery) => { readonly rows: readonly Row[]; readonly total: number },
  page: string,
  detail: (row: Row) => string,
  date: (row: Row) => string | null,
): Source['list'] {
  return (work, asked) => {
    const { rows, total: all } = list(work, queryOf(asked));
    return { total: all, rows: rows.map((row) => ({ text: row.number, detail: detail(row), date: date(row) ?? '', link: `${page}/${row.id}` })) };
  };
}

function queryOf({ filter, sort, limit }: Asked): ListQuery {
  return { offset: 0, limit, filter: JSON.stringify(filter), ...(sort === undefined ? {} : { sort }) };
}

const orders = documents(
  listOrders,
  '/selling/orders',
  (row) => row.customer,
  (row) => row.requiredDate,
);
const purchases = documents(
  listPurchases,
  '/buying/orders',
  (row) => row.supplier,
  (row) => row.dueDate,
);

const SOURCES: readonly Source[] = [
  {
    key: 'endangered',
    right: 'selling.see',
    label: 'Orders that are late, or promised too late',
    link: '/selling?view=late',
    filter: viewFilter('orders', 'late'),
    sort: 'requiredDate',
    urgentWord: 'wanted already',
    urgent: (today) => before('requiredDate', today),
    list: orders,
  },
  {
    key: 'waiting',
    right: 'selling.confirm',
    label: 'Order lines that free stock could cover',
    link: '/selling/waiting',
    filter: {},
    urgentWord: 'wanted already',
    urgent: (today) => before('wanted', today),
    list: (work, { filter, limit }) => {
      const until = filter['wanted']?.value;
      const rows = freeForWaiting(work).rows.filter((row) => until === undefined || row.wanted <= String(until));
      return {
        total: rows.length,
        rows: rows.slice(0, limit).map((row) => ({
          text: row.order,
          detail: `${row.gets} ${row.unit} of ${row.code}`,
          date: row.wanted,
          link: `/selling/orders/${row.orderId}`,
        })),
      };
    },
  },
  {
    key: 'ship',
    right: 'dispatch.see',
    label: 'Orders ready to ship',
    link: '/selling?view=ready',
    filter: viewFilter('orders', 'ready'),
    sort: 'requiredDate',
    urgentWord: 'wanted by today',
    urgent: (today) => through('requiredDate', today),
    list: orders,
  },
  {
    key: 'pick',
    right: 'dispatch.see',
    label: 'Shipments to pick',
    link: '/dispatch?view=pick',
    filter: viewFilter('shipments', 'pick'),
    sort: 'id',
    urgentWord: 'being picked',
    urgent: () => ({ state: { op: 'equals', value: 'picking' } }),
    list: documents(
      listShipments,
      '/dispatch/shipments',
      (row) => row.customer,
      (row) => row.date,
    ),
  },
  {
    key: 'confirm',
    right: 'selling.confirm',
    label: 'Orders to confirm',
    link: '/selling?view=drafts',
    filter: viewFilter('orders', 'drafts'),
    sort: 'requiredDate',
    urgentWord: 'wanted within a week',
    urgent: (today) => through('requiredDate', addDays(today, 7)),
    list: orders,
  },
  {
    key: 'incoming',
    right: 'selling.edit',
    label: 'Orders from outside to mend',
    link: '/selling/incoming?view=waiting',
    filter: viewFilter('incoming', 'waiting'),
    sort: 'at',
    urgentWord: 'from before today',
    urgent: (today) => before('at', today),
    list: documents(
      listIncoming,
      '/selling/incoming',
      (row) => row.buyer,
      (row) => row.at.slice(0, 10),
    ),
  },
  {
    key: 'quotes',
    right: 'selling.edit',
    label: 'Quotes about to lapse',
    link: '/selling/quotes?view=soon',
    filter: viewFilter('quotes', 'soon'),
    sort: 'validUntil',
    urgentWord: 'hold until today',
    urgent: (today) => through('validUntil', today),
    list: documents(
      listQuotes,
      '/selling/orders',
      (row) => row.customer,
      (row) => row.validUntil,
    ),
  },
  {
    key: 'plan',
    right: 'planning.see',
    label: 'Suggestions to place within a week',
    link: '/planning?within=7',
    filter: {},
    urgentWord: 'come too late',
    urgent: () => ({ daysLate: { op: 'atLeast', value: '1' } }),
    list: (work, asked) => {
      // While the plan is made anew there is nothing to place.
      if (!work.inPlan()) return { total: 0, rows: [] };
      const { rows, total: all } = listSuggestions(work, { ...queryOf(asked), ignored: 'no', within: 7 });
      return {
        total: all,
        rows: rows.map((row) => ({
          text: `${row.code} ${row.quantity} ${row.unit}`,
          detail: row.kind,
          date: row.placeBy,
          link: `/planning/items/${row.itemId}/${row.warehouseId}`,
        })),
      };
    },
  },
  {
    key: 'approve',
    right: 'buying.approve',
    label: 'Purchase orders to approve',
    link: '/buying?view=drafts',
    filter: viewFilter('purchases', 'drafts'),
    sort: 'dueDate',
    urgentWord: 'due within a week or overdue',
    urgent: () => ({ due: YES }),
    list: purchases,
  },
  {
    key: 'send',
    right: 'buying.edit',
    label: 'Purchase orders to send',
    link: '/buying?view=send',
    filter: viewFilter('purchases', 'send'),
    sort: 'dueDate',
    urgentWord: 'overdue before they were sent',
    urgent: () => ({ late: YES }),
    list: purchases,
  },
  {
    key: 'receive',
    right: 'buying.receive',
    label: 'Deliveries overdue or due within a week',
    link: '/buying?view=due',
    filter: viewFilter('purchases', 'due'),
    sort: 'dueDate',
    urgentWord: 'overdue',
    urgent: () => ({ late: YES }),
    list: purchases,
  },
  {
    key: 'transfers',
    right: 'stores.adjust',
    label: 'Transfers to ship or receive',
    link: '/stores/transfers?view=due',
    filter: viewFilter('transfers', 'due'),
    sort: 'dueDate',
    urgentWord: 'overdue',
    urgent: () => ({ late: YES }),
    list: documents(
      listTransfers,
      '/stores/transfers',
      (row) => `${row.from} to ${row.to}`,
      (row) => (row.state === 'requested' ? row.shipDate : row.dueDate),
    ),
  },
  {
    key: 'returns',
    right: 'stores.adjust',
    label: 'Returns to decide on',
    link: '/selling/returns?view=held',
    filter: viewFilter('returns', 'held'),
    sort: 'date',
    urgentWord: 'over a week',
    urgent: (today) => before('date', addDays(today, -7)),
    list: documents(
      listReturns,
      '/selling/returns',
      (row) => row.customer,
      (row) => row.date,
    ),
  },
  {
    key: 'make',
    right: 'production.see',
    label: 'Production to start or finish',
    link: '/production?view=due',
    filter: viewFilter('production', 'due'),
    sort: 'dueDate',
    urgentWord: 'overdue',
    urgent: () => ({ late: YES }),
    list: documents(
      listProduction,
      '/production/orders',
      (row) => row.description,
      (row) => row.dueDate,
    ),
  },
  {
    key: 'paid',
    right: 'accounts.pay',
    label: 'Invoices past their due date',
    link: '/accounts?view=overdue',
    filter: viewFilter('invoices', 'overdue'),
    sort: 'dueDate',
    urgentWord: 'over a month',
    urgent: (today) => before('dueDate', addDays(today, -30)),
    list: documents(
      listInvoices,
      '/accounts/invoices',
      (row) => row.customer,
      (row) => row.dueDate,
    ),
  },
];

type Weekly = Query<{ after: string; until: string }, { n: number }>;
type Week = { after: string; until: string };
const ordersTaken: Weekly = query(
  ($: Week) => (db) =>
    db
      .select({ n: total(sql<number>`${customerOrder.booksNet}`) })
      .from(customerOrder)
      .where(
        and(
          IS_ORDER,
          notInArray(customerOrder.state, ['draft', 'cancelled']),
          gt(customerOrder.orderDate, $.after),
          lte(customerOrder.orderDate, $.until),
        ),
      ),
);
const invoiced: Weekly = query(
  ($: Week) => (db) =>
    db
      .select({ n: total(sql<number>`${invoice.booksTotal}`) })
      .from(invoice)
      .where(and(ne(invoice.state, 'reversed'), gt(invoice.date, $.after), lte(invoice.date, $.until))),
);
const goodsReceived: Weekly = query(
  ($: Week) => (db) =>
    db
      .select({ n: total(receivedWorth) })
      .from(stockMove)
      .where(and(isReceived, gt(stockMove.date, $.after), lte(stockMove.date, $.until))),
);
/** What stock was worth at the end of days; all changes are looked at once, by the first of the days that they count on. */
const worthOnDays = query(($: { days: readonly string[] }) => (db) => {
  const day = sql`asked.value`;
  return db
    .select({
      n: or0(
        scalar(
          db
            .select({ n: total(sql<number>`${worthChange.value}`) })
            .from(worthChange)
            .where(sql`${worthChange.date} <= ${day}`),
        ),
      ),
    })
    .from(entriesOf(sql`${$.days}`, 'asked'))
    .orderBy(sql`asked.key`);
});

function waitingFor(work: Work, { key, label, link, filter, sort, urgentWord, urgent: which, list }: Source): Waiting {
  const sorted = sort === undefined ? {} : { sort };
  const { rows, total: count } = list(work, { filter, ...sorted, limit: FIRST });
  const urgent = count === 0 ? 0 : list(work, { filter: { ...filter, ...which(work.today) }, limit: 1 }).total;
  return { key, label, count, urgent, detail: urgent > 0 ? `${urgent} ${urgentWord}` : '', link, first: [...rows] };
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
  if (work.mayI('selling.see')) amount('intake', 'Orders taken, without tax', ordersTaken, '/selling');
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
