/** Forecasts of items: their history, what is kept of a forecast, and what somebody typed over it, which stays. */
import { METHOD_WORDS, type AnswerOf, type BodyOf, type ForecastRow, type ForecastView, type ListQuery, type api } from '@terrace/contract';
import { Refusal, addDays, asQuantity, parseQuantity, periodStart, readDecimal, writeQuantity, type Quantity } from '@terrace/core';
import { itemFacts, usableItem, warehouseOf } from '../catalogue';
import { asNumber, asOptionalNumber, asQuantityText, asText, listPage, type ListDefinition } from '../platform/list';
import { atField, orNotFound, type Work } from '../platform/work';
import workOut, { type ForecastAnswer, type ForecastTask } from './forecast-worker';

/** What is asked for. */
export type ForecastWish = BodyOf<typeof api.planning.computeForecast>;
type Period = ForecastWish['period'];

const UNIT = 100_000;
const PAST: Readonly<Record<Period, number>> = { month: 36, week: 104 };
const AHEAD: Readonly<Record<Period, number>> = { month: 12, week: 26 };
const SEASON: Readonly<Record<Period, number>> = { month: 12, week: 52 };

export interface Ready {
  readonly input: ForecastWish;
  readonly starts: readonly string[];
  readonly task: ForecastTask;
}

function nextStart(start: string, period: Period): string {
  return period === 'week' ? addDays(start, 7) : periodStart(addDays(start, 32), 'month');
}

/** First days of the last complete periods, oldest first. */
function pastStarts(today: string, period: Period): string[] {
  const starts: string[] = [];
  let start = periodStart(today, period);
  for (let count = 0; count < PAST[period]; count += 1) {
    start = periodStart(addDays(start, -1), period);
    starts.unshift(start);
  }
  return starts;
}

/** Demand by period: orders by the day on which they were wanted, and what was brought along from before. */
function historyOf(work: Work, itemId: number, warehouseId: number, starts: readonly string[], period: Period): number[] {
  const through = nextStart(starts.at(-1) ?? work.today, period);
  const rows = work.rows<{ date: string; quantity: number }>(
    `select l.required_date as date, sum(l.quantity - l.cancelled) as quantity from customer_order_line l join customer_order o on o.id = l.order_id
       where l.item_id = ?1 and o.warehouse_id = ?2 and o.state not in ('draft', 'cancelled') and l.required_date >= ?3 and l.required_date < ?4 group by 1
     union all select start, quantity from past_demand where item_id = ?1 and warehouse_id = ?2 and start >= ?3 and start < ?4 and ?5 = 'month'`,
    itemId,
    warehouseId,
    starts[0] ?? work.today,
    through,
    period,
  );
  const places = new Map(starts.map((start, index) => [start, index]));
  const history = starts.map(() => 0);
  for (const { date, quantity } of rows) {
    const at = places.get(periodStart(date, period));
    if (at !== undefined) history[at] = (history[at] ?? 0) + quantity / UNIT;
  }
  return history;
}

/** What is to be worked out for an item; leading periods without any demand do not count as history. */
export function prepare(work: Work, input: ForecastWish): Ready {
  const factor = readDecimal(input.factor);
  if (!factor || factor.mantissa <= 0n)
    throw new Refusal('badFactor', `${input.factor} can't be a factor: it is above 0, such as 0.8.`, { field: 'factor' });
  const all = pastStarts(work.today, input.period);
  const own = historyOf(work, input.itemId, input.warehouseId, all, input.period);
  const borrowed =
    input.referenceId === null
      ? null
      : historyOf(work, input.referenceId, input.warehouseId, all, input.period).map((value) => value * Number(input.factor));
  const used = borrowed ?? own;
  const begun = used.findIndex((value) => value > 0);
  const first = begun < 0 ? used.length : begun;
  const history = used.slice(first);
  const season = history.length >= 2 * SEASON[input.period] ? SEASON[input.period] : 1;
  return {
    input,
    starts: all.slice(first),
    task: { history, season, periods: AHEAD[input.period], method: input.method, leaveOutliers: input.leaveOutliers },
  };
}

/** A figure of the past or the future as kept: a whole number of the item's decimals. */
function kept(value: number, decimals: number): Quantity {
  const unit = 10 ** decimals;
  return asQuantity(Math.round(value * unit) * 10 ** (5 - decimals));
}

function fitText(fit: number | null, decimals: number): string | null {
  return fit === null ? null : writeQuantity(kept(fit, decimals));
}

