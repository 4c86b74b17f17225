/** Forecasting in a thread: one item at once, or all of them while somebody looks on. */
import type { Piscina } from 'piscina';
import type { ForecastJob, ForecastView } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import { usableItem, warehouseOf } from '../catalogue';
import { openPool } from '../platform/threads';
import type { Commands } from '../platform/commands';
import { atField } from '../platform/fields';
import type { Actor } from '../platform/work';
import type { ForecastAnswer } from './forecast-worker';
import { forecastView, forecastWishes, keep, prepare, type ForecastWish } from './forecasts';

/** So many items are worked out at once. */
const TOGETHER = 50;

/** Forecasts, in a thread, one item at once or all of them while somebody looks on. */
export class Forecasts {
  private readonly pool: Piscina;
  private job: ForecastJob = { running: false, done: 0, all: 0, failed: 0, stopped: false };

  constructor(
    private readonly commands: Commands,
    private readonly failed: (message: string) => void,
  ) {
    this.pool = openPool('forecast-worker', import.meta.url);
  }

  /** Works out one item's forecast and keeps it. */
  async compute(actor: Actor, input: ForecastWish): Promise<ForecastView> {
    const look = this.commands.look(actor);
    atField('itemId', () => usableItem(look, input.itemId));
    atField('warehouseId', () => warehouseOf(look, input.warehouseId));
    const ready = prepare(look, input);
    const [answer] = (await this.pool.run([ready.task])) as ForecastAnswer[];
    if (!answer) throw new Error('the forecast gave no answer');
    if (answer.refused) throw new Refusal(answer.refused.code, answer.refused.message);
    return this.commands.performTogether(actor, (work) => {
      keep(work, ready, answer);
      return forecastView(work, input.itemId, input.warehouseId);
    });
  }

  state(): ForecastJob {
    return this.job;
  }

  stop(): ForecastJob {
    if (this.job.running) this.job = { ...this.job, stopped: true };
    return this.job;
  }

  /** Begins to forecast every item that is forecast already, and every one whose rule counts a forecast. */
  start(actor: Actor): ForecastJob {
    if (this.job.running) return this.job;
    const inputs = forecastWishes(this.commands.look(actor));
    this.job = { running: true, done: 0, all: inputs.length, failed: 0, stopped: false };
    void this.work(actor, inputs)
      .catch((error: unknown) => {
        this.job = { ...this.job, stopped: true };
        this.failed(error instanceof Error ? error.message : String(error));
      })
      .finally(() => (this.job = { ...this.job, running: false }));
    return this.job;
  }

  private async work(actor: Actor, inputs: readonly ForecastWish[]): Promise<void> {
    for (let at = 0; at < inputs.length && !this.job.stopped; at += TOGETHER) {
      const look = this.commands.look(actor);
      const ready = inputs.slice(at, at + TOGETHER).map((input) => prepare(look, input));
      const answers = (await this.pool.run(ready.map((each) => each.task))) as ForecastAnswer[];
      // A few at a time, so that nobody else's command waits.
      for (let from = 0; from < ready.length; from += 5)
        await this.commands.performTogether(actor, (work) =>
          ready.slice(from, from + 5).forEach((each, index) => {
            const answer = answers[from + index];
            if (answer) keep(work, each, answer);
          }),
        );
      const failed = answers.filter((each) => each.result === null).length;
      this.job = { ...this.job, done: this.job.done + ready.length, failed: this.job.failed + failed };
    }
    this.commands.tell(actor, ['forecast'], 'forecast');
  }

  close(): Promise<void> {
    this.job = { ...this.job, stopped: true };
    return this.pool.destroy();
  }
}
