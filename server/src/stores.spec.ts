/** Costs, lots and serial numbers, as people at the stores use them. */
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { TODAY, somebody } from './testing/company';
import { openStoreRoom, type Pieces, type StoreRoom } from './testing/store-room';

let company: StoreRoom['company'];
let keeper: StoreRoom['keeper'];
let manager: StoreRoom['manager'];
let newItem: StoreRoom['newItem'];
let sentOrder: StoreRoom['sentOrder'];
let receive: StoreRoom['receive'];
let take: StoreRoom['take'];
let worthOf: StoreRoom['worthOf'];
let confirmed: StoreRoom['confirmed'];

const { stores, buying, catalogue, dispatch, selling, accounts } = api;

beforeAll(async () => {
  ({ company, keeper, manager, newItem, sentOrder, receive, take, worthOf, confirmed } = await openStoreRoom());
});
afterAll(() => company.close());
beforeEach(() => company.sound());

describe('costs', () => {
  it('by FIFO take the oldest layer; a late cost is split between what is here and what has gone', async () => {
    const id = await newItem('FIFOPART', { costing: 'fifo' });
    const first = await receive(id, '10', '4.00');
    await receive(id, '10', '6.00');
    await keeper.call(stores.adjust, take(id, '-4'));
    expect(await worthOf('FIFOPART')).toBe('84.00');
    const [cost] = await manager.call(stores.addLateCost, {
      params: { id: first },
      body: { what: 'landedCost', amount: '5.00', note: 'freight' },
    });
    expect(cost).toMatchObject({ amount: '5.00', inStock: '3.00', gone: '2.00' });
    await keeper.call(stores.adjust, take(id, '-6'));
    expect(await worthOf('FIFOPART')).toBe('60.00');
    company.sound();
    await manager.call(stores.reverseLateCost, { params: { id: cost?.id ?? 0 } });
    expect(await worthOf('FIFOPART')).toBe('60.00');
    expect((await manager.refused(stores.reverseLateCost, { params: { id: cost?.id ?? 0 } })).code).toBe('alreadyReversed');
  });

  it('by FIFO, a receipt that is taken back takes its own layer with it', async () => {
    const id = await newItem('FIFOBACK', { costing: 'fifo' });
    await receive(id, '5', '1.00');
    const second = await receive(id, '5', '3.00');
    await manager.call(buying.reverseReceipt, { params: { id: second } });
    expect(await worthOf('FIFOBACK')).toBe('5.00');
  });

  it('by standard keep what a receipt cost more as a difference; a new standard revalues what is there', async () => {
    const id = await newItem('STDPART', { costing: 'standard', standardCost: '4.20' });
    const receipt = await receive(id, '10', '5.00');
    expect(await worthOf('STDPART')).toBe('42.00');
    await manager.call(stores.addLateCost, { params: { id: receipt }, body: { what: 'invoiceDifference', amount: '1.00' } as never });
    expect(await worthOf('STDPART')).toBe('42.00');
    expect(await manager.call(stores.setStandardCost, { params: { id }, body: { unitCost: '4.50', seen: '4.20' } })).toMatchObject({
      change: '3.00',
    });
    expect(await worthOf('STDPART')).toBe('45.00');
    expect((await manager.refused(stores.setStandardCost, { params: { id }, body: { unitCost: '4.60', seen: '4.20' } })).code).toBe('staleVersion');
    const item = await manager.call(catalogue.getItem, { params: { id } });
    expect(item.locks?.['standardCost'] ?? '').toContain('standard');
    await manager.call(buying.reverseReceipt, { params: { id: receipt } });
    expect(await worthOf('STDPART')).toBeUndefined();
  });

  it('are known for any past day, and nothing is posted into closed books', async () => {
    const id = await newItem('PASTPART');
    await keeper.call(stores.adjust, {
      body: { warehouseId: 1, date: '2027-02-10', reason: 'OPENING', lines: [{ itemId: id, binId: 1, change: '10', unitCost: '3.00' }] },
    });
    await keeper.call(stores.adjust, take(id, '-4', undefined, { date: '2027-02-20' }));
    expect(await worthOf('PASTPART', '2027-02-09')).toBeUndefined();
    expect(await worthOf('PASTPART', '2027-02-10')).toBe('30.00');
    expect(await worthOf('PASTPART', '2027-02-20')).toBe('18.00');
    // Six are left since the 20th: seven can't have gone on the 15th, six can.
    expect((await keeper.refused(stores.adjust, take(id, '-7', undefined, { date: '2027-02-15' }))).code).toBe('notEnoughThen');
    expect((await keeper.refused(stores.adjust, take(id, '-1', undefined, { date: '2027-02-05' }))).code).toBe('notEnoughThen');
    expect((await keeper.refused(accounts.closeBooks, { body: { through: '2027-02-15' } })).code).toBe('notAllowed');
    await manager.call(accounts.closeBooks, { body: { through: '2027-02-15' } });
    const refusal = await keeper.refused(stores.adjust, take(id, '-1', undefined, { date: '2027-02-15' }));
    expect([refusal.code, refusal.detail]).toEqual(['closedPeriod', expect.stringContaining('closed through 2027-02-15')]);
    await keeper.call(stores.adjust, take(id, '-1', undefined, { date: '2027-02-16' }));
    expect((await manager.refused(accounts.closeBooks, { body: { through: '2027-02-01' } })).code).toBe('badDate');
  });
});

