/** Sign-in with argon2id, sessions kept in the database. */
import { randomBytes } from 'node:crypto';
import { and, eq, lt, ne, or } from 'drizzle-orm';
import type { CookieOptions, Request, Response, Router } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import session, { Store as SessionStore, type SessionData } from 'express-session';
import { api, type Session } from '@terrace/contract';
import { MOST_PIN_TRIES, Refusal, habitOf, normalLogin } from '@terrace/core';
import type { Audit } from './audit';
import { mostBytesOf, readBody } from './body';
import type { Door } from './door';
import * as tables from './schema';
import type { Store } from './database';
import type { Binder } from './http';
import { hashPassword, isPassword } from './passwords';
import { query, command } from './query';
import { dropRows, keepRow, orNotFound, setRow } from './rows';
import { companyOf, currencyOf, keepSetting, settingOf } from './settings';
import { isFounded, personNow, rolesInWords } from './who';
import { TERMINAL_COOKIE, hashOfBadge, pair, terminalOf, type TerminalRow } from './terminals';
import { NOBODY, type Work } from './work';

declare module 'express-session' {
  interface SessionData {
    userId: number;
    /** The moment of signing in, in world time, from which address, and what the browser says of itself. */
    since: string;
    from: string;
    browser: string;
  }
}

const HOURS = 12;
const SESSION_MS = HOURS * 3_600_000;
/** Sign-ins that one address may try in a minute, right or wrong: each costs the machine some work. */
const MOST_IN_A_MINUTE = 120;
const MINUTE_MS = 60_000;
const LONGEST_BROWSER = 200;
const SESSION_COOKIE = 'terrace.session';
/** Says that somebody has signed in on this device before; it lets nobody in. */
const DEVICE_COOKIE = 'terrace.device';
const DEVICE_MS = 400 * 24 * 3_600_000;
/** A hash of no one's password, so that an unknown name takes as long as a wrong password. */
let decoy: Promise<string> | undefined;

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
  badge: query(($: { hash: string }) => (db) => db.select().from(tables.user).where(eq(tables.user.badgeHash, $.hash))),
};
const preferencesOf = query(
  ($: { userId: number }) => (db) =>
    db.select({ key: tables.preference.key, value: tables.preference.value }).from(tables.preference).where(eq(tables.preference.userId, $.userId)),
);
const activePeople = query(
  () => (db) =>
    db
      .select({ id: tables.user.id, login: tables.user.login, name: tables.user.name })
      .from(tables.user)
      // Who has not chosen a password yet can't come in.
      .where(and(eq(tables.user.active, true), ne(tables.user.passwordHash, '')))
      .orderBy(tables.user.id),
);

/**
 * Kept in the database, so that a restart signs nobody out; read from there once, since every request asks. A session is
 * not written again for being used, it ends after a working day: so there is no `touch`, for which every answer would
 * be cut in two.
 */
export class Sessions extends SessionStore {
  private readonly known = new Map<string, { readonly data: string; readonly expires: number }>();

  constructor(
    readonly store: Store,
    /** Resolves when nobody else writes. */
    private readonly ready: () => Promise<void>,
  ) {
    super();
  }

  override get(id: string, done: (error: unknown, data?: SessionData | null) => void): void {
    done(null, this.data(id));
  }

  /** Whose session it is; nobody's where it has ended. */
  personOf(id: string): number | null {
    return this.data(id)?.userId ?? null;
  }

  private data(id: string): SessionData | null {
    let row = this.known.get(id);
    if (!row) {
      row = kept.one(this, { id });
      if (row) this.known.set(id, row);
    }
    return row && row.expires > Date.now() ? (JSON.parse(row.data) as SessionData) : null;
  }

  override set(id: string, data: SessionData, done?: (error?: unknown) => void): void {
    this.write(() => {
      keepRow(this, tables.session, ['id'], { id, data: JSON.stringify(data), expires: Date.now() + SESSION_MS, userId: data.userId ?? null });
      this.known.delete(id);
    }, done);
  }

  override destroy(id: string, done?: (error?: unknown) => void): void {
    this.write(() => {
      ended.run(this, { id, now: Date.now() });
      this.known.clear();
    }, done);
  }

  /** Reads sessions anew: some were ended elsewhere. */
  forget(): void {
    this.known.clear();
  }

  private write(change: () => void, done: (error?: unknown) => void = () => undefined): void {
    this.ready()
      .then(change)
      .then(() => done(), done);
  }
}

/** What cookies are sealed with; made at the first start. */
export function secretOf(store: Store): string {
  const kept = settingOf(store, 'sessionSecret');
  if (kept !== null) return kept;
  const secret = randomBytes(32).toString('base64url');
  keepSetting(store, 'sessionSecret', secret);
  return secret;
}

