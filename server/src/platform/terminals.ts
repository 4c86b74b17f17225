/** Devices that are terminals: paired once by a code, known from then on by what they keep in a cookie. */
import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { and, eq, gt } from 'drizzle-orm';
import { Refusal, codeFrom, normalBadge } from '@terrace/core';
import { query, type Source } from './query';
import { setRow } from './rows';
import { terminal } from './schema';
import type { Work } from './work';

export const TERMINAL_COOKIE = 'terrace.terminal';
const CODE_MS = 15 * 60_000;

const byId = query(
  ($: { id: number }) => (db) =>
    db
      .select()
      .from(terminal)
      .where(and(eq(terminal.id, $.id), eq(terminal.active, true))),
);
const waiting = query(
  ($: { hash: string; now: number }) => (db) =>
    db
      .select()
      .from(terminal)
      .where(and(eq(terminal.secretHash, $.hash), eq(terminal.paired, false), eq(terminal.active, true), gt(terminal.codeEnds, $.now))),
);

export type TerminalRow = ReturnType<typeof byId.all>[number];

const hashOf = (text: string): string => createHash('sha256').update(text).digest('base64url');
const plain = (code: string): string => code.toUpperCase().replace(/[^A-Z0-9]/g, '');

/** A fresh code to pair a device by, and what of it is kept. */
export function pairingCode(): { readonly code: string; readonly secretHash: string; readonly codeEnds: number } {
  const code = codeFrom(randomBytes(64));
  return { code, secretHash: hashOf(plain(code)), codeEnds: Date.now() + CODE_MS };
}

/** Makes the device that has the code a terminal; gives what it keeps. Refuses `wrongCode`. */
export function pair(work: Work, code: string): { readonly name: string; readonly kept: string } {
  const found = waiting.one(work, { hash: hashOf(plain(code)), now: Date.now() });
  if (!found)
    throw new Refusal('wrongCode', 'No terminal waits for this code: it holds for a quarter of an hour. Ask for a new one under Set-up, Terminals.', {
      field: 'code',
    });
  const secret = randomBytes(32).toString('base64url');
  setRow(work, terminal, found.id, { secretHash: hashOf(secret), paired: true });
  work.record('setup', 0, `paired a device as terminal ${found.name}`);
  return { name: found.name, kept: `${found.id}.${secret}` };
}

/** The terminal that a device is; nothing where it is none, or none any more. */
export function terminalOf(source: Source, kept: string | undefined): TerminalRow | null {
  const [id = '', secret = ''] = (kept ?? '').split('.');
  const row = /^\d{1,9}$/.test(id) ? byId.one(source, { id: Number(id) }) : undefined;
  if (!row?.paired) return null;
  const [right, shown] = [Buffer.from(row.secretHash), Buffer.from(hashOf(secret))];
  return right.length === shown.length && timingSafeEqual(right, shown) ? row : null;
}

/** What is kept of a badge: with it nobody can make one. */
export function hashOfBadge(secret: string, badge: string): string {
  return createHmac('sha256', secret)
    .update(`badge ${normalBadge(badge)}`)
    .digest('base64url');
}