describe('lots', () => {
  let wax: number;
  beforeAll(async () => {
    wax = await newItem('WAXLOT', { tracking: 'lot', restLifeDays: '30' });
    await manager.call(stores.setTrackingRule, {
      params: { id: wax },
      body: { expiryNeeded: true, madeOnNeeded: false, useLifeDays: 5, warnDays: 40, serialPattern: '', warrantyMonths: 0, version: 0 },
    });
  });

  it('must be named, with what the item’s rule asks for', async () => {
    const order = await sentOrder(wax, '10', '2.00');
    const body = (pieces?: Pieces) => ({
      params: { id: order.id },
      body: { version: order.version, binId: 1, lines: [{ lineId: order.lines[0]?.id, quantity: '10', pieces }] },
    });
    const before = company.everything();
    expect((await manager.refused(buying.receive, body())).code).toBe('lotNeeded');
    expect((await manager.refused(buying.receive, body([{ lot: 'W1' }]))).code).toBe('expiryNeeded');
    expect((await manager.refused(buying.receive, body([{ lot: 'W1', expiry: '2027-05-01', quantity: '4' }]))).code).toBe('lotSum');
    expect(company.everything()).toBe(before);
    await manager.call(
      buying.receive,
      body([
        { lot: 'W1', expiry: '2027-05-01', quantity: '4' },
        { lot: 'W2', expiry: '2027-04-10', quantity: '6' },
      ]) as never,
    );
    const again = await sentOrder(wax, '1', '2.00');
    const other = await manager.refused(buying.receive, {
      params: { id: again.id },
      body: {
        version: again.version,
        binId: 1,
        lines: [{ lineId: again.lines[0]?.id, quantity: '1', pieces: [{ lot: 'W1', expiry: '2027-06-01' }] }],
      },
    });
    expect(other.code).toBe('otherLot');
  });

  it('show their remaining life on any day with any minimum', async () => {
    const short = async (asOf: string, life: number): Promise<string[]> =>
      (await keeper.call(stores.listLots, { query: { item: wax, asOf, life } })).rows.filter((row) => row.shortDated).map((row) => row.lot);
    expect(await short('2027-03-01', 30)).toEqual([]);
    expect(await short('2027-03-01', 41)).toEqual(['W2']);
    expect(await short('2027-04-05', 30)).toEqual(['W2', 'W1']);
    const { rows } = await keeper.call(stores.listLots, { query: { item: wax } });
    expect(rows.map((row) => [row.lot, row.onHand, row.remaining, row.shortFrom])).toEqual([
      ['W2', '6', 40, '2027-03-12'],
      ['W1', '4', 61, '2027-04-02'],
    ]);
  });

  it('count in a promise while they last, and leave first-expiring first', async () => {
    const now = await keeper.call(stores.availability, { query: { item: wax, warehouse: 1, quantity: '10' } });
    // One more is on order, due today.
    expect(now.promise.steps.slice(0, 3)).toEqual([
      { date: TODAY, quantity: '11' },
      { date: '2027-03-12', quantity: '5' },
      { date: '2027-04-02', quantity: '1' },
    ]);
    const strip = await keeper.call(stores.strip, { query: { item: wax, warehouse: 1 } });
    // What is too old before anybody takes it goes out to nobody: the list and the strip say the same.
    const listed = (await keeper.call(stores.explore, { query: { warehouse: 1, find: strip.item.code } })).rows[0];
    expect([strip.expectedIn, strip.expectedOut]).toEqual([listed?.expectedIn, listed?.expectedOut]);
    expect(Number(strip.expiring)).toBeGreaterThan(0);
    expect(strip.events.filter((event) => event.firm && event.kind === 'demand').map((event) => [event.date, event.document, event.balance])).toEqual(
      [
        ['2027-03-12', 'lot W2 short-dated', '5'],
        ['2027-04-02', 'lot W1 short-dated', '1'],
      ],
    );
    const orderId = await confirmed(wax, '7');
    const shipment = await manager.call(dispatch.createShipment, { body: { orderId } });
    expect(shipment.lines[0]?.proposed.map((piece) => piece.lot)).toEqual(['W2', 'W1']);
    const left = await keeper.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
    expect(left.lines[0]?.picked.map((piece) => [piece.lot, piece.quantity])).toEqual([
      ['W2', '6'],
      ['W1', '1'],
    ]);
  });

  it('are warned of once, ahead of their expiry', async () => {
    const { warnOfExpiry } = await import('./stores');
    await receive(wax, '2', '2.00', [{ lot: 'W3', expiry: '2027-04-05' }]);
    const warn = () => company.terrace.commands.perform(somebody('administrator'), (work) => warnOfExpiry(work));
    expect([warn(), warn()]).toEqual([1, 0]);
    const notices = await keeper.call(api.platform.notices, {});
    expect(notices.rows.some((notice) => notice.text.includes('lot W3: expires on 2027-04-05'))).toBe(true);
  });

  it('are blocked everywhere at once; what is promised of them is released', async () => {
    await receive(wax, '5', '2.00', [{ lot: 'W4', expiry: '2027-09-01' }]);
    const orderId = await confirmed(wax, '8');
    const { rows } = await keeper.call(stores.listLots, { query: { item: wax, find: 'W4' } });
    const lot = await keeper.call(stores.getLot, { params: { id: rows[0]?.id ?? 0 } });
    const blocked = await keeper.call(stores.blockLot, { params: { id: lot.id }, body: { version: lot.version, reason: 'smells burnt' } });
    expect(blocked.places.map((place) => [place.state, place.quantity])).toEqual([['held', '5']]);
    expect(blocked.released).toHaveLength(1);
    const order = await manager.call(selling.getOrder, { params: { id: orderId } });
    expect(order.lines[0]?.reserved).toBe('5');
    // More of it that comes in later is held, too.
    await receive(wax, '3', '2.00', [{ lot: 'W4' }]);
    expect((await keeper.call(stores.getLot, { params: { id: lot.id } })).places).toEqual([
      { warehouse: 'WORKS', bin: 'A-01', state: 'held', quantity: '8' },
    ]);
    company.sound();
    const freed = await keeper.call(stores.freeLot, { params: { id: lot.id }, body: { version: blocked.version, reason: 'tested, good' } });
    expect(freed.places[0]?.state).toBe('available');
  });

  it('that are short-dated are never taken, not even by name', async () => {
    const old = await newItem('OLDLOT', { tracking: 'lot', restLifeDays: '30' });
    await receive(old, '5', '2.00', [{ lot: 'O1', expiry: '2027-03-20' }]);
    const { free, promise } = await keeper.call(stores.availability, { query: { item: old, warehouse: 1, quantity: '1' } });
    expect([free, promise.date]).toEqual(['0', null]);
    const orderId = await confirmed(old, '2');
    const order = await manager.call(selling.getOrder, { params: { id: orderId } });
    const lines = [{ orderLineId: order.lines[0]?.id ?? 0, quantity: '2' }];
    const shipment = await manager.call(dispatch.createShipment, { body: { orderId, lines } });
    expect(shipment.lines[0]?.proposed).toEqual([]);
    expect((await keeper.refused(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } })).code).toBe('shortDated');
    const named = { version: shipment.version, carrier: '', lines: [{ ...lines[0], pieces: [{ lot: 'O1' }] }] };
    expect((await keeper.refused(dispatch.changeShipment, { params: { id: shipment.id }, body: named })).code).toBe('shortDated');
  });
});

