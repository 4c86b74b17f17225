/** People: who they are, which roles they have, and the links by which they choose a password. */
import { createHash, createHmac, timingSafeEqual } from 'node:crypto';
import { and, eq, gt, isNull, ne, sql } from 'drizzle-orm';
import type { AnswerOf, BodyOf, PeopleView, Person, api } from '@terrace/contract';
import { MOST_PIN_TRIES, Refusal, normalLogin } from '@terrace/core';
import { warehouses } from '../catalogue';
import { command, query, type Source } from '../platform/query';
import { addRow, changeRow, dropRows, fetching, orNotFound, setRow } from '../platform/rows';
import { invitation, role, session, user, userRole } from '../platform/schema';
import { assertSeen, changesBetween } from '../platform/versions';
import type { Work } from '../platform/work';
import { assertSomebodyLooksAfterPeople, roleOf, rolesView } from './roles';

const LINK_MS = 7 * 24 * 3_600_000;

const everybody = query(
  () => (db) =>
    db
      .select({
        id: user.id,
        login: user.login,
        name: user.name,
        email: user.email,
        active: user.active,
        joined: sql<number>`${user.passwordHash} <> ''`,
        habits: user.habits,
        warehouseId: user.warehouseId,
        badge: sql<number>`${user.badgeHash} is not null`,
        pinTries: user.pinTries,
        version: user.version,
      })
      .from(user)
      .orderBy(user.id),
);
const rolesHeld = query(
  () => (db) =>
    db
      .select({ userId: userRole.userId, roleId: userRole.roleId, name: role.name, warehouses: userRole.warehouses })
      .from(userRole)
      .innerJoin(role, eq(role.id, userRole.roleId))
      .orderBy(userRole.userId, userRole.roleId),
);
const openSessions = query(
  ($: { now: number }) => (db) =>
    db
      .select({ userId: session.userId, n: sql<number>`count(*)` })
      .from(session)
      .where(gt(session.expires, $.now))
      .groupBy(session.userId),
);
const sameLogin = query(
  ($: { login: string; id: number }) => (db) =>
    db
      .select({ name: user.name })
      .from(user)
      .where(and(eq(user.login, $.login), ne(user.id, $.id))),
);
const invited = query(
  ($: { id: number }) => (db) =>
    db
      .select({
        expires: invitation.expires,
        usedAt: invitation.usedAt,
        userId: user.id,
        name: user.name,
        login: user.login,
        passwordHash: user.passwordHash,
        active: user.active,
      })
      .from(invitation)
      .innerJoin(user, eq(user.id, invitation.userId))
      .where(eq(invitation.id, $.id)),
);
const endLinks = command(
  ($: { userId: number; now: string }) => (db) =>
    db
      .update(invitation)
      .set({ usedAt: $.now })
      .where(and(eq(invitation.userId, $.userId), isNull(invitation.usedAt))),
);
/** Somebody who is known here. Refuses `notFound`. */
export const personOf = fetching(user, 'person');

/** People and roles, with what each has. */
export function peopleView(work: Work): PeopleView {
  const held = rolesHeld.all(work);
  const sessions = new Map(openSessions.all(work, { now: Date.now() }).map(({ userId, n }) => [userId, n]));
  const people: Person[] = everybody.all(work).map(({ joined, badge, pinTries, ...each }) => ({
    ...each,
    joined: joined === 1,
    badge: badge === 1,
    pinSpent: pinTries >= MOST_PIN_TRIES,
    roles: held.flatMap(({ userId, ...one }) => (userId === each.id ? [one] : [])),
    sessions: sessions.get(each.id) ?? 0,
  }));
  return { people, roles: rolesView(work) };
}

type Given = BodyOf<typeof api.setup.addPerson>['roles'];

/** Refuses `notFound` for a role or a warehouse that is not there, `twice` for a role that is named twice. */
function assertRoles(work: Work, roles: Given): void {
  const places = new Set(warehouses(work).map(({ id }) => id));
  roles.forEach(({ roleId, warehouses: named }, index) => {
    const { name } = roleOf(work, roleId);
    if (roles.findIndex((each) => each.roleId === roleId) !== index)
      throw new Refusal('twice', `The role ${name} is there twice: name all its warehouses at once.`, { field: 'roles' });
    if (named?.some((id) => !places.has(id))) throw new Refusal('notFound', 'One of the warehouses is not there.', { field: 'roles' });
  });
}

