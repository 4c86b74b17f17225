/**
 * A unit of work: one person doing one thing in one transaction. Services get it and everything that they change goes
 * through it, so that a command happens whole or not at all, and once only however often it is asked for.
 */
import { eq, sql } from 'drizzle-orm';
import type { DocumentKind, LiveEvent, LiveTopic, NoticeKind, Right } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import type { Store } from './database';
import { assertGranted, grantsOfRole, type Grants } from './grants';
import { takeNumber } from './numbering';
import { query } from './query';
import { addRow, addRowOnce } from './rows';
import { history, notice, role, trailLink, user, userRole, type Change } from './schema';

export type { Change };

export interface Actor {
  readonly id: number;
  readonly name: string;
  readonly grants: Grants;
  /** The session that they ask through; none where nobody sits before a screen. */
  readonly session?: string;
  /** The token that a program asks by for them; none where they ask themselves. */
  readonly token?: number;
}

/** Who acts where nobody asked. */
export const NOBODY: Actor = { id: 0, name: 'Terrace', grants: grantsOfRole('viewer') };

type RecordKind = DocumentKind | 'plan' | 'setup';

const latest = query(() => (db) => db.select({ id: sql<number | null>`max(${history.id})` }).from(history));
const toldRoles = query(
  () => (db) =>
    db
      .select({ id: user.id, notices: role.notices })
      .from(user)
      .innerJoin(userRole, eq(userRole.userId, user.id))
      .innerJoin(role, eq(role.id, userRole.roleId))
      .where(eq(user.active, true))
      .orderBy(user.id),
);

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
    return this.actor.grants.has(right);
  }

  /** Refuses `notAllowed` where the person lacks the right. */
  assertMay(right: Right): void {
    assertMay(this.actor, right);
  }

  /** The next number of a kind of document; taken back with the transaction, so there is no gap. */
  nextNumber(kind: string): string {
    return takeNumber(this, kind, this.today);
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
  touch(topic: LiveTopic, id: number, what: string, settled = false): void {
    if (topic === 'stock' && !settled) this.unsettled.add(id);
    this.events.push({ topic, id, userId: this.actor.id, who: this.actor.name, what, at: this.now });
  }

  /** Links a document to one that came from it. */
  link(fromKind: DocumentKind, fromId: number, toKind: DocumentKind, toId: number): void {
    addRowOnce(this, trailLink, { fromKind, fromId, toKind, toId });
  }

  /** A notice of a kind to everybody who has a role that is told of it, but the person who acts. */
  notify(kind: NoticeKind, text: string, link: { kind: DocumentKind; id: number } | null): void {
    const people = new Set(toldRoles.all(this).flatMap((each) => (each.notices.includes(kind) ? [each.id] : [])));
    people.delete(this.actor.id);
    for (const userId of people) {
      const told = { userId, kind, at: this.now, text, linkKind: link?.kind ?? null, linkId: link?.id ?? null };
      const id = addRow(this, notice, told);
      this.events.push({ topic: 'notice', id, userId, who: this.actor.name, what: text, at: this.now });
    }
  }
}

/** Refuses `notAllowed` where the person lacks the right. */
export function assertMay({ grants }: Actor, right: Right): void {
  assertGranted(grants, right);
}