/** Keeps a forecast that was worked out; one that was refused changes nothing. */
export function keep(work: Work, { input, starts, task }: Ready, { outliers, result }: ForecastAnswer): void {
  if (!result) return;
  const { decimals, code } = itemFacts(work, input.itemId);
  const { itemId, warehouseId, period } = input;
  const history = starts.map((start, index) => ({
    start,
    quantity: writeQuantity(kept(task.history[index] ?? 0, decimals)),
    outlier: outliers[index] ?? false,
    fit: fitText(result.fit[index] ?? null, decimals),
  }));
  const before = work.row<{ period: Period }>('select period from forecast_series where item_id = ? and warehouse_id = ?', itemId, warehouseId);
  // Months and weeks do not mix: with another length of period nothing of the old figures holds.
  if (before && before.period !== period) work.run('delete from forecast_figure where item_id = ? and warehouse_id = ?', itemId, warehouseId);
  work.run(
    `insert into forecast_series (item_id, warehouse_id, period, asked, method, at, history, errors, reference_id, factor, leave_outliers) values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
     on conflict (item_id, warehouse_id) do update set period = excluded.period, asked = excluded.asked, method = excluded.method, at = excluded.at, history = excluded.history,
       errors = excluded.errors, reference_id = excluded.reference_id, factor = excluded.factor, leave_outliers = excluded.leave_outliers, version = version + 1`,
    itemId,
    warehouseId,
    period,
    input.method,
    result.method,
    work.now,
    JSON.stringify(history),
    JSON.stringify(result.errors),
    input.referenceId,
    input.factor,
    input.leaveOutliers ? 1 : 0,
  );
  let start = periodStart(work.today, period);
  result.forecast.forEach((value, index) => {
    work.run(
      `insert into forecast_figure (item_id, warehouse_id, start, computed, low, high) values (?, ?, ?, ?, ?, ?)
       on conflict (item_id, warehouse_id, start) do update set computed = excluded.computed, low = excluded.low, high = excluded.high`,
      itemId,
      warehouseId,
      start,
      kept(value, decimals),
      kept(result.low[index] ?? 0, decimals),
      kept(result.high[index] ?? 0, decimals),
    );
    start = nextStart(start, period);
  });
  // What was typed stays; what only was computed, for a period that is no longer forecast, goes.
  work.run(
    'delete from forecast_figure where item_id = ? and warehouse_id = ? and typed is null and start not in (select value from json_each(?))',
    itemId,
    warehouseId,
    JSON.stringify(startsAhead(work.today, period)),
  );
  work.record('item', itemId, `forecast ${code} in ${warehouseOf(work, warehouseId).code} by ${result.method}`);
}

function startsAhead(today: string, period: Period): string[] {
  const starts: string[] = [];
  for (let start = periodStart(today, period), count = 0; count < AHEAD[period]; count += 1, start = nextStart(start, period)) starts.push(start);
  return starts;
}

/** An item's forecast in a warehouse, with its history and the errors of all methods, the best first. */
export function forecastView(work: Work, itemId: number, warehouseId: number): ForecastView {
  const item = itemFacts(work, itemId);
  const warehouse = warehouseOf(work, warehouseId).code;
  const series = orNotFound(
    work.row<{
      period: Period;
      asked: ForecastWish['method'];
      method: string;
      at: string;
      history: string;
      errors: string;
      referenceId: number | null;
      factor: string;
      leaveOutliers: number;
      version: number;
    }>(
      'select period, asked, method, at, history, errors, reference_id as referenceId, factor, leave_outliers as leaveOutliers, version from forecast_series where item_id = ? and warehouse_id = ?',
      itemId,
      warehouseId,
    ),
    `forecast of ${item.code} in ${warehouse}`,
  );
  const figures = work.rows<{ start: string; computed: number; low: number; high: number; typed: number | null; note: string }>(
    'select start, computed, low, high, typed, note from forecast_figure where item_id = ? and warehouse_id = ? order by start',
    itemId,
    warehouseId,
  );
  const errors = JSON.parse(series.errors) as Record<string, { mase: number; bias: number }>;
  const demand = work.row<{ demand: string }>('select demand from planning_rule where item_id = ? and warehouse_id = ?', itemId, warehouseId)?.demand;
  return {
    itemId,
    code: item.code,
    description: item.description,
    unit: item.unit,
    decimals: item.decimals,
    warehouseId,
    warehouse,
    counted: demand ?? 'none',
    period: series.period,
    asked: series.asked,
    method: series.method,
    at: series.at,
    reference:
      series.referenceId === null ? null : { itemId: series.referenceId, code: itemFacts(work, series.referenceId).code, factor: series.factor },
    leaveOutliers: series.leaveOutliers === 1,
    // Forecasts of before the fit was kept have none.
    history: (JSON.parse(series.history) as (Omit<ForecastView['history'][number], 'fit'> & { fit?: string | null })[]).map((each) => ({
      ...each,
      fit: each.fit ?? null,
    })),
    figures: figures.map((each) => ({
      start: each.start,
      computed: writeQuantity(each.computed),
      low: writeQuantity(each.low),
      high: writeQuantity(each.high),
      typed: each.typed === null ? null : writeQuantity(each.typed),
      note: each.note,
    })),
    errors: Object.entries(errors)
      .map(([name, each]) => ({ method: name, ...each }))
      .sort((a, b) => a.mase - b.mase),
    version: series.version,
  };
}

