/** Forecasts in a thread of its own. */
import { Refusal, computeForecast, findOutliers, type ForecastProblem, type ForecastResult } from '@terrace/core';

export interface ForecastTask extends Omit<ForecastProblem, 'history'> {
  readonly history: readonly number[];
  readonly leaveOutliers: boolean;
}

export interface ForecastAnswer {
  readonly outliers: readonly boolean[];
  readonly result: ForecastResult | null;
  /** Why there is none. */
  readonly refused: { readonly code: string; readonly message: string } | null;
}

export default function run(tasks: readonly ForecastTask[]): ForecastAnswer[] {
  return tasks.map(({ leaveOutliers, history, ...task }): ForecastAnswer => {
    const found = findOutliers(history, task.season);
    const used = leaveOutliers ? history.map((value, index) => (found[index]?.outlier === true ? (found[index]?.usual ?? value) : value)) : history;
    const outliers = found.map((each) => each.outlier);
    try {
      return { outliers, result: computeForecast({ ...task, history: used.map(String) }), refused: null };
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      return { outliers, result: null, refused: { code: error.code, message: error.message } };
    }
  });
}
