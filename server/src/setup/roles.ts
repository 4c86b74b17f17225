/** Roles: rights under a name, given to people. */
import { eq, ne, and, sql } from 'drizzle-orm';
import {
  rights,
  rightWords,
  rightsByWarehouse,
  standardRoles,
  type AnswerOf,
  type BodyOf,
  type Right,
  type RoleView,
  type api,
} from '@terrace/contract';
import { Refusal, grantsChanged, grantsOf, type GrantsOf, type HeldRole } from '@terrace/core';
import { countOf } from '../platform/expressions';
import { query } from '../platform/query';
import { addRow, changeRow, dropRow, fetching } from '../platform/rows';
import { role, user, userRole } from '../platform/schema';
import { assertSeen } from '../platform/versions';
import type { Change, Work } from '../platform/work';

const allRoles = query(() => (db) => db.select().from(role).orderBy(role.id));
const holders = query(
  () => (db) =>
    db
      .select({ roleId: userRole.roleId, n: sql<number>`count(*)` })
      .from(userRole)
      .innerJoin(user, and(eq(user.id, userRole.userId), eq(user.active, true)))
      .groupBy(userRole.roleId),
);
const sameName = query(
  ($: { name: string; id: number }) => (db) =>
    db
      .select({ id: role.id })
      .from(role)
      .where(and(sql`lower(${role.name}) = lower(${$.name})`, ne(role.id, $.id))),
);
const anyRole = query(() => (db) => db.select({ n: sql<number>`count(*)` }).from(role));
/** Who is active, with each of their roles. */
const held = query(
  () => (db) =>
    db
      .select({
        id: user.id,
        name: user.name,
        roleId: userRole.roleId,
        rights: role.rights,
        everything: role.everything,
        places: userRole.warehouses,
      })
      .from(user)
      .innerJoin(userRole, eq(userRole.userId, user.id))
      .innerJoin(role, eq(role.id, userRole.roleId))
      .where(eq(user.active, true))
      .orderBy(user.id),
);
const heldAtAll = query(
  ($: { id: number }) => (db) =>
    db
      .select({ n: countOf(userRole, eq(userRole.roleId, $.id)) })
      .from(role)
      .where(eq(role.id, $.id)),
);
const usedToBe = query(($: { name: string }) => (db) => db.select({ id: role.id }).from(role).where(eq(role.name, $.name)));

/** A role. Refuses `notFound`. */
export const roleOf = fetching(role, 'role');
const known = { all: rights, byPlace: rightsByWarehouse };

/** Sets up the roles that a company begins with; what is there by its name is left as it is. */
export function setUpRoles(work: Work): void {
  if ((anyRole.one(work)?.n ?? 0) > 0) return;
  for (const { name, everything, rights: own, notices } of Object.values(standardRoles))
    addRow(work, role, { name, everything, rights: [...own], notices: [...notices] });
}

/** The number of a role by its name; nothing where there is none. */
export function roleCalled(work: Work, name: string): number | undefined {
  return usedToBe.one(work, { name })?.id;
}

export function rolesView(work: Work): RoleView[] {
  const people = new Map(holders.all(work).map(({ roleId, n }) => [roleId, n]));
  return allRoles.all(work).map(({ rights: own, ...each }) => ({
    ...each,
    rights: each.everything ? [...rights] : rights.filter((right) => own.includes(right)),
    people: people.get(each.id) ?? 0,
  }));
}

interface Holder {
  readonly name: string;
  readonly roles: (HeldRole & { readonly roleId: number })[];
}

function peopleWithRoles(work: Work): Map<number, Holder> {
  const people = new Map<number, Holder>();
  for (const { id, name, ...each } of held.all(work)) {
    const person = people.get(id) ?? { name, roles: [] };
    person.roles.push(each);
    people.set(id, person);
  }
  return people;
}

/** What each person gains and loses where a role has other rights. Refuses `notFound`. */
export function weighRole(work: Work, { id, rights: own }: BodyOf<typeof api.setup.weighRole>): AnswerOf<typeof api.setup.weighRole> {
  const { everything } = roleOf(work, id);
  const grants = (roles: readonly HeldRole[]): GrantsOf<Right> => grantsOf(known, roles);
  return {
    people: [...peopleWithRoles(work).values()].flatMap(({ name, roles }) => {
      const after = roles.map((each) => (each.roleId === id && !everything ? { ...each, rights: own } : each));
      const { gained, lost } = grantsChanged(grants(roles), grants(after));
      return gained.length + lost.length === 0 ? [] : [{ name, gained: [...gained], lost: [...lost] }];
    }),
  };
}

/** Refuses `lastAdministrator` where nobody could give rights any more. */
export function assertSomebodyLooksAfterPeople(work: Work): void {
  const right = 'setup.people' as const;
  const somebody = [...peopleWithRoles(work).values()].some(({ roles }) => roles.some((each) => each.everything || each.rights.includes(right)));
  if (!somebody)
    throw new Refusal(
      'lastAdministrator',
      `Then nobody could look after people any more: give somebody else a role with the right “${rightWords(right)}” first.`,
    );
}

/** Adds or changes a role. Refuses `alreadyThere`, `everyRight`, `staleVersion`, `lastAdministrator`. */
export function saveRole(work: Work, { id, name, rights: own, notices, version }: BodyOf<typeof api.setup.saveRole>): void {
  if (sameName.one(work, { name, id: id ?? 0 })) throw new Refusal('alreadyThere', `There is a role called ${name} already.`, { field: 'name' });
  const fields = { name, rights: rights.filter((right) => own.includes(right)), notices };
  if (id === undefined) {
    addRow(work, role, fields);
    work.record('setup', 0, `added role ${name}`);
    return;
  }
  const before = roleOf(work, id);
  assertSeen(before, version, `The role ${before.name}`);
  if (before.everything && own.length < rights.length)
    throw new Refusal('everyRight', `The role ${before.name} has every right, so that somebody always has: add a role of its own for less.`, {
      field: 'rights',
    });
  changeRow(work, role, id, fields);
  assertSomebodyLooksAfterPeople(work);
  work.record('setup', 0, `changed role ${name}`, before.everything ? [] : changesOf(before, fields));
}

/** Drops a role that nobody has. Refuses `inUse`, `everyRight`. */
export function removeRole(work: Work, id: number): void {
  const before = roleOf(work, id);
  if (before.everything) throw new Refusal('everyRight', `The role ${before.name} stays, so that somebody always has every right.`);
  const people = heldAtAll.one(work, { id })?.n ?? 0;
  if (people > 0)
    throw new Refusal('inUse', `${people} ${people === 1 ? 'person has' : 'people have'} the role ${before.name}: give them others first.`);
  dropRow(work, role, id);
  work.record('setup', 0, `dropped role ${before.name}`);
}

function changesOf(before: { name: string; rights: readonly Right[] }, after: { name: string; rights: readonly Right[] }): Change[] {
  const given = after.rights.filter((right) => !before.rights.includes(right)).map(rightWords);
  const taken = before.rights.filter((right) => !after.rights.includes(right)).map(rightWords);
  return [
    ...(before.name === after.name ? [] : [{ field: 'name', from: before.name, to: after.name }]),
    ...(given.length + taken.length === 0 ? [] : [{ field: 'rights', from: taken.join(', '), to: given.join(', ') }]),
  ];
}
