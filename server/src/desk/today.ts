/** Today: what waits for this person, and a few figures with their trend. */
import type { Right, TodayView } from '@terrace/contract';
import { addDays, writeAmount } from '@terrace/core';
import type { Work } from '../platform/work';

const FIRST = 3;
const TREND_WEEKS = 8;

type Waiting = TodayView['waiting'][number];

interface Source {
  readonly key: string;
  readonly right: Right;
  readonly label: string;
  readonly link: string;
  readonly urgentWord: string;
  /** Whether the rows are those of the kept plan. */
  readonly inPlan?: true;
  /** Rows with `text`, `detail`, `date`, `id` and `urgent`, the most urgent first. */
  readonly sql: string;
  readonly page: string;
}

const READY = `not exists (select 1 from customer_order_line l join item i on i.id = l.item_id left join reservation r on r.holder_kind = 'customerOrder' and r.holder_id = l.id
  where l.order_id = o.id and i.kind = 'stocked' and coalesce(r.quantity, 0) < l.quantity - l.shipped - l.cancelled)`;
const OPEN_SHIPMENT = "exists (select 1 from shipment s where s.order_id = o.id and s.state in ('draft', 'picking'))";

/** `:today` stands for the day. */
const SOURCES: readonly Source[] = [
  {
    key: 'endangered',
    right: 'selling.see',
    label: 'Orders that will be late',
    link: '/selling?view=late',
    urgentWord: 'wanted already',
    page: '/selling/orders',
    sql: `select o.id, o.number as text, c.name as detail, o.required_date as date, o.required_date < :today as urgent from customer_order o join customer c on c.id = o.customer_id
      where o.state in ('confirmed', 'partShipped') and (o.required_date < :today or coalesce(o.promise_date, '9999') > o.required_date) order by o.required_date`,
  },
  {
    key: 'ship',
    right: 'dispatch.see',
    label: 'Orders ready to ship',
    link: '/selling?view=ready',
    urgentWord: 'wanted by today',
    page: '/selling/orders',
    sql: `select o.id, o.number as text, c.name as detail, o.required_date as date, o.required_date <= :today as urgent from customer_order o join customer c on c.id = o.customer_id
      where o.state in ('confirmed', 'partShipped') and ${READY} and not ${OPEN_SHIPMENT} order by o.required_date`,
  },
  {
    key: 'pick',
    right: 'dispatch.see',
    label: 'Shipments to pick',
    link: '/dispatch',
    urgentWord: 'being picked',
    page: '/dispatch/shipments',
    sql: "select s.id, s.number as text, c.name as detail, s.date as date, s.state = 'picking' as urgent from shipment s join customer_order o on o.id = s.order_id join customer c on c.id = o.customer_id where s.state in ('draft', 'picking') order by s.id",
  },
  {
    key: 'confirm',
    right: 'selling.confirm',
    label: 'Orders to confirm',
    link: '/selling?view=drafts',
    urgentWord: 'wanted this week',
    page: '/selling/orders',
    sql: "select o.id, o.number as text, c.name as detail, o.required_date as date, o.required_date <= date(:today, '+7 days') as urgent from customer_order o join customer c on c.id = o.customer_id where o.state = 'draft' order by o.required_date",
  },
  {
    key: 'plan',
    right: 'planning.see',
    label: 'Suggestions to place this week',
    link: '/planning',
    urgentWord: 'come too late',
    page: '/planning',
    inPlan: true,
    sql: "select id, code || ' ' || quantity || ' ' || unit as text, kind as detail, place_by as date, days_late > 0 as urgent from suggestion where ignored_until is null and place_by <= date(:today, '+7 days') order by days_late desc, place_by",
  },
  {
    key: 'approve',
    right: 'buying.approve',
    label: 'Purchase orders to approve',
    link: '/buying?view=drafts',
    urgentWord: 'due this week',
    page: '/buying/orders',
    sql: "select o.id, o.number as text, s.name as detail, o.order_date as date, exists (select 1 from purchase_order_line l where l.order_id = o.id and l.due_date <= date(:today, '+7 days')) as urgent from purchase_order o join supplier s on s.id = o.supplier_id where o.state = 'draft' order by o.id",
  },
  {
    key: 'receive',
    right: 'buying.receive',
    label: 'Deliveries due this week',
    link: '/buying?view=open',
    urgentWord: 'overdue',
    page: '/buying/orders',
    sql: `select o.id, o.number as text, s.name as detail, min(l.due_date) as date, min(l.due_date) < :today as urgent from purchase_order o join supplier s on s.id = o.supplier_id join purchase_order_line l on l.order_id = o.id
      where o.state in ('sent', 'partReceived') and l.received + l.cancelled < l.quantity and l.due_date <= date(:today, '+7 days') group by o.id order by min(l.due_date)`,
  },
  {
    key: 'make',
    right: 'production.see',
    label: 'Production to start or finish',
    link: '/production',
    urgentWord: 'overdue',
    page: '/production/orders',
    sql: `select o.id, o.number as text, i.description as detail, o.due_date as date, o.due_date < :today as urgent from production_order o join item i on i.id = o.item_id
      where (o.state = 'draft' and o.start_date <= date(:today, '+2 days')) or (o.state in ('released', 'running') and o.due_date <= date(:today, '+2 days')) order by o.due_date`,
  },
  {
    key: 'paid',
    right: 'accounts.pay',
    label: 'Invoices past their due date',
    link: '/accounts?view=overdue',
    urgentWord: 'over a month',
    page: '/accounts/invoices',
    sql: "select v.id, v.number as text, c.name as detail, v.due_date as date, v.due_date < date(:today, '-30 days') as urgent from invoice v join customer c on c.id = v.customer_id where v.state = 'open' and v.due_date < :today order by v.due_date",
  },
];

