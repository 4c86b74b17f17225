import { api } from '@terrace/contract';
import type { Binder } from '../platform/http';
import { closeBooks, closedThrough } from './post';
import { listJournal, proveAccounts } from './read';

export { assertPostingDate, postEvent, reverseEntry, type PostingDocument } from './post';
export { proveAccounts } from './read';

export function bindAccounts(binder: Binder): void {
  binder.list(api.accounts.journal, (work, { query }) => listJournal(work, query));
  binder.read(api.accounts.books, (work) => ({ closedThrough: closedThrough(work) }));
  binder.command(api.accounts.closeBooks, (work, { body }) => closeBooks(work, body.through));
  binder.read(api.accounts.proof, (work) => proveAccounts(work));
}
