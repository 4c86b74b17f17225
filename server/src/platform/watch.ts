/**
 * The watch over the main thread, which answers everybody: what holds it for longer than a blink is named in the log, so that
 * it is found and given a thread of its own.
 */
import { performance } from 'node:perf_hooks';

const LONGEST_MS = 250;
const EVERY_MS = 100;

export interface Held {
  /** What held it: a route, or whatever ran last. */
  readonly by: string;
  readonly milliseconds: number;
}

export class Watch {
  private last = 'start';
  private told = 0;
  private due = 0;
  private readonly timer: NodeJS.Timeout;

  constructor(private readonly tell: (held: Held) => void) {
    this.due = performance.now() + EVERY_MS;
    this.timer = setInterval(() => this.look(), EVERY_MS).unref();
  }

  /** Carries something out that nobody else is answered beside. */
  during<T>(by: string, act: () => T): T {
    this.last = by;
    const start = performance.now();
    try {
      return act();
    } finally {
      const milliseconds = performance.now() - start;
      if (milliseconds > LONGEST_MS) {
        this.told = performance.now();
        this.tell({ by, milliseconds: Math.round(milliseconds) });
      }
    }
  }

  close(): void {
    clearInterval(this.timer);
  }

  /** Whatever came late was held up, by something that nobody has named yet. */
  private look(): void {
    const now = performance.now();
    const late = now - this.due;
    this.due = now + EVERY_MS;
    if (late > LONGEST_MS && this.told < now - late) this.tell({ by: `something after ${this.last}`, milliseconds: Math.round(late) });
  }
}