/** The middleware that knows whose session a request belongs to. */
export function sessionOf(sessions: Sessions, secret: string): ReturnType<typeof session> {
  return session({
    name: SESSION_COOKIE,
    secret,
    store: sessions,
    resave: false,
    saveUninitialized: false,
    cookie: { httpOnly: true, sameSite: 'strict', maxAge: SESSION_MS, secure: 'auto' },
  });
}

function sessionView(work: Work, attempts: Session['attempts'] = null): Session {
  const person = personBy.id.one(work, { id: work.actor.id });
  if (!person || !person.active) throw new Refusal('notSignedIn', 'You are no longer known here: sign in again.');
  const preferences: Record<string, unknown> = Object.fromEntries(
    preferencesOf.all(work, { userId: person.id }).map((each) => [each.key, each.value]),
  );
  const warehouse = preferences['warehouse'];
  return {
    user: { id: person.id, login: person.login, name: person.name, role: rolesInWords(work.store, person.id) },
    rights: [...work.actor.grants.keys()],
    today: work.today,
    company: companyOf(work.store),
    currency: currencyOf(work.store),
    habits: person.habits === '' ? habitOf(settingOf(work.store, 'country') ?? '') : person.habits,
    demo: settingOf(work.store, 'demoPassword') !== null,
    attempts,
    // Where they looked last, else where they work most.
    warehouseId: typeof warehouse === 'number' ? warehouse : person.warehouseId,
    preferences,
  };
}

/** What the browser sent of a cookie; nothing where it is not there. */
function cookieOf(request: Request, name: string): string | undefined {
  const found = (request.get('cookie') ?? '').split(';').find((each) => each.trim().startsWith(`${name}=`));
  return found?.slice(found.indexOf('=') + 1).trim();
}

export interface SessionParts {
  readonly audit: Audit;
  readonly door: Door;
  /** Hears of a session that is over. */
  readonly ended: (sessionId: string) => void;
}

/** Routes to sign in and out. */
export function bindSessions(binder: Binder, router: Router, { audit, door, ended }: SessionParts): void {
  const { platform } = api;
  const { commands } = binder;
  const mostBytes = mostBytesOf(platform.signIn);
  const limit = rateLimit({
    windowMs: MINUTE_MS,
    limit: MOST_IN_A_MINUTE,
    keyGenerator: (request) => ipKeyGenerator(request.ip ?? ''),
    handler: () => {
      throw new Refusal('tooManyAttempts', 'Too many attempts to sign in come from your address: wait a minute.', { seconds: 60 });
    },
  });
  binder.read(platform.welcome, (work) => {
    const demoPassword = settingOf(work.store, 'demoPassword');
    const people = demoPassword === null ? [] : activePeople.all(work).map(({ id, ...each }) => ({ ...each, role: rolesInWords(work.store, id) }));
    return { company: companyOf(work.store), founded: isFounded(work.store), demo: people, demoPassword };
  });
  router.post(platform.signIn.path, limit, async (request, response) => {
    await readBody(request, response, mostBytes);
    const { login: typed, password } = platform.signIn.body.parse(request.body ?? {});
    const login = normalLogin(typed);
    const person = personBy.login.one(commands, { login });
    const known = person ? { id: person.id, name: person.name } : null;
    const device = cookieOf(request, DEVICE_COOKIE);
    const knock = letIn(
      () => door.knock(login, ipKeyGenerator(request.ip ?? ''), device),
      () => audit.noteOf(request, 'signInSlowed', { person: known, outcome: 'tooManyAttempts' }),
    );
    decoy ??= hashPassword(randomBytes(16).toString('hex'));
    let right: boolean;
    try {
      // Who has not chosen a password yet has none that is right.
      right = await isPassword(person?.passwordHash || (await decoy), password);
    } finally {
      knock.over();
    }
    if (!person || !person.active || person.passwordHash === '' || !right) {
      // Whoever types a password where the name belongs does not find it in a log: names that nobody has are not kept.
      audit.noteOf(request, 'signInFailed', { person: known, outcome: known ? 'wrongPassword' : 'unknownName' });
      throw new Refusal('wrongPassword', 'Name and password don’t go together. Mind capital letters in the password.', { field: 'password' });
    }
    knock.succeeded();
    const attempts = await audit.attemptsOn(person.id);
    await beginSession(request, person.id);
    audit.noteOf(request, 'signedIn', { person: known });
    if (!door.isDeviceOf(login, device)) rememberDevice(request, response, door.deviceOf(login));
    response.json(sessionView(commands.look(orNotFound(personNow(commands.store, person.id) ?? undefined, 'person')), attempts));
  });
  binder.read(platform.getSession, (work) => sessionView(work));
  router.delete(platform.signOut.path, async (request, response) => {
    const { sessionID } = request;
    if (request.actor) audit.noteOf(request, 'signedOut');
    await new Promise<void>((done, fail) => request.session.destroy((error) => (error ? fail(error as Error) : done())));
    ended(sessionID);
    response.clearCookie(SESSION_COOKIE).json({});
  });
  binder.command(platform.setPreference, (work, { params, body }) => {
    const ofWhom = { userId: work.actor.id, key: params.key };
    if (body.value === null) dropRows(work, tables.preference, ofWhom);
    else keepRow(work, tables.preference, ['userId', 'key'], { ...ofWhom, value: body.value });
    return {};
  });
}

