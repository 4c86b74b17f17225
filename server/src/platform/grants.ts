/** Rights as the server asks for them. */
import { rightWords, rights, rightsByWarehouse, standardRoles, type Right, type Role } from '@terrace/contract';
import { Refusal, grantsOf, type GrantsOf, type HeldRole } from '@terrace/core';

/** Rights that somebody has, each with the warehouses that it holds in. */
export type Grants = GrantsOf<Right>;

/** What several roles let somebody do together. */
export function grantsOfRoles(roles: readonly HeldRole[]): Grants {
  return grantsOf({ all: rights, byPlace: rightsByWarehouse }, roles);
}

/** What a standard role lets somebody do everywhere. */
export function grantsOfRole(role: Role): Grants {
  return grantsOfRoles([{ ...standardRoles[role], places: null }]);
}

/** Refuses `notAllowed` where a right is held nowhere. */
export function assertGranted(grants: Grants, right: Right): void {
  if (!grants.has(right))
    throw new Refusal(
      'notAllowed',
      `You may not do this: it takes the right “${rightWords(right)}”, which none of your roles has. Ask whoever looks after people in Set-up.`,
      { right },
    );
}
