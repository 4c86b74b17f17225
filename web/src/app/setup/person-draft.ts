/** A person as they are entered: what the form holds, and what is sent of it. */
import type { BodyIn, Person, api } from '@terrace/contract';

export interface PersonDraft {
  readonly name: string;
  readonly login: string;
  readonly email: string;
  readonly habits: Person['habits'];
  /** Its number as a text; empty for none. */
  readonly warehouse: string;
  readonly active: boolean;
  /** Which roles they have, by the role's number: nowhere, everywhere, or in some warehouses. */
  readonly roles: Readonly<Record<string, HeldDraft>>;
}

export interface HeldDraft {
  readonly has: boolean;
  /** In which warehouses, by their numbers; none for all of them. */
  readonly only: readonly number[];
}

const NOT: HeldDraft = { has: false, only: [] };

/** The form over a person, or an empty one; every role has its place in it. */
export function draftOf(roleIds: readonly number[], person?: Person): PersonDraft {
  const held = new Map(person?.roles.map((each) => [each.roleId, each]));
  return {
    name: person?.name ?? '',
    login: person?.login ?? '',
    email: person?.email ?? '',
    habits: person?.habits ?? '',
    warehouse: person?.warehouseId ? String(person.warehouseId) : '',
    active: person?.active ?? true,
    roles: Object.fromEntries(
      roleIds.map((id) => {
        const role = held.get(id);
        return [String(id), role ? { has: true, only: role.warehouses ?? [] } : NOT];
      }),
    ),
  };
}

/** Gives a role, or takes it. */
export function withRole(draft: PersonDraft, roleId: number, has: boolean): PersonDraft {
  return { ...draft, roles: { ...draft.roles, [roleId]: { ...(draft.roles[roleId] ?? NOT), has } } };
}

/** Gives a role in one warehouse more or less; in none in particular it holds in all. */
export function withWarehouse(draft: PersonDraft, roleId: number, warehouseId: number, there: boolean): PersonDraft {
  const { has, only } = draft.roles[roleId] ?? NOT;
  const rest = only.filter((each) => each !== warehouseId);
  return { ...draft, roles: { ...draft.roles, [roleId]: { has, only: there ? [...rest, warehouseId] : rest } } };
}

/** What is sent. */
export function bodyOf({ name, login, email, habits, warehouse, roles }: PersonDraft): BodyIn<typeof api.setup.addPerson> {
  const held = Object.entries(roles).filter(([, { has }]) => has);
  return {
    name,
    login,
    email,
    habits,
    warehouseId: warehouse === '' ? null : Number(warehouse),
    roles: held.map(([id, { only }]) => ({ roleId: Number(id), warehouses: only.length === 0 ? null : [...only] })),
  };
}
