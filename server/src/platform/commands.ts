/** Carries commands out: each whole or not at all, once only, and many together by one commit. */
import { hash } from 'node:crypto';
import { and, eq } from 'drizzle-orm';
import type { LiveEvent, LiveTopic } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import type { Clock } from './clock';
import type { Store } from './database';
import { query } from './query';
import { addRow } from './rows';
import { idempotency } from './schema';
import { Work, type Actor } from './work';

/** What two commands with the same key have to have in common. */
export function fingerprintOf(method: string, path: string, body: unknown): string {
  return hash('sha256', `${method} ${path}\n${JSON.stringify(body ?? null)}`, 'base64');
}

export interface CommandKey {
  readonly key: string;
  readonly fingerprint: string;
}

interface Waiting {
  readonly work: Work;
  readonly run: () => unknown;
  readonly done: (answer: unknown) => void;
  readonly fail: (error: unknown) => void;
}

const answerGiven = query(
  ($: { userId: number; key: string }) => (db) =>
    db
      .select({ fingerprint: idempotency.fingerprint, answer: idempotency.answer })
      .from(idempotency)
      .where(and(eq(idempotency.userId, $.userId), eq(idempotency.key, $.key))),
);

const settling = new Set<(work: Work) => void>();

/** Adds what is done at the end of every command, within its transaction; at start, once per room. */
export function addSettling(settle: (work: Work) => void): void {
  settling.add(settle);
}

/** Carries commands out, one at a time, each whole or not at all. */
export class Commands {
  constructor(
    readonly store: Store,
    readonly clock: Clock,
    private readonly publish: (events: readonly LiveEvent[]) => void,
  ) {}

  /** A work for reading. */
  look(actor: Actor): Work {
    return new Work(this.store, actor, this.clock.today(), this.clock.now());
  }

  private held: Promise<void> | null = null;

  /** Lets nobody's command begin until the answer is called: another thread writes. */
  hold(): () => void {
    let release: () => void = () => undefined;
    this.held = new Promise<void>((done) => (release = done));
    return () => {
      this.held = null;
      release();
    };
  }

  /** Resolves when commands may begin. */
  async ready(): Promise<void> {
    while (this.held) await this.held;
  }

  /** Tells the open screens of what was written elsewhere. */
  tell(actor: Actor, topics: readonly LiveTopic[], what: string): void {
    const work = this.look(actor);
    for (const topic of topics) work.touch(topic, 0, what);
    this.publish(work.events);
  }

  /** What a command would answer; nothing of it is kept, and nobody hears of it. While another thread writes it waits. */
  async tryOut<T>(actor: Actor, command: (work: Work) => T): Promise<T> {
    await this.ready();
    const work = this.look(actor);
    let answer: { readonly is: T } | null = null;
    const undone = new Error('undone on purpose');
    try {
      this.store.sqlite
        .transaction(() => {
          answer = { is: command(work) };
          throw undone;
        })
        .immediate();
    } catch (error) {
      if (error !== undone) throw error;
    }
    return (answer as unknown as { readonly is: T }).is;
  }

  /**
   * Carries a command out in one transaction. With a key, a repeated request gets the first one's answer; the same key
   * for something else is refused with `keyReused`.
   */
  perform<T>(actor: Actor, command: (work: Work) => T, once: CommandKey | null = null): T {
    const work = this.look(actor);
    const answer = this.store.sqlite.transaction(() => this.carryOut(work, command, once)).immediate();
    this.publish(work.events);
    return answer;
  }

  /**
   * Carries a command out together with those that arrive at the same moment: each for itself within a savepoint, all
   * of them kept by one commit, and none is answered before that. While another thread writes they wait.
   */
  performTogether<T>(actor: Actor, command: (work: Work) => T, once: CommandKey | null = null): Promise<T> {
    return new Promise<T>((done, fail) => {
      if (this.waiting.length === 0) setImmediate(() => this.commitTogether());
      const work = this.look(actor);
      this.waiting.push({ work, run: () => this.carryOut(work, command, once), done: (answer) => done(answer as T), fail });
    });
  }

  private readonly waiting: Waiting[] = [];

  private commitTogether(): void {
    if (this.held) {
      void this.ready().then(() => this.commitTogether());
      return;
    }
    const { sqlite } = this.store;
    const batch = this.waiting.splice(0);
    const outcomes = new Map<Waiting, { readonly answer: unknown } | { readonly error: unknown }>();
    const each = sqlite.transaction((one: Waiting) => one.run());
    const all = sqlite.transaction(() => {
      for (const one of batch) {
        try {
          outcomes.set(one, { answer: each(one) });
        } catch (error) {
          // A fault that took the whole transaction with it takes everybody's command.
          if (!sqlite.inTransaction) throw error;
          outcomes.set(one, { error });
        }
      }
    });
    try {
      all.immediate();
    } catch (error) {
      for (const one of batch) one.fail(error);
      return;
    }
    for (const one of batch) {
      const outcome = outcomes.get(one);
      if (outcome && 'answer' in outcome) {
        this.publish(one.work.events);
        one.done(outcome.answer);
      } else one.fail(outcome?.error);
    }
  }

  private carryOut<T>(work: Work, command: (work: Work) => T, once: CommandKey | null): T {
    const earlier = once && this.answered(work.actor, once);
    if (earlier) return earlier.answer as T;
    const fresh = command(work);
    for (const settle of settling) settle(work);
    if (once) addRow(work, idempotency, { userId: work.actor.id, ...once, answer: JSON.stringify(fresh ?? null), at: work.now });
    return fresh;
  }

  /** The answer that a key has been given already. */
  answered(actor: Actor, once: CommandKey): { readonly answer: unknown } | null {
    const row = answerGiven.one(this, { userId: actor.id, key: once.key });
    if (!row) return null;
    if (row.fingerprint !== once.fingerprint)
      throw new Refusal('keyReused', 'This idempotency key was used for another command: take a new one for each.');
    return { answer: JSON.parse(row.answer) as unknown };
  }
}
