/** Item groups: a tree of defaults that items follow. */
import type { api } from '@terrace/contract';
import type { BodyOf } from '@terrace/contract';
import { GIVEN, Refusal, givenBy, lineage, type Defaults, type Given, type Group, type Origin, type RuleTexts } from '@terrace/core';
import { assertSeen, atField, type Work } from '../platform/work';
import { readGiven, storeGiven } from './given';
import { movesOf } from './locks';
import { plainTexts } from './rule-texts';

const known = new WeakMap<Work, ReadonlyMap<string, Group>>();

/** All groups by code, read once in a work. */
export function groupsOf(work: Work): ReadonlyMap<string, Group> {
  let groups = known.get(work);
  if (!groups) {
    groups = new Map(
      work
        .rows<{ code: string; name: string; parent: string | null; defaults: string; planning: string }>(
          'select code, name, parent, defaults, planning from item_group',
        )
        .map((each) => [each.code, { ...each, defaults: JSON.parse(each.defaults) as Defaults, planning: JSON.parse(each.planning) as RuleTexts }]),
    );
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
    if (!work.row('select 1 from account where code = ?', account))
      throw new Refusal('unknownAccount', `There is no account "${account}": choose one from the list.`, { field: 'inventoryAccount' });
  }
  const kept = work.row<{ version: number }>('select version from item_group where code = ?', input.code);
  assertSeen(kept, input.version, `Group ${input.code}`);
  const groups = new Map(groupsOf(work));
  const planning = plainTexts(input.planning, 'planning.');
  groups.set(input.code, { code: input.code, name: input.name, parent: input.parent, defaults, planning });
  if (input.parent !== null && !groups.has(input.parent))
    throw new Refusal('unknownGroup', `There is no group "${input.parent}" to put it under.`, { field: 'parent' });
  lineage(input.code, groups);
  work.run(
    `insert into item_group (code, name, parent, inventory_account, cost_of_sales_account, revenue_account, defaults, planning) values (?, ?, ?, ?, ?, ?, ?, ?)
     on conflict (code) do update set name = excluded.name, parent = excluded.parent, inventory_account = excluded.inventory_account,
       cost_of_sales_account = excluded.cost_of_sales_account, revenue_account = excluded.revenue_account, defaults = excluded.defaults, planning = excluded.planning, version = version + 1`,
    input.code,
    input.name,
    input.parent,
    input.inventoryAccount,
    input.costOfSalesAccount,
    input.revenueAccount,
    JSON.stringify(defaults),
    JSON.stringify(planning),
  );
  known.set(work, groups);
  const outcome = follow(work, input.code, groups);
  const what = before ? `changed group ${input.code}: ${outcome.followed} items follow` : `set up group ${input.code}`;
  work.record('setup', 0, what);
  work.touch('item', 0, what);
  return { ...outcome, below: itemsBelow(work, input.code, groups) };
}

/** Items of a group and of those below it. */
function itemsBelow(work: Work, code: string, groups: ReadonlyMap<string, Group>): number[] {
  const below = [...groups.keys()].filter((each) => lineage(each, groups).some((one) => one.code === code));
  return work
    .rows<{ id: number }>('select id from item where group_code in (select value from json_each(?)) order by id', JSON.stringify(below))
    .map((each) => each.id);
}

const LOCKED: readonly Given[] = ['unit', 'tracking', 'costing'];

/** Gives the values of the groups to the items below one that follow them. */
function follow(work: Work, code: string, groups: ReadonlyMap<string, Group>): { followed: number; kept: string[] } {
  let followed = 0;
  const kept = new Set<string>();
  const below = [...groups.keys()].filter((each) => lineage(each, groups).some((one) => one.code === code));
  for (const group of below) {
    const given = givenBy(group, groups);
    const items = work.rows<{ id: number; code: string; follows: string }>(
      "select id, code, follows from item where group_code = ? and follows <> '[]'",
      group,
    );
    for (const item of items) {
      const changed = (JSON.parse(item.follows) as Given[]).filter((field) => given.has(field));
      const locked = changed.filter((field) => LOCKED.includes(field) && movesOf(work, item.id).length > 0);
      const differs = changed.filter((field) => !locked.includes(field) && storeGiven(work, item.id, field, given.get(field)?.value ?? ''));
      const lost = locked.filter((field) => !same(work, item.id, field, given.get(field)?.value ?? ''));
      if (lost.length > 0) {
        kept.add(item.code);
        const follows = (JSON.parse(item.follows) as Given[]).filter((field) => !lost.includes(field));
        work.run('update item set follows = ? where id = ?', JSON.stringify(follows), item.id);
      }
      if (differs.length === 0) continue;
      followed += 1;
      work.run('update item set version = version + 1 where id = ?', item.id);
      work.record('item', item.id, `followed group ${code}: ${differs.join(', ')}`);
    }
  }
  return { followed, kept: [...kept] };
}

const COLUMNS: Readonly<Partial<Record<Given, string>>> = { unit: 'unit_code', tracking: 'tracking', costing: 'costing' };

function same(work: Work, id: number, field: Given, value: string): boolean {
  return work.row<{ value: string }>(`select ${COLUMNS[field] ?? 'code'} as value from item where id = ?`, id)?.value === value;
}
