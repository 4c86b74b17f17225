/** Moving between bins and warehouses, tracing and scanning, as people at the stores do it. */
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { api, epcisDocument } from '@terrace/contract';
import { TODAY } from './testing/company';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

let company: StoreRoom['company'];
let keeper: StoreRoom['keeper'];
let manager: StoreRoom['manager'];
let newItem: StoreRoom['newItem'];
let receive: StoreRoom['receive'];
let worthOf: StoreRoom['worthOf'];
let confirmed: StoreRoom['confirmed'];

const { stores, catalogue, dispatch, production } = api;

beforeAll(async () => {
  ({ company, keeper, manager, newItem, receive, worthOf, confirmed } = await openStoreRoom());
});
afterAll(() => company.close());
beforeEach(() => company.sound());

describe('moving between places', () => {
  it('moves between bins, and between states for a reason; what is reserved stays', async () => {
    const id = await newItem('BINPART');
    await receive(id, '10', '2.00');
    const line = { itemId: id, binId: 1, toBinId: 2, quantity: '4' };
    const move = await keeper.call(stores.relocate, { body: { lines: [line] } });
    const states = async (): Promise<string[]> =>
      (await keeper.call(stores.places, { params: { id } })).map((place) => `${place.bin} ${place.state} ${place.quantity}`);
    expect(await states()).toEqual(['A-01 available 6', 'DOCK available 4']);
    await confirmed(id, '8');
    const hold = { itemId: id, binId: 1, toState: 'held' as const, quantity: '3' };
    expect((await keeper.refused(stores.relocate, { body: { lines: [hold] } })).code).toBe('reasonNeeded');
    const held = await keeper.refused(stores.relocate, { body: { reason: 'scratched', lines: [hold] } });
    expect([held.code, held.detail]).toEqual(['heldByOthers', expect.stringContaining('CO-')]);
    await keeper.call(stores.relocate, { body: { reason: 'scratched', lines: [{ ...hold, quantity: '2' }] } });
    expect(await states()).toEqual(['A-01 available 4', 'A-01 held 2', 'DOCK available 4']);
    await keeper.call(stores.reverseRelocation, { params: { id: move.id } });
    expect(await states()).toEqual(['A-01 available 8', 'A-01 held 2']);
    expect((await keeper.refused(stores.relocate, { body: { lines: [{ ...line, toBinId: 3 }] } })).code).toBe('otherWarehouse');
  });

  it('transfers: requested and reserved, in transit and still ours, received in part, the rest given up', async () => {
    const id = await newItem('GOPART');
    await receive(id, '10', '3.00');
    const transfer = await keeper.call(stores.requestTransfer, {
      body: { fromId: 1, toId: 2, shipDate: TODAY, dueDate: '2027-03-03', lines: [{ itemId: id, quantity: '8' }] },
    });
    expect(transfer.lines[0]).toMatchObject({ reserved: '8' });
    const here = await keeper.call(stores.availability, { query: { item: id, warehouse: 1 } });
    expect([here.onHand, here.free, here.expectedOut]).toEqual(['10', '2', '8']);
    const shipped = await keeper.call(stores.shipTransfer, { params: { id: transfer.id }, body: { version: transfer.version } });
    company.sound();
    const there = await keeper.call(stores.availability, { query: { item: id, warehouse: 2 } });
    expect([there.onHand, there.free, there.expectedIn]).toEqual(['0', '0', '8']);
    expect((await manager.call(stores.worth, { query: { by: 'item', find: 'GOPART', warehouse: 2 } })).value).toBe('24.00');
    const lineId = shipped.lines[0]?.id ?? 0;
    const more = await keeper.refused(stores.receiveTransfer, {
      params: { id: transfer.id },
      body: { version: shipped.version, lines: [{ lineId, quantity: '9' }] },
    });
    expect(more.code).toBe('tooMuch');
    const part = await keeper.call(stores.receiveTransfer, {
      params: { id: transfer.id },
      body: { version: shipped.version, lines: [{ lineId, quantity: '5' }] },
    });
    expect(part).toMatchObject({ state: 'partReceived', inTransit: '3' });
    const done = await keeper.call(stores.receiveTransfer, {
      params: { id: transfer.id },
      body: { version: part.version, lines: [{ lineId, quantity: '2' }], reason: 'BREAKAGE', note: 'box was open' },
    });
    expect(done).toMatchObject({ state: 'received', inTransit: '0', lines: [{ received: '7', lost: '1' }] });
    expect(await worthOf('GOPART')).toBe('27.00');
    expect((await keeper.refused(stores.cancelTransfer, { params: { id: transfer.id }, body: { version: done.version } })).code).toBe('wrongState');
  });

  it('keeps lots and serial numbers on the way', async () => {
    const id = await newItem('GOSERIAL', { tracking: 'serial' });
    await receive(id, '3', '9.00', [{ serials: 'G-1..G-3' }]);
    const transfer = await keeper.call(stores.requestTransfer, {
      body: { fromId: 1, toId: 2, shipDate: TODAY, dueDate: TODAY, lines: [{ itemId: id, quantity: '2' }] },
    });
    const lineId = transfer.lines[0]?.id ?? 0;
    const shipped = await keeper.call(stores.shipTransfer, {
      params: { id: transfer.id },
      body: { version: transfer.version, lines: [{ lineId, quantity: '2', pieces: [{ serials: 'G-1 G-3' }] }] },
    });
    expect(shipped.lines[0]?.pieces.map((piece) => piece.serial)).toEqual(['G-1', 'G-3']);
    const received = { version: shipped.version, lines: [{ lineId, quantity: '1', pieces: [{ serials: 'G-2' }] }] };
    expect((await keeper.refused(stores.receiveTransfer, { params: { id: transfer.id }, body: received })).code).toBe('notOnTheWay');
    await keeper.call(stores.receiveTransfer, {
      params: { id: transfer.id },
      body: { version: shipped.version, lines: [{ lineId, quantity: '1', pieces: [{ serials: 'G-3' }] }] },
    });
    const places = await keeper.call(stores.places, { params: { id } });
    expect(places.map((place) => [place.serial, place.warehouse, place.state])).toEqual([
      ['G-2', 'WORKS', 'available'],
      ['G-1', 'DEPOT', 'inTransit'],
      ['G-3', 'DEPOT', 'available'],
    ]);
  });
});

