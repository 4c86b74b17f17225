import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type InvoiceView, type Right } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { offered, panelWith, press, type PanelParts } from '../testing/panel';
import { InvoicePanel } from './invoice-panel';

const invoice: InvoiceView = {
  id: 7,
  number: 'INV-7',
  customer: 'Tarnside',
  customerId: 2,
  order: 'CO-5',
  orderId: 5,
  date: '2027-03-01',
  dueDate: '2027-03-15',
  kind: 'invoice',
  state: 'open',
  total: '206.40',
  currency: 'CHF',
  rate: '1',
  booksTotal: '206.40',
  booksTax: '34.40',
  terms: '',
  discountUntil: null,
  discountAmount: '0.00',
  letOff: '0.00',
  creditOfId: null,
  creditOf: '',
  reason: '',
  reminded: 0,
  remindedOn: null,
  paid: '0.00',
  open: '206.40',
  overdue: true,
  net: '172.00',
  tax: '34.40',
  version: 3,
  lines: [],
  payments: [],
};

describe('an invoice', () => {
  let client: FakeClient;
  const shown = (more: Partial<InvoiceView>, rights: readonly Right[] = ['accounts.pay', 'accounts.invoice']): PanelParts => {
    client.answer(api.accounts.getInvoice, () => ({ ...invoice, ...more }));
    return panelWith(InvoicePanel, client, rights, 7).panel;
  };
  beforeEach(() => {
    client = new FakeClient();
  });

  it.each([
    ['open', { state: 'open' }, ['Record 206.40 CHF', 'Give back', 'Print (PDF)', 'Take back']],
    ['paid in part', { state: 'open', paid: '100.00', open: '106.40' }, ['Record 106.40 CHF', 'Give back', 'Print (PDF)']],
    ['paid', { state: 'paid', paid: '206.40', open: '0.00' }, ['Give back', 'Print (PDF)']],
    ['a credit note that is left', { kind: 'credit', open: '-20.00' }, ['Pay out 20.00 CHF', 'Close invoices with it', 'Print (PDF)', 'Take back']],
    ['taken back', { state: 'reversed' }, ['Print (PDF)']],
  ] as const)('%s offers what can be done with it', (_, more, words) => {
    expect(offered(shown(more))).toEqual(words);
    expect(offered(shown(more, []))).toEqual(['Print (PDF)']);
  });

  it('tells what it is about, and what is wrong with it', () => {
    expect(shown({}).facts()).toEqual(
      expect.arrayContaining([
        { title: 'Order', value: 'CO-5', kind: 'code', page: ['/selling/orders', 5] },
        { title: 'Due', value: 'Mon 15 Mar 2027', trouble: true },
        { title: 'Total', value: '206.40', kind: 'money', currency: 'CHF', below: '' },
        { title: 'Open', value: '206.40', kind: 'money', currency: 'CHF' },
      ]),
    );
  });

  it('in another currency says what it is in the books, and records what was paid in that', () => {
    const panel = shown({ currency: 'GBP', rate: '1.25', booksTotal: '258.00' });
    expect(offered(panel)).toContain('Record 206.40 GBP');
    expect(panel.facts().find(({ title }) => title === 'Total')).toMatchObject({ currency: 'GBP', below: '258.00 CHF, GBP at 1.25' });
  });

  it('records what is open unless another amount is typed, and is taken back with the version that was seen', () => {
    const panel = shown({});
    client.answer(api.accounts.payInvoice, () => ({ ...invoice, state: 'paid', open: '0.00', paid: '206.40' }));
    press(panel, 'Record 206.40 CHF');
    expect(client.asked.at(-1)?.call).toMatchObject({ params: { id: 7 }, body: { amount: '206.40', method: 'transfer' } });
    expect(offered(panel)).toEqual(['Give back', 'Print (PDF)']);
    const other = shown({});
    client.answer(api.accounts.reverseInvoice, () => ({ ...invoice, state: 'reversed' }));
    press(other, 'Take back');
    expect(client.asked.at(-1)?.call).toMatchObject({ params: { id: 7 }, body: { version: 3 } });
  });
});
