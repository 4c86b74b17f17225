/** What stands on a receipt. */
import type { InvoiceView, SaleView } from '@terrace/contract';
import { habitOf, habits, writeByHabit, type Receipt } from '@terrace/core';
import { letterheadOf } from '../platform/letterhead';
import { currencyOf, settingOf } from '../platform/settings';
import type { Work } from '../platform/work';

const WAYS: Readonly<Record<string, string>> = { cash: 'Cash', card: 'Card', transfer: 'Transfer' };

/** A sale's receipt, or that of a return; figures as the company's country writes them. */
export function receiptOf(work: Work, sale: Omit<SaleView, 'receipt'>, date: string, invoice: InvoiceView): Receipt {
  const { company, address, foot } = letterheadOf(work.store);
  const habit = habits[habitOf(settingOf(work.store, 'country') ?? '')];
  const figure = (text: string): string => writeByHabit(text, habit);
  const back = sale.returnOfId !== null;
  return {
    head: [company, ...address],
    facts: [
      [back ? 'Return' : 'Receipt', sale.number],
      ['', `${date} ${sale.at.slice(11, 16)}`],
      [back ? 'Credit note' : 'Invoice', sale.invoice],
      ...(back ? [['Of receipt', sale.returnOf] as const] : []),
      ['Served by', sale.who],
      ...(invoice.customer === 'Cash sale' ? [] : [['Customer', sale.customer] as const]),
    ],
    lines: invoice.lines.map((line) => ({
      words: `${line.code} ${line.description}`,
      detail: [
        `${figure(line.quantity)} ${line.unit} x ${figure(line.price)}`,
        line.discount === '0' ? '' : `-${figure(line.discount)}%`,
        line.free === '0' ? '' : `${figure(line.free)} free`,
      ]
        .filter(Boolean)
        .join(' '),
      amount: figure(line.amount),
    })),
    sums: [
      ['Net', figure(invoice.net)],
      ['Tax', figure(invoice.tax)],
      [`Total ${currencyOf(work.store)}`, figure(invoice.total)],
      ...sale.payments.map(({ method, amount }) => [WAYS[method] ?? method, figure(amount)] as const),
      ...(back || sale.change === '0.00' ? [] : [['Cash given', figure(sale.given)] as const, ['Change', figure(sale.change)] as const]),
      ...(sale.open === '0.00' ? [] : [[back ? 'To your credit' : 'On account', figure(sale.open)] as const]),
    ],
    foot: ['Thank you. Keep this receipt for returns.', ...(foot === '' ? [] : [foot])],
  };
}
