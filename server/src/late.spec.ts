/** Late is what a line of a document says; its head follows its lines. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type OrderView, type TodayView } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { TODAY } from './testing/company';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { selling, stores, buying, platform } = api;
let room: StoreRoom;
beforeAll(async () => {
  room = await openStoreRoom();
});
afterAll(async () => {
  room.company.sound();
  await room.company.close();
});

const IN_A_WEEK = addDays(TODAY, 7);
const BY_THEN = addDays(TODAY, 30);
async function order(
  requiredDate: string,
  lines: readonly { itemId: number; quantity: string; requiredDate?: string }[],
  confirm = true,
): Promise<OrderView> {
  const entered = await room.manager.call(selling.createOrder, {
    body: { customerId: 1, reference: '', warehouseId: 1, requiredDate, note: '', custom: {}, confirm, lines: [...lines] },
  });
  return entered;
}
const listed = async (number: string): Promise<boolean | undefined> =>
  (await room.manager.call(selling.listOrders, { query: { find: number } })).rows.find((row) => row.number === number)?.late;
const waits = async (key: string): Promise<TodayView['waiting'][number] | undefined> =>
  (await room.manager.call(platform.today)).waiting.find((each) => each.key === key);
const dated = (id: number, date: string): void => {
  room.company.terrace.store.sqlite.prepare('update customer_order_line set required_date = ? where order_id = ?').run(date, id);
  room.company.terrace.store.sqlite.prepare('update customer_order set required_date = ? where id = ?').run(date, id);
};

describe('a customer’s order', () => {
  it('is late by a line that is promised after the day on which that is wanted, although the order as a whole is wanted later', async () => {
    const itemId = await room.newItem('BENCH');
    const expected = await room.sentOrder(itemId, '10', '2.00');
    room.company.terrace.store.sqlite.prepare('update purchase_order_line set due_date = ? where order_id = ?').run(IN_A_WEEK, expected.id);
    const made = await order(BY_THEN, [
      { itemId, quantity: '2', requiredDate: addDays(TODAY, 2) },
      { itemId, quantity: '2' },
    ]);
    expect(made.lines.map((line) => [line.promiseDate, line.late])).toEqual([
      [IN_A_WEEK, true],
      [BY_THEN, false],
    ]);
    expect([made.late, await listed(made.number)]).toEqual([true, true]);
  });

  it('is late by a line that is wanted and not promised', async () => {
    const made = await order(BY_THEN, [{ itemId: await room.newItem('DESK'), quantity: '2' }]);
    expect([made.promiseDate, made.late, await listed(made.number)]).toEqual([null, true, true]);
    const { late } = await order(BY_THEN, [{ itemId: await room.newItem('LAMP'), quantity: '2' }], false);
    expect(late).toBe(false);
  });

  it('that is confirmed after its day is promised from today on, and is late', async () => {
    const itemId = await room.newItem('SHELF');
    await room.receive(itemId, '10', '2.00');
    const draft = await order(IN_A_WEEK, [{ itemId, quantity: '2' }], false);
    dated(draft.id, addDays(TODAY, -3));
    const made = await room.manager.call(selling.confirmOrder, { params: { id: draft.id }, body: { version: draft.version } });
    expect([made.promiseDate, made.lines[0]?.promiseDate, made.late]).toEqual([TODAY, TODAY, true]);
    expect((await waits('endangered'))?.first.map((each) => each.text)).toContain(made.number);
  });
});

describe('what stands in Today', () => {
  it('are transfers that did not ship or arrive on their day', async () => {
    const itemId = await room.newItem('STOVE');
    await room.receive(itemId, '10', '2.00');
    const asked = await room.manager.call(stores.requestTransfer, {
      body: { fromId: 1, toId: 2, shipDate: TODAY, dueDate: TODAY, carrier: '', note: '', lines: [{ itemId, quantity: '5' }] },
    });
    expect(await waits('transfers')).toMatchObject({ count: 1, urgent: 0 });
    room.company.terrace.store.sqlite.prepare('update transfer set ship_date = ? where id = ?').run(addDays(TODAY, -1), asked.id);
    expect(await waits('transfers')).toMatchObject({ count: 1, urgent: 1, first: [{ text: asked.number }] });
    expect((await room.manager.call(stores.listTransfers, { query: {} })).rows[0]?.late).toBe(true);
  });

  it('are purchase orders that were due before they were sent', async () => {
    const itemId = await room.newItem('CHEST');
    const draft = await room.manager.call(buying.createPurchase, {
      body: { supplierId: 1, warehouseId: 1, note: '', custom: {}, lines: [{ itemId, quantity: '5', price: '2.00', dueDate: TODAY }] },
    });
    await room.manager.call(buying.approvePurchase, { params: { id: draft.id }, body: { version: draft.version } });
    room.company.terrace.store.sqlite.prepare('update purchase_order_line set due_date = ? where order_id = ?').run(addDays(TODAY, -1), draft.id);
    expect(await waits('send')).toMatchObject({ count: 1, urgent: 1, first: [{ text: draft.number }] });
  });
});

describe('the figures of Today', () => {
  it('leave drafts and tax out of orders taken, and receipts that were taken back out of goods received', async () => {
    const figure = async (key: string): Promise<string | undefined> =>
      (await room.manager.call(platform.today)).figures.find((each) => each.key === key)?.value;
    const itemId = await room.newItem('CRATE');
    const [taken, received] = [Number(await figure('intake')), Number(await figure('received'))];
    await order(BY_THEN, [{ itemId, quantity: '4' }], false);
    expect(Number(await figure('intake'))).toBe(taken);
    await order(BY_THEN, [{ itemId, quantity: '4' }]);
    expect(Number(await figure('intake'))).toBe(taken + 40);
    const receipt = await room.receive(itemId, '10', '2.50');
    expect(Number(await figure('received'))).toBe(received + 25);
    await room.manager.call(buying.reverseReceipt, { params: { id: receipt } });
    expect(Number(await figure('received'))).toBe(received);
  });
});
