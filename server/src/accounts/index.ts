import { api } from '@terrace/contract';
import type { Binder } from '../platform/http';
import { listJournal, proveAccounts } from './read';

export { assertPostingDate, postEvent, reverseEntry, type PostingDocument } from './post';
export { proveAccounts } from './read';

export function bindAccounts(binder: Binder): void {
  binder.list(api.accounts.journal, (work, { query }) => listJournal(work, query));
  binder.read(api.accounts.proof, (work) => proveAccounts(work));
}
