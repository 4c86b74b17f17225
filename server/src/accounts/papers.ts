/** The papers of accounts' documents. */
import type { InvoiceView } from '@terrace/contract';
import { customerOf } from '../catalogue';
import { addressOf, type DocumentPaper } from '../platform/paper';
import { currencyOf } from '../platform/settings';
import type { Work } from '../platform/work';
import { invoiceView } from './invoices';

function payWords({ dueDate, number, terms, discountUntil, discountAmount }: InvoiceView): string {
  const early = discountUntil === null ? '' : ` Until ${discountUntil} you may take ${discountAmount} off.`;
  return `Please pay by ${dueDate}, naming ${number}.${terms === '' ? '' : ` Terms: ${terms}.`}${early}`;
}

/** Where an invoice is in another currency than the books: what one of it is worth, and its tax there. */
function taxInBooks(work: Work, { currency, rate, booksTax }: InvoiceView): [string, string][] {
  const books = currencyOf(work.store);
  return currency === books ? [] : [[`Tax in ${books}, 1 ${currency} = ${rate} ${books}`, booksTax]];
}

const ordersOn = ({ order, lines }: InvoiceView): string => [...new Set([order, ...lines.map((line) => line.order)].filter(Boolean))].join(', ');

export const invoicePaper: DocumentPaper = {
  right: 'accounts.see',
  make: (work, id) => {
    const invoice = invoiceView(work, id);
    return {
      title: invoice.kind === 'credit' ? 'Credit note' : 'Invoice',
      number: invoice.number,
      to: addressOf(customerOf(work, invoice.customerId)),
      scannable: false,
      note:
        invoice.state === 'reversed'
          ? 'This invoice was taken back.'
          : invoice.kind === 'credit'
            ? `For ${invoice.creditOf}: ${invoice.reason}.`
            : payWords(invoice),
      facts: [
        ['Date', invoice.date],
        ['Order', ordersOn(invoice)],
        invoice.kind === 'credit' ? ['Invoice', invoice.creditOf] : ['Due', invoice.dueDate],
      ],
      table: {
        widths: ['*', 56, 40, 60, 44, 66],
        right: [1, 3, 4, 5],
        head: ['Item', 'Quantity', 'Unit', 'Price', 'Disc. %', 'Amount'],
        rows: invoice.lines.map((line) => [
          `${line.code}  ${line.description}${line.free === '0' ? '' : `\n${line.free} of them free of charge`}`,
          line.quantity,
          line.unit,
          line.price,
          line.discount,
          line.amount,
        ]),
      },
      totals: [['Net', invoice.net], ['Tax', invoice.tax], [`Total ${invoice.currency}`, invoice.total], ...taxInBooks(work, invoice)],
    };
  },
};
