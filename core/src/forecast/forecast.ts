/**
 * A forecast of one item: by a chosen method, or by the one that would have been best before, with the errors of all of
 * them side by side and a range in which four of five figures should lie.
 */
import { Refusal, readDecimal } from '../base';
import { METHODS, forecastMethods, isPossible, type ForecastMethod } from './methods';
import type { Fitted } from './smoothing';

export interface ForecastProblem {
  /** Demand of each period as decimal text, oldest first. */
  readonly history: readonly string[];
  /** Periods in a season; 1 where there is none. */
  readonly season: number;
  /** Periods to come. */
  readonly periods: number;
  readonly method: ForecastMethod | 'best';
}

export interface ForecastError {
  /** Mean absolute error over that of repeating the last season (Hyndman and Koehler 2006); below 1 is better than that. */
  readonly mase: number;
  /** Mean of forecast less actual, over the same measure; above 0 it forecasts too much. */
  readonly bias: number;
}

export interface ForecastResult {
  readonly method: ForecastMethod;
  readonly forecast: readonly number[];
  readonly low: readonly number[];
  readonly high: readonly number[];
  readonly errors: Readonly<Partial<Record<ForecastMethod, ForecastError>>>;
}

/** A forecast with what its method would have said of each period of the history, one period ahead; `null` where it could not yet. */
export interface FittedForecast extends ForecastResult {
  readonly fit: readonly (number | null)[];
}

/** Four of five normally spread values lie within so many standard deviations. */
const FOUR_OF_FIVE = 1.2816;
/** Forecasts of the past are judged from so many days on which they could have been made, so many periods apart. */
const MOST_ORIGINS = 8;
const APART = 3;
const DECIMALS = 1e6;
const rounded = (value: number): number => Math.round(value * DECIMALS) / DECIMALS;

function read(text: string, index: number): number {
  if (!readDecimal(text)) throw new Refusal('notANumber', `history ${index + 1}: "${text}" is not a number.`, { index });
  return Number(text);
}

/** Mean absolute change from one season to the next, or from one period to the next where there is no whole season before. */
function scaleOf(history: readonly number[], season: number): number {
  const lag = history.length > season ? season : 1;
  const changes = history.slice(lag).map((value, index) => Math.abs(value - (history[index] ?? 0)));
  const mean = changes.reduce((sum, each) => sum + each, 0) / Math.max(1, changes.length);
  return mean > 0 ? mean : 1;
}

/** The errors of a method from several origins spread over the last part of the history, each over up to a season ahead. */
function errorOf(method: ForecastMethod, history: readonly number[], season: number, ahead: number): ForecastError | null {
  const scale = scaleOf(history, season);
  let [absolute, signed, count] = [0, 0, 0];
  for (let origin = 0; origin < MOST_ORIGINS; origin += 1) {
    const known = history.slice(0, history.length - ahead - origin * APART);
    if (!isPossible(method, known, season)) break;
    METHODS[method]
      .fit(known, season)
      .forecast(ahead)
      .forEach((value, index) => {
        const difference = Math.max(0, value) - (history[known.length + index] ?? 0);
        absolute += Math.abs(difference);
        signed += difference;
        count += 1;
      });
  }
  return count === 0 ? null : { mase: rounded(absolute / count / scale), bias: rounded(signed / count / scale) };
}

/** Standard deviation of the one-step errors, the first season left out where there is enough besides. */
function deviationOf(history: readonly number[], fitted: Fitted, season: number): number {
  const from = history.length > 2 * season ? season : Math.min(2, history.length - 1);
  const errors = history.slice(from).map((value, index) => value - (fitted.fit[index + from] ?? value));
  return Math.sqrt(errors.reduce((sum, each) => sum + each * each, 0) / Math.max(1, errors.length - 1));
}

/**
 * Forecasts. Demand below zero is never forecast. `errors` has every method that can be judged on this history.
 *
 * Refuses `notANumber`, `tooShort` for a method that needs more history, and `badSeason`.
 */
export function computeForecast(problem: ForecastProblem): ForecastResult {
  const { fit: _fit, ...result } = forecastFitted(problem);
  return result;
}

/** {@link computeForecast}, with the fit to the history. */
export function forecastFitted({ history: texts, season, periods, method }: ForecastProblem): FittedForecast {
  const history = texts.map(read);
  if (season < 1) throw new Refusal('badSeason', `A season of ${season} periods makes no sense: give 1 where there is none.`);
  const ahead = Math.max(1, Math.min(periods, season > 1 ? season : 6, Math.floor(history.length / 4)));
  const errors: Partial<Record<ForecastMethod, ForecastError>> = {};
  for (const each of forecastMethods) {
    const error = errorOf(each, history, season, ahead);
    if (error) errors[each] = error;
  }
  const chosen = method === 'best' ? bestOf(errors, history, season) : method;
  if (!isPossible(chosen, history, season))
    throw new Refusal('tooShort', `${chosen} can't be worked out from this history of ${history.length} periods with a season of ${season}.`);
  const fitted = METHODS[chosen].fit(history, season);
  const deviation = deviationOf(history, fitted, season);
  const forecast = fitted.forecast(periods).map((value) => Math.max(0, value));
  const width = forecast.map((_, index) => FOUR_OF_FIVE * deviation * fitted.widening(index + 1));
  return {
    method: chosen,
    forecast: forecast.map(rounded),
    low: forecast.map((value, index) => rounded(Math.max(0, value - (width[index] ?? 0)))),
    high: forecast.map((value, index) => rounded(value + (width[index] ?? 0))),
    errors,
    fit: history.map((_, index) => {
      const value = fitted.fit[index];
      return value === undefined || !Number.isFinite(value) ? null : rounded(Math.max(0, value));
    }),
  };
}

function bestOf(errors: Readonly<Partial<Record<ForecastMethod, ForecastError>>>, history: readonly number[], season: number): ForecastMethod {
  // What could be judged on the years before need not be possible with what came since, such as periods of nothing.
  const possible = forecastMethods.filter((each) => isPossible(each, history, season));
  const judged = possible.filter((each) => errors[each] !== undefined);
  const candidates = judged.length > 0 ? judged : possible;
  const [first] = candidates;
  if (!first) throw new Refusal('tooShort', `A history of ${history.length} periods is too short to forecast from: three are needed at least.`);
  return candidates.reduce((best, each) => ((errors[each]?.mase ?? Infinity) < (errors[best]?.mase ?? Infinity) ? each : best), first);
}
