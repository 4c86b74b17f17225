import { api } from '@terrace/contract';
import type { RouteBinder } from '../platform/http';
import { invoiceView, listInvoices, reverseInvoice } from './invoices';
import { listJournal } from './journal';
import { payInvoice, reversePayment } from './payments';
import { closeBooks, closedThrough } from './posting';
import { proveAccounts } from './proof';

export { accountsDocuments } from './documents';
export { otherRooms as handToAccounts } from './handed-in';
export { hasUnpaidInvoice, invoiceView, isInvoiced, listInvoices, owedBy, owesOn, raiseInvoice, reverseInvoice } from './invoices';
export { accountName, allAccounts, openAccount } from './journal';
export { payInvoice, reversePayment } from './payments';
export { assertPostingDate, postEvent, reverseEntry, type PostingDocument } from './posting';
export { accountUses, useAccount, whyUseStays } from './uses';
export { proveAccounts } from './proof';
export * from './invoice-schema';
export * from './schema';

export function bindAccounts(binder: RouteBinder): void {
  const { accounts } = api;
  binder.list(accounts.journal, (work, { query }) => listJournal(work, query));
  binder.read(accounts.books, (work) => ({ closedThrough: closedThrough(work) }));
  binder.command(accounts.closeBooks, (work, { body }) => closeBooks(work, body.through));
  binder.read(accounts.proof, (work) => proveAccounts(work));
  binder.list(accounts.listInvoices, (work, { query }) => listInvoices(work, query));
  binder.read(accounts.getInvoice, (work, { params }) => invoiceView(work, params.id));
  binder.command(accounts.reverseInvoice, (work, { params, body }) => reverseInvoice(work, params.id, body.version));
  binder.command(accounts.payInvoice, (work, { params, body }) => payInvoice(work, params.id, body));
  binder.command(accounts.reversePayment, (work, { params }) => reversePayment(work, params.id));
}
