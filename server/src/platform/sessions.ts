/** Sign-in with argon2id, sessions kept in the database. */
import { randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { eq } from 'drizzle-orm';
import type { Router } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import session, { Store as SessionStore, type SessionData } from 'express-session';
import { api, rightsOf, type Session } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import * as tables from '../schema';
import type { Store } from './database';
import type { Binder } from './http';
import { settingOf } from './settings';
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

/**
 * Kept in the database, so that a restart signs nobody out; read from there once, since every request asks. A session is
 * not written again for being used, it ends after a working day: so there is no `touch`, for which every answer would
 * be cut in two.
 */
class DatabaseSessions extends SessionStore {
  private readonly known = new Map<string, { readonly data: string; readonly expires: number }>();

  constructor(
    private readonly store: Store,
    /** Resolves when nobody else writes. */
    private readonly ready: () => Promise<void>,
  ) {
    super();
  }

  override get(id: string, done: (error: unknown, data?: SessionData | null) => void): void {
    let row = this.known.get(id);
    if (!row) {
      row = this.store.statement('select data, expires from session where id = ?').get(id) as { data: string; expires: number } | undefined;
      if (row) this.known.set(id, row);
    }
    done(null, row && row.expires > Date.now() ? (JSON.parse(row.data) as SessionData) : null);
  }

  override set(id: string, data: SessionData, done?: (error?: unknown) => void): void {
    this.write(() => {
      this.store
        .statement(
          'insert into session (id, data, expires) values (?, ?, ?) on conflict (id) do update set data = excluded.data, expires = excluded.expires',
        )
        .run(id, JSON.stringify(data), Date.now() + SESSION_MS);
      this.known.delete(id);
    }, done);
  }

  override destroy(id: string, done?: (error?: unknown) => void): void {
    this.write(() => {
      this.store.statement('delete from session where id = ? or expires < ?').run(id, Date.now());
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
    store.db.insert(tables.setting).values({ key: 'sessionSecret', value: secret }).run();
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
  const { preference, user } = tables;
  const [person] = work.db.select().from(user).where(eq(user.id, work.actor.id)).all();
  if (!person || !person.active) throw new Refusal('notSignedIn', 'You are no longer known here: sign in again.');
  const preferences = Object.fromEntries(
    work.db
      .select()
      .from(preference)
      .where(eq(preference.userId, person.id))
      .all()
      .map((each) => [each.key, JSON.parse(each.value) as unknown]),
  );
  const warehouse = preferences['warehouse'];
  return {
    user: { id: person.id, login: person.login, name: person.name, role: person.role },
    rights: [...rightsOf(person.role)],
    today: work.today,
    company: settingOf(work.store, 'company') ?? 'Terrace',
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
    const people =
      demoPassword === null
        ? []
        : work.rows<{ login: string; name: string; role: string }>('select login, name, role from user where active = 1 order by id');
    return { company: settingOf(work.store, 'company') ?? 'Terrace', demo: people, demoPassword };
  });
  router.post(platform.signIn.path, limit, async (request, response) => {
    const { login, password } = platform.signIn.body.parse(request.body);
    const [person] = binder.commands.store.db.select().from(tables.user).where(eq(tables.user.login, login.trim().toLowerCase())).all();
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
    work.run(
      'insert into preference (user_id, key, value) values (?, ?, ?) on conflict (user_id, key) do update set value = excluded.value',
      work.actor.id,
      params.key,
      JSON.stringify(body.value),
    );
    return {};
  });
}