describe('serial numbers', () => {
  let motor: number;
  beforeAll(async () => {
    motor = await newItem('MOTOR', { tracking: 'serial' });
    await manager.call(stores.setTrackingRule, {
      params: { id: motor },
      body: {
        expiryNeeded: false,
        madeOnNeeded: false,
        useLifeDays: 0,
        warnDays: 0,
        serialPattern: 'MX{YY}-{n:3}{c}',
        warrantyMonths: 24,
        version: 0,
      },
    });
  });

  it('are as many as pieces, and each in one place only', async () => {
    const order = await sentOrder(motor, '3', '50.00');
    const body = (serials?: string) => ({
      params: { id: order.id },
      body: {
        version: order.version,
        binId: 1,
        lines: [{ lineId: order.lines[0]?.id, quantity: '3', ...(serials ? { pieces: [{ serials }] } : {}) }],
      },
    });
    const few = await manager.refused(buying.receive, body('M-1 M-2'));
    expect([few.code, few.detail]).toEqual(['serialCount', expect.stringContaining('there are 2, 1 too few')]);
    await manager.call(buying.receive, body('M-1..M-3') as never);
    expect((await keeper.refused(stores.adjust, take(motor, '1', [{ serials: 'M-2' }]))).code).toBe('serialThere');
    expect((await keeper.refused(stores.adjust, take(motor, '-1'))).code).toBe('serialCount');
    expect((await keeper.refused(stores.adjust, take(motor, '-1', [{ serials: 'M-9' }]))).code).toBe('notEnough');
    const { serials } = await keeper.call(stores.nextSerials, { params: { id: motor }, query: { count: 2 } });
    expect(serials.map((serial) => serial.slice(0, 8))).toEqual(['MX27-001', 'MX27-002']);
  });

  it('leave with their names, start their warranty, and can come back', async () => {
    const orderId = await confirmed(motor, '1');
    const shipment = await manager.call(dispatch.createShipment, { body: { orderId } });
    const call = { params: { id: shipment.id }, body: { version: shipment.version } };
    expect((await keeper.refused(dispatch.ship, call)).code).toBe('serialNeeded');
    const changed = await keeper.call(dispatch.changeShipment, {
      params: { id: shipment.id },
      body: {
        version: shipment.version,
        carrier: '',
        lines: [{ orderLineId: shipment.lines[0]?.orderLineId ?? 0, quantity: '1', pieces: [{ serials: 'M-2' }] }],
      },
    });
    await keeper.call(dispatch.ship, { params: { id: shipment.id }, body: { version: changed.version } });
    const { rows } = await keeper.call(stores.listSerials, { query: { find: 'M-2' } });
    const page = await keeper.call(stores.getSerial, { params: { id: rows[0]?.id ?? 0 } });
    expect(page).toMatchObject({
      place: null,
      state: 'shipped',
      customer: 'Hollin Lane Farm Shop',
      shippedOn: TODAY,
      warrantyUntil: '2029-02-28',
      cost: '50.00',
    });
    expect(page.moves.map((move) => move.documentKind)).toEqual(['receipt', 'shipment']);
    await keeper.call(stores.adjust, take(motor, '1', [{ serials: 'M-2' }], { note: 'came back' }));
    expect((await keeper.call(stores.getSerial, { params: { id: page.id } })).place).toBe('WORKS A-01');
  });

  it('race: of two people who take the same number, one gets it', async () => {
    const results = await Promise.all(
      [1, 2].map(async () => {
        try {
          await keeper.call(stores.adjust, take(motor, '-1', [{ serials: 'M-3' }]));
          return 'taken';
        } catch {
          return 'refused';
        }
      }),
    );
    expect(results.sort()).toEqual(['refused', 'taken']);
  });
});
