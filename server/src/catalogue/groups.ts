/** Item groups: a tree of defaults that items follow. */
import type { api } from '@terrace/contract';
import type { BodyOf } from '@terrace/contract';
import { eq, ne, and, sql } from 'drizzle-orm';
import { GIVEN, Refusal, givenBy, lineage, type Given, type Group, type Origin } from '@terrace/core';
import { among } from '../platform/expressions';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { changeRow, keepRow, setRow } from '../platform/rows';
import { assertSeen } from '../platform/versions';
import type { Work } from '../platform/work';
import { readGiven, storeGiven } from './group-defaults';
import { otherRooms } from './handed-in';
import { inventoryAccountOf, itemsOfGroup } from './item-facts';
import { item, itemGroup } from './schema';

const known = new WeakMap<Work, ReadonlyMap<string, Group>>();

const allGroups = query(
  () => (db) =>
    db
      .select({
        code: itemGroup.code,
        name: itemGroup.name,
        parent: itemGroup.parent,
        defaults: itemGroup.defaults,
        planning: itemGroup.planning,
      })
      .from(itemGroup),
);

/** All groups by code, read once in a work. */
export function groupsOf(work: Work): ReadonlyMap<string, Group> {
  let groups = known.get(work);
  if (!groups) {
    groups = new Map(allGroups.all(work).map((each) => [each.code, each]));
    known.set(work, groups);
  }
  return groups;
}

/** What a group gives. Refuses `unknownGroup`. */
export function givenByGroup(work: Work, code: string): ReadonlyMap<Given, Origin> {
  const groups = groupsOf(work);
  if (!groups.has(code)) throw new Refusal('unknownGroup', `There is no item group "${code}": choose one from the list.`, { field: 'group' });
  return givenBy(code, groups);
}

type Input = BodyOf<typeof api.catalogue.saveGroup>;

/**
 * Adds or changes a group. Items below it that follow a changed value get the new one at once; those that can't any
 * more, because they have moved in the stores, keep theirs as their own.
 */
export function saveGroup(work: Work, input: Input): { followed: number; kept: string[]; below: number[] } {
  const before = groupsOf(work).get(input.code);
  const defaults: Partial<Record<Given, string>> = {};
  for (const [field, value] of Object.entries(input.defaults)) {
    if (!(GIVEN as readonly string[]).includes(field))
      throw new Refusal('unknownField', `A group gives no ${field}.`, { field: `defaults.${field}` });
    if (value !== '') defaults[field as Given] = atField(`defaults.${field}`, () => readGiven(work, field as Given, value));
  }
  for (const account of [input.inventoryAccount, input.costOfSalesAccount, input.revenueAccount]) {
    if (!otherRooms.get().hasAccount(work, account))
      throw new Refusal('unknownAccount', `There is no account "${account}": choose one from the list.`, { field: 'inventoryAccount' });
  }
  const kept = versionOf.one(work, { code: input.code });
  assertSeen(kept, input.version, `Group ${input.code}`);
  const groups = new Map(groupsOf(work));
  const planning = otherRooms.get().planning.plainTexts(input.planning, 'planning.');
  groups.set(input.code, { code: input.code, name: input.name, parent: input.parent, defaults, planning });
  if (input.parent !== null && !groups.has(input.parent))
    throw new Refusal('unknownGroup', `There is no group "${input.parent}" to put it under.`, { field: 'parent' });
  lineage(input.code, groups);
  const account = before ? inventoryAccountOf(work, input.code) : input.inventoryAccount;
  keepRow(work, itemGroup, ['code'], {
    code: input.code,
    name: input.name,
    parent: input.parent,
    inventoryAccount: input.inventoryAccount,
    costOfSalesAccount: input.costOfSalesAccount,
    revenueAccount: input.revenueAccount,
    defaults,
    planning,
  });
  if (account !== input.inventoryAccount)
    otherRooms.get().reclassify(
      work,
      itemsOfGroup(work, input.code).map((itemId) => ({ itemId, from: account, to: input.inventoryAccount })),
      `group ${input.code} went from account ${account} to ${input.inventoryAccount}`,
    );
  known.set(work, groups);
  const outcome = follow(work, input.code, groups);
  const what = before ? `changed group ${input.code}: ${outcome.followed} items follow` : `set up group ${input.code}`;
  work.record('setup', 0, what);
  work.touch('item', 0, what);
  return { ...outcome, below: itemsBelow(work, input.code, groups) };
}

const versionOf = query(($: { code: string }) => (db) => db.select({ version: itemGroup.version }).from(itemGroup).where(eq(itemGroup.code, $.code)));
const itemsIn = query(
  ($: { groups: readonly string[] }) => (db) => db.select({ id: item.id }).from(item).where(among(item.groupCode, $.groups)).orderBy(item.id),
);
const followingIn = query(
  ($: { group: string }) => (db) =>
    db
      .select({ id: item.id, code: item.code, follows: item.follows, unit: item.unitCode, tracking: item.tracking, costing: item.costing })
      .from(item)
      .where(and(eq(item.groupCode, $.group), ne(item.follows, sql`'[]'`))),
);

/** Items of a group and of those below it. */
function itemsBelow(work: Work, code: string, groups: ReadonlyMap<string, Group>): number[] {
  const below = [...groups.keys()].filter((each) => lineage(each, groups).some((one) => one.code === code));
  return itemsIn.all(work, { groups: below }).map((each) => each.id);
}

type Locked = 'unit' | 'tracking' | 'costing';
const isLocked = (field: Given): field is Locked => field === 'unit' || field === 'tracking' || field === 'costing';

/** Gives the values of the groups to the items below one that follow them. */
function follow(work: Work, code: string, groups: ReadonlyMap<string, Group>): { followed: number; kept: string[] } {
  let followed = 0;
  const kept = new Set<string>();
  const below = [...groups.keys()].filter((each) => lineage(each, groups).some((one) => one.code === code));
  for (const group of below) {
    const given = givenBy(group, groups);
    for (const each of followingIn.all(work, { group })) {
      const changed = each.follows.filter((field) => given.has(field));
      const moved = (): boolean => otherRooms.get().firstMoves(work, each.id).length > 0;
      const locked = changed.filter((field): field is Locked => isLocked(field) && moved());
      const differs = changed.filter(
        (field) => !(locked as Given[]).includes(field) && storeGiven(work, each.id, field, given.get(field)?.value ?? ''),
      );
      const lost: readonly Given[] = locked.filter((field) => each[field] !== (given.get(field)?.value ?? ''));
      if (lost.length > 0) {
        kept.add(each.code);
        setRow(work, item, each.id, { follows: each.follows.filter((field) => !lost.includes(field)) });
      }
      if (differs.length === 0) continue;
      followed += 1;
      changeRow(work, item, each.id, {});
      work.record('item', each.id, `followed group ${code}: ${differs.join(', ')}`);
    }
  }
  return { followed, kept: [...kept] };
}
