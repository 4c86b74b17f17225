/**
 * The audit log: who came in and who did not, what was refused for a right, what was set up, what left as a file. It is kept
 * beside what people do, within a second or so; what happens the same way many times within that is one row that says how
 * often, so that nobody can fill the disk by knocking. Nothing that was sent is in it.
 */
import { and, desc, eq, gt, inArray, sql } from 'drizzle-orm';
import type { Request } from 'express';
import type { AnswerOf, AuditKind, ListQuery, api } from '@terrace/contract';
import { atOnce, isOpen } from './database-file';
import type { Commands } from './commands';
import { asNumber, asText, list, listPage } from './list';
import { query } from './query';
import { addRow } from './rows';
import { audit } from './schema';
import type { Work } from './work';

const TOGETHER_MS = 500;
/** Different things that are kept of one such moment; what is beyond is counted. */
const MOST_TOGETHER = 200;
const LONGEST = 200;

export interface Audited {
  readonly what: AuditKind;
  /** Whom it is about, where that is somebody known. */
  readonly person: { readonly id: number; readonly name: string } | null;
  readonly address: string;
  readonly route: string;
  readonly outcome: string;
  readonly detail: string;
}

/** What is known of a request without reading it. */
function placeOf(request: Request): Pick<Audited, 'address' | 'route'> {
  return { address: request.ip ?? '', route: `${request.method} ${request.originalUrl.split('?')[0] ?? ''}`.slice(0, LONGEST) };
}

const latestSignIn = query(
  ($: { userId: number }) => (db) =>
    db
      .select({ id: sql<number>`coalesce(max(${audit.id}), 0)` })
      .from(audit)
      .where(and(eq(audit.userId, $.userId), eq(audit.what, 'signedIn'))),
);
const failedSince = query(
  ($: { userId: number; since: number }) => (db) =>
    db
      .select({
        count: sql<number>`coalesce(sum(${audit.times}), 0)`,
        lastAt: sql<string | null>`max(${audit.at})`,
        // Of the latest row, as SQLite gives it beside the highest.
        from: audit.address,
      })
      .from(audit)
      .where(and(eq(audit.userId, $.userId), gt(audit.id, $.since), inArray(audit.what, ['signInFailed', 'signInSlowed']))),
);

/** The log as a list, the latest first. */
const audited = list(() => ({
  columns: {
    id: asNumber(audit.id),
    at: asText(audit.at),
    what: asText(audit.what),
    who: asText(audit.who),
    address: asText(audit.address),
    route: asText(audit.route),
    outcome: asText(audit.outcome),
    detail: asText(audit.detail),
    times: asNumber(audit.times),
  },
  from: audit,
  find: [audit.who, audit.address, audit.route, audit.outcome, audit.detail],
  order: [desc(audit.id)],
  tie: [desc(audit.id)],
}));

/** The log as people page through it. */
export function auditList(work: Work, asked: ListQuery): AnswerOf<typeof api.platform.audit> {
  return listPage(work, audited, asked);
}

export class Audit {
  private readonly waiting = new Map<string, { readonly entry: Audited; readonly at: string; times: number }>();
  private timer: NodeJS.Timeout | null = null;
  private beyond = 0;

  constructor(
    private readonly commands: Pick<Commands, 'store' | 'clock' | 'ready'>,
    private readonly failed: (error: unknown) => void,
  ) {}

  /** Notes what came of a request: who asked, from where and for what follow from it. */
  noteOf(
    request: Request,
    what: AuditKind,
    { outcome = 'done', detail = '', person = request.actor ?? null }: Partial<Pick<Audited, 'outcome' | 'detail' | 'person'>> = {},
  ): void {
    this.note({ what, person: person && { id: person.id, name: person.name }, ...placeOf(request), outcome, detail });
  }

  note(entry: Audited): void {
    const key = JSON.stringify(entry);
    const known = this.waiting.get(key);
    if (known) known.times += 1;
    else if (this.waiting.size < MOST_TOGETHER) this.waiting.set(key, { entry, at: this.commands.clock.now(), times: 1 });
    else this.beyond += 1;
    this.timer ??= setTimeout(() => void this.keep(), TOGETHER_MS);
  }

  /** Attempts that have failed with somebody's name since they signed in the last time. */
  async attemptsOn(userId: number): Promise<{ count: number; lastAt: string; from: string } | null> {
    await this.keep();
    const since = latestSignIn.one(this.commands, { userId })?.id ?? 0;
    const found = failedSince.one(this.commands, { userId, since });
    return found && found.count > 0 ? { count: found.count, lastAt: found.lastAt ?? '', from: found.from } : null;
  }

  /** Keeps what has been noted, as soon as nobody else writes. */
  async keep(): Promise<void> {
    await this.commands.ready();
    try {
      this.keepNow();
    } catch (error) {
      this.failed(error);
    }
  }

  private keepNow(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    if (this.waiting.size === 0 || !isOpen(this.commands.store)) return;
    const rows = [...this.waiting.values()];
    const { beyond } = this;
    atOnce(this.commands.store, () => {
      for (const { entry, at, times } of rows) addRow(this.commands, audit, rowOf(entry, at, times));
      if (beyond > 0) addRow(this.commands, audit, rowOf({ ...MORE, detail: 'and others at the same time' }, rows[0]?.at ?? '', beyond));
    });
    this.waiting.clear();
    this.beyond = 0;
  }
}

const MORE: Audited = { what: 'rightRefused', person: null, address: '', route: '', outcome: 'many', detail: '' };

function rowOf({ person, ...entry }: Audited, at: string, times: number) {
  return { at, ...entry, detail: entry.detail.slice(0, LONGEST), userId: person?.id ?? null, who: person?.name ?? '', times };
}
