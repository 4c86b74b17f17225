/** Who asks: known from the session, and looked up for each request, so that whoever may no longer come in is out at once. */
import { eq } from 'drizzle-orm';
import type { RequestHandler, Request } from 'express';
import { Refusal } from '@terrace/core';
import type { Right } from '@terrace/contract';
import type { Store } from './database';
import { query } from './query';
import { user } from './schema';
import { assertMay, type Actor } from './work';

declare global {
  // eslint-disable-next-line @typescript-eslint/no-namespace -- the way in which Express's request is told of more
  namespace Express {
    interface Request {
      /** Who is signed in. */
      actor?: Actor;
    }
  }
}

const personBy = query(
  ($: { id: number }) => (db) =>
    db.select({ id: user.id, name: user.name, role: user.role, active: user.active }).from(user).where(eq(user.id, $.id)),
);

/** A person as they are now; nobody where they may not come in any more. */
export function personNow(store: Store, id: number): Actor | null {
  const person = personBy.one({ store }, { id });
  return person?.active === true ? { id: person.id, name: person.name, role: person.role } : null;
}

/** The middleware that finds out who asks, after the one that reads the session. */
export function recognise(store: Store): RequestHandler {
  return (request, _response, next) => {
    const { userId } = request.session;
    const person = userId === undefined ? null : personNow(store, userId);
    if (person) request.actor = person;
    next();
  };
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
