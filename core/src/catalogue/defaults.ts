/** What an item takes from its group: a tree of defaults, the nearest wins, and each value says where it is from. */
import { Refusal } from '../base';
import type { RuleTexts } from './rule-given';

/** Values that a group may give to its items. */
export const GIVEN = [
  'kind',
  'unit',
  'tracking',
  'costing',
  'discountCeiling',
  'shelfLifeDays',
  'restLifeDays',
  'storageOverhead',
  'planning',
] as const;
export type Given = (typeof GIVEN)[number];

/** Defaults as text, in the form that the item's own field has. */
export type Defaults = Readonly<Partial<Record<Given, string>>>;

export interface Group {
  readonly code: string;
  readonly name: string;
  readonly parent: string | null;
  readonly defaults: Defaults;
  /** How its items are planned where neither they nor their rules say it. */
  readonly planning?: RuleTexts;
}

export interface Origin {
  readonly value: string;
  /** Code of the group that states it. */
  readonly group: string;
}

/** The groups from one up to its root, nearest first. Refuses `groupCircle` where a group is above itself. */
export function lineage(code: string, groups: ReadonlyMap<string, Group>): Group[] {
  const line: Group[] = [];
  let at = groups.get(code);
  while (at) {
    if (line.includes(at))
      throw new Refusal('groupCircle', `${at.code} would stand above itself: choose another group above it.`, { field: 'parent' });
    line.push(at);
    at = at.parent === null ? undefined : groups.get(at.parent);
  }
  return line;
}

/** What a group gives, each value from the nearest group that states it. */
export function givenBy(code: string, groups: ReadonlyMap<string, Group>): ReadonlyMap<Given, Origin> {
  const given = new Map<Given, Origin>();
  for (const group of lineage(code, groups)) {
    for (const field of GIVEN) {
      const value = group.defaults[field];
      if (value !== undefined && !given.has(field)) given.set(field, { value, group: group.code });
    }
  }
  return given;
}

export interface Settled {
  readonly values: ReadonlyMap<Given, string>;
  /** Fields that follow the group. */
  readonly follows: readonly Given[];
}

/**
 * Values of an item: those typed, and for every field that was not typed what its group gives. A field of which neither
 * says anything stays out.
 */
export function settle(typed: ReadonlyMap<Given, string>, given: ReadonlyMap<Given, Origin>): Settled {
  const values = new Map<Given, string>();
  const follows: Given[] = [];
  for (const field of GIVEN) {
    const own = typed.get(field);
    const origin = given.get(field);
    if (own !== undefined) values.set(field, own);
    else if (origin) {
      values.set(field, origin.value);
      follows.push(field);
    }
  }
  return { values, follows };
}

export interface Moving {
  readonly field: Given;
  readonly from: string;
  readonly to: string;
  /** Whether the value follows the old group: then it comes along unless the person keeps it. */
  readonly follows: boolean;
}

/** What would differ if an item with these values moved under other defaults: the question that is put to the person. */
export function moved(values: ReadonlyMap<Given, string>, follows: readonly Given[], given: ReadonlyMap<Given, Origin>): Moving[] {
  return GIVEN.flatMap((field) => {
    const [from, to] = [values.get(field) ?? '', given.get(field)?.value];
    return to === undefined || to === from ? [] : [{ field, from, to, follows: follows.includes(field) }];
  });
}
