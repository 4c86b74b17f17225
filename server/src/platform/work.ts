/**
 * A unit of work: one person doing one thing in one transaction. Services get it and everything that they change goes
 * through it, so that a command happens whole or not at all, and once only however often it is asked for.
 */
import { hash } from 'node:crypto';
import { sql } from 'drizzle-orm';
import type { DocumentKind, LiveEvent, Right, Role } from '@terrace/contract';
import { rightsOf } from '@terrace/contract';
import { Refusal, documentNumber } from '@terrace/core';
import * as tables from '../schema';
import type { Clock } from './config';
import { valuesFor, type Database, type Store } from './database';

export interface Actor {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
}

/** Who acts where nobody asked. */
export const NOBODY: Actor = { id: 0, name: 'Terrace', role: 'viewer' };

export interface Change {
  readonly field: string;
  readonly from: string;
  readonly to: string;
}

type RecordKind = DocumentKind | 'plan' | 'setup';

export class Work {
  /** Told to every open screen once the transaction is through. */
  readonly events: LiveEvent[] = [];

  constructor(
    readonly store: Store,
    readonly actor: Actor,
    readonly today: string,
    readonly now: string,
  ) {}

  get db(): Database {
    return this.store.db;
  }

  /** Rows of a fixed statement, prepared once. */
  rows<T>(text: string, ...values: readonly unknown[]): T[] {
    const statement = this.store.statement(text);
    return statement.all(...valuesFor(statement, values)) as T[];
  }

  /** Rows of a fixed statement one by one, for many; nothing may be written before the last. */
  each<T>(text: string, ...values: readonly unknown[]): IterableIterator<T> {
    const statement = this.store.statement(text);
    return statement.iterate(...valuesFor(statement, values)) as IterableIterator<T>;
  }

  /** The first row of a fixed statement. */
  row<T>(text: string, ...values: readonly unknown[]): T | undefined {
    const statement = this.store.statement(text);
    return statement.get(...valuesFor(statement, values)) as T | undefined;
  }

  /** The same person's work, looking into the kept plan; `null` where none is kept. */
  inPlan(): Work | null {
    return this.store.plan && new Work(this.store.plan, this.actor, this.today, this.now);
  }

  /** Runs a fixed statement that changes rows. */
  run(text: string, ...values: readonly unknown[]): { readonly changes: number; readonly id: number } {
    const statement = this.store.statement(text);
    const { changes, lastInsertRowid } = statement.run(...valuesFor(statement, values));
    return { changes, id: Number(lastInsertRowid) };
  }

  /** The last line of history. */
  lastHistory(): number {
    return this.row<{ n: number | null }>('select max(id) as n from history')?.n ?? 0;
  }

  mayI(right: Right): boolean {
    return rightsOf(this.actor.role).includes(right);
  }

  /** Refuses `notAllowed` where the person's role lacks the right. */
  assertMay(right: Right): void {
    assertMay(this.actor, right);
  }

  /** The next number of a kind of document; taken back with the transaction, so there is no gap. */
  nextNumber(prefix: string): string {
    const [taken] = this.store
      .query('sequence', (db) =>
        db
          .insert(tables.sequence)
          .values({ prefix: sql.placeholder('prefix'), next: 1002 })
          .onConflictDoUpdate({ target: tables.sequence.prefix, set: { next: sql`${tables.sequence.next} + 1` } })
          .returning({ next: tables.sequence.next })
          .prepare(),
      )
      .all({ prefix });
    return documentNumber(prefix, (taken?.next ?? 1002) - 1);
  }

  /** Writes history of a record and tells the open screens. */
  record(kind: RecordKind, id: number, what: string, changes: readonly Change[] = []): void {
    this.run(
      'insert into history (at, user_id, kind, record_id, what, changes) values (?, ?, ?, ?, ?, ?)',
      this.now,
      this.actor.id,
      kind,
      id,
      what,
      JSON.stringify(changes),
    );
    this.touch(kind, id, what);
  }

  /** Tells the open screens that a record changed as a consequence. */
  touch(topic: string, id: number, what: string): void {
    this.events.push({ topic, id, userId: this.actor.id, who: this.actor.name, what, at: this.now });
  }

  /** Links a document to one that came from it. */
  link(fromKind: DocumentKind, fromId: number, toKind: DocumentKind, toId: number): void {
    this.run('insert or ignore into trail_link (from_kind, from_id, to_kind, to_id) values (?, ?, ?, ?)', fromKind, fromId, toKind, toId);
  }