/** Types over a figure; `null` leaves it to the computed one again. */
export function typeForecast(
  work: Work,
  { itemId, warehouseId, start }: { itemId: number; warehouseId: number; start: string },
  { typed, note }: BodyOf<typeof api.planning.typeForecast>,
): ForecastView {
  const { decimals, code } = itemFacts(work, itemId);
  const quantity = typed === null ? null : atField('typed', () => parseQuantity(typed, decimals, `the forecast of ${code}`));
  if (quantity !== null && quantity < 0) throw new Refusal('negative', 'A forecast can’t be below 0.', { field: 'typed' });
  const { changes } = work.run(
    'update forecast_figure set typed = ?, note = ? where item_id = ? and warehouse_id = ? and start = ?',
    quantity,
    note,
    itemId,
    warehouseId,
    start,
  );
  if (changes === 0) throw new Refusal('notFound', `Nothing is forecast for ${code} from ${start}: forecast it first.`, { field: 'start' });
  work.record(
    'item',
    itemId,
    typed === null ? `left the forecast of ${code} from ${start} to the computed one` : `set the forecast of ${code} from ${start} to ${typed}`,
  );
  return forecastView(work, itemId, warehouseId);
}

/** Keeps the demand of months before Terrace, in place of what was kept of them. */
export function keepPastDemand(
  work: Work,
  { itemId, warehouseId }: { itemId: number; warehouseId: number },
  { months }: BodyOf<typeof api.planning.keepPastDemand>,
): void {
  const { decimals, code } = usableItem(work, itemId);
  const warehouse = warehouseOf(work, warehouseId).code;
  work.run('delete from past_demand where item_id = ? and warehouse_id = ?', itemId, warehouseId);
  months.forEach((month, index) => {
    if (!month.start.endsWith('-01'))
      throw new Refusal('badDate', `${month.start} is not the first day of a month.`, { field: `months.${index}.start` });
    const quantity = atField(`months.${index}.quantity`, () => parseQuantity(month.quantity, decimals, `the demand of ${code}`));
    work.run(
      'insert or replace into past_demand (item_id, warehouse_id, start, quantity) values (?, ?, ?, ?)',
      itemId,
      warehouseId,
      month.start,
      quantity,
    );
  });
  work.record('item', itemId, `kept ${months.length} months of past demand of ${code} in ${warehouse}`);
}

/** The method in its words, so that it is found and sorted as people read it. */
const METHOD_SAID = `case s.method ${Object.entries(METHOD_WORDS)
  .map(([method, words]) => `when '${method}' then '${words}'`)
  .join(' ')} else s.method end`;

const FORECASTS: ListDefinition = {
  columns: {
    id: asText("s.item_id || ' ' || s.warehouse_id"),
    itemId: asNumber('s.item_id'),
    code: asText('i.code'),
    description: asText('i.description'),
    unit: asText('i.unit_code'),
    warehouseId: asNumber('s.warehouse_id'),
    warehouse: asText('w.code'),
    period: asText('s.period'),
    method: asText(METHOD_SAID),
    mase: asOptionalNumber("round(json_extract(s.errors, '$.' || s.method || '.mase'), 2)"),
    next: asQuantityText(
      '(select sum(q) from (select coalesce(f.typed, f.computed) as q from forecast_figure f where f.item_id = s.item_id and f.warehouse_id = s.warehouse_id order by f.start limit 3))',
    ),
    typed: asNumber(
      '(select count(*) from forecast_figure f where f.item_id = s.item_id and f.warehouse_id = s.warehouse_id and f.typed is not null)',
    ),
    counted: asText("coalesce(r.demand, 'none')"),
  },
  from: 'forecast_series s join item i on i.id = s.item_id join warehouse w on w.id = s.warehouse_id left join planning_rule r on r.item_id = s.item_id and r.warehouse_id = s.warehouse_id',
  find: ['i.code', 'i.description'],
  order: 'i.code, w.code',
  tie: 's.rowid',
};

export function listForecasts(work: Work, query: ListQuery): AnswerOf<typeof api.planning.listForecasts> {
  return listPage<ForecastRow>(work, FORECASTS, query);
}

/** Forecasts an item at once, where nobody waits for an answer. Refuses what its history does not allow. */
export function forecastHere(work: Work, input: ForecastWish): ForecastView {
  const ready = prepare(work, input);
  const [answer] = workOut([ready.task]);
  if (!answer) throw new Error('the forecast gave no answer');
  if (answer.refused) throw new Refusal(answer.refused.code, answer.refused.message);
  keep(work, ready, answer);
  return forecastView(work, input.itemId, input.warehouseId);
}
