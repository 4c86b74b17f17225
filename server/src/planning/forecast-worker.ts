/** Forecasts in a thread of its own. */
import { Refusal, findOutliers, forecastFitted, type FittedForecast, type ForecastProblem } from '@terrace/core';
import { giveWay } from '../platform/threads';

giveWay();

export interface ForecastTask extends Omit<ForecastProblem, 'history' | 'method'> {
  readonly method: ForecastProblem['method'] | 'manual';
  readonly history: readonly number[];
  readonly leaveOutliers: boolean;
}

/** A forecast as it is kept; `manual` computes nothing. */
export type Forecast = Omit<FittedForecast, 'method'> & { readonly method: FittedForecast['method'] | 'manual' };

export interface ForecastAnswer {
  readonly outliers: readonly boolean[];
  readonly result: Forecast | null;
  /** Why there is none. */
  readonly refused: { readonly code: string; readonly message: string } | null;
}

export default function run(tasks: readonly ForecastTask[]): ForecastAnswer[] {
  return tasks.map(({ leaveOutliers, history, method, ...task }): ForecastAnswer => {
    if (method === 'manual') return { outliers: history.map(() => false), result: typedOnly(task.periods), refused: null };
    const found = findOutliers(history, task.season);
    const used = leaveOutliers ? history.map((value, index) => (found[index]?.outlier === true ? (found[index]?.usual ?? value) : value)) : history;
    const outliers = found.map((each) => each.outlier);
    try {
      return { outliers, result: forecastFitted({ ...task, method, history: used.map(String) }), refused: null };
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return { outliers, result: null, refused: { code: error.code, message: error.message } };
    }
  });
}

/** Nothing until somebody types a figure. */
function typedOnly(periods: number): Forecast {
  const none = Array.from({ length: periods }, () => 0);
  return { method: 'manual', forecast: none, low: none, high: none, errors: {}, fit: [] };
}
