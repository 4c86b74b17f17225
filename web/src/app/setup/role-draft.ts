/** A role as it is entered, and its rights by the room that they are of. */
import { rightWords, rights, type BodyIn, type NoticeKind, type Right, type RoleView, type api } from '@terrace/contract';

export interface RoleDraft {
  readonly name: string;
  readonly rights: readonly Right[];
  readonly notices: readonly NoticeKind[];
}

export function draftOf(role?: RoleView): RoleDraft {
  return { name: role?.name ?? '', rights: role?.rights ?? [], notices: role?.notices ?? [] };
}

export function bodyOf({ name, rights: held, notices }: RoleDraft): BodyIn<typeof api.setup.saveRole> {
  return { name, rights: [...held], notices: [...notices] };
}

/** A list with something in it, or without it; in the order of all there are. */
export function turned<T>(all: readonly T[], held: readonly T[], each: T, on: boolean): T[] {
  return all.filter((one) => (one === each ? on : held.includes(one)));
}

const ROOMS: Readonly<Record<string, string>> = {
  catalogue: 'Catalogue',
  stores: 'Stores',
  selling: 'Selling',
  planning: 'Planning',
  production: 'Production',
  buying: 'Buying',
  dispatch: 'Dispatch',
  accounts: 'Accounts',
  files: 'Everywhere',
  bulk: 'Everywhere',
  setup: 'Set-up',
};

export interface RightsOfRoom {
  readonly room: string;
  readonly rights: readonly { readonly right: Right; readonly words: string }[];
}

/** All rights in the order of the rooms. */
export function rightsByRoom(): RightsOfRoom[] {
  const rooms = new Map<string, { right: Right; words: string }[]>();
  for (const right of rights) {
    const room = ROOMS[right.split('.')[0] ?? ''] ?? '';
    const of = rooms.get(room) ?? [];
    of.push({ right, words: rightWords(right) });
    rooms.set(room, of);
  }
  return [...rooms].map(([room, of]) => ({ room, rights: of }));
}
