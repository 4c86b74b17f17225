/** What a customer may owe is looked at when an order is confirmed, as the company chose. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type OrderView } from '@terrace/contract';
import { TODAY } from './testing/company';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { selling, catalogue, dispatch } = api;
let room: StoreRoom;
let itemId: number;
beforeEach(async () => {
  room = await openStoreRoom();
  itemId = await room.newItem('CHAIR');
  await room.receive(itemId, '100', '2.00');
  const { version, ...customer } = await room.manager.call(catalogue.getCustomer, { params: { id: 1 } });
  await room.manager.call(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, version, creditLimit: '500' } });
});
afterEach(async () => {
  room.company.sound();
  await room.company.close();
});

const draft = (quantity: string, more: Record<string, unknown> = {}) => ({
  body: {
    customerId: 1,
    reference: '',
    warehouseId: 1,
    requiredDate: TODAY,
    note: '',
    custom: {},
    lines: [{ itemId, quantity }],
    ...more,
  },
});
const enter = (quantity: string, more = {}): Promise<OrderView> => room.manager.call(selling.createOrder, draft(quantity, more));
const rule = async (set: 'off' | 'warn' | 'stop'): Promise<void> => {
  const admin = await room.company.as('administrator');
  await admin.call(selling.setCreditRule, { body: { rule: set } });
};

describe('a credit limit', () => {
  it('counts what is still to ship, what has shipped and is not invoiced, and what is open on invoices', async () => {
    // 20 % tax: 120.00, 120.00 and 120.00 of 500.00.
    const [one, two] = [await enter('10', { confirm: true }), await enter('10', { confirm: true })];
    await enter('10', { confirm: true });
    for (const { id } of [one, two]) {
      const shipment = await room.manager.call(dispatch.createShipment, { body: { orderId: id } });
      await room.manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
    }
    await room.manager.call(selling.invoiceOrder, { params: { id: one.id }, body: {} });
    const last = await enter('12');
    const confirm = (more = {}) => ({ params: { id: last.id }, body: { version: last.version, ...more } });
    const problem = await room.manager.refused(selling.confirmOrder, confirm());
    expect(problem).toMatchObject({ code: 'beyondCredit', details: { limit: '500.00', use: '504.00' } });
    expect(problem.detail).toContain('120.00 on invoices, 120.00 shipped and not invoiced, 120.00 still to ship');
    expect((await room.manager.call(selling.confirmOrder, confirm({ beyondCredit: true }))).state).toBe('confirmed');
  });

  it('stops an order where the company chose so, whoever asks; and is not looked at where it chose that', async () => {
    await rule('stop');
    const order = await enter('50');
    const confirm = { params: { id: order.id }, body: { version: order.version, beyondCredit: true } };
    expect(await room.manager.refused(selling.confirmOrder, confirm)).toMatchObject({ code: 'creditLimit' });
    expect(await room.manager.refused(selling.createOrder, draft('50', { confirm: true }))).toMatchObject({ code: 'creditLimit' });
    await rule('off');
    expect((await room.manager.call(selling.confirmOrder, confirm)).state).toBe('confirmed');
  });

  it('is looked at when today’s prices make a confirmed order more expensive, not when they make it cheaper', async () => {
    const order = await enter('40', { confirm: true });
    const again = (from: { version: number }, more = {}) => ({
      params: { id: order.id },
      body: { version: from.version, lines: order.lines.map((line) => line.id), ...more },
    });
    await room.priceItem(itemId, '11.00');
    expect(await room.manager.refused(selling.priceAgain, again(order))).toMatchObject({ code: 'beyondCredit' });
    expect((await room.manager.call(selling.getOrder, { params: { id: order.id } })).total).toBe('480.00');
    const dearer = await room.manager.call(selling.priceAgain, again(order, { beyondCredit: true }));
    expect(dearer.total).toBe('528.00');
    await room.priceItem(itemId, '10.50');
    expect((await room.manager.call(selling.priceAgain, again(dearer))).total).toBe('504.00');
  });

  it('is looked at when a confirmed order grows, and not when it shrinks', async () => {
    const order = await enter('40', { confirm: true });
    const change = (quantity: string, version: number, more = {}) => ({
      params: { id: order.id },
      body: { ...draft(quantity, more).body, lines: [{ id: order.lines[0]?.id ?? 0, itemId, quantity }], version },
    });
    expect(await room.manager.refused(selling.changeOrder, change('60', order.version))).toMatchObject({ code: 'beyondCredit' });
    const grown = await room.manager.call(selling.changeOrder, change('60', order.version, { beyondCredit: true }));
    const smaller = await room.manager.call(selling.changeOrder, change('55', grown.version));
    expect(smaller.total).toBe('660.00');
  });

  it('may be said by administrators only', async () => {
    expect(await room.manager.refused(selling.setCreditRule, { body: { rule: 'off' } })).toMatchObject({ code: 'notAllowed' });
    expect(await room.manager.call(selling.getCreditRule)).toEqual({ rule: 'warn' });
  });
});
