/** An invoice or credit note as UBL, from what was agreed and kept. */
import { Refusal, asAmount, faultsOf, parseAmount, ublOf, type UblInvoice } from '@terrace/core';
import { customerOf } from '../catalogue';
import { letterheadOf } from '../platform/letterhead';
import { currencyOf, settingOf } from '../platform/settings';
import type { Work } from '../platform/work';
import { invoiceView } from './invoices';

/** Gives its number and the document. Refuses `notComplete` where a rule of such documents is broken, naming it. */
export function ublInvoice(work: Work, id: number): { readonly number: string; readonly xml: string } {
  const view = invoiceView(work, id);
  const customer = customerOf(work, view.customerId);
  const books = currencyOf(work.store);
  const { company, address } = letterheadOf(work.store);
  const invoice: UblInvoice = {
    kind: view.kind,
    number: view.number,
    date: view.date,
    dueDate: view.dueDate,
    currency: view.currency,
    taxInBooks: view.currency === books ? null : { currency: books, tax: parseAmount(view.booksTax) },
    reference: customer.code,
    orders: [...new Set([view.order, ...view.lines.map((line) => line.order)].filter(Boolean))],
    of: view.creditOf,
    note: view.reason,
    terms: view.terms,
    seller: { name: company, address, country: settingOf(work.store, 'country') ?? '' },
    buyer: { name: customer.name, address: customer.address.split('\n').filter(Boolean), country: '' },
    lines: view.lines.map((line) => ({
      code: line.code,
      description: line.description,
      quantity: line.quantity,
      unit: line.unit,
      price: line.price,
      amount: parseAmount(line.amount),
    })),
    net: parseAmount(view.net),
    tax: parseAmount(view.tax),
    total: parseAmount(view.total),
    paid: asAmount(parseAmount(view.total) - parseAmount(view.state === 'reversed' ? view.total : view.open)),
  };
  const [fault] = faultsOf(invoice);
  if (fault) throw new Refusal('notComplete', `${view.number} can’t be sent as UBL: ${fault.words} (${fault.rule})`);
  return { number: view.number, xml: ublOf(invoice) };
}
