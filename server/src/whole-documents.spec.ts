/** A document is worked out as a whole: what it takes in sum, from where, against the reservations of others. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type OrderView } from '@terrace/contract';
import { TODAY } from './testing/company';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { selling, dispatch, stores, production, catalogue } = api;
let room: StoreRoom;
beforeAll(async () => {
  room = await openStoreRoom();
});
afterAll(async () => {
  room.company.sound();
  await room.company.close();
});

let made = 0;
async function newItem(more: Record<string, unknown> = {}): Promise<number> {
  made += 1;
  return room.newItem(`THING-${made}`, more);
}
const adjust = (lines: readonly object[]) =>
  room.manager.call(stores.adjust, { body: { warehouseId: 1, reason: 'BREAKAGE', note: 'counted', lines: lines as never } });
async function confirmed(lines: readonly { itemId: number; quantity: string }[]): Promise<OrderView> {
  const order = await room.manager.call(selling.createOrder, {
    body: { customerId: 1, reference: '', warehouseId: 1, requiredDate: TODAY, note: '', custom: {}, lines: [...lines] },
  });
  return room.manager.call(selling.confirmOrder, { params: { id: order.id }, body: { version: order.version } });
}
type Pieces = { lot?: string; quantity?: string; serials?: string }[] | undefined;
/** A shipment of all that is ordered, with what is named for its lines, as it would be sent. */
async function drafted(order: OrderView, pieces: readonly Pieces[]) {
  const shipment = await room.manager.call(dispatch.createShipment, { body: { orderId: order.id } });
  const lines = order.lines.map((line, index) => {
    const named = pieces[index];
    return { orderLineId: line.id, quantity: line.quantity, ...(named ? { pieces: named } : {}) };
  });
  return { params: { id: shipment.id }, body: { version: shipment.version, carrier: '', lines } };
}
async function shipAll(order: OrderView, pieces: readonly Pieces[] = []): Promise<string> {
  const { id, version } = await room.manager.call(dispatch.changeShipment, await drafted(order, pieces));
  return (await room.manager.call(dispatch.ship, { params: { id }, body: { version } })).state;
}

