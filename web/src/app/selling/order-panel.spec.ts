import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type OrderView, type Right } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient } from '../testing/fake-client';
import { offered, panelWith, press, screenWith } from '../testing/panel';
import type { Act } from '../ui/acts';
import { OrderPanel } from './order-panel';

const line: OrderView['lines'][number] = {
  id: 1,
  position: 1,
  itemId: 101,
  code: 'SMOKER',
  description: 'Smoker',
  unit: 'each',
  decimals: 0,
  quantity: '3',
  price: '36.00',
  discount: '0',
  requiredDate: '2027-03-10',
  goods: true,
  promiseDate: null,
  late: false,
  reserved: '0',
  shipped: '0',
  invoiced: '0',
  cancelled: '0',
  outstanding: '3',
  amount: '108.00',
  covered: 'nothing reserved',
  priceSteps: [],
  discountReason: '',
  substitutes: [],
  free: '0',
  note: '',
  shipTo: '',
  carrier: '',
  direct: false,
  ordered: '0',
  theirCode: '',
  byRule: false,
};
const order: OrderView = {
  id: 7,
  number: 'CO-7',
  kind: 'order',
  validUntil: null,
  lapsed: false,
  probability: 0,
  lostReason: '',
  state: 'draft',
  customerId: 2,
  customer: 'Tarnside',
  reference: '',
  orderDate: '2027-03-01',
  requiredDate: '2027-03-10',
  planned: null,
  promiseDate: null,
  late: false,
  warehouseId: 1,
  warehouse: 'WORKS',
  carrier: '',
  service: '',
  held: '',
  shipTo: '',
  paymentTerm: null,
  terms: 'within 14 days',
  salesPersonId: 1,
  salesPerson: 'Tobin Farrow',
  complete: false,
  family: [],
  charges: true,
  ruled: true,
  note: '',
  lines: [line],
  currency: 'CHF',
  rate: '1',
  booksTotal: '129.60',
  net: '108.00',
  tax: '21.60',
  paidAhead: '0.00',
  total: '129.60',
  ready: 'nothing',
  custom: {},
  version: 2,
};
const ALL: readonly Right[] = ['selling.confirm', 'selling.edit', 'dispatch.ship', 'accounts.invoice'];

