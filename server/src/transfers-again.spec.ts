/** Transfers that ship in part or are taken back, and reservations that stores release. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type TransferView } from '@terrace/contract';
import { TODAY } from './testing/company';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { stores, platform, selling } = api;
let room: StoreRoom;
beforeAll(async () => {
  room = await openStoreRoom();
});
afterAll(async () => {
  room.company.sound();
  await room.company.close();
});

const ask = (itemId: number, quantity: string): Promise<TransferView> =>
  room.keeper.call(stores.requestTransfer, {
    body: { fromId: 1, toId: 2, shipDate: TODAY, dueDate: TODAY, carrier: 'van', note: '', lines: [{ itemId, quantity }] },
  });
const ship = ({ id, version, lines }: TransferView, quantity: string): Promise<TransferView> =>
  room.keeper.call(stores.shipTransfer, { params: { id }, body: { version, lines: [{ lineId: lines[0]?.id ?? 0, quantity }] } });

describe('a transfer', () => {
  it('that ships in part asks for the rest by another one, which it leads to', async () => {
    const itemId = await room.newItem('STOVE');
    await room.receive(itemId, '6', '2.00');
    const asked = await ask(itemId, '10');
    await ship(asked, '4');
    const rest = (await room.keeper.call(stores.listTransfers, { query: { limit: 1 } })).rows[0];
    const view = await room.keeper.call(stores.getTransfer, { params: { id: rest?.id ?? 0 } });
    expect(view).toMatchObject({ state: 'requested', from: 'WORKS', to: 'DEPOT', carrier: 'van', lines: [{ quantity: '6', reserved: '2' }] });
    const trail = await room.keeper.call(platform.trail, { params: { kind: 'transfer', id: asked.id } });
    expect(trail.nodes.map((node) => node.number)).toEqual(expect.arrayContaining([asked.number, view.number]));
  });

  it('that ships whole asks for nothing more', async () => {
    const itemId = await room.newItem('KETTLE');
    await room.receive(itemId, '6', '2.00');
    const asked = await ask(itemId, '6');
    await ship(asked, '6');
    expect((await room.keeper.call(stores.listTransfers, { query: { limit: 1 } })).rows[0]?.number).toBe(asked.number);
  });

  it('is taken back from its way, lies where it lay and is reserved again; and can ship once more', async () => {
    const itemId = await room.newItem('CRADLE');
    await room.receive(itemId, '5', '2.00', undefined, 2);
    const shipped = await ship(await ask(itemId, '5'), '5');
    const back = (version: number) => ({ params: { id: shipped.id }, body: { version } });
    const taken = await room.keeper.call(stores.takeTransferBack, back(shipped.version));
    expect(taken).toMatchObject({ state: 'requested', lines: [{ quantity: '5', reserved: '5', shipped: '0' }] });
    const places = await room.keeper.call(stores.places, { params: { id: itemId } });
    expect(places.map((place) => [place.binId, place.state, place.quantity])).toEqual([[2, 'available', '5']]);
    const again = await ship(taken, '5');
    const twice = await room.keeper.call(stores.takeTransferBack, back(again.version));
    expect(twice.state).toBe('requested');
    const once = await ship(twice, '5');
    const lines = [{ lineId: once.lines[0]?.id ?? 0, quantity: '2' }];
    const part = await room.keeper.call(stores.receiveTransfer, { params: { id: once.id }, body: { version: once.version, note: '', lines } });
    expect(await room.keeper.refused(stores.takeTransferBack, back(part.version))).toMatchObject({ code: 'wrongState' });
  });
});

describe('a lot on the way', () => {
  it('that is blocked or will be too old when it arrives is nothing to count on; the plan buys anew at once, until it is freed', async () => {
    const { manager, keeper } = room;
    const itemId = await room.newItem('PASTE', { tracking: 'lot', restLifeDays: '10' });
    const receipt = await room.receive(itemId, '5', '2.00', [{ lot: 'P1', expiry: '2027-04-30' }]);
    expect(receipt).toBeGreaterThan(0);
    const rule = { warehouseId: 2, source: 'buy' as const, leadDays: 0, safety: '0', minimum: '0', multiple: '0', slackDays: 0 };
    await manager.call(api.planning.setRule, { params: { id: itemId }, body: rule });
    const asked = await keeper.call(stores.requestTransfer, {
      body: { fromId: 1, toId: 2, shipDate: TODAY, dueDate: '2027-03-10', carrier: '', note: '', lines: [{ itemId, quantity: '5' }] },
    });
    await ship(asked, '5');
    await manager.call(selling.createOrder, {
      body: { customerId: 1, warehouseId: 2, requiredDate: '2027-03-15', confirm: true, lines: [{ itemId, quantity: '5' }] },
    });
    const seen = async (): Promise<unknown[]> => {
      const { expectedIn } = await keeper.call(stores.availability, { query: { item: itemId, warehouse: 2 } });
      const listed = (await keeper.call(stores.explore, { query: { warehouse: 2, find: 'PASTE' } })).rows[0]?.expectedIn;
      const { rows: orders } = await manager.call(selling.listOrders, { query: { limit: 1 } });
      await room.company.terrace.planner.settled();
      const { rows } = await manager.call(api.planning.listSuggestions, { query: { find: 'PASTE' } });
      return [expectedIn, listed, orders[0]?.promiseDate, rows.map(({ quantity }) => quantity)];
    };
    const counted = ['5', '5', '2027-03-15', []];
    const spoilt = ['0', '0', null, ['5']];
    expect(await seen()).toEqual(counted);
    const [lot] = (await keeper.call(stores.listLots, { query: { item: itemId, gone: 'true' } })).rows;
    const of = async (id = lot?.id ?? 0): Promise<{ params: { id: number }; version: number }> => ({
      params: { id },
      version: (await keeper.call(stores.getLot, { params: { id } })).version,
    });
    const { params, version } = await of();
    await manager.call(stores.blockLot, { params, body: { version, reason: 'smells' } });
    expect(await seen()).toEqual(spoilt);
    await manager.call(stores.freeLot, { params, body: { version: (await of()).version, reason: 'was the box' } });
    expect(await seen()).toEqual(counted);
    // Ten days of life must be left on the day on which it arrives.
    const dated = async (expiry: string): Promise<unknown> =>
      manager.call(stores.changeLot, { params, body: { version: (await of()).version, expiry, madeOn: null, supplierLot: '', note: '' } });
    await dated('2027-03-19');
    expect(await seen()).toEqual(spoilt);
    await dated('2027-03-30');
    expect(await seen()).toEqual(counted);
  });
});

describe('a reservation', () => {
  it('is released by a storekeeper who has to book what broke; sales is told', async () => {
    const itemId = await room.newItem('VASE');
    await room.receive(itemId, '3', '2.00');
    const order = await room.confirmed(itemId, '3');
    expect(await room.keeper.refused(stores.adjust, room.take(itemId, '-1'))).toMatchObject({ code: 'heldByOthers' });
    const [held] = await room.keeper.call(stores.holders, { params: { id: itemId } });
    await room.keeper.call(stores.release, { params: { id: held?.id ?? 0 } });
    await room.keeper.call(stores.adjust, room.take(itemId, '-1'));
    const sales = await room.company.as('sales');
    const { number } = await room.manager.call(selling.getOrder, { params: { id: order } });
    const told = (await sales.call(platform.notices)).rows.map((each) => each.text);
    expect(told).toContain(`storekeeper released 3 VASE held for ${number}`);
    const viewer = await room.company.as('viewer');
    expect(await viewer.refused(stores.release, { params: { id: held?.id ?? 0 } })).toMatchObject({ code: 'notAllowed' });
  });
});