describe('tracing', () => {
  it('follows a lot through production to the customer, as picture, list and events', async () => {
    const raw = await newItem('RAW', { tracking: 'lot', barcodes: [{ barcode: '2000000000121' }] });
    const made = await newItem('MADE', { tracking: 'serial' });
    await manager.call(catalogue.setBom, {
      params: { id: made },
      body: { lines: [{ componentId: raw, quantity: '2', scrap: '0', offsetDays: 0, validFrom: null, validTo: null }] },
    });
    await receive(raw, '10', '1.00', [{ lot: 'R-77' }]);
    const order = await manager.call(production.createProduction, { body: { itemId: made, warehouseId: 1, quantity: '2', dueDate: TODAY } });
    const released = await manager.call(production.releaseProduction, { params: { id: order.id }, body: { version: order.version } });
    const finish = { params: { id: order.id }, body: { version: released.version, quantity: '2', binId: 1, pieces: [{ serials: 'H-1 H-2' }] } };
    await manager.call(production.finishProduction, finish);
    const orderId = await confirmed(made, '1');
    const shipment = await manager.call(dispatch.createShipment, { body: { orderId } });
    const named = await manager.call(dispatch.changeShipment, {
      params: { id: shipment.id },
      body: {
        version: shipment.version,
        carrier: '',
        lines: [{ orderLineId: shipment.lines[0]?.orderLineId ?? 0, quantity: '1', pieces: [{ serials: 'H-2' }] }],
      },
    });
    await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: named.version } });

    const lot = (await keeper.call(stores.listLots, { query: { item: raw } })).rows[0]?.id ?? 0;
    const trace = await keeper.call(stores.trace, { params: { kind: 'lot', id: lot } });
    expect(trace.nodes.map((node) => `${node.level} ${node.title}`).sort()).toEqual([
      '-1 Ironbeck Metalworks',
      '0 RAW R-77',
      '1 MADE H-1',
      '1 MADE H-2',
      '2 Hollin Lane Farm Shop',
    ]);
    const list = await keeper.call(stores.traceList, { params: { kind: 'lot', id: lot } });
    expect(list.rows.map((row) => [row.direction, row.party, row.piece, row.quantity])).toEqual([
      ['to', 'Hollin Lane Farm Shop', 'H-2', '1'],
      ['here', 'WORKS A-01', 'H-1', '1'],
      ['here', 'WORKS A-01', 'R-77', '6'],
      ['from', 'Ironbeck Metalworks', 'R-77', '10'],
    ]);
    const events = epcisDocument.parse(await keeper.call(stores.traceEvents, { params: { kind: 'lot', id: lot } }));
    expect(events.epcisBody.eventList.map((event) => [event.type, event.bizStep])).toEqual([
      ['ObjectEvent', 'receiving'],
      ['TransformationEvent', 'transforming'],
      ['ObjectEvent', 'shipping'],
    ]);
    expect(JSON.stringify(events)).toContain('https://id.gs1.org/01/02000000000121/10/R-77');
    const serial = await keeper.call(stores.listSerials, { query: { find: 'H-2' } });
    const page = await keeper.call(stores.getSerial, { params: { id: serial.rows[0]?.id ?? 0 } });
    expect(page.components).toEqual([expect.objectContaining({ item: 'RAW', lot: 'R-77', quantity: '4' })]);
  });
});

