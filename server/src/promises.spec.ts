/** Promises know how long stock lasts, and are derived again when what they count on changes. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type OrderView, type PurchaseView } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { reviewWhatExpires } from './selling';
import { TODAY, somebody } from './testing/company';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { selling, buying, stores, platform, dispatch } = api;
let room: StoreRoom;
beforeEach(async () => {
  room = await openStoreRoom();
});
afterEach(async () => {
  room.company.sound();
  await room.company.close();
});

const in_ = (days: number): string => addDays(TODAY, days);
async function confirmed(itemId: number, quantity: string, requiredDate: string): Promise<OrderView> {
  return room.manager.call(selling.createOrder, {
    body: { customerId: 1, reference: '', warehouseId: 1, requiredDate, note: '', custom: {}, confirm: true, lines: [{ itemId, quantity }] },
  });
}
const order = (id: number): Promise<OrderView> => room.manager.call(selling.getOrder, { params: { id } });
const lineOf = async (id: number) => {
  const [line] = (await order(id)).lines;
  return [line?.reserved, line?.promiseDate];
};
async function expected(itemId: number, quantity: string, dueDate: string): Promise<PurchaseView> {
  const sent = await room.sentOrder(itemId, quantity, '2.00');
  await redate(sent, dueDate);
  return sent;
}
const redate = (purchase: PurchaseView, dueDate: string): Promise<void> =>
  Promise.resolve(
    room.company.terrace.store.sqlite.prepare('update purchase_order_line set due_date = ? where order_id = ?').run(dueDate, purchase.id),
  ).then(() => undefined);
const told = async (): Promise<string[]> => {
  const sales = await room.company.as('sales');
  return (await sales.call(platform.notices)).rows.filter((each) => each.kind === 'promise').map((each) => each.text);
};

describe('stock that does not last', () => {
  const honey = async (): Promise<number> => {
    const itemId = await room.newItem('HONEY', { tracking: 'lot', restLifeDays: '30' });
    // Sold until 7 March, and for long.
    await room.receive(itemId, '8', '2.00', [{ lot: 'OLD', expiry: addDays('2027-03-07', 30), quantity: '8' }]);
    await room.receive(itemId, '7', '2.00', [{ lot: 'NEW', expiry: '2027-12-31', quantity: '7' }]);
    return itemId;
  };

  it('is reserved only for those for whom it lasts until it ships, and not promised to others', async () => {
    const itemId = await honey();
    const late = await confirmed(itemId, '15', '2027-04-15');
    expect(await lineOf(late.id)).toEqual(['7', null]);
    expect(late.ready).toBe('part');
    // What the late one can't use is there for one that can.
    expect(await lineOf((await confirmed(itemId, '8', '2027-03-05')).id)).toEqual(['8', '2027-03-05']);
  });

  it('is reserved and ships as promised when it is wanted in time', async () => {
    const itemId = await honey();
    const soon = await confirmed(itemId, '15', TODAY);
    expect(await lineOf(soon.id)).toEqual(['15', TODAY]);
    const shipment = await room.manager.call(dispatch.createShipment, { body: { orderId: soon.id } });
    expect((await room.manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } })).state).toBe('shipped');
  });

  it('is given up when it has fallen out meanwhile, and whoever counted on it is told', async () => {
    const itemId = await honey();
    const soon = await confirmed(itemId, '15', '2027-03-06');
    expect(await lineOf(soon.id)).toEqual(['15', '2027-03-06']);
    room.company.terrace.store.sqlite.prepare(`update lot set expiry = ? where code = 'OLD'`).run(in_(20));
    room.company.terrace.commands.perform(somebody('administrator'), (work) => reviewWhatExpires(work));
    expect(await lineOf(soon.id)).toEqual(['7', null]);
    expect((await order(soon.id)).ready).toBe('part');
    expect((await told())[0]).toMatch(/8 each of HONEY will not last until it ships and is reserved no more.*can not be promised any more/);
  });
});

describe('a promise', () => {
  it('is derived again when a purchase order is cancelled, in danger first and then kept by another one', async () => {
    const itemId = await room.newItem('CHAIR');
    const purchase = await expected(itemId, '10', in_(8));
    const made = await confirmed(itemId, '4', in_(2));
    expect(await lineOf(made.id)).toEqual(['0', in_(8)]);
    await room.manager.call(buying.cancelPurchase, { params: { id: purchase.id }, body: { version: purchase.version, reason: 'lost' } });
    expect(await lineOf(made.id)).toEqual(['0', null]);
    expect((await order(made.id)).promiseDate).toBeNull();
    expect((await told())[0]).toContain('can not be promised any more; it was promised for');
    await room.manager.call(buying.createPurchase, {
      body: { supplierId: 1, warehouseId: 1, note: '', custom: {}, lines: [{ itemId, quantity: '10', price: '2.00', dueDate: in_(5) }] },
    });
    expect(await lineOf(made.id)).toEqual(['0', in_(5)]);
    expect((await told())[0]).toContain(`can be promised for ${in_(5)}`);
  });

  it('comes earlier when goods come in before their day, and stands when nothing has changed for it', async () => {
    const itemId = await room.newItem('CHAIR');
    const purchase = await expected(itemId, '10', in_(8));
    const made = await confirmed(itemId, '4', in_(2));
    const other = await confirmed(await room.newItem('STOOL'), '4', in_(2));
    const lines = [{ lineId: purchase.lines[0]?.id ?? 0, quantity: '10' }];
    await room.manager.call(buying.receive, { params: { id: purchase.id }, body: { version: purchase.version, binId: 1, lines } });
    expect(await lineOf(made.id)).toEqual(['0', in_(2)]);
    expect(await lineOf(other.id)).toEqual(['0', null]);
    expect((await told())[0]).toContain(`is promised for ${in_(2)} instead of ${in_(8)}`);
  });

  it('falls back on what is expected when its reservation is released for another', async () => {
    const itemId = await room.newItem('CHAIR');
    await room.receive(itemId, '4', '2.00');
    const made = await confirmed(itemId, '4', in_(2));
    await expected(itemId, '10', in_(9));
    const [held] = await room.keeper.call(stores.holders, { params: { id: itemId } });
    await room.keeper.call(stores.release, { params: { id: held?.id ?? 0 } });
    // It is still there, and nobody else has it.
    expect(await lineOf(made.id)).toEqual(['0', in_(2)]);
    await room.keeper.call(stores.adjust, room.take(itemId, '-2'));
    expect(await lineOf(made.id)).toEqual(['0', in_(9)]);
    expect((await told())[0]).toContain('it is in danger');
  });

  it('of several that wait gives way from the last to the first', async () => {
    const itemId = await room.newItem('CHAIR');
    const [one, two] = [await expected(itemId, '5', in_(4)), await expected(itemId, '5', in_(6))];
    const [first, second] = [await confirmed(itemId, '5', in_(1)), await confirmed(itemId, '5', in_(1))];
    expect([await lineOf(first.id), await lineOf(second.id)]).toEqual([
      ['0', in_(4)],
      ['0', in_(6)],
    ]);
    await room.manager.call(buying.cancelPurchase, { params: { id: one.id }, body: { version: one.version, reason: 'lost' } });
    expect([await lineOf(first.id), await lineOf(second.id)]).toEqual([
      ['0', in_(6)],
      ['0', null],
    ]);
    expect(two.id).toBeGreaterThan(one.id);
  });
});

describe('stock that becomes free', () => {
  it('is offered to the lines that wait, in the order of their promises, and reserved for all of them at once', async () => {
    const itemId = await room.newItem('CHAIR');
    await expected(itemId, '10', in_(9));
    const [later, sooner] = [await confirmed(itemId, '4', in_(12)), await confirmed(itemId, '3', in_(2))];
    expect((await room.manager.call(platform.today)).waiting.find((each) => each.key === 'waiting')?.count).toBe(0);
    await room.receive(itemId, '5', '2.00');
    const { rows, byItself } = await room.manager.call(selling.freeForWaiting);
    expect([byItself, rows.map(({ order: number, waits, gets }) => [number, waits, gets])]).toEqual([
      false,
      [
        [sooner.number, '3', '3'],
        [later.number, '4', '2'],
      ],
    ]);
    const today = (await room.manager.call(platform.today)).waiting.find((each) => each.key === 'waiting');
    expect([today?.count, today?.first[0]?.text]).toEqual([2, sooner.number]);
    expect(await room.manager.call(selling.reserveForWaiting)).toEqual({ reserved: 2 });
    expect([(await lineOf(sooner.id))[0], (await lineOf(later.id))[0]]).toEqual(['3', '2']);
    expect((await room.manager.call(selling.freeForWaiting)).rows).toEqual([]);
  });

  it('is offered only to those for whom it lasts, and as much of it as they then get', async () => {
    const itemId = await room.newItem('HONEY', { tracking: 'lot', restLifeDays: '30' });
    const [late, soon] = [await confirmed(itemId, '6', '2027-04-15'), await confirmed(itemId, '6', '2027-03-05')];
    // Sold until 7 March.
    await room.receive(itemId, '8', '2.00', [{ lot: 'OLD', expiry: addDays('2027-03-07', 30), quantity: '8' }]);
    const gets = async () => (await room.manager.call(selling.freeForWaiting)).rows.map((row) => [row.order, row.gets]);
    expect(await gets()).toEqual([[soon.number, '6']]);
    await room.receive(itemId, '3', '2.00', [{ lot: 'NEW', expiry: '2027-12-31', quantity: '3' }]);
    expect(await gets()).toEqual([
      [soon.number, '6'],
      [late.number, '3'],
    ]);
    expect(await room.manager.call(selling.reserveForWaiting)).toEqual({ reserved: 2 });
    expect([(await lineOf(soon.id))[0], (await lineOf(late.id))[0]]).toEqual(['6', '3']);
    expect(await gets()).toEqual([]);
  });

  it('goes to each line in its turn: an order that gets one item does not get another before those that come first', async () => {
    const [chair, stool] = [await room.newItem('CHAIR'), await room.newItem('STOOL')];
    const both = await room.manager.call(selling.createOrder, {
      body: {
        customerId: 1,
        reference: '',
        warehouseId: 1,
        requiredDate: in_(9),
        note: '',
        custom: {},
        confirm: true,
        lines: [
          { itemId: chair, quantity: '2' },
          { itemId: stool, quantity: '2' },
        ],
      },
    });
    const first = await confirmed(stool, '2', in_(2));
    await room.receive(chair, '2', '2.00');
    await room.receive(stool, '2', '2.00');
    await room.manager.call(selling.reserveForWaiting);
    expect((await order(both.id)).lines.map((line) => line.reserved)).toEqual(['2', '0']);
    expect(await lineOf(first.id)).toEqual(['2', in_(2)]);
    expect((await order(first.id)).promiseDate).toBe(in_(2));
  });

  it('is reserved by itself where the company wants that, but for what somebody has just released', async () => {
    const admin = await room.company.as('administrator');
    await admin.call(selling.setReservesByItself, { body: { byItself: true } });
    const itemId = await room.newItem('CHAIR');
    const made = await confirmed(itemId, '3', in_(2));
    await room.receive(itemId, '5', '2.00');
    expect(await lineOf(made.id)).toEqual(['3', in_(2)]);
    const [held] = await room.keeper.call(stores.holders, { params: { id: itemId } });
    await room.keeper.call(stores.release, { params: { id: held?.id ?? 0 } });
    expect((await lineOf(made.id))[0]).toBe('0');
    expect(await room.manager.refused(selling.setReservesByItself, { body: { byItself: false } })).toMatchObject({ code: 'notAllowed' });
  });
});