function waitingFor(work: Work, source: Source): Waiting {
  const sql = source.sql.replaceAll(':today', `'${work.today}'`);
  const kept = source.inPlan === true ? work.inPlan() : work;
  const rows = kept?.rows<{ id: number; text: string; detail: string; date: string; urgent: number }>(sql) ?? [];
  const urgent = rows.filter((row) => row.urgent === 1).length;
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
      date: row.date,
      link: source.page === '/planning' ? source.page : `${source.page}/${row.id}`,
    })),
  };
}

/** Sums per week, the oldest first, the last of them up to today. */
function weekly(work: Work, sql: string): number[] {
  return Array.from({ length: TREND_WEEKS }, (_, index) => {
    const until = addDays(work.today, -7 * (TREND_WEEKS - 1 - index));
    return work.row<{ n: number | null }>(sql, addDays(until, -7), until)?.n ?? 0;
  });
}

function figuresFor(work: Work): TodayView['figures'] {
  const figures: TodayView['figures'] = [];
  const amount = (key: string, label: string, sql: string, link: string): void => {
    const trend = weekly(work, sql);
    figures.push({ key, label, value: writeAmount(trend.at(-1) ?? 0), link, trend: trend.map((each) => each / 100), period: 'last 7 days' });
  };
  if (work.mayI('selling.see'))
    amount(
      'intake',
      'Orders taken',
      "select sum(total) as n from customer_order where state <> 'cancelled' and order_date > ? and order_date <= ?",
      '/selling',
    );
  if (work.mayI('accounts.see'))
    amount('invoiced', 'Invoiced', "select sum(total) as n from invoice where state <> 'reversed' and date > ? and date <= ?", '/accounts');
  if (work.mayI('buying.see'))
    amount(
      'received',
      'Goods received',
      "select sum(value) as n from stock_move where document_kind = 'receipt' and from_kind = 'supplier' and date > ? and date <= ?",
      '/stores/moves',
    );
  if (work.mayI('stores.see')) {
    // What the ledger says it is worth, with costs that came late and new standards: one look at all changes gives every week.
    const days = Array.from({ length: TREND_WEEKS }, (_, index) => addDays(work.today, -7 * (TREND_WEEKS - 1 - index)));
    const sums = days.map((_, index) => `coalesce(sum(value) filter (where date <= ?), 0) as "${index}"`).join(', ');
    const worth = work.row<Readonly<Record<string, number>>>(`select ${sums} from worth_change`, ...days);
    const trend = days.map((_, index) => worth?.[index] ?? 0);
    figures.push({
      key: 'stock',
      label: 'Stock value',
      value: writeAmount(trend.at(-1) ?? 0),
      link: '/stores',
      trend: trend.map((each) => each / 100),
      period: 'now',
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
