/** A figure has one definition: lists, records and what is answered beside them say the same. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { TODAY } from './testing/company';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { stores, catalogue } = api;
let room: StoreRoom;
beforeAll(async () => {
  room = await openStoreRoom();
});
afterAll(async () => {
  room.company.sound();
  await room.company.close();
});

describe('on hand, reserved and free', () => {
  it('are the same in the stock list, the item list and beside an order, whatever state or life the stock has', async () => {
    const id = await room.newItem('HONEY', { tracking: 'lot', restLifeDays: '30' });
    await room.receive(id, '9', '2.00', [{ lot: 'OLD', expiry: '2027-03-20', quantity: '9' }]);
    await room.receive(id, '20', '2.00', [{ lot: 'GOOD', expiry: '2027-12-20', quantity: '20' }]);
    await room.confirmed(id, '4');
    // Some is held, and some is on its way to the other warehouse.
    await room.manager.call(stores.relocate, {
      body: {
        reason: 'looked at',
        lines: [{ itemId: id, binId: 1, state: 'available', toState: 'held', quantity: '3', pieces: [{ lot: 'GOOD', quantity: '3' }] }],
      },
    });
    const transfer = await room.manager.call(stores.requestTransfer, {
      body: { fromId: 1, toId: 2, shipDate: TODAY, dueDate: TODAY, carrier: '', note: '', lines: [{ itemId: id, quantity: '5' }] },
    });
    await room.manager.call(stores.shipTransfer, {
      params: { id: transfer.id },
      body: {
        version: transfer.version,
        lines: [{ lineId: transfer.lines[0]?.id ?? 0, quantity: '5', pieces: [{ lot: 'GOOD', quantity: '5' }] }],
      },
    });

    const listed = (await room.manager.call(stores.explore, { query: { find: 'HONEY' } })).rows;
    const beside = await Promise.all([1, 2].map((warehouse) => room.manager.call(stores.availability, { query: { item: id, warehouse } })));
    const figures = (each: { onHand: string; reserved: string; free: string } | undefined) => [each?.onHand, each?.reserved, each?.free];
    // 20 less 3 held, 5 gone and 4 reserved; the nine are short-dated.
    expect(figures(beside[0])).toEqual(['24', '4', '8']);
    expect(figures(listed.find((each) => each.warehouseId === 1))).toEqual(figures(beside[0]));
    // What is in transit is nowhere on hand.
    expect(figures(beside[1])).toEqual(['0', '0', '0']);
    const [item] = (await room.manager.call(catalogue.listItems, { query: { find: 'HONEY' } })).rows;
    expect([item?.onHand, item?.free]).toEqual(['24', '8']);
    const substitute = await room.newItem('SYRUP');
    await room.manager.call(catalogue.setSubstitutes, {
      params: { id: substitute },
      body: { version: 1, lines: [{ itemId: id, ratio: '1', bothWays: true }] },
    });
    expect((await room.manager.call(catalogue.getItem, { params: { id: substitute } })).substitutes[0]?.free).toBe('8');
    expect((await room.manager.call(stores.explore, { query: { find: 'HONEY', sort: '-free' } })).rows[0]?.free).toBe('8');
  });
});
