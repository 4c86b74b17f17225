/** Terminals, and the badges and PINs that people sign in with at them. */
import { and, eq, ne } from 'drizzle-orm';
import type { BodyOf, TerminalsView, api } from '@terrace/contract';
import { Refusal, assertGoodPin, normalBadge } from '@terrace/core';
import { warehouseOf } from '../catalogue';
import { atField } from '../platform/fields';
import { hashPassword } from '../platform/passwords';
import { query } from '../platform/query';
import { addRow, fetching, orNotFound, setRow } from '../platform/rows';
import { terminal, user } from '../platform/schema';
import { hashOfBadge, pairingCode } from '../platform/terminals';
import type { Work } from '../platform/work';
import { personOf } from './people';

const all = query(
  () => (db) =>
    db
      .select({ id: terminal.id, name: terminal.name, warehouseId: terminal.warehouseId, paired: terminal.paired, lastUse: terminal.lastUse })
      .from(terminal)
      .where(eq(terminal.active, true))
      .orderBy(terminal.name),
);
const called = query(
  ($: { name: string }) => (db) => db.select({ id: terminal.id, active: terminal.active }).from(terminal).where(eq(terminal.name, $.name)),
);
const fetchTerminal = fetching(terminal, 'terminal');
const withBadge = query(
  ($: { hash: string; id: number }) => (db) =>
    db
      .select({ name: user.name })
      .from(user)
      .where(and(eq(user.badgeHash, $.hash), ne(user.id, $.id))),
);

export function terminalsView(work: Work): TerminalsView {
  return { terminals: all.all(work) };
}

/** Adds a terminal and gives the code that a device is paired by. Refuses `alreadyThere`. */
export function addTerminal(work: Work, { name, warehouseId }: BodyOf<typeof api.setup.addTerminal>): string {
  if (warehouseId !== null) atField('warehouseId', () => warehouseOf(work, warehouseId));
  const before = called.one(work, { name });
  if (before?.active) throw new Refusal('alreadyThere', `There is a terminal ${name} already.`, { field: 'name' });
  const { code, ...kept } = pairingCode();
  if (before) setRow(work, terminal, before.id, { warehouseId, ...kept, paired: false, active: true, lastUse: null });
  else addRow(work, terminal, { name, warehouseId, ...kept });
  work.record('setup', 0, `added terminal ${name}`);
  return code;
}

function activeTerminal(work: Work, id: number): ReturnType<typeof fetchTerminal> {
  const found = fetchTerminal(work, id);
  return orNotFound(found.active ? found : undefined, 'terminal');
}

/** A new code; whatever device was this terminal is none any more. Refuses `notFound`. */
export function codeFor(work: Work, id: number): string {
  const { name } = activeTerminal(work, id);
  const { code, ...kept } = pairingCode();
  setRow(work, terminal, id, { ...kept, paired: false });
  work.record('setup', 0, `made a code for terminal ${name}`);
  return code;
}

export function dropTerminal(work: Work, id: number): void {
  const { name } = activeTerminal(work, id);
  setRow(work, terminal, id, { active: false, paired: false });
  work.record('setup', 0, `took terminal ${name} away`);
}

/** The hash of a PIN that is good enough; `null` where none was typed. Refuses `weakPin`. */
export async function chosenPin(pin: string): Promise<string | null> {
  if (pin === '') return null;
  assertGoodPin(pin);
  return hashPassword(pin);
}

/**
 * Gives somebody a badge and a PIN, or takes them: no badge, no PIN. A PIN that is left out stays; a new one is tried anew.
 * Refuses `alreadyThere` where the badge is another's, `needsPin`.
 */
export function giveBadge(work: Work, secret: string, id: number, badge: string, pinHash: string | null): void {
  const person = personOf(work, id);
  if (normalBadge(badge) === '') {
    setRow(work, user, id, { badgeHash: null, pinHash: '', pinTries: 0 });
    work.record('setup', id, `${person.name} has no badge any more`);
    return;
  }
  const badgeHash = hashOfBadge(secret, badge);
  const other = withBadge.one(work, { hash: badgeHash, id });
  if (other) throw new Refusal('alreadyThere', `This badge is ${other.name}’s: each person has one of their own.`, { field: 'badge' });
  if (pinHash === null && person.pinHash === '')
    throw new Refusal('needsPin', 'Give a PIN with the badge: who finds a badge shall not come in.', { field: 'pin' });
  setRow(work, user, id, { badgeHash, ...(pinHash === null ? {} : { pinHash }), pinTries: 0 });
  work.record('setup', id, `gave ${person.name} a badge${pinHash === null ? '' : ' and a PIN'}`);
}