describe('an item that stands in a document twice', () => {
  it('leaves with both lines of an order', async () => {
    const itemId = await newItem();
    await room.receive(itemId, '5', '2.00');
    const order = await confirmed([
      { itemId, quantity: '3' },
      { itemId, quantity: '2' },
    ]);
    expect(await shipAll(order)).toBe('shipped');
  });

  it('leaves with both lines of a transfer, and not more than nobody else holds', async () => {
    const itemId = await newItem();
    await room.receive(itemId, '6', '2.00');
    await confirmed([{ itemId, quantity: '1' }]);
    const lines = [
      { itemId, quantity: '3' },
      { itemId, quantity: '3' },
    ];
    const transfer = await room.manager.call(stores.requestTransfer, {
      body: { fromId: 1, toId: 2, shipDate: TODAY, dueDate: TODAY, carrier: '', note: '', lines },
    });
    expect(transfer.lines.map((line) => line.reserved)).toEqual(['3', '2']);
    const ship = (last: string) => ({
      params: { id: transfer.id },
      body: { version: transfer.version, lines: transfer.lines.map((line, index) => ({ lineId: line.id, quantity: index === 0 ? '3' : last })) },
    });
    expect(await room.manager.refused(stores.shipTransfer, ship('3'))).toMatchObject({ code: 'heldByOthers' });
    expect((await room.manager.call(stores.shipTransfer, ship('2'))).state).toBe('shipped');
  });

  it('is taken by both lines of a bill of materials, and short in sum', async () => {
    const [box, board] = [await newItem(), await newItem()];
    await room.manager.call(catalogue.setBom, {
      params: { id: box },
      body: { version: 1, lines: [2, 3].map((quantity) => ({ componentId: board, quantity: String(quantity), scrap: '0' })) },
    });
    await room.receive(board, '14', '2.00');
    const order = await room.manager.call(production.createProduction, { body: { itemId: box, quantity: '3', dueDate: TODAY, warehouseId: 1 } });
    const released = await room.manager.call(production.releaseProduction, { params: { id: order.id }, body: { version: order.version } });
    const finish = (quantity: string) => ({ params: { id: order.id }, body: { version: released.version, quantity } });
    expect(await room.manager.refused(production.finishProduction, finish('3'))).toMatchObject({
      code: 'componentsShort',
      details: { short: [{ wanted: '15', there: '14', short: '1' }] },
    });
    expect((await room.manager.call(production.finishProduction, finish('2'))).finished).toBe('2');
  });

  it('comes from where the other line leaves some, whatever is named for which', async () => {
    const itemId = await newItem({ tracking: 'lot', kind: 'stocked' });
    await room.receive(itemId, '4', '2.00', [{ lot: 'L1', quantity: '4' }], 1);
    await room.receive(itemId, '3', '2.00', [{ lot: 'L1', quantity: '3' }], 2);
    await room.receive(itemId, '2', '2.00', [{ lot: 'L2', quantity: '2' }], 1);
    // The first line takes what expires first unless it is named for the second.
    const order = await confirmed([
      { itemId, quantity: '2' },
      { itemId, quantity: '4' },
      { itemId, quantity: '3' },
    ]);
    const pieces = [undefined, [{ lot: 'L1', quantity: '4' }], [{ lot: 'L1', quantity: '3' }]];
    expect(await shipAll(order, pieces)).toBe('shipped');
  });

  it('leaves whatever the lines and wherever it lies, as long as there is enough in all', async () => {
    let seed = 20270301;
    const upTo = (most: number): number => {
      seed = (seed * 1103515245 + 12345) % 2147483648;
      return 1 + (seed % most);
    };
    for (let round = 0; round < 12; round += 1) {
      const itemId = await newItem({ tracking: 'lot' });
      const lots = new Map<string, number>();
      for (let part = 0; part < upTo(4); part += 1) {
        const [lot, quantity] = [`L${upTo(2)}`, upTo(5)];
        lots.set(lot, (lots.get(lot) ?? 0) + quantity);
        await room.receive(itemId, String(quantity), '2.00', [{ lot, quantity: String(quantity) }], upTo(2));
      }
      // Each lot is divided into lines, some of which name it.
      const wanted = [...lots].flatMap(([lot, all]) => {
        const first = upTo(all);
        return [first, all - first].filter((each) => each > 0).map((quantity) => ({ lot, quantity }));
      });
      const order = await confirmed(wanted.map(({ quantity }) => ({ itemId, quantity: String(quantity) })));
      const pieces = wanted.map(({ lot, quantity }, index) => ((seed + index) % 2 === 0 ? [{ lot, quantity: String(quantity) }] : undefined));
      expect(await shipAll(order, pieces), JSON.stringify({ round, wanted, pieces })).toBe('shipped');
    }
  });

  it('of a serial number is refused by its number', async () => {
    const itemId = await newItem({ tracking: 'serial' });
    await room.receive(itemId, '2', '2.00', [{ serials: 'S1 S2' }]);
    const order = await confirmed([
      { itemId, quantity: '1' },
      { itemId, quantity: '1' },
    ]);
    const shipment = await drafted(order, [[{ serials: 'S1' }], [{ serials: 'S1' }]]);
    expect(await room.manager.refused(dispatch.changeShipment, shipment)).toMatchObject({
      code: 'serialTwice',
      errors: [{ field: 'lines.1.pieces' }],
    });
  });
});

describe('a count of several bins', () => {
  it('moves what is reserved from one bin to the other, and takes none of it away', async () => {
    const itemId = await newItem();
    await room.receive(itemId, '5', '2.00', undefined, 1);
    await room.receive(itemId, '5', '2.00', undefined, 2);
    await confirmed([{ itemId, quantity: '10' }]);
    const count = (one: string, two: string) => [
      { itemId, binId: 1, newQuantity: one },
      { itemId, binId: 2, newQuantity: two },
    ];
    await adjust(count('4', '6'));
    const problem = await room.manager.refused(stores.adjust, {
      body: { warehouseId: 1, reason: 'BREAKAGE', note: 'counted', lines: count('4', '5') },
    });
    expect(problem.code).toBe('heldByOthers');
  });

  it('counts each place once', async () => {
    const itemId = await newItem();
    const lines = ['4', '6'].map((newQuantity) => ({ itemId, binId: 1, newQuantity }));
    expect(await room.manager.refused(stores.adjust, { body: { warehouseId: 1, reason: 'BREAKAGE', note: 'counted', lines } })).toMatchObject({
      code: 'countedTwice',
      errors: [{ field: 'lines.1.newQuantity' }],
    });
  });
});
