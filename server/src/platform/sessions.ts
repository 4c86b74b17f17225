/** Sign-in with argon2id, sessions kept in the database. */
import { randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { eq, lt, or } from 'drizzle-orm';
import type { Router } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import session, { Store as SessionStore, type SessionData } from 'express-session';
import { api, rightsOf, type Session } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import * as tables from './schema';
import type { Store } from './database';
import type { Binder } from './http';
import { query, command } from './query';
import { keepRow } from './rows';
import { currencyOf, keepSetting, settingOf } from './settings';
import type { Actor, Work } from './work';

declare module 'express-session' {
  interface SessionData {
    actor: Actor;
  }
}

const HOURS = 12;
const SESSION_MS = HOURS * 3_600_000;
const ATTEMPTS = 10;
const ATTEMPT_WINDOW_MS = 15 * 60_000;
/** A hash of no one's password, so that an unknown name takes as long as a wrong password. */
let decoy: Promise<string> | undefined;

/** Hashes a password (argon2id with the library's recommended costs). */
export function hashPassword(password: string): Promise<string> {
  return hash(password);
}

const kept = query(
  ($: { id: string }) => (db) =>
    db.select({ data: tables.session.data, expires: tables.session.expires }).from(tables.session).where(eq(tables.session.id, $.id)),
);
const ended = command(
  ($: { id: string; now: number }) => (db) => db.delete(tables.session).where(or(eq(tables.session.id, $.id), lt(tables.session.expires, $.now))),
);
const personBy = {
  id: query(($: { id: number }) => (db) => db.select().from(tables.user).where(eq(tables.user.id, $.id))),
  login: query(($: { login: string }) => (db) => db.select().from(tables.user).where(eq(tables.user.login, $.login))),
};
const preferencesOf = query(
  ($: { userId: number }) => (db) =>
    db.select({ key: tables.preference.key, value: tables.preference.value }).from(tables.preference).where(eq(tables.preference.userId, $.userId)),
);
const activePeople = query(
  () => (db) =>
    db
      .select({ login: tables.user.login, name: tables.user.name, role: tables.user.role })
      .from(tables.user)
      .where(eq(tables.user.active, true))
      .orderBy(tables.user.id),
);

/**
 * Kept in the database, so that a restart signs nobody out; read from there once, since every request asks. A session is
 * not written again for being used, it ends after a working day: so there is no `touch`, for which every answer would
 * be cut in two.
 */
class DatabaseSessions extends SessionStore {
  private readonly known = new Map<string, { readonly data: string; readonly expires: number }>();

  constructor(
    readonly store: Store,
    /** Resolves when nobody else writes. */
    private readonly ready: () => Promise<void>,
  ) {
    super();
  }

  override get(id: string, done: (error: unknown, data?: SessionData | null) => void): void {
    let row = this.known.get(id);
    if (!row) {
      row = kept.one(this, { id });
      if (row) this.known.set(id, row);
    }
    done(null, row && row.expires > Date.now() ? (JSON.parse(row.data) as SessionData) : null);
  }

  override set(id: string, data: SessionData, done?: (error?: unknown) => void): void {
    this.write(() => {
      keepRow(this, tables.session, ['id'], { id, data: JSON.stringify(data), expires: Date.now() + SESSION_MS });
      this.known.delete(id);
    }, done);
  }

  override destroy(id: string, done?: (error?: unknown) => void): void {
    this.write(() => {
      ended.run(this, { id, now: Date.now() });
      this.known.clear();
    }, done);
  }

  private write(change: () => void, done: (error?: unknown) => void = () => undefined): void {
    this.ready()
      .then(change)
      .then(() => done(), done);
  }
}

/** The middleware that knows who asks. */
export function sessions(store: Store, ready: () => Promise<void>): ReturnType<typeof session> {
  let secret = settingOf(store, 'sessionSecret');
  if (secret === null) {
    secret = randomBytes(32).toString('base64url');
    keepSetting(store, 'sessionSecret', secret);
  }
  return session({
    name: 'terrace.session',
    secret,
    store: new DatabaseSessions(store, ready),
    resave: false,
    saveUninitialized: false,
    cookie: { httpOnly: true, sameSite: 'strict', maxAge: SESSION_MS, secure: 'auto' },
  });
}

function sessionView(work: Work): Session {
  const person = personBy.id.one(work, { id: work.actor.id });
  if (!person || !person.active) throw new Refusal('notSignedIn', 'You are no longer known here: sign in again.');
  const preferences: Record<string, unknown> = Object.fromEntries(
    preferencesOf.all(work, { userId: person.id }).map((each) => [each.key, each.value]),
  );
  const warehouse = preferences['warehouse'];
  return {
    user: { id: person.id, login: person.login, name: person.name, role: person.role },
    rights: [...rightsOf(person.role)],
    today: work.today,
    company: settingOf(work.store, 'company') ?? 'Terrace',
    currency: currencyOf(work.store),
    demo: settingOf(work.store, 'demoPassword') !== null,
    warehouseId: typeof warehouse === 'number' ? warehouse : null,
    preferences,
  };
}

/** Routes to sign in and out. */
export function bindSessions(binder: Binder, router: Router): void {
  const { platform } = api;
  const limit = rateLimit({
    windowMs: ATTEMPT_WINDOW_MS,
    limit: ATTEMPTS,
    skipSuccessfulRequests: true,
    keyGenerator: (request) =>
      `${ipKeyGenerator(request.ip ?? '')} ${String((request.body as { login?: unknown } | undefined)?.login).toLowerCase()}`,
    handler: () => {
      throw new Refusal('tooManyAttempts', 'Too many attempts to sign in with this name: wait a quarter of an hour.');
    },
  });
  binder.read(platform.welcome, (work) => {
    const demoPassword = settingOf(work.store, 'demoPassword');
    const people = demoPassword === null ? [] : activePeople.all(work);
    return { company: settingOf(work.store, 'company') ?? 'Terrace', demo: people, demoPassword };
  });
  router.post(platform.signIn.path, limit, async (request, response) => {
    const { login, password } = platform.signIn.body.parse(request.body);
    const person = personBy.login.one(binder.commands, { login: login.trim().toLowerCase() });
    decoy ??= hashPassword(randomBytes(16).toString('hex'));
    const right = await verify(person?.passwordHash ?? (await decoy), password);
    if (!person || !person.active || !right)
      throw new Refusal('wrongPassword', 'Name and password don’t go together. Mind capital letters in the password.', { field: 'password' });
    await new Promise<void>((done, fail) => request.session.regenerate((error) => (error ? fail(error as Error) : done())));
    const actor: Actor = { id: person.id, name: person.name, role: person.role };
    request.session.actor = actor;
    response.json(sessionView(binder.commands.look(actor)));
  });
  binder.read(platform.getSession, (work) => sessionView(work));
  router.delete(platform.signOut.path, async (request, response) => {
    await new Promise<void>((done, fail) => request.session.destroy((error) => (error ? fail(error as Error) : done())));
    response.clearCookie('terrace.session').json({});
  });
  binder.command(platform.setPreference, (work, { params, body }) => {
    keepRow(work, tables.preference, ['userId', 'key'], { userId: work.actor.id, key: params.key, value: body.value });
    return {};
  });
}