/** A session of somebody's own begins, in place of whatever was there. */
async function beginSession(request: Request, userId: number): Promise<void> {
  await new Promise<void>((done, fail) => request.session.regenerate((error) => (error ? fail(error as Error) : done())));
  request.session.userId = userId;
  request.session.since = new Date().toISOString();
  request.session.from = request.ip ?? '';
  request.session.browser = (request.get('user-agent') ?? '').slice(0, LONGEST_BROWSER);
}

interface TerminalParts extends Omit<SessionParts, 'ended'> {
  readonly secret: string;
}

/** Routes of terminals: which one a device is, making it one, and signing in there by badge and PIN. */
export function bindTerminals(binder: Binder, router: Router, { audit, door, secret }: TerminalParts): void {
  const { platform } = api;
  const { commands } = binder;
  const hereOf = (request: Request): TerminalRow | null => terminalOf(commands, cookieOf(request, TERMINAL_COOKIE));
  router.get(platform.terminal.path, (request, response) => {
    response.json({ name: hereOf(request)?.name ?? null });
  });
  router.post(platform.pairTerminal.path, async (request, response) => {
    await readBody(request, response, mostBytesOf(platform.pairTerminal));
    const { code } = platform.pairTerminal.body.parse(request.body ?? {});
    const from = `terminal ${ipKeyGenerator(request.ip ?? '')}`;
    const knock = door.knock(from, from, undefined);
    try {
      const { name, kept } = await commands.performTogether(NOBODY, (work) => pair(work, code));
      knock.succeeded();
      const options: CookieOptions = { httpOnly: true, sameSite: 'strict', maxAge: DEVICE_MS, secure: request.secure, path: '/api/session' };
      response.cookie(TERMINAL_COOKIE, kept, options).json({ name });
    } finally {
      knock.over();
    }
  });
  router.post(platform.signInByBadge.path, async (request, response) => {
    await readBody(request, response, mostBytesOf(platform.signInByBadge));
    const { badge, pin } = platform.signInByBadge.body.parse(request.body ?? {});
    const here = hereOf(request);
    if (!here) throw new Refusal('noTerminal', 'This device is no terminal: sign in by name and password, or pair it first.');
    const hash = hashOfBadge(secret, badge);
    const person = personBy.badge.one(commands, { hash });
    const known = person ? { id: person.id, name: person.name } : null;
    const knock = letIn(
      () => door.knock(`badge ${hash}`, `at ${here.id}`, undefined),
      () => audit.noteOf(request, 'signInSlowed', { person: known, outcome: 'tooManyAttempts' }),
    );
    decoy ??= hashPassword(randomBytes(16).toString('hex'));
    let right: boolean;
    try {
      right = await isPassword(person?.pinHash || (await decoy), pin);
    } finally {
      knock.over();
    }
    const open = person !== undefined && person.active && person.pinHash !== '' && person.pinTries < MOST_PIN_TRIES;
    if (!open || !right) {
      if (open) await commands.performTogether(NOBODY, (work) => setRow(work, tables.user, person.id, { pinTries: person.pinTries + 1 }));
      audit.noteOf(request, 'signInFailed', { person: known, outcome: known ? 'wrongPin' : 'unknownBadge' });
      throw new Refusal(
        'wrongPin',
        `Badge and PIN don’t go together. After ${MOST_PIN_TRIES} wrong ones no PIN is taken, until whoever looks after people gives a new one.`,
        { field: 'pin' },
      );
    }
    knock.succeeded();
    await commands.performTogether(NOBODY, (work) => {
      setRow(work, tables.user, person.id, { pinTries: 0 });
      setRow(work, tables.terminal, here.id, { lastUse: work.now });
    });
    await beginSession(request, person.id);
    audit.noteOf(request, 'signedIn', { person: known, detail: here.name });
    const actor = orNotFound(personNow(commands.store, person.id) ?? undefined, 'person');
    const view = sessionView(commands.look(actor));
    response.json({ ...view, warehouseId: here.warehouseId ?? view.warehouseId });
  });
}

function letIn<T>(knock: () => T, refused: () => void): T {
  try {
    return knock();
  } catch (error) {
    refused();
    throw error;
  }
}

function rememberDevice(request: Request, response: Response, device: string): void {
  const options: CookieOptions = { httpOnly: true, sameSite: 'strict', maxAge: DEVICE_MS, secure: request.secure, path: '/api/session' };
  response.cookie(DEVICE_COOKIE, device, options);
}
