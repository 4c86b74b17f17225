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