function assertFree(work: Work, login: string, id: number): void {
  const other = sameLogin.one(work, { login, id });
  if (other)
    throw new Refusal('alreadyThere', `${other.name} signs in as “${login}” already: each person has a name of their own.`, { field: 'login' });
}

function giveRoles(work: Work, userId: number, roles: Given): void {
  dropRows(work, userRole, { userId });
  for (const each of roles) addRow(work, userRole, { userId, ...each });
}

type NewPerson = BodyOf<typeof api.setup.addPerson>;

function assertPlace(work: Work, id: number | null): void {
  if (id !== null && !warehouses(work).some((each) => each.id === id))
    throw new Refusal('notFound', 'This warehouse is not there.', { field: 'warehouseId' });
}

/** Adds a person. `passwordHash` is empty where they choose one by a link. Refuses `alreadyThere`, `notFound`. */
export function addPerson(
  work: Work,
  { name, login: typed, email, roles, ...rest }: Omit<NewPerson, 'habits' | 'warehouseId'> & Partial<NewPerson>,
  passwordHash = '',
): number {
  const login = normalLogin(typed);
  assertFree(work, login, 0);
  assertRoles(work, roles);
  assertPlace(work, rest.warehouseId ?? null);
  const id = addRow(work, user, { login, name, email, passwordHash, habits: rest.habits ?? '', warehouseId: rest.warehouseId ?? null });
  giveRoles(work, id, roles);
  work.record('setup', id, `added ${name}`);
  return id;
}

/**
 * Changes a person. Who is deactivated is signed out, and their links end. Refuses `staleVersion`, `alreadyThere`,
 * `lastAdministrator`, `notFound`.
 */
export function changePerson(work: Work, id: number, input: BodyOf<typeof api.setup.changePerson>): void {
  const before = personOf(work, id);
  assertSeen(before, input.version, before.name);
  const login = normalLogin(input.login);
  assertFree(work, login, id);
  assertRoles(work, input.roles);
  const roles = inWords(work, id);
  const { name, email, active, habits, warehouseId } = input;
  assertPlace(work, warehouseId);
  changeRow(work, user, id, { name, email, active, login, habits, warehouseId });
  giveRoles(work, id, input.roles);
  assertSomebodyLooksAfterPeople(work);
  if (!active) {
    dropRows(work, session, { userId: id });
    endLinks.run(work, { userId: id, now: work.now });
  }
  work.record(
    'setup',
    id,
    `changed ${name}`,
    changesBetween(
      {
        name: before.name,
        login: before.login,
        email: before.email,
        active: before.active,
        habits: before.habits,
        warehouseId: before.warehouseId,
        roles,
      },
      { name, login, email, active, habits, warehouseId, roles: inWords(work, id) },
    ),
  );
}

/** The roles of somebody, in words, with where. */
function inWords(work: Work, id: number): string {
  const codes = new Map(warehouses(work).map((each) => [each.id, each.code]));
  return rolesHeld
    .all(work)
    .filter(({ userId }) => userId === id)
    .map(({ name, warehouses: places }) => (places === null ? name : `${name} (${places.map((place) => codes.get(place) ?? '').join(', ')})`))
    .join(', ');
}

const hashOf = (sessionId: string): string => createHash('sha256').update(sessionId).digest('base64url');

/**
 * Makes a link by which somebody chooses a password and answers its number; links made before end. What the link itself says
 * is kept nowhere: {@link linkText} works it out. Refuses `notFound`, `notActive`.
 */
export function linkFor(work: Work, id: number): number {
  const person = personOf(work, id);
  if (!person.active) throw new Refusal('notActive', `${person.name} is not active: whoever is not can’t come in.`);
  endLinks.run(work, { userId: id, now: work.now });
  work.record('setup', id, `made a link for ${person.name}`);
  return addRow(work, invitation, { userId: id, expires: Date.now() + LINK_MS });
}

function sealOf(secret: string, linkId: number): string {
  return createHmac('sha256', secret).update(`link ${linkId}`).digest('base64url');
}

