/** Posting journal entries. Other rooms tell what happened; only this file writes the journal. */
import { eq } from 'drizzle-orm';
import type { DocumentKind } from '@terrace/contract';
import {
  Refusal,
  asAmount,
  contraryEntry,
  entryFor,
  imbalance,
  type Amount,
  type BusinessEvent,
  type ControlAccounts,
  type JournalLine,
} from '@terrace/core';
import { query } from '../platform/query';
import { addRow } from '../platform/rows';
import { keepSetting, settingOf } from '../platform/settings';
import type { Work } from '../platform/work';
import { journalEntry, journalLine } from './schema';
import { accountUses } from './uses';

export interface PostingDocument {
  readonly kind: DocumentKind;
  readonly id: number;
  readonly number: string;
}

const EVENT_WORDS: Readonly<Record<BusinessEvent['kind'], string>> = {
  receipt: 'receipt',
  issueToProduction: 'issue to production',
  completion: 'completion',
  settlement: 'settlement',
  shipment: 'shipment',
  adjustment: 'adjustment',
  customerInvoice: 'customer invoice',
  customerCredit: 'credit note',
  customerPayment: 'customer payment',
  advanceTaken: 'advance taken',
  creditTaken: 'credit note taken',
  customerReturn: 'customer return',
  cashCount: 'cash counted',
  cashMoved: 'cash moved',
  transfer: 'transfer',
  lateCost: 'late cost',
  revaluation: 'new standard cost',
  reclassification: 'change of account',
};

interface Difference {
  readonly inventoryAccount: string;
  readonly value: Amount;
}

/** Each account's difference against that of cost differences, which itself takes only what they come to in all. */
function differenceLines(differences: readonly Difference[], { costDifference }: ControlAccounts): JournalLine[] {
  const sheet = new Map<string, number>();
  for (const { inventoryAccount, value } of differences) {
    sheet.set(inventoryAccount, (sheet.get(inventoryAccount) ?? 0) + value);
    sheet.set(costDifference, (sheet.get(costDifference) ?? 0) - value);
  }
  return [...sheet]
    .filter(([, net]) => net !== 0)
    .map(([code, net]) => ({ account: code, debit: asAmount(Math.max(0, net)), credit: asAmount(Math.max(0, -net)) }));
}

/**
 * Posts the entry of an event; returns its id, or `null` where the event is worth nothing. `differences` says by how much
 * the inventory holds more than the event says; it goes to the account of cost differences.
 */
export function postEvent(
  work: Work,
  document: PostingDocument,
  date: string,
  event: BusinessEvent,
  differences: readonly Difference[] = [],
): number | null {
  const uses = accountUses(work);
  return writeEntry(work, document, date, EVENT_WORDS[event.kind], [...entryFor(event, uses), ...differenceLines(differences, uses)], null);
}

const linesOf = query(($: { entryId: number }) => (db) => db.select().from(journalLine).where(eq(journalLine.entryId, $.entryId)));
const eventOf = query(
  ($: { entryId: number }) => (db) => db.select({ event: journalEntry.event }).from(journalEntry).where(eq(journalEntry.id, $.entryId)),
);

/**
 * Posts the contrary of an entry. Where stock goes out at another worth than it came in with, `differences` says by how
 * much inventory would be wrong; it goes to the account of cost differences.
 */
export function reverseEntry(
  work: Work,
  document: PostingDocument,
  date: string,
  entryId: number,
  differences: readonly Difference[] = [],
): number | null {
  const lines = linesOf.all(work, { entryId });
  const event = eventOf.one(work, { entryId })?.event ?? '';
  return writeEntry(
    work,
    document,
    date,
    `${event} reversed`,
    [...contraryEntry(lines), ...differenceLines(differences, accountUses(work))],
    entryId,
  );
}

function writeEntry(
  work: Work,
  document: PostingDocument,
  date: string,
  event: string,
  lines: readonly JournalLine[],
  reversalOf: number | null,
): number | null {
  if (lines.length === 0) return null;
  if (imbalance(lines) !== 0) throw new RangeError(`the entry for ${event} of ${document.number} does not balance`);
  const id = addRow(work, journalEntry, {
    at: work.now,
    date,
    event,
    documentKind: document.kind,
    documentId: document.id,
    documentNumber: document.number,
    reversalOf,
    userId: work.actor.id,
  });
  for (const { account, debit, credit } of lines) addRow(work, journalLine, { entryId: id, account, debit, credit });
  return id;
}

/** The last day of the closed periods, or `null` where none is closed. */
export function closedThrough(work: Work): string | null {
  return settingOf(work.store, 'closedThrough');
}

/** Closes the books through a day. Refuses to open what is closed, and days to come. */
export function closeBooks(work: Work, through: string): { closedThrough: string } {
  const before = closedThrough(work);
  if (through >= work.today) throw new Refusal('badDate', `${through} is not over yet: close through a day that has passed.`, { field: 'through' });
  if (before !== null && through < before)
    throw new Refusal('badDate', `The books are closed through ${before} already: what is closed stays closed.`, { field: 'through' });
  keepSetting(work.store, 'closedThrough', through);
  work.touch('journal', 0, `closed through ${through}`);
  return { closedThrough: through };
}

/** Refuses `badDate` for posting in the future and `closedPeriod`. */
export function assertPostingDate(work: Work, date: string): void {
  if (date > work.today)
    throw new Refusal('badDate', `${date} lies in the future: what has happened is posted on ${work.today} at the latest.`, { field: 'date' });
  const closed = closedThrough(work);
  if (closed !== null && date <= closed)
    throw new Refusal('closedPeriod', `The books are closed through ${closed}: nothing more can be posted on ${date}. Take a later date.`, {
      field: 'date',
      closedThrough: closed,
    });
}
