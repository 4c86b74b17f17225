/** One's own tokens for programs. */
import { and, eq } from 'drizzle-orm';
import { rights as allRights, type BodyOf, type EveryTokenView, type TokensView, type api } from '@terrace/contract';
import { query } from '../platform/query';
import { addRow, fetching, orNotFound, setRow } from '../platform/rows';
import { token, user } from '../platform/schema';
import { hashOfToken } from '../platform/tokens';
import type { Work } from '../platform/work';

const DAY_MS = 24 * 3_600_000;
const own = query(
  ($: { userId: number }) => (db) =>
    db
      .select({ id: token.id, name: token.name, rights: token.rights, expires: token.expires, lastUse: token.lastUse })
      .from(token)
      .where(and(eq(token.userId, $.userId), eq(token.revoked, false)))
      .orderBy(token.id),
);
const tokenOf = fetching(token, 'token');

const everybodys = query(
  () => (db) =>
    db
      .select({ id: token.id, name: token.name, rights: token.rights, expires: token.expires, lastUse: token.lastUse, owner: user.name })
      .from(token)
      .innerJoin(user, eq(user.id, token.userId))
      .where(eq(token.revoked, false))
      .orderBy(user.name, token.id),
);

/** Everybody's tokens, for whoever looks after people. */
export function everyToken(work: Work): EveryTokenView {
  return { tokens: everybodys.all(work).map((each) => ({ ...each, expires: new Date(each.expires).toISOString() })) };
}

export function tokensView(work: Work): TokensView {
  return { tokens: own.all(work, { userId: work.actor.id }).map((each) => ({ ...each, expires: new Date(each.expires).toISOString() })) };
}

/** Keeps a token by the hash of its secret; answers its number. */
export function addToken(work: Work, { name, rights, days }: BodyOf<typeof api.setup.addToken>, secret: string): number {
  work.record('setup', work.actor.id, `${work.actor.name} made the token ${name}`);
  return addRow(work, token, {
    userId: work.actor.id,
    name,
    rights: rights && allRights.filter((right) => rights.includes(right)),
    secretHash: hashOfToken(secret),
    expires: Date.now() + days * DAY_MS,
  });
}

/** Revokes anybody's token at once. Refuses `notFound`. */
export function dropTokenOf(work: Work, id: number): void {
  const { name, userId } = tokenOf(work, id);
  setRow(work, token, id, { revoked: true });
  work.record('setup', userId, `revoked the token ${name}`);
}

/** Revokes a token of one's own at once. Refuses `notFound`. */
export function dropToken(work: Work, id: number): void {
  const kept = tokenOf(work, id);
  orNotFound(kept.userId === work.actor.id ? kept : undefined, 'token');
  setRow(work, token, id, { revoked: true });
  work.record('setup', work.actor.id, `${work.actor.name} revoked the token ${kept.name}`);
}
