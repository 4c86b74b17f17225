/** Payments of customer invoices: recorded in full or in part, and taken back. */
import type { api } from '@terrace/contract';
import type { BodyOf, InvoiceView } from '@terrace/contract';
import { Refusal, asAmount, parseAmount, writeAmount, type Amount } from '@terrace/core';
import { atField } from '../platform/fields';
import { addRow, changeRow, fetching, setRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { invoice, payment } from './invoice-schema';
import { invoiceOf, invoiceView, type InvoiceRecord } from './invoices';
import { assertPostingDate, postEvent, reverseEntry } from './posting';

/** Records a payment, in full or in part. Refuses more than is open. */
export function payInvoice(work: Work, invoiceId: number, input: BodyOf<typeof api.accounts.payInvoice>): InvoiceView {
  const kept = invoiceOf(work, invoiceId);
  if (kept.state !== 'open') throw new Refusal('wrongState', `${kept.number} is ${kept.state}: nothing is open on it.`);
  const amount = atField('amount', () => parseAmount(input.amount));
  const open = kept.total - kept.paid;
  if (amount <= 0) throw new Refusal('notPositive', 'A payment must be more than 0.', { field: 'amount' });
  if (amount > open)
    throw new Refusal('tooMuch', `${writeAmount(amount)} is more than the ${writeAmount(open)} open on ${kept.number}.`, {
      field: 'amount',
      open: writeAmount(open),
    });
  const date = input.date ?? work.today;
  assertPostingDate(work, date);
  if (date < kept.date)
    throw new Refusal('badDate', `${kept.number} is of ${kept.date}: a payment of it can't be earlier. Check the year.`, { field: 'date' });
  const number = work.nextNumber('PAY');
  const id = addRow(work, payment, { number, invoiceId, date, amount, method: input.method, entryId: 0 });
  const entryId = postEvent(work, { kind: 'payment', id, number }, date, { kind: 'customerPayment', value: amount });
  setRow(work, payment, id, { entryId: entryId ?? 0 });
  keepPaid(work, kept, asAmount(kept.paid + amount));
  work.link('invoice', invoiceId, 'payment', id);
  work.record('payment', id, `received ${writeAmount(amount)} for ${kept.number}`);
  return invoiceView(work, invoiceId);
}

const paymentOf = fetching(payment, 'payment');

/** Takes a payment back. */
export function reversePayment(work: Work, id: number): InvoiceView {
  const kept = paymentOf(work, id);
  if (kept.reversed) throw new Refusal('alreadyReversed', `${kept.number} has been taken back already.`);
  const paid = invoiceOf(work, kept.invoiceId);
  reverseEntry(work, { kind: 'payment', id, number: kept.number }, work.today, kept.entryId);
  setRow(work, payment, id, { reversed: true });
  keepPaid(work, paid, asAmount(paid.paid - kept.amount));
  work.record('payment', id, `took ${kept.number} back`);
  return invoiceView(work, paid.id);
}

function keepPaid(work: Work, { id, total, orderId }: InvoiceRecord, paid: Amount): void {
  changeRow(work, invoice, id, { paid, state: paid === total ? 'paid' : 'open' });
  work.touch('invoice', id, `paid ${writeAmount(paid)}`);
  otherRooms.get().invoicesChanged(work, orderId);
}
