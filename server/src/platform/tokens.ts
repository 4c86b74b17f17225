/** Tokens by which programs ask for somebody: kept as a hash, never wider than their owner, over when they are revoked. */
import { createHash, createHmac, timingSafeEqual } from 'node:crypto';
import { eq } from 'drizzle-orm';
import type { Right } from '@terrace/contract';
import type { Grants } from './grants';
import { query, type Source } from './query';
import { token } from './schema';

const WRITTEN = /^Bearer\s+terrace_(\d{1,9})_([\w-]{43})$/i;

const kept = query(($: { id: number }) => (db) => db.select().from(token).where(eq(token.id, $.id)));

/** Tokens give what their owner may, but never to let people in or to look after them. */
const NEVER: ReadonlySet<Right> = new Set<Right>(['setup.people']);

export type TokenRow = ReturnType<typeof kept.all>[number];

/** The secret of a token: the same for the same request, so that whoever lost the answer gets it again. */
export function secretOfToken(secret: string, userId: number, key: string): string {
  return createHmac('sha256', secret).update(`token ${userId} ${key}`).digest('base64url');
}

export function hashOfToken(secret: string): string {
  return createHash('sha256').update(secret).digest('base64url');
}

/** A token as a program sends it. */
export function tokenText(id: number, secret: string): string {
  return `terrace_${id}_${secret}`;
}

/** The token that a header shows; nothing where there is none, `wrong` where it is none of ours, has ended, or was revoked. */
export function shownToken(source: Source, header: string | undefined): TokenRow | 'wrong' | undefined {
  if (header === undefined || !/^bearer\s/i.test(header)) return undefined;
  const [, id = '', secret = ''] = WRITTEN.exec(header) ?? [];
  const row = id === '' ? undefined : kept.one(source, { id: Number(id) });
  if (!row || row.revoked || row.expires < Date.now()) return 'wrong';
  const [right, shown] = [Buffer.from(row.secretHash), Buffer.from(hashOfToken(secret))];
  return right.length === shown.length && timingSafeEqual(right, shown) ? row : 'wrong';
}

/** What a token lets a program do: of what its owner may, what it was given. */
export function narrowed(grants: Grants, rights: readonly Right[] | null): Grants {
  return new Map([...grants].filter(([right]) => !NEVER.has(right) && (rights === null || rights.includes(right))));
}
