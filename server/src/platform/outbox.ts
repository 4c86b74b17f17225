/**
 * The stand-in outbox: takes mail as a mail server would and keeps it to look at. A mail is queued within the command
 * that sends it; its attachment is rendered afterwards, and at the next start where that was cut short.
 */
import type { DocumentKind } from '@terrace/contract';
import { addRow } from './rows';
import { mail } from './schema';
import type { Work } from './work';

export interface Mail {
  readonly to: string;
  readonly subject: string;
  readonly body: string;
  readonly document: { readonly kind: DocumentKind; readonly id: number; readonly number: string };
}

/** Queues a mail with its document as attachment. */
export function queueMail(work: Work, { to, subject, body, document }: Mail): void {
  const id = addRow(work, mail, {
    at: work.now,
    recipient: to,
    subject,
    body,
    documentKind: document.kind,
    documentId: document.id,
    documentNumber: document.number,
  });
  work.touch('mail', id, subject);
}