  /** A notice to everybody of some roles but the person who acts. */
  notify(toRoles: readonly Role[], text: string, link: { kind: DocumentKind; id: number } | null): void {
    const people = this.rows<{ id: number; role: Role }>('select id, role from user where active = 1');
    for (const person of people) {
      if (person.id === this.actor.id || !toRoles.includes(person.role)) continue;
      const { id } = this.run(
        'insert into notice (user_id, at, text, link_kind, link_id) values (?, ?, ?, ?, ?)',
        person.id,
        this.now,
        text,
        link?.kind ?? null,
        link?.id ?? null,
      );
      this.events.push({ topic: 'notice', id, userId: person.id, who: this.actor.name, what: text, at: this.now });
    }
  }
}

/** Refuses `notAllowed` where the person's role lacks the right. */
export function assertMay({ role }: Actor, right: Right): void {
  if (!rightsOf(role).includes(right))
    throw new Refusal('notAllowed', `Your role (${role}) may not do this: it takes the right ${right}. Ask a manager.`, { right });
}

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
  tell(actor: Actor, topics: readonly string[], what: string): void {
    const work = this.look(actor);
    for (const topic of topics) work.touch(topic, 0, what);
    this.publish(work.events);
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
    if (once) {
      work.run(
        'insert into idempotency (user_id, key, fingerprint, answer, at) values (?, ?, ?, ?, ?)',
        work.actor.id,
        once.key,
        once.fingerprint,
        JSON.stringify(fresh ?? null),
        work.now,
      );
    }
    return fresh;
  }

  /** The answer that a key has been given already. */
  answered(actor: Actor, once: CommandKey): { readonly answer: unknown } | null {
    const row = this.store.statement('select fingerprint, answer from idempotency where user_id = ? and key = ?').get(actor.id, once.key) as
      { fingerprint: string; answer: string } | undefined;
    if (!row) return null;
    if (row.fingerprint !== once.fingerprint)
      throw new Refusal('keyReused', 'This idempotency key was used for another command: take a new one for each.');
    return { answer: JSON.parse(row.answer) as unknown };
  }
}

/** Refuses `staleVersion` for a write that saw an older version, saying who changed what since. */
export function assertVersion(work: Work, kind: DocumentKind, record: { id: number; version: number }, seen: number, name: string): void {
  if (record.version === seen) return;
  const latest = work.row<{ at: string; what: string; name: string; changes: string }>(
    'select h.at, h.what, h.changes, u.name from history h join user u on u.id = h.user_id where h.kind = ? and h.record_id = ? order by h.id desc limit 1',
    kind,
    record.id,
  );
  const who = latest ? `${latest.name} changed it meanwhile (${latest.what})` : 'it was changed meanwhile';
  throw new Refusal('staleVersion', `${name} is no longer as you saw it: ${who}. Load it again and repeat what you wanted.`, {
    seen,
    current: record.version,
    who: latest?.name,
    what: latest?.what,
    at: latest?.at,
    changes: latest ? (JSON.parse(latest.changes) as unknown) : [],
  });
}

/** Refuses `staleVersion` for a write that saw an older version of what has no history of its own. */
export function assertSeen(record: { readonly version: number } | undefined, seen: number | undefined, name: string): void {
  if (record && record.version !== seen)
    throw new Refusal(
      'staleVersion',
      `${name} ${seen === undefined ? 'is there already' : 'was changed meanwhile'}: load it again and repeat what you wanted.`,
      { current: record.version },
    );
}

/** Runs a reading of input with the name of its field, so that a refusal is shown where it belongs. */
export function atField<T>(field: string, read: () => T): T {
  try {
    return read();
  } catch (error) {
    if (error instanceof Refusal) throw new Refusal(error.code, error.message, { ...error.details, field: error.details['field'] ?? field });
    throw error;
  }
}

/** Refuses like `act`, naming the row of a list before the field. */
export function atRow<T>(row: string, act: () => T): T {
  try {
    return act();
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    const { field } = error.details;
    throw new Refusal(error.code, error.message, { ...error.details, field: typeof field === 'string' ? `${row}.${field}` : row });
  }
}

/** Refuses `notFound`. */
export function orNotFound<T>(record: T | undefined, what: string): T {
  if (record === undefined) throw new Refusal('notFound', `There is no such ${what}. It may have been removed, or the link is wrong.`);
  return record;
}

/** What changed between two states of a record, for its history. */
export function changesBetween(before: Readonly<Record<string, unknown>>, after: Readonly<Record<string, unknown>>): Change[] {
  return Object.keys(after).flatMap((field) => {
    const [from, to] = [before[field], after[field]].map((value) =>
      value === null || value === undefined ? '' : typeof value === 'string' ? value : JSON.stringify(value),
    );
    return from === to ? [] : [{ field, from: from ?? '', to: to ?? '' }];
  });
}