describe('the list for a recall', () => {
  it('has what was made of a lot and is still here, though nothing tells its pieces apart', async () => {
    const raw = await newItem('TALLOW', { tracking: 'lot' });
    const made = await newItem('CANDLE');
    await manager.call(catalogue.setBom, {
      params: { id: made },
      body: { lines: [{ componentId: raw, quantity: '2', scrap: '0', offsetDays: 0, validFrom: null, validTo: null }] },
    });
    await receive(raw, '10', '1.00', [{ lot: 'T-9' }]);
    const order = await manager.call(production.createProduction, { body: { itemId: made, warehouseId: 1, quantity: '4', dueDate: TODAY } });
    const released = await manager.call(production.releaseProduction, { params: { id: order.id }, body: { version: order.version } });
    await manager.call(production.finishProduction, { params: { id: order.id }, body: { version: released.version, quantity: '4' } });
    const orderId = await confirmed(made, '1');
    const shipment = await manager.call(dispatch.createShipment, { body: { orderId } });
    await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
    const lot = (await keeper.call(stores.listLots, { query: { item: raw } })).rows[0]?.id ?? 0;
    const { rows } = await keeper.call(stores.traceList, { params: { kind: 'lot', id: lot } });
    const said = (list: typeof rows): string[][] => list.map((row) => [row.direction, row.item, row.piece, row.quantity, row.certainty]);
    expect(said(rows)).toEqual([
      ['to', 'CANDLE', '', '1', 'certain'],
      ['here', 'TALLOW', 'T-9', '2', 'certain'],
      ['here', 'CANDLE', '', '3', 'certain'],
      ['from', 'TALLOW', 'T-9', '10', 'certain'],
    ]);
    // Beside others it may be any three of what is there, in whichever place they are.
    await receive(made, '5', '1.00');
    const { rows: later } = await keeper.call(stores.traceList, { params: { kind: 'lot', id: lot } });
    const here = later.filter(({ direction, item }) => direction === 'here' && item === 'CANDLE');
    expect(new Set(here.map(({ quantity, certainty }) => `${quantity} ${certainty}`))).toEqual(new Set(['3 likely']));
    expect(here.length).toBeGreaterThan(0);
  });
});

describe('looking and scanning', () => {
  it('sums what comes and goes, and says how many could be built', async () => {
    const frame = company.id('item', 'FRAME');
    const when = await keeper.call(stores.when, { params: { id: frame }, query: { length: 'week' } });
    expect(when.periods[0]).toMatchObject({ from: TODAY, closing: when.available });
    const { quantity, bottlenecks } = await keeper.call(stores.howMany, { params: { id: frame }, query: { warehouse: 1 } });
    expect([quantity, bottlenecks]).toEqual(['5', ['BAR']]);
  });

  it('reads plain barcodes, element strings and bins', async () => {
    const scan = (text: string) => keeper.call(stores.scan, { query: { text } });
    expect(await scan('2000000000017')).toMatchObject({ item: { code: 'FRAME' }, lot: null });
    expect(await scan('(01)02000000000121(10)R-77')).toMatchObject({ item: { code: 'RAW' }, lot: 'R-77', lotId: expect.any(Number) as number });
    expect(await scan('BIN:WORKS:A-01')).toMatchObject({ binId: 1, bin: 'WORKS A-01' });
    expect(await scan('H-2')).toMatchObject({ item: { code: 'MADE' }, serial: 'H-2' });
    expect((await keeper.refused(stores.scan, { query: { text: '(01)02000000000124' } })).code).toBe('badScan');
    expect((await keeper.refused(stores.scan, { query: { text: '9999999' } })).code).toBe('unknownCode');
    const found = await keeper.call(api.platform.find, { query: { text: '(01)02000000000121(10)R-77' } });
    expect(found.slice(0, 2).map((each) => [each.kind, each.title])).toEqual([
      ['lot', 'R-77'],
      ['item', 'RAW'],
    ]);
  });
});
