/** Forecasts of items: their history, what is kept of a forecast, and what somebody typed over it, which stays. */
import { METHOD_WORDS, type AnswerOf, type BodyOf, type ForecastRow, type ForecastView, type ListQuery, type api } from '@terrace/contract';
import { Refusal, addDays, asQuantity, parseQuantity, periodStart, readDecimal, writeQuantity, type Quantity } from '@terrace/core';
import { and, eq, gte, isNotNull, isNull, lt, ne, not, sql } from 'drizzle-orm';
import { item as items, itemFacts, usableItem, warehouse as warehouses, warehouseOf } from '../catalogue';
import { among, countOf, inner, scalar } from '../platform/expressions';
import { asNumber, asOptionalNumber, asQuantityText, asText, list, listPage, mayReferTo, refersTo } from '../platform/list';
import { command, query } from '../platform/query';
import { atField } from '../platform/fields';
import { dropRows, keepRow, orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';
import { orderedInPast } from '../selling';
import { ruleOf } from './planning-rules';
import { forecastFigure, forecastSeries, pastDemand, planningRule } from './schema';
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

type Past = { itemId: number; warehouseId: number; from: string; through: string };
const fromBefore = query(
  ($: Past) => (db) =>
    db
      .select({ date: pastDemand.start, quantity: sql<number>`${pastDemand.quantity}` })
      .from(pastDemand)
      .where(
        and(
          eq(pastDemand.itemId, $.itemId),
          eq(pastDemand.warehouseId, $.warehouseId),
          gte(pastDemand.start, $.from),
          lt(pastDemand.start, $.through),
        ),
      ),
);

/** Demand by period: orders by the day on which they were wanted, and what was brought along from before. */
function historyOf(work: Work, itemId: number, warehouseId: number, starts: readonly string[], period: Period): number[] {
  const through = nextStart(starts.at(-1) ?? work.today, period);
  const asked = { itemId, warehouseId, from: starts[0] ?? work.today, through };
  const rows = [...orderedInPast.all(work, asked), ...(period === 'month' ? fromBefore.all(work, asked) : [])];
  const places = new Map(starts.map((start, index) => [start, index]));
  const history = starts.map(() => 0);
  for (const { date, quantity } of rows) {
    const at = places.get(periodStart(date, period));
    if (at !== undefined) history[at] = (history[at] ?? 0) + quantity / UNIT;
  }
  return history;
}

/** Every item that is forecast already, and every one whose rule counts a forecast, with how. */
export function forecastWishes(work: Work): ForecastWish[] {
  return wished.all(work).map((row) => ({
    itemId: row.itemId,
    warehouseId: row.warehouseId,
    period: row.period ?? 'month',
    method: (row.asked ?? 'best') as ForecastWish['method'],
    referenceId: row.referenceId,
    factor: row.factor ?? '1',
    leaveOutliers: row.leaveOutliers ?? true,
  }));
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

type Place = { itemId: number; warehouseId: number };
const seriesOf = query(
  ($: Place) => (db) =>
    db
      .select()
      .from(forecastSeries)
      .where(and(eq(forecastSeries.itemId, $.itemId), eq(forecastSeries.warehouseId, $.warehouseId))),
);
const isOf = ($: Place) => and(eq(forecastFigure.itemId, $.itemId), eq(forecastFigure.warehouseId, $.warehouseId));
const figuresOf = query(($: Place) => (db) => db.select().from(forecastFigure).where(isOf($)).orderBy(forecastFigure.start));
const dropOthers = command(
  ($: Place & { starts: readonly string[] }) => (db) =>
    db.delete(forecastFigure).where(and(isOf($), isNull(forecastFigure.typed), not(among(forecastFigure.start, $.starts)))),
);
const typeOver = command(
  ($: Place & { start: string; typed: Quantity | null; note: string }) => (db) =>
    db
      .update(forecastFigure)
      .set({ typed: $.typed, note: $.note })
      .where(and(isOf($), eq(forecastFigure.start, $.start))),
);

const HOW = {
  period: forecastSeries.period,
  asked: forecastSeries.asked,
  referenceId: forecastSeries.referenceId,
  factor: forecastSeries.factor,
  leaveOutliers: forecastSeries.leaveOutliers,
};
const wished = query(
  () => (db) =>
    db
      .select({ itemId: planningRule.itemId, warehouseId: planningRule.warehouseId, ...HOW })
      .from(planningRule)
      .leftJoin(forecastSeries, and(eq(forecastSeries.itemId, planningRule.itemId), eq(forecastSeries.warehouseId, planningRule.warehouseId)))
      .where(ne(planningRule.demand, 'orders'))
      .union(db.select({ itemId: forecastSeries.itemId, warehouseId: forecastSeries.warehouseId, ...HOW }).from(forecastSeries)),
);

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
  const before = seriesOf.one(work, { itemId, warehouseId });
  // Months and weeks do not mix: with another length of period nothing of the old figures holds.
  if (before && before.period !== period) dropRows(work, forecastFigure, { itemId, warehouseId });
  keepRow(work, forecastSeries, ['itemId', 'warehouseId'], {
    itemId,
    warehouseId,
    period,
    asked: input.method,
    method: result.method,
    at: work.now,
    history,
    errors: result.errors,
    referenceId: input.referenceId,
    factor: input.factor,
    leaveOutliers: input.leaveOutliers,
  });
  let start = periodStart(work.today, period);
  result.forecast.forEach((value, index) => {
    keepRow(work, forecastFigure, ['itemId', 'warehouseId', 'start'], {
      itemId,
      warehouseId,
      start,
      computed: kept(value, decimals),
      low: kept(result.low[index] ?? 0, decimals),
      high: kept(result.high[index] ?? 0, decimals),
    });
    start = nextStart(start, period);
  });
  // What was typed stays; what only was computed, for a period that is no longer forecast, goes.
  dropOthers.run(work, { itemId, warehouseId, starts: startsAhead(work.today, period) });
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
  const series = orNotFound(seriesOf.one(work, { itemId, warehouseId }), `forecast of ${item.code} in ${warehouse}`);
  const figures = figuresOf.all(work, { itemId, warehouseId });
  return {
    itemId,
    code: item.code,
    description: item.description,
    unit: item.unit,
    decimals: item.decimals,
    warehouseId,
    warehouse,
    counted: ruleOf(work, itemId, warehouseId)?.demand ?? 'none',
    period: series.period,
    asked: series.asked as ForecastWish['method'],
    method: series.method,
    at: series.at,
    reference:
      series.referenceId === null ? null : { itemId: series.referenceId, code: itemFacts(work, series.referenceId).code, factor: series.factor },
    leaveOutliers: series.leaveOutliers,
    // Forecasts of before the fit was kept have none.
    history: series.history.map((each) => ({ ...each, fit: each.fit ?? null })),
    figures: figures.map((each) => ({
      start: each.start,
      computed: writeQuantity(each.computed),
      low: writeQuantity(each.low),
      high: writeQuantity(each.high),
      typed: each.typed === null ? null : writeQuantity(each.typed),
      note: each.note,
    })),
    errors: Object.entries(series.errors)
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
  const { changes } = typeOver.run(work, { itemId, warehouseId, start, typed: quantity, note });
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
  dropRows(work, pastDemand, { itemId, warehouseId });
  months.forEach((month, index) => {
    if (!month.start.endsWith('-01'))
      throw new Refusal('badDate', `${month.start} is not the first day of a month.`, { field: `months.${index}.start` });
    const quantity = atField(`months.${index}.quantity`, () => parseQuantity(month.quantity, decimals, `the demand of ${code}`));
    keepRow(work, pastDemand, ['itemId', 'warehouseId', 'start'], { itemId, warehouseId, start: month.start, quantity });
  });
  work.record('item', itemId, `kept ${months.length} months of past demand of ${code} in ${warehouse}`);
}

/** The method in its words, so that it is found and sorted as people read it. */
const methodSaid = sql`case ${forecastSeries.method} ${sql.join(
  Object.entries(METHOD_WORDS).map(([method, words]) => sql`when ${method} then ${words}`),
  sql` `,
)} else ${forecastSeries.method} end`;
const itsFigures = and(eq(forecastFigure.itemId, forecastSeries.itemId), eq(forecastFigure.warehouseId, forecastSeries.warehouseId));
const PERIODS_SHOWN = 3;
const nextFigures = inner
  .select({ quantity: sql<number>`coalesce(${forecastFigure.typed}, ${forecastFigure.computed})`.as('quantity') })
  .from(forecastFigure)
  .where(itsFigures)
  .orderBy(forecastFigure.start)
  .limit(PERIODS_SHOWN)
  .as('next');

const forecasts = list(() => ({
  columns: {
    id: asText(sql`${forecastSeries.itemId} || ' ' || ${forecastSeries.warehouseId}`),
    itemId: asNumber(forecastSeries.itemId),
    code: asText(items.code),
    description: asText(items.description),
    unit: asText(items.unitCode),
    warehouseId: asNumber(forecastSeries.warehouseId),
    warehouse: asText(warehouses.code),
    period: asText(forecastSeries.period),
    method: asText(methodSaid),
    mase: asOptionalNumber(sql`round(json_extract(${forecastSeries.errors}, '$.' || ${forecastSeries.method} || '.mase'), 2)`),
    next: asQuantityText(scalar(inner.select({ n: sql`sum(${nextFigures.quantity})` }).from(nextFigures))),
    typed: asNumber(countOf(forecastFigure, and(itsFigures, isNotNull(forecastFigure.typed)))),
    counted: asText(sql`coalesce(${planningRule.demand}, 'none')`),
  },
  from: forecastSeries,
  joins: [
    refersTo(items, eq(items.id, forecastSeries.itemId)),
    refersTo(warehouses, eq(warehouses.id, forecastSeries.warehouseId)),
    mayReferTo(planningRule, sql`${planningRule.itemId} = ${forecastSeries.itemId} and ${planningRule.warehouseId} = ${forecastSeries.warehouseId}`),
  ],
  find: [items.code, items.description],
  order: [items.code, warehouses.code],
  tie: [sql`${forecastSeries}.rowid`],
}));

export function listForecasts(work: Work, asked: ListQuery): AnswerOf<typeof api.planning.listForecasts> {
  return listPage<ForecastRow>(work, forecasts, asked);
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
