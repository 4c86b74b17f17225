/** Today: what waits for this person, and a few figures with their trend. */
import { viewFilter, type ListFilter, type ListQuery, type Right, type TodayView } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { listInvoices } from '../accounts';
import { listPurchases } from '../buying';
import { listShipments } from '../dispatch';
import { listSuggestions } from '../planning';
import type { Work } from '../platform/work';
import { listProduction } from '../production';
import { freeForWaiting, listOrders, listQuotes } from '../selling';
import { listIncoming } from '../incoming';
import { listReturns } from '../returns';
import { listTransfers } from '../stores';
import { figuresFor } from './today-figures';

const FIRST = 3;

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

function waitingFor(work: Work, { key, label, link, filter, sort, urgentWord, urgent: which, list }: Source): Waiting {
  const sorted = sort === undefined ? {} : { sort };
  const { rows, total: count } = list(work, { filter, ...sorted, limit: FIRST });
  const urgent = count === 0 ? 0 : list(work, { filter: { ...filter, ...which(work.today) }, limit: 1 }).total;
  return { key, label, count, urgent, detail: urgent > 0 ? `${urgent} ${urgentWord}` : '', link, first: [...rows] };
}

export function todayView(work: Work): TodayView {
  return {
    today: work.today,
    waiting: SOURCES.filter((source) => work.mayI(source.right)).map((source) => waitingFor(work, source)),
    figures: figuresFor(work),
  };
}