/** A link as it is handed over. */
export function linkText(source: Source, secret: string, linkId: number): AnswerOf<typeof api.setup.linkForPerson> {
  const { expires } = orNotFound(invited.one(source, { id: linkId }), 'link');
  return { path: `/join/${linkId}-${sealOf(secret, linkId)}`, expires: new Date(expires).toISOString() };
}

/** Whose a link is, used or not. Refuses `linkOver` where it is none of ours, or its owner is not active. */
export function ownerOf(source: Source, secret: string, link: string): NonNullable<ReturnType<typeof invited.one>> {
  const [, id = '', seal = ''] = /^(\d+)-(.+)$/.exec(link) ?? [];
  const found = isSealed(sealOf(secret, Number(id)), seal) ? invited.one(source, { id: Number(id) }) : undefined;
  if (!found?.active) throw linkOver();
  return found;
}

function isSealed(right: string, shown: string): boolean {
  return right.length === shown.length && timingSafeEqual(Buffer.from(right), Buffer.from(shown));
}

/** Refuses `linkOver` where a link was used or has ended. */
export function assertOpen({ usedAt, expires }: ReturnType<typeof ownerOf>): void {
  if (usedAt !== null || expires < Date.now()) throw linkOver();
}

function linkOver(): Refusal {
  return new Refusal('linkOver', 'This link was used or has ended: ask whoever looks after people for a new one.');
}

/** Gives somebody the password that they chose by a link, which ends with that, as all their sessions do. Refuses `linkOver`. */
export function joinBy(work: Work, secret: string, link: string, passwordHash: string): void {
  const owner = ownerOf(work, secret, link);
  assertOpen(owner);
  endLinks.run(work, { userId: owner.userId, now: work.now });
  setRow(work, user, owner.userId, { passwordHash });
  dropRows(work, session, { userId: owner.userId });
  work.record('setup', owner.userId, `${owner.name} chose a password`);
}

const otherSessions = command(
  ($: { userId: number; id: string }) => (db) => db.delete(session).where(and(eq(session.userId, $.userId), ne(session.id, $.id))),
);

/** Gives somebody another password; their other sessions end. */
export function setPassword(work: Work, sessionId: string, passwordHash: string): void {
  setRow(work, user, work.actor.id, { passwordHash });
  otherSessions.run(work, { userId: work.actor.id, id: sessionId });
  work.record('setup', work.actor.id, `${work.actor.name} changed their password`);
}

/** Signs somebody out everywhere. Refuses `notFound`. */
export function endSessionsOf(work: Work, id: number): void {
  const { name } = personOf(work, id);
  dropRows(work, session, { userId: id });
  work.record('setup', id, `signed ${name} out everywhere`);
}

interface KeptSession {
  readonly since?: string;
  readonly from?: string;
  readonly browser?: string;
}
const sessionsOf = query(
  ($: { userId: number; now: number }) => (db) =>
    db
      .select({ id: session.id, data: session.data })
      .from(session)
      .where(and(eq(session.userId, $.userId), gt(session.expires, $.now)))
      .orderBy(session.expires),
);

/** Where somebody is signed in, the latest first; `current` is the session that asks. */
export function ownSessions(work: Work, current: string): AnswerOf<typeof api.setup.ownSessions> {
  return sessionsOf
    .all(work, { userId: work.actor.id, now: Date.now() })
    .map(({ id, data }) => {
      const { since = '', from = '', browser = '' } = JSON.parse(data) as KeptSession;
      return { key: hashOf(id), since, from, browser, current: id === current };
    })
    .reverse();
}

/** Ends one of one's own sessions, or all but the one that asks; answers how many. Refuses `notFound`. */
export function endOwnSession(work: Work, key: string, current: string): number {
  if (key === 'others') return otherSessions.run(work, { userId: work.actor.id, id: current }).changes;
  const found = sessionsOf.all(work, { userId: work.actor.id, now: Date.now() }).find(({ id }) => hashOf(id) === key);
  return endOne.run(work, { id: orNotFound(found, 'session').id }).changes;
}

const endOne = command(($: { id: string }) => (db) => db.delete(session).where(eq(session.id, $.id)));
