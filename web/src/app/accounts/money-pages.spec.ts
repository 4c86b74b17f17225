import '@angular/compiler';
import { Subject, throwError } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type Reminder } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { RemindersPage } from './reminders.page';
import { ToInvoicePage } from './to-invoice.page';

/** What the templates show and do. */
interface Inside {
  readonly chosen: () => readonly { readonly id?: number; readonly customerId?: number }[];
  readonly sums: () => string;
  readonly busy: () => boolean;
  readonly done: () => string;
  readonly problem: () => Problem | null;
  readonly choose: (id: number, chosen: boolean) => void;
  readonly send: () => void;
}
let client: FakeClient;
const sent = (path: string) => client.asked.filter((each) => each.path === path && each.call.body !== undefined);
beforeEach(() => {
  client = new FakeClient();
});

describe('what is to be invoiced', () => {
  const row = (id: number, invoicing: 'shipment' | 'order' | 'together', whole: boolean) => ({
    id,
    number: `SH-${id}`,
    date: '2027-03-01',
    orderId: id,
    order: `CO-${id}`,
    customerId: 1,
    customer: 'Tarnside',
    invoicing,
    whole,
  });
  const page = (): Inside => screenWith(ToInvoicePage, client, ['accounts.invoice']).screen as unknown as Inside;

  it('leaves out what waits for the rest of its order, unless somebody says otherwise, and is sent once', () => {
    client.answer(api.accounts.toInvoice, () => ({ rows: [row(1, 'shipment', false), row(2, 'order', false), row(3, 'order', true)], total: 3 }));
    const answer = new Subject<[]>();
    client.answer(api.accounts.invoiceShipments, () => answer);
    const shown = page();
    expect(shown.chosen().map(({ id }) => id)).toEqual([1, 3]);
    shown.choose(2, true);
    shown.choose(1, false);
    shown.send();
    shown.send();
    expect(sent('/selling/to-invoice').map(({ call }) => call.body)).toEqual([{ shipmentIds: [2, 3] }]);
    answer.next([]);
    expect(shown.busy()).toBe(false);
  });

  it('says what was refused, and stays as it was', () => {
    client.answer(api.accounts.toInvoice, () => ({ rows: [row(1, 'shipment', true)], total: 1 }));
    client.answer(api.accounts.invoiceShipments, () => throwError(() => new Problem('nothingToInvoice', 'It is invoiced.', {}, {})));
    const shown = page();
    shown.send();
    expect([shown.problem()?.message, shown.busy(), shown.chosen().length]).toEqual(['It is invoiced.', false, 1]);
  });
});

describe('reminders', () => {
  const reminder = (customerId: number, total: string, why = ''): Reminder => ({
    customerId,
    customer: `C${customerId}`,
    step: 1,
    invoices: [],
    total,
    currency: customerId === 4 ? 'GBP' : 'CHF',
    why,
  });

  it('go to those who are chosen and can be reached, and say how many went out', () => {
    client.answer(api.accounts.previewReminders, () => [reminder(1, '10.50'), reminder(2, '20.00', 'no address'), reminder(3, '5.25')]);
    client.answer(api.accounts.remind, () => [reminder(1, '10.50'), reminder(3, '5.25', 'Nothing is due.')]);
    const shown = screenWith(RemindersPage, client, ['accounts.invoice']).screen as unknown as Inside;
    expect([shown.chosen().map(({ customerId }) => customerId), shown.sums()]).toEqual([[1, 3], '15.75 CHF']);
    shown.choose(3, false);
    expect(shown.sums()).toBe('10.50 CHF');
    shown.choose(3, true);
    shown.send();
    expect(sent('/accounts/reminders')[0]?.call.body).toEqual({ customerIds: [1, 3] });
    expect(shown.done()).toContain('Reminded 1 customer;');
  });

  it('of several currencies are summed for each', () => {
    client.answer(api.accounts.previewReminders, () => [reminder(1, '10.50'), reminder(4, '20.00'), reminder(3, '5.25')]);
    const shown = screenWith(RemindersPage, client, ['accounts.invoice']).screen as unknown as Inside;
    expect(shown.sums()).toBe('15.75 CHF and 20.00 GBP');
  });
});
