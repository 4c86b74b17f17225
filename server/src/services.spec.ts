/** Services and charges go along with the goods of an order: nothing is promised of them, nothing waits for them. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type OrderView } from '@terrace/contract';
import { slipLines } from './dispatch';
import { paperOf } from './papers';
import { somebody } from './testing/company';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { dispatch, selling } = api;
let room: StoreRoom;
let [pail, fitting, freight] = [0, 0, 0];

beforeEach(async () => {
  room = await openStoreRoom();
  pail = await room.newItem('PAIL');
  const { manager } = room;
  const other = async (code: string, kind: string): Promise<number> =>
    (
      await manager.call(api.catalogue.createItem, {
        body: { code, description: code, group: 'ALL', unit: 'each', sellPrice: '5.00', kind } as never,
      })
    ).id;
  fitting = await other('FITTING', 'service');
  freight = await other('FREIGHT', 'charge');
});
afterEach(async () => {
  room.company.sound();
  await room.company.close();
});

const ordered = (quantity: string, more: object = {}): Promise<OrderView> =>
  room.manager.call(selling.createOrder, {
    body: {
      customerId: 1,
      warehouseId: 1,
      requiredDate: '2027-03-05',
      confirm: true,
      lines: [
        { itemId: fitting, quantity: '2', requiredDate: '2027-03-20' },
        { itemId: pail, quantity },
        { itemId: freight, quantity: '1' },
      ],
      ...more,
    },
  });
const listed = async (): Promise<{ ready: string; late: boolean; promiseDate: string | null }[]> =>
  (await room.manager.call(selling.listOrders, { query: {} })).rows;

describe('services and charges of an order', () => {
  it('are not promised, and the order is promised when its goods are', async () => {
    await room.receive(pail, '3', '2.00');
    const order = await ordered('3');
    expect(order).toMatchObject({
      promiseDate: '2027-03-05',
      ready: 'all',
      late: false,
      lines: [
        { goods: false, promiseDate: null, late: false, covered: 'needs no stock' },
        { goods: true, promiseDate: '2027-03-05', late: false },
        { goods: false, promiseDate: null, late: false },
      ],
    });
    // Their day passes: the goods are late, they are not.
    room.company.turnTo('2027-03-10');
    room.manager = await room.company.as('manager');
    const late = await room.manager.call(selling.getOrder, { params: { id: order.id } });
    expect(late.lines.map((line) => line.late)).toEqual([false, true, false]);
  });

  it('do not make an order ready of which no goods are there, nor go alone before them', async () => {
    const order = await ordered('3');
    expect(order).toMatchObject({ ready: 'nothing', promiseDate: null, late: true });
    expect(await listed()).toMatchObject([{ ready: 'nothing', late: true }]);
    expect((await room.manager.refused(dispatch.createShipment, { body: { orderId: order.id } })).code).toBe('nothingToShip');
    const { parts } = await room.manager.call(selling.previewDivision, { params: { id: order.id }, body: { reasons: ['short'] } });
    expect(parts).toHaveLength(1);
  });

  it('go along with the first goods, are on no packing slip, and are alone neither late nor waited for', async () => {
    await room.receive(pail, '3', '2.00');
    const order = await ordered('3', { complete: true });
    const lines = [{ orderLineId: order.lines[1]?.id ?? 0, quantity: '3' }];
    const goods = await room.manager.call(dispatch.createShipment, { body: { orderId: order.id, lines } });
    await room.manager.call(dispatch.ship, { params: { id: goods.id }, body: { version: goods.version } });
    room.company.turnTo('2027-03-25');
    room.manager = await room.company.as('manager');
    expect(await listed()).toMatchObject([{ ready: 'all', late: false }]);
    const rest = await room.manager.call(dispatch.createShipment, { body: { orderId: order.id } });
    expect(rest.lines.map(({ code }) => code)).toEqual(['FITTING', 'FREIGHT']);
    const work = room.company.terrace.commands.look(somebody('manager'));
    expect(slipLines(work, goods.id).map(({ code }) => code)).toEqual(['PAIL']);
    // Nor does anybody pick them.
    const picked = (id: number): unknown[] => paperOf(work, 'shipment', id).table.rows.map(([, item]) => item);
    expect([picked(goods.id), picked(rest.id)]).toEqual([['PAIL\nPAIL of the stores'], []]);
    await room.manager.call(dispatch.ship, { params: { id: rest.id }, body: { version: rest.version } });
    expect(await listed()).toMatchObject([{ ready: 'done' }]);
  });
});