describe('a customer order', () => {
  let client: FakeClient;
  const shown = (more: Partial<OrderView>, rights = ALL) => {
    client.answer(api.selling.getOrder, () => ({ ...order, ...more }));
    return panelWith(OrderPanel, client, rights, 7);
  };
  beforeEach(() => {
    client = new FakeClient();
  });

  const shipped = [{ ...line, shipped: '2' }];
  it.each([
    ['a draft', { state: 'draft' }, ['Confirm CO-7', 'Confirm only if all is free', 'Hold …', 'Change', 'Cancel the order']],
    ['confirmed, nothing there', { state: 'confirmed' }, ['Reserve what is free now', 'Hold …', 'Change', 'Cancel the order']],
    [
      'confirmed, a part there',
      { state: 'confirmed', ready: 'part' },
      ['Make shipment of what is reserved', 'Reserve what is free now', 'Hold …', 'Change', 'Cancel the order'],
    ],
    ['confirmed, all there', { state: 'confirmed', ready: 'all' }, ['Make shipment of all', 'Hold …', 'Change', 'Cancel the order']],
    [
      'shipped in part',
      { state: 'partShipped', lines: shipped },
      ['Invoice what has shipped', 'Reserve what is free now', 'Hold …', 'Change', 'Cancel the rest'],
    ],
    ['shipped', { state: 'shipped', ready: 'done', lines: shipped }, ['Invoice what has shipped']],
    ['cancelled', { state: 'cancelled', ready: 'done' }, []],
  ] as const)('that is %s offers what can be done with it, by whoever may', (_, more, words) => {
    expect(offered(shown(more as Partial<OrderView>).panel)).toEqual(words);
    expect(offered(shown(more as Partial<OrderView>, []).panel)).toEqual([]);
  });

  it('lets a line be cancelled by itself, on a page of its own, as long as another is left', () => {
    const lines = [line, { ...line, id: 2, position: 2, code: 'FRAME' }];
    client.answer(api.selling.getOrder, () => ({ ...order, state: 'confirmed', lines }));
    client.answer(api.selling.cancelLine, () => ({
      ...order,
      state: 'confirmed',
      version: 3,
      lines: [{ ...line, outstanding: '0', cancelled: '3' }, lines[1]],
    }));
    const { screen } = screenWith(OrderPanel, client, ALL, { id: 7, wide: true });
    const columns = () =>
      (screen as unknown as { columns: () => readonly { title?: string; acts?: (of: typeof line) => readonly Act[]; shown?: boolean }[] }).columns();
    const acts = (of: typeof line) =>
      columns()
        .find((column) => column.acts)
        ?.acts?.(of) ?? [];
    expect(acts(line).map(({ shown: is }) => is)).toEqual([true]);
    acts(line)[0]?.act?.('they have one');
    expect(client.asked.at(-1)).toMatchObject({
      path: '/selling/orders/:id/lines/:line/cancel',
      call: { params: { id: 7, line: 1 }, body: { version: 2, reason: 'they have one' } },
    });
    expect(columns().find(({ title }) => title === 'Cancelled')?.shown).toBe(true);
    // Of the last line that is left, the order itself is cancelled.
    expect(acts({ ...line, id: 2 }).map(({ shown: is }) => is)).toEqual([false]);
  });

  it('that is held offers to let it go, and nothing that would go on with it', () => {
    const held = { state: 'draft', held: 'waits for a deposit' } as const;
    const { panel } = shown(held);
    expect(offered(panel)).toEqual(['Let it go on', 'Change', 'Cancel the order']);
    expect(panel.facts().find(({ title }) => title === 'Held')).toMatchObject({ value: 'waits for a deposit', trouble: true });
    client.answer(api.selling.letGoOrder, () => ({ ...order, version: 3 }));
    press(panel, 'Let it go on');
    expect(client.asked.at(-1)).toMatchObject({ path: '/selling/orders/:id/let-go', call: { body: { version: 2 } } });
    expect(offered(panel)).toContain('Confirm CO-7');
  });

  it('says when it is promised and whether that is late; before it is confirmed and where nothing comes, in words', () => {
    const promised = (more: Partial<OrderView>) =>
      shown(more)
        .panel.facts()
        .find((fact) => fact.title === 'Promised');
    expect(promised({})).toMatchObject({ value: 'when confirmed', trouble: false });
    expect(promised({ state: 'confirmed' })).toMatchObject({ value: 'not from stock and orders alone' });
    expect(promised({ state: 'confirmed', promiseDate: '2027-03-10' })).toMatchObject({ value: 'Wed 10 Mar 2027', trouble: false });
    expect(promised({ state: 'confirmed', promiseDate: '2027-03-11', late: true })).toMatchObject({ trouble: true });
    const planned = shown({ state: 'confirmed', planned: { ready: null, endangered: true } })
      .panel.facts()
      .find((fact) => fact.title === 'By the plan');
    expect(planned).toMatchObject({ value: 'a part has no supply', trouble: true });
  });

  it('is confirmed as it was seen, whole or as far as it is free', () => {
    client.answer(api.selling.confirmOrder, () => ({ ...order, state: 'confirmed', version: 3 }));
    press(shown({}).panel, 'Confirm CO-7');
    expect(client.asked.at(-1)?.call.body).toEqual({ version: 2, allOrNothing: false, beyondCredit: false });
    press(shown({}).panel, 'Confirm only if all is free');
    expect(client.asked.at(-1)?.call.body).toEqual({ version: 2, allOrNothing: true, beyondCredit: false });
  });

  it('goes on beyond the credit limit with what was asked for, once that was refused', () => {
    const beyond = new Problem('beyondCredit', 'would owe 480.00', {}, {});
    client.refuse(api.selling.confirmOrder, beyond);
    const { panel } = shown({});
    expect(offered(panel)).not.toContain('Go on beyond the credit limit');
    press(panel, 'Confirm only if all is free');
    press(panel, 'Go on beyond the credit limit');
    expect(client.asked.at(-1)?.call.body).toEqual({ version: 2, allOrNothing: true, beyondCredit: true });
  });

  it('leads to the shipment and the invoice that are made of it', () => {
    client.answer(api.dispatch.createShipment, () => ({ id: 31 }));
    const ready = shown({ state: 'confirmed', ready: 'all' });
    press(ready.panel, 'Make shipment of all');
    expect(ready.visited).toEqual(['/dispatch/shipments/31']);
    client.answer(api.selling.invoiceOrder, () => ({ id: 32 }));
    const gone = shown({ state: 'shipped', lines: shipped });
    press(gone.panel, 'Invoice what has shipped');
    expect(gone.visited).toEqual(['/accounts/invoices/32']);
  });

  it('points the balance strip at the first line that is not covered', () => {
    const lines = [
      { ...line, covered: 'all reserved' },
      { ...line, id: 2, itemId: 102 },
    ];
    const { focused } = shown({ state: 'confirmed', lines });
    expect(focused()).toEqual({ itemId: 102, warehouseId: 1 });
  });
});
