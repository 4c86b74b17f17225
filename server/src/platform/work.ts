/**
 * A unit of work: one person doing one thing in one transaction. Services get it and everything that they change goes
 * through it, so that a command happens whole or not at all, and once only however often it is asked for.
 */
import { eq, sql } from 'drizzle-orm';
import type { DocumentKind, LiveEvent, NoticeKind, Right, Role } from '@terrace/contract';
import { rightsOf } from '@terrace/contract';
import { Refusal, documentNumber } from '@terrace/core';
import type { Store } from './database';
import { plus } from './expressions';
import { query } from './query';
import { addRow, addRowOnce } from './rows';
import { history, notice, sequence, trailLink, user, type Change } from './schema';

export type { Change };

export interface Actor {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
}

/** Who acts where nobody asked. */
export const NOBODY: Actor = { id: 0, name: 'Terrace', role: 'viewer' };

type RecordKind = DocumentKind | 'plan' | 'setup';

const latest = query(() => (db) => db.select({ id: sql<number | null>`max(${history.id})` }).from(history));
const numberTaken = query(
  ($: { prefix: string }) => (db) =>
    db
      .insert(sequence)
      .values({ prefix: $.prefix, next: 1002 })
      .onConflictDoUpdate({ target: sequence.prefix, set: { next: plus(sequence.next, 1) } })
      .returning({ next: sequence.next }),
);
const activePeople = query(() => (db) => db.select({ id: user.id, role: user.role }).from(user).where(eq(user.active, true)));

/** What whoever needs the plan hears while there is none. */
export function planningAnew(): Refusal {
  return new Refusal('planningAnew', 'Planning anew: the plan is there again in a moment.');
}

export class Work {
  /** Told to every open screen once the transaction is through. */
  readonly events: LiveEvent[] = [];
  /** Items of which stock, or what is expected of it, has changed so that others may be promised more or less. */
  readonly unsettled = new Set<number>();
  /** Items of which somebody has just freed stock on purpose: it is not given to whoever waits by itself. */
  readonly keptFree = new Set<number>();

  constructor(
    readonly store: Store,
    readonly actor: Actor,
    readonly today: string,
    readonly now: string,
  ) {}

  /** The same person's work, looking into the kept plan; `null` where none is kept. */
  inPlan(): Work | null {
    return this.store.plan && new Work(this.store.plan, this.actor, this.today, this.now);
  }

  /** The same person's work, looking into the kept plan. Refuses `planningAnew` where none can be read at this moment. */
  plan(): Work {
    const plan = this.inPlan();
    if (!plan) throw planningAnew();
    return plan;
  }

  /** The last line of history. */
  lastHistory(): number {
    return latest.one(this)?.id ?? 0;
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
    return documentNumber(prefix, (numberTaken.one(this, { prefix })?.next ?? 1002) - 1);
  }

  /** Writes history of a record and tells the open screens. */
  record(kind: RecordKind, id: number, what: string, changes: readonly Change[] = []): void {
    addRow(this, history, { at: this.now, userId: this.actor.id, kind, recordId: id, what, changes: [...changes] });
    this.touch(kind, id, what);
  }

  /**
   * Tells the open screens that a record changed as a consequence. Of stock it says as well whether that is settled: whether
   * nobody but whoever acts gets more or less by it.
   */
  touch(topic: string, id: number, what: string, settled = false): void {
    if (topic === 'stock' && !settled) this.unsettled.add(id);
    this.events.push({ topic, id, userId: this.actor.id, who: this.actor.name, what, at: this.now });
  }

  /** Links a document to one that came from it. */
  link(fromKind: DocumentKind, fromId: number, toKind: DocumentKind, toId: number): void {
    addRowOnce(this, trailLink, { fromKind, fromId, toKind, toId });
  }

  /** A notice of a kind to everybody of some roles but the person who acts. */
  notify(kind: NoticeKind, toRoles: readonly Role[], text: string, link: { kind: DocumentKind; id: number } | null): void {
    for (const person of activePeople.all(this)) {
      if (person.id === this.actor.id || !toRoles.includes(person.role)) continue;
      const told = { userId: person.id, kind, at: this.now, text, linkKind: link?.kind ?? null, linkId: link?.id ?? null };
      const id = addRow(this, notice, told);
      this.events.push({ topic: 'notice', id, userId: person.id, who: this.actor.name, what: text, at: this.now });
    }
  }
}

/** Refuses `notAllowed` where the person's role lacks the right. */
export function assertMay({ role }: Actor, right: Right): void {
  if (!rightsOf(role).includes(right))
    throw new Refusal('notAllowed', `Your role (${role}) may not do this: it takes the right ${right}. Ask a manager.`, { right });
}
