/**
 * The outbox: keeps every mail to look at, and where the company has a mail server, until that took it. A mail is queued
 * within the command that sends it; its attachment is rendered afterwards, and at the next start where that was cut short.
 */
import type { DocumentKind } from '@terrace/contract';
import { join } from 'node:path';
import { mailSettings } from './mail-settings';
import { addRow } from './rows';
import { mail } from './schema';
import type { Work } from './work';

export interface Mail {
  readonly to: string;
  readonly subject: string;
  readonly body: string;
  readonly document: { readonly kind: DocumentKind; readonly id: number; readonly number: string };
}

/** Where what was attached is kept. */
export function outboxFolder(dataFolder: string): string {
  return join(dataFolder, 'outbox');
}

/** What a file there is called: the mail's number and the document's. */
export const OUTBOX_FILE = /^\d+-[\w.-]{1,60}\.pdf$/;

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
    state: mailSettings(work.store).by === 'smtp' ? 'waiting' : 'kept',
  });
  work.touch('mail', id, subject);
}
