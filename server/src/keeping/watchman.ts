/** Looks after the machine: room on the disk, the clock, a database that can be read. Commands are refused before anything is lost. */
import { statfsSync } from 'node:fs';
import type { RequestHandler } from 'express';
import { Refusal, conditionOf, type Condition } from '@terrace/core';
import type { Commands } from '../platform/commands';
import { keepSetting, settingOf } from '../platform/settings';
import { NOBODY, type Work } from '../platform/work';

/** What is seen of the machine; tests see what they like. */
export interface Eyes {
  /** Bytes that are free in a folder. */
  readonly free: (folder: string) => number;
  /** Moment in milliseconds since 1970. */
  readonly now: () => number;
  /** Milliseconds that go on whatever the clock does. */
  readonly running: () => number;
}

const EYES: Eyes = {
  free: (folder) => {
    const { bavail, bsize } = statfsSync(folder);
    return bavail * bsize;
  },
  now: () => Date.now(),
  running: () => performance.now(),
};

const LATEST = 'clock.latest';
const EVERY_MS = 20_000;
/** How old what was seen may be where somebody asks for something. */
const FRESH_MS = 2000;
const KEPT_EVERY_MS = 600_000;
/** What may be done all the same: getting in and out, and setting right what is wrong. */
const ALWAYS = /^\/(session(\/|$)|setup\/clock$)/;

export class Watchman {
  private damaged = false;
  /** A moment that has been, and how long the server had been running then. */
  private known: { readonly at: number; readonly running: number };
  private seen: Condition | null = null;
  private seenAt = -Infinity;
  private keptAt = -Infinity;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly commands: Commands,
    private readonly dataFolder: string,
    private readonly log: (message: string, about: object) => void,
    private readonly eyes: Eyes = EYES,
  ) {
    this.known = { at: Number(settingOf(commands.store, LATEST) ?? '0'), running: eyes.running() };
  }

  /** Looks from now on by itself. */
  begin(): void {
    const again = (): void => {
      this.look();
      this.keepLatest();
    };
    again();
    this.timer = setInterval(again, EVERY_MS).unref();
  }

  close(): void {
    clearInterval(this.timer);
  }

  /** What is the matter now. */
  condition(): Condition | null {
    if (this.eyes.running() - this.seenAt > FRESH_MS) this.look();
    return this.seen;
  }

  /** A page of the database could not be read: nothing is taken on before it has been put right and the server started anew. */
  noteDamage(): void {
    this.damaged = true;
    this.look();
  }

  /** Somebody who knows says that the clock is right as it is. */
  believeClock(work: Work): void {
    this.known = { at: this.eyes.now(), running: this.eyes.running() };
    keepSetting(work.store, LATEST, String(this.known.at));
    work.record('setup', 0, 'said that the server’s clock is right');
    this.seenAt = -Infinity;
  }

  private look(): void {
    const [now, running] = [this.eyes.now(), this.eyes.running()];
    this.seenAt = running;
    const behind = this.known.at + (running - this.known.running) - now;
    const before = this.seen;
    this.seen = conditionOf({ free: this.eyes.free(this.dataFolder), behind, damaged: this.damaged });
    if (behind <= 0) this.known = { at: now, running };
    if (this.seen?.kind !== before?.kind) {
      if (this.seen) this.log('the condition of the server', { condition: this.seen.words });
      this.commands.tell(NOBODY, ['condition'], this.seen?.words ?? 'all is well again');
    }
  }

  /** The moment is kept now and then, so that a server that was off knows that it has been. */
  private keepLatest(): void {
    const [now, running] = [this.eyes.now(), this.eyes.running()];
    if (this.seen?.stops === true || running - this.keptAt < KEPT_EVERY_MS) return;
    this.keptAt = running;
    void this.commands
      .performTogether(NOBODY, (work) => keepSetting(work.store, LATEST, String(now)))
      .catch((error: unknown) => this.log('the moment can’t be kept', { err: error }));
  }

  /** Refuses `notNow` to whoever wants to change something while that could be lost. */
  readonly guard: RequestHandler = (request, _response, next) => {
    if (request.method === 'GET' || request.method === 'HEAD' || ALWAYS.test(request.path)) {
      next();
      return;
    }
    const condition = this.condition();
    next(condition?.stops === true ? new Refusal('notNow', condition.words, { condition: condition.kind }) : undefined);
  };
}
