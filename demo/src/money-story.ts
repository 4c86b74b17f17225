/** What came of invoices: one payment over two with something ahead, goods that were dented, what was paid early, and reminders. */
import { accounts, catalogue, type Work } from '@terrace/server';
import { api } from '@terrace/contract';
import { idOf, type Perform } from './known';
import { openInvoices } from './looks';

type Open = ReturnType<typeof openInvoices.all>[number];

export function tellMoney(perform: Perform, today: string): void {
  const open = perform('maren', today, (work) => openInvoices.all(work));
  const of = new Map<number, Open[]>();
  for (const each of open) of.set(each.customerId, [...(of.get(each.customerId) ?? []), each]);
  const customers = [...of.values()];
  const withTwo = customers.find((mine) => mine.length >= 2);
  if (withTwo) perform('maren', today, (work) => payTwo(work, withTwo));
  const dented = customers.find((mine) => mine !== withTwo)?.[0];
  if (dented) perform('tobin', today, (work) => giveBack(work, dented.id));
  const early = open.find(({ id }) => id !== dented?.id && perform('maren', today, (work) => accounts.invoiceView(work, id).letOff !== '0.00'));
  if (early) perform('maren', today, (work) => payEarly(work, early.id));
  perform('maren', today, (work) => {
    const due = accounts.previewReminders(work).filter(({ why }) => why === '');
    // One of them is left for somebody to remind.
    const customerIds = due.slice(1).map(({ customerId }) => customerId);
    if (customerIds.length > 0) accounts.remind(work, customerIds);
  });
  // A buying group that wants one invoice for all that went, and a school that wants one for each order.
  for (const [code, invoicing] of [
    ['MEADCOOP', 'together'],
    ['THORNE', 'order'],
  ] as const)
    perform('wilder', today, (work) => {
      const id = idOf(work, 'customer', code);
      const view = catalogue.customerView(work, id);
      catalogue.changeCustomer(work, id, api.catalogue.changeCustomer.body.parse({ ...view, taxCode: view.taxCode, invoicing }));
    });
}

/** A round sum over two invoices: the rest stays with them for the next. */
function payTwo(work: Work, [first, second]: readonly Open[]): void {
  if (!first || !second) return;
  const [one, two] = [accounts.invoiceView(work, first.id), accounts.invoiceView(work, second.id)];
  const sum = Math.ceil(Number(one.open) + Number(two.open) + 1);
  accounts.recordPayment(work, {
    customerId: one.customerId,
    amount: String(sum),
    method: 'transfer',
    drawerId: null,
    reference: 'two invoices, rest for the next',
    orderId: null,
    settle: [one, two].map(({ id, open }) => ({ invoiceId: id, amount: open, letOff: '0' })),
  });
}

function giveBack(work: Work, id: number): void {
  const { version, lines } = accounts.invoiceView(work, id);
  const [line] = lines;
  if (line) accounts.creditInvoice(work, id, { version, reason: 'one arrived dented', lines: [{ lineId: line.id, quantity: '1', amount: '0' }] });
}

function payEarly(work: Work, id: number): void {
  const { open, letOff } = accounts.invoiceView(work, id);
  accounts.payInvoice(work, id, { amount: (Number(open) - Number(letOff)).toFixed(2), method: 'transfer', drawerId: null, early: true });
}
