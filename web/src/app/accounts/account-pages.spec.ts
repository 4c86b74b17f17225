import '@angular/compiler';
import { Subject, defer, of } from 'rxjs';
import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type CustomerAccount } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { CustomerAccountPanel } from './customer-account';
import { PaymentEntryPage } from './payment-entry.page';
import type { Settles } from './settle-draft';
import { SettleLines } from './settle-lines';

const open = (id: number, amount: string, dueDate: string, more: Partial<CustomerAccount['open'][number]> = {}): CustomerAccount['open'][number] => ({
  kind: 'invoice',
  id,
  number: `INV-${id}`,
  date: '2027-02-01',
  dueDate,
  total: amount,
  open: amount,
  band: dueDate < '2027-03-01' ? 'to30' : 'notDue',
  letOff: '0.00',
  reminded: 0,
  remindedOn: null,
  ...more,
});
const account = (more: Partial<CustomerAccount> = {}): CustomerAccount => ({
  customerId: 7,
  code: 'TARN',
  customer: 'Tarnside',
  email: '',
  creditLimit: null,
  currency: 'CHF',
  balance: '150.00',
  overdue: '100.00',
  bands: { notDue: '50.00', to30: '100.00', to60: '0.00', to90: '0.00', older: '0.00' },
  credit: '0.00',
  open: [open(1, '100.00', '2027-02-10'), open(2, '50.00', '2027-03-20')],
  since: '2026-12-01',
  before: '0.00',
  movements: [],
  ...more,
});
let client: FakeClient;
const sent = () => client.asked.filter((each) => each.path === '/selling/payments' && each.call.body !== undefined);
beforeEach(() => {
  client = new FakeClient();
  client.answer(api.selling.listOrders, () => ({ rows: [], total: 0 }));
});

describe('a payment that is entered', () => {
  interface Inside {
    readonly draft: {
      (): Record<string, unknown>;
      set: (draft: unknown) => void;
      update: (change: (draft: Record<string, unknown>) => unknown) => void;
    };
    readonly account: () => CustomerAccount | null;
    readonly foreign: () => string;
    readonly orders: () => readonly { readonly customer: string }[];
    readonly byHand: (settles: Settles) => void;
    readonly save: () => void;
  }
  const shown = (from: CustomerAccount = account()) => {
    client.answer(api.accounts.customerAccount, () => from);
    return screenWith(PaymentEntryPage, client, ['accounts.pay'], { customer: '7' }) as unknown as { screen: Inside; visited: string[] };
  };
  const type = (screen: Inside, change: object): void => {
    screen.draft.update((draft) => ({ ...draft, ...change }));
    TestBed.tick();
  };

  it('is spread over what is due first, until somebody says themselves what it closes', () => {
    const { screen } = shown();
    expect(screen.account()?.customer).toBe('Tarnside');
    type(screen, { amount: '120' });
    expect(screen.draft()['settles']).toEqual({ 1: { amount: '100.00', early: false }, 2: { amount: '20.00', early: false } });
    screen.byHand({ 2: { amount: '50.00', early: false } });
    type(screen, { amount: '130' });
    expect(screen.draft()['settles']).toEqual({ 2: { amount: '50.00', early: false } });
    client.answer(api.accounts.recordPayment, () => ({ id: 9 }));
    screen.save();
    expect(sent()[0]?.call.body).toEqual({
      customerId: 7,
      amount: '130',
      method: 'transfer',
      drawerId: null,
      reference: '',
      orderId: null,
      settle: [{ invoiceId: 2, amount: '50.00', letOff: '0.00' }],
    });
  });

  it('in cash asks for the open drawers, and names the one that is chosen; by another way it names none', () => {
    client.answer(api.accounts.openDrawers, () => [{ id: 3, number: 'DR-1001', warehouse: 'WORKS' }]);
    client.answer(api.accounts.recordPayment, () => ({ id: 9 }));
    const { screen } = shown();
    type(screen, { amount: '100', method: 'cash', drawerId: 3 });
    expect(client.asked.filter(({ path }) => path === '/accounts/drawers')).toHaveLength(1);
    screen.save();
    type(screen, { method: 'card' });
    screen.save();
    expect(sent().map(({ call }) => (call.body as { drawerId: number | null }).drawerId)).toEqual([3, null]);
  });

  it('is sent once, however often somebody presses, and opens', () => {
    const { screen, visited } = shown();
    const answer = new Subject<{ id: number }>();
    let asked = 0;
    client.answer(api.accounts.recordPayment, () =>
      defer(() => {
        asked += 1;
        return answer;
      }),
    );
    type(screen, { amount: '10' });
    screen.save();
    screen.save();
    expect(asked).toBe(1);
    answer.next({ id: 9 });
    answer.complete();
    expect(visited).toEqual(['/accounts/payments/9']);
  });

  it('asks what their currency was worth only where they pay in another, and offers their own orders only', () => {
    expect(shown().screen.foreign()).toBe('');
    client.answer(api.selling.listOrders, () => of({ rows: [{ customer: 'Tarnside' }, { customer: 'Tarnside Two' }], total: 2 }));
    const { screen } = shown(account({ currency: 'GBP' }));
    expect([screen.foreign(), screen.orders().length]).toEqual(['GBP', 1]);
    client.answer(api.accounts.recordPayment, () => ({ id: 9 }));
    type(screen, { amount: '10', rate: '1.2' });
    screen.save();
    expect(sent().at(-1)?.call.body).toMatchObject({ rate: '1.2', amount: '10' });
  });
});

describe('what a sum closes', () => {
  it('asks about paying early only where something is let off', () => {
    const letsOff = (items: CustomerAccount['open'], early = true): boolean => {
      const { screen } = screenWith(SettleLines, client, [], { open: items, available: '100', early });
      return (screen as unknown as { letsOff: () => boolean }).letsOff();
    };
    expect(letsOff(account().open)).toBe(false);
    expect(letsOff([open(1, '100.00', '2027-03-10', { letOff: '2.00' })])).toBe(true);
    expect(letsOff([open(1, '100.00', '2027-03-10', { letOff: '2.00' })], false)).toBe(false);
  });
});

describe('a customer’s account', () => {
  interface Inside {
    readonly account: () => CustomerAccount | null;
    readonly bands: () => readonly { readonly band: string; readonly amount: string; readonly share: number; readonly late: boolean }[];
  }
  it('shows the ages that have anything, each by its share of the most', () => {
    client.answer(api.accounts.customerAccount, () => account());
    const shown = screenWith(CustomerAccountPanel, client, ['accounts.see'], { id: 7 }).screen as unknown as Inside;
    expect(client.asked[0]?.call).toEqual({ params: { id: 7 } });
    expect(shown.bands().map(({ band, share, late }) => [band, share, late])).toEqual([
      ['notDue', 50, false],
      ['to30', 100, true],
    ]);
  });

  it('keeps what it showed of another customer from standing here when its answer comes late', () => {
    const answers = [new Subject<CustomerAccount>(), new Subject<CustomerAccount>()];
    let asked = 0;
    client.answer(api.accounts.customerAccount, () => answers[asked++]);
    const { screen } = screenWith(CustomerAccountPanel, client, ['accounts.see'], { id: 7 });
    const shown = screen as unknown as Inside & { load: (id: number) => void };
    shown.load(8);
    answers[1]?.next(account({ customer: 'Second' }));
    answers[0]?.next(account({ customer: 'First' }));
    expect(shown.account()?.customer).toBe('Second');
  });
});
