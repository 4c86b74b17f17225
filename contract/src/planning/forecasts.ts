/** Forecasts of items in warehouses: from what, by which method, how well, and what somebody typed over it. */
import { z } from 'zod';
import { forecastMethods } from '@terrace/core';
import { route } from '../base/route';
import { dateText, decimalText, listQuery, longText, nothing, page } from '../base/schemas';

/** How methods are spoken of. */
export const METHOD_WORDS: Readonly<Record<string, string>> = {
  best: 'the best method',
  movingAverage: 'moving average',
  linearTrend: 'linear trend',
  seasonalAverage: 'average of each season',
  simple: 'smoothing',
  holt: 'smoothing with trend',
  dampedHolt: 'smoothing with a fading trend',
  holtWintersAdditive: 'smoothing with seasons, added',
  holtWintersMultiplicative: 'smoothing with seasons, multiplied',
  croston: 'now-and-then demand',
  manual: 'typed figures only',
};

/** A method of the core, the best of them, or none: figures that are typed. */
export const forecastChoices = ['best', ...forecastMethods, 'manual'] as const;
const method = z.enum(forecastChoices);
const place = z.object({ itemId: z.coerce.number().int().positive(), warehouseId: z.coerce.number().int().positive() });

export const forecastRow = z.object({
  id: z.string(),
  itemId: z.number(),
  code: z.string(),
  description: z.string(),
  unit: z.string(),
  warehouseId: z.number(),
  warehouse: z.string(),
  period: z.enum(['month', 'week']),
  /** In words. */
  method: z.string(),
  /** Error of the method, over that of repeating the last season; `null` where the history is too short to tell. */
  mase: z.number().nullable(),
  /** Of the next three periods. */
  next: z.string(),
  /** Periods that somebody typed over. */
  typed: z.number(),
  counted: z.string(),
});
export type ForecastRow = z.output<typeof forecastRow>;

export const forecastView = z.object({
  itemId: z.number(),
  code: z.string(),
  description: z.string(),
  unit: z.string(),
  decimals: z.number(),
  warehouseId: z.number(),
  warehouse: z.string(),
  /** What of demand its planning rule counts. */
  counted: z.string(),
  period: z.enum(['month', 'week']),
  asked: method,
  method: z.string(),
  at: z.string(),
  reference: z.object({ itemId: z.number(), code: z.string(), factor: z.string() }).nullable(),
  /** Whether figures unlike the others were left out. */
  leaveOutliers: z.boolean(),
  /** `fit` is what the method would have said one period ahead; `null` where it could not. */
  history: z.array(z.object({ start: z.string(), quantity: z.string(), outlier: z.boolean(), fit: z.string().nullable() })),
  figures: z.array(
    z.object({ start: z.string(), computed: z.string(), low: z.string(), high: z.string(), typed: z.string().nullable(), note: z.string() }),
  ),
  errors: z.array(z.object({ method: z.string(), mase: z.number(), bias: z.number() })),
  version: z.number(),
});
export type ForecastView = z.output<typeof forecastView>;

export const forecastJob = z.object({ running: z.boolean(), done: z.number(), all: z.number(), failed: z.number(), stopped: z.boolean() });
export type ForecastJob = z.output<typeof forecastJob>;

export const forecastInput = z.object({
  itemId: z.number(),
  warehouseId: z.number(),
  period: z.enum(['month', 'week']).default('month'),
  method: method.default('best'),
  /** Whose history stands in where its own is too short, and times what. */
  referenceId: z.number().nullable().default(null),
  factor: decimalText.default('1'),
  leaveOutliers: z.boolean().default(true),
});

export const forecastRoutes = {
  listForecasts: route({
    method: 'get',
    path: '/planning/forecasts',
    summary: 'Items that are forecast',
    right: 'planning.see',
    query: listQuery,
    answer: page(forecastRow),
  }),
  getForecast: route({
    method: 'get',
    path: '/planning/forecasts/:itemId/:warehouseId',
    summary: 'The forecast of an item in a warehouse',
    right: 'planning.see',
    params: place,
    answer: forecastView,
  }),
  computeForecast: route({
    method: 'post',
    path: '/planning/forecasts',
    summary: 'Forecast an item; what was typed stays',
    right: 'planning.run',
    body: forecastInput,
    answer: forecastView,
  }),
  typeForecast: route({
    method: 'put',
    path: '/planning/forecasts/:itemId/:warehouseId/:start',
    summary: 'Type over a forecast figure, or leave it to the computed one again',
    right: 'planning.run',
    params: place.extend({ start: dateText }),
    body: z.object({ typed: decimalText.nullable(), note: longText.default('') }),
    answer: forecastView,
  }),
  keepPastDemand: route({
    method: 'put',
    path: '/planning/past-demand/:itemId/:warehouseId',
    summary: 'Keep the demand of months before Terrace',
    right: 'planning.run',
    params: place,
    body: z.object({ months: z.array(z.object({ start: dateText, quantity: decimalText })).max(240) }),
    answer: nothing,
  }),
  getForecastJob: route({
    method: 'get',
    path: '/planning/forecast-job',
    summary: 'How far forecasting everything is',
    right: 'planning.see',
    answer: forecastJob,
  }),
  runForecasts: route({
    method: 'post',
    path: '/planning/forecast-job',
    summary: 'Forecast every item anew',
    right: 'planning.run',
    answer: forecastJob,
  }),
  stopForecasts: route({
    method: 'post',
    path: '/planning/forecast-job/stop',
    summary: 'Stop forecasting',
    right: 'planning.run',
    answer: forecastJob,
  }),
};
