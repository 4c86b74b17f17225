/** Who asks: known from the session, and looked up for each request, so that whoever may no longer come in is out at once. */
import { eq } from 'drizzle-orm';
import type { RequestHandler, Request } from 'express';
import { Refusal } from '@terrace/core';
import type { Right } from '@terrace/contract';
import type { Store } from './database';
import { query } from './query';
import { role, user, userRole } from './schema';
import { grantsOfRoles, type Grants } from './grants';
import { narrowed, shownToken, type TokenRow } from './tokens';
import { assertMay, type Actor } from './work';

declare global {
  // oxlint-disable-next-line typescript/no-namespace -- the way in which Express's request is told of more
  namespace Express {
    interface Request {
      /** Who is signed in. */
      actor?: Actor;
    }
  }
}

/** A person, with each of their roles; where they have none, once without. */
const personBy = query(
  ($: { id: number }) => (db) =>
    db
      .select({
        id: user.id,
        name: user.name,
        active: user.active,
        roleId: role.id,
        roleName: role.name,
        roleVersion: role.version,
        everything: role.everything,
        rights: role.rights,
        warehouses: userRole.warehouses,
      })
      .from(user)
      .leftJoin(userRole, eq(userRole.userId, user.id))
      .leftJoin(role, eq(role.id, userRole.roleId))
      .where(eq(user.id, $.id))
      .orderBy(role.id),
);

/** Rights as they were put together for the same roles before: every request asks for some. */
const together = new WeakMap<Store, Map<string, Grants>>();
const MOST_TOGETHER = 500;

function grantsFor(store: Store, rows: ReturnType<typeof personBy.all>): Grants {
  let known = together.get(store);
  if (!known || known.size > MOST_TOGETHER) together.set(store, (known = new Map<string, Grants>()));
  const key = rows.map((each) => `${each.roleId}.${each.roleVersion}.${each.warehouses?.join() ?? ''}`).join(' ');
  let grants = known.get(key);
  if (!grants) {
    grants = grantsOfRoles(
      rows.map(({ rights, everything, warehouses }) => ({ rights: rights ?? [], everything: everything === true, places: warehouses ?? null })),
    );
    known.set(key, grants);
  }
  return grants;
}

/** A person as they are now; nobody where they may not come in any more. */
export function personNow(store: Store, id: number): Actor | null {
  const rows = personBy.all({ store }, { id });
  const [person] = rows;
  return person?.active === true ? { id: person.id, name: person.name, grants: grantsFor(store, rows) } : null;
}

/** What the roles of a person are called, one after the other. */
export function rolesInWords(store: Store, id: number): string {
  return personBy
    .all({ store }, { id })
    .flatMap(({ roleName }) => roleName ?? [])
    .join(', ');
}

const anybody = query(() => (db) => db.select({ id: user.id }).from(user).limit(1));

/** Whether a company is there: somebody can sign in to it. */
export function isFounded(store: Store): boolean {
  return anybody.one({ store }) !== undefined;
}

/** The middleware that finds out who asks, after the one that reads the session. */
export function recognise(store: Store, program: TokenWatch): RequestHandler {
  return (request, _response, next) => {
    const shown = shownToken({ store }, request.get('authorization'));
    if (shown === 'wrong') {
      program.wrong(request);
      throw new Refusal('notSignedIn', 'This token is not known here, has ended, or was revoked: make another under your name.');
    }
    const userId = shown?.userId ?? request.session.userId;
    const person = userId === undefined ? null : personNow(store, userId);
    if (person && shown) {
      request.actor = { ...person, grants: narrowed(person.grants, shown.rights), token: shown.id };
      program.used(shown);
    } else if (person) request.actor = { ...person, session: request.sessionID };
    next();
  };
}

/** Hears of tokens that are shown. */
export interface TokenWatch {
  readonly used: (token: TokenRow) => void;
  /** May refuse, where too many that are wrong come from one address. */
  readonly wrong: (request: Request) => void;
}

/** Refuses `notByToken` where a program asks for what only its owner does. */
export function assertInPerson({ token }: Actor): void {
  if (token !== undefined) throw new Refusal('notByToken', 'A program can’t do this for its owner: sign in as yourself.');
}

/** Who asks. Refuses `notSignedIn`. */
export function actorOf({ actor }: Pick<Request, 'actor'>): Actor {
  if (!actor) throw new Refusal('notSignedIn', 'You are not signed in, or your session has ended: sign in again.');
  return actor;
}

/** Lets on whoever has a right, before anything of what they send is read. */
export function permitted(right: Right): RequestHandler {
  return (request, _response, next) => {
    assertMay(actorOf(request), right);
    next();
  };
}
