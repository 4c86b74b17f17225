/**
 * The stand-in outbox: takes mail as a mail server would and keeps it to look at. A mail is queued within the command
 * that sends it; its attachment is rendered afterwards, and at the next start where that was cut short.
 */
import type { DocumentKind } from '@terrace/contract';
import type { Work } from './work';

export interface Mail {
  readonly to: string;
  readonly subject: string;
  readonly body: string;
  readonly document: { readonly kind: DocumentKind; readonly id: number; readonly number: string };
}

/** Queues a mail with its document as attachment. */
export function queueMail(work: Work, mail: Mail): void {
  const { id } = work.run(
    'insert into mail (at, recipient, subject, body, document_kind, document_id, document_number) values (?, ?, ?, ?, ?, ?, ?)',
    work.now,
    mail.to,
    mail.subject,
    mail.body,
    mail.document.kind,
    mail.document.id,
    mail.document.number,
  );
  work.touch('mail', id, mail.subject);
}
