/** Posting journal entries. Other rooms tell what happened; only this file writes the journal. */
import { eq } from 'drizzle-orm';
import type { DocumentKind } from '@terrace/contract';
import { Refusal, contraryEntry, entryFor, imbalance, type Amount, type BusinessEvent, type JournalLine } from '@terrace/core';
import type { Work } from '../platform/work';
import { journalLine } from './schema';

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
  customerPayment: 'customer payment',
};

/** Posts the entry of an event; returns its id, or `null` where the event is worth nothing. */
export function postEvent(work: Work, document: PostingDocument, date: string, event: BusinessEvent): number | null {
  return writeEntry(work, document, date, EVENT_WORDS[event.kind], entryFor(event), null);
}

/**
 * Posts the contrary of an entry. Where stock goes out at another worth than it came in with, `differences` says by how
 * much inventory would be wrong; it goes to the account of cost differences.
 */
export function reverseEntry(
  work: Work,
  document: PostingDocument,
  date: string,
  entryId: number,
  differences: readonly { inventoryAccount: string; value: Amount }[] = [],
): number | null {
  const lines = work.db.select().from(journalLine).where(eq(journalLine.entryId, entryId)).all();
  const event = work.row<{ event: string }>('select event from journal_entry where id = ?', entryId)?.event ?? '';
  const extra = differences.flatMap(({ inventoryAccount, value }) => pairOf(inventoryAccount, COST_DIFFERENCE, value));
  return writeEntry(work, document, date, `${event} reversed`, [...contraryEntry(lines), ...extra], entryId);
}

const COST_DIFFERENCE = '5100';

function pairOf(debit: string, credit: string, value: number): JournalLine[] {
  if (value === 0) return [];
  const [up, down] = value > 0 ? [debit, credit] : [credit, debit];
  const amount = Math.abs(value) as Amount;
  const none = 0 as Amount;
  return [
    { account: up, debit: amount, credit: none },
    { account: down, debit: none, credit: amount },
  ];
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
  const { id } = work.run(
    'insert into journal_entry (at, date, event, document_kind, document_id, document_number, reversal_of, user_id) values (?, ?, ?, ?, ?, ?, ?, ?)',
    work.now,
    date,
    event,
    document.kind,
    document.id,
    document.number,
    reversalOf,
    work.actor.id,
  );
  for (const line of lines) {
    work.run('insert into journal_line (entry_id, account, debit, credit) values (?, ?, ?, ?)', id, line.account, line.debit, line.credit);
  }
  return id;
}

/** Refuses `badDate` for posting in the future or before the company's first day. */
export function assertPostingDate(work: Work, date: string): void {
  if (date > work.today)
    throw new Refusal('badDate', `${date} lies in the future: what has happened is posted on ${work.today} at the latest.`, { field: 'date' });
}
