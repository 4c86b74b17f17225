import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type OrderView } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

let company: Company;
let manager: Client;
const { selling, stores, catalogue, production, dispatch, buying, platform, accounts } = api;

beforeEach(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterEach(async () => {
  company.sound();
  await company.close();
});

const item = (code: string): number => company.id('item', code);
const order = (code: string, quantity: string, more: object = {}): Promise<OrderView> =>
  manager.call(selling.createOrder, {
    body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-12', confirm: true, lines: [{ itemId: item(code), quantity }], ...more },
  });
const stockOf = async (code: string): Promise<string[]> => {
  const { rows } = await manager.call(stores.explore, { query: { find: code } });
  const [row] = rows;
  return row ? [row.onHand, row.reserved, row.free, row.expectedIn, row.expectedOut] : [];
};

describe('selling', () => {
  it('lowers a reservation with the quantity and gives it up with the line', async () => {
    const made = await order('SMOKER', '8');
    const body = {
      customerId: 1,
      warehouseId: 1,
      requiredDate: made.requiredDate,
      lines: [{ id: made.lines[0]?.id ?? 0, itemId: item('SMOKER'), quantity: '3' }],
    };
    const less = await manager.call(selling.changeOrder, { params: { id: made.id }, body: { ...body, version: made.version } });
    expect(less.lines).toMatchObject([{ reserved: '3', covered: 'all reserved' }]);
    const other = await manager.call(selling.changeOrder, {
      params: { id: made.id },
      body: { ...body, version: less.version, lines: [{ itemId: item('FRAME'), quantity: '2' }] },
    });
    expect(other.lines).toMatchObject([{ code: 'FRAME', reserved: '2' }]);
    expect(await stockOf('SMOKER')).toEqual(['10', '0', '10', '0', '0']);
  });

  it('promises the rest by what is ordered, and the next order what is left of it', async () => {
    await manager.call(buying.createPurchase, {
      body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: item('SMOKER'), quantity: '10', dueDate: '2027-03-16' }] },
    });
    const first = await order('SMOKER', '15');
    expect(first).toMatchObject({ promiseDate: '2027-03-16', ready: 'part', lines: [{ reserved: '10' }] });
    const second = await order('SMOKER', '6');
    expect(second).toMatchObject({ promiseDate: null, ready: 'nothing' });
    const list = await manager.call(selling.listOrders, { query: { filter: JSON.stringify({ late: { op: 'equals', value: 'true' } }) } });
    expect(list.rows.map((row) => row.number).sort()).toEqual([first.number, second.number]);
  });

  it('gives a cancelled order’s stock to the next one that reserves', async () => {
    const first = await order('SMOKER', '10');
    const second = await order('SMOKER', '4');
    expect(second.lines[0]?.reserved).toBe('0');
    await manager.call(selling.cancelOrder, { params: { id: first.id }, body: { version: first.version, reason: 'called off' } });
    expect(await manager.call(selling.reserveOrder, { params: { id: second.id } })).toMatchObject({ ready: 'all', lines: [{ reserved: '4' }] });
  });

  it('invoices in parts as it ships, and closes only when all of it is paid', async () => {
    const made = await order('SMOKER', '5');
    const shipPart = async (quantity: string): Promise<void> => {
      const shipment = await manager.call(dispatch.createShipment, {
        body: { orderId: made.id, lines: [{ orderLineId: made.lines[0]?.id ?? 0, quantity }] },
      });
      await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
    };
    const stateNow = async (): Promise<string> => (await manager.call(selling.getOrder, { params: { id: made.id } })).state;
    await shipPart('2');
    expect(await stateNow()).toBe('partShipped');
    const one = await manager.call(selling.invoiceOrder, { params: { id: made.id }, body: {} });
    expect(await manager.refused(selling.invoiceOrder, { params: { id: made.id }, body: {} })).toMatchObject({ code: 'nothingToInvoice' });
    await shipPart('3');
    const two = await manager.call(selling.invoiceOrder, { params: { id: made.id }, body: {} });
    expect([one.total, two.total, await stateNow()]).toEqual(['86.40', '129.60', 'invoiced']);
    await manager.call(api.accounts.payInvoice, { params: { id: one.id }, body: { amount: one.total, method: 'cash' } });
    expect(await stateNow()).toBe('invoiced');
    await manager.call(api.accounts.payInvoice, { params: { id: two.id }, body: { amount: '100', method: 'card' } });
    await manager.call(api.accounts.payInvoice, { params: { id: two.id }, body: { amount: '29.60', method: 'card' } });
    expect(await stateNow()).toBe('closed');
  });

  it('confirms nothing for a customer on hold', async () => {
    company.terrace.store.sqlite.exec('update customer set on_hold = 1');
    const draft = await order('SMOKER', '1', { confirm: false });
    expect(await manager.refused(selling.confirmOrder, { params: { id: draft.id }, body: { version: draft.version } })).toMatchObject({
      code: 'customerOnHold',
    });
  });
});

describe('stores', () => {
  it('adjusts by a change or to a new quantity, at the current cost unless told', async () => {
    const adjust = (line: object) =>
      manager.call(stores.adjust, {
        body: { warehouseId: 1, reason: 'BREAKAGE', note: 'counted again', lines: [{ itemId: item('SMOKER'), binId: 1, ...line }] },
      });
    await adjust({ newQuantity: '12' });
    await adjust({ change: '-2' });
    const { rows } = await manager.call(stores.moves, { query: { item: item('SMOKER') } });
    expect(rows.map((row) => [row.quantity, row.value, row.after])).toEqual([
      ['-2', '-35.00', '10'],
      ['2', '35.00', '12'],
      ['10', '175.00', '10'],
    ]);
    const proof = await manager.call(accounts.proof);
    expect(proof.accounts.find((each) => each.code === '5400')?.balance).toBe('0.00');
    expect(
      await manager.refused(stores.adjust, {
        body: { warehouseId: 1, reason: 'BREAKAGE', note: 'x', lines: [{ itemId: item('SMOKER'), change: '1', newQuantity: '1' }] },
      }),
    ).toMatchObject({ code: 'oneOfTwo' });
  });

  it('tells what is there, held, free and expected, and where', async () => {
    await order('SMOKER', '4');
    expect(await stockOf('SMOKER')).toEqual(['10', '4', '6', '0', '4']);
    expect(await manager.call(stores.places, { params: { id: item('SMOKER') } })).toMatchObject([
      { warehouse: 'WORKS', bin: 'A-01', quantity: '10' },
    ]);
    expect(await manager.call(stores.holders, { params: { id: item('SMOKER') } })).toMatchObject([{ document: 'CO-1001', quantity: '4' }]);
    const strip = await manager.call(stores.strip, { query: { item: item('SMOKER'), warehouse: 1 } });
    expect(strip).toMatchObject({ available: '10', free: '6', firstShort: null, events: [{ document: 'CO-1001/1', kind: 'demand', balance: '6' }] });
  });
});

describe('production', () => {
  it('reserves at release, gives back at cancelling, and refuses more than was ordered', async () => {
    const made = await manager.call(production.createProduction, {
      body: { itemId: item('FRAME'), warehouseId: 1, quantity: '3', dueDate: '2027-03-08' },
    });
    const more = await manager.call(production.changeProduction, {
      params: { id: made.id },
      body: { version: made.version, quantity: '4', dueDate: '2027-03-09', note: 'one more' },
    });
    expect(more.components.map((each) => each.needed)).toEqual(['16', '10.08']);
    const released = await manager.call(production.releaseProduction, { params: { id: made.id }, body: { version: more.version } });
    expect(await stockOf('BAR')).toEqual(['20', '16', '4', '0', '16']);
    expect(
      await manager.refused(production.finishProduction, { params: { id: made.id }, body: { version: released.version, quantity: '5' } }),
    ).toMatchObject({ code: 'tooMuch' });
    expect(
      await manager.refused(production.changeProduction, {
        params: { id: made.id },
        body: { version: released.version, quantity: '2', dueDate: '2027-03-09' },
      }),
    ).toMatchObject({ code: 'wrongState' });
    await manager.call(production.cancelProduction, { params: { id: made.id }, body: { version: released.version, reason: 'not now' } });
    expect(await stockOf('BAR')).toEqual(['20', '0', '20', '0', '0']);
  });

  it('takes a phantom’s own components, multiplied exactly', async () => {
    const admin = await company.as('administrator');
    const kit = await admin.call(catalogue.createItem, {
      body: { code: 'KIT', description: 'Fixings', kind: 'phantom', group: 'ALL', unit: 'each' },
    });
    await admin.call(catalogue.setBom, { params: { id: kit.id }, body: { lines: [{ componentId: item('WIRE'), quantity: '0.3' }] } });
    await admin.call(catalogue.setBom, { params: { id: item('FRAME') }, body: { lines: [{ componentId: kit.id, quantity: '3', scrap: '0.1' }] } });
    const made = await manager.call(production.createProduction, {
      body: { itemId: item('FRAME'), warehouseId: 1, quantity: '10', dueDate: '2027-03-08' },
    });
    expect(made.components).toMatchObject([{ code: 'WIRE', per: '0.99', needed: '9.9' }]);
    expect(
      await manager.refused(production.createProduction, { body: { itemId: item('BAR'), warehouseId: 1, quantity: '1', dueDate: '2027-03-08' } }),
    ).toMatchObject({ code: 'noBom' });
  });
});

describe('buying and dispatch', () => {
  it('asks for approval again after a change, and cancels only what has not come', async () => {
    const input = { supplierId: 1, warehouseId: 1, lines: [{ itemId: item('BAR'), quantity: '10', dueDate: '2027-03-09' }] };
    let purchase = await manager.call(buying.createPurchase, { body: input });
    purchase = await manager.call(buying.approvePurchase, { params: { id: purchase.id }, body: { version: purchase.version } });
    purchase = await manager.call(buying.changePurchase, {
      params: { id: purchase.id },
      body: { ...input, version: purchase.version, lines: [{ itemId: item('BAR'), quantity: '12', price: '0.25', dueDate: '2027-03-10' }] },
    });
    expect(purchase).toMatchObject({ state: 'draft', total: '3.00' });
    for (const route of [buying.approvePurchase, buying.sendPurchase])
      purchase = await manager.call(route, { params: { id: purchase.id }, body: { version: purchase.version } });
    purchase = await manager.call(buying.receive, {
      params: { id: purchase.id },
      body: { version: purchase.version, deliveryNote: 'D-7', lines: [{ lineId: purchase.lines[0]?.id ?? 0, quantity: '5' }] },
    });
    purchase = await manager.call(buying.cancelPurchase, { params: { id: purchase.id }, body: { version: purchase.version, reason: 'enough' } });
    expect(purchase).toMatchObject({ state: 'received', total: '1.25', lines: [{ received: '5', cancelled: '7', outstanding: '0' }] });
  });

  it('changes a shipment before it leaves, never beyond what others have on theirs', async () => {
    const made = await order('SMOKER', '6');
    const lineId = made.lines[0]?.id ?? 0;
    const first = await manager.call(dispatch.createShipment, { body: { orderId: made.id } });
    expect(await manager.refused(dispatch.createShipment, { body: { orderId: made.id } })).toMatchObject({ code: 'nothingToShip' });
    const less = await manager.call(dispatch.changeShipment, {
      params: { id: first.id },
      body: { version: first.version, carrier: 'own van', lines: [{ orderLineId: lineId, quantity: '4' }] },
    });
    expect(less).toMatchObject({ carrier: 'own van', lines: [{ quantity: '4' }] });
    const second = await manager.call(dispatch.createShipment, { body: { orderId: made.id } });
    expect(second.lines).toMatchObject([{ quantity: '2' }]);
    expect(
      await manager.refused(dispatch.changeShipment, {
        params: { id: second.id },
        body: { version: second.version, lines: [{ orderLineId: lineId, quantity: '3' }] },
      }),
    ).toMatchObject({ code: 'tooMuch' });
  });
});

describe('catalogue and notices', () => {
  it('sets up an item once, with codes and barcodes of its own', async () => {
    const body = {
      code: 'VEIL',
      description: 'Veil, black',
      group: 'ALL',
      unit: 'each',
      barcodes: [{ barcode: '2000000000024' }],
      packs: [{ code: 'case', factor: '12' }],
    };
    const veil = await manager.call(catalogue.createItem, { body });
    expect(veil).toMatchObject({ code: 'VEIL', active: true, packs: [{ code: 'case', factor: '12' }] });
    expect(await manager.refused(catalogue.createItem, { body: { ...body, code: 'veil' } })).toMatchObject({
      code: 'codeTaken',
      errors: [{ field: 'code' }],
    });
    expect(await manager.refused(catalogue.createItem, { body: { ...body, code: 'VEIL-2' } })).toMatchObject({ code: 'barcodeTaken' });
    expect(await manager.refused(catalogue.createItem, { body: { ...body, code: 'VEIL-3', barcodes: [], unit: 'stone' } })).toMatchObject({
      code: 'unknownUnit',
    });
    expect(
      await manager.refused(catalogue.createItem, { body: { ...body, code: 'VEIL-4', barcodes: [], packs: [{ code: 'half', factor: '0.5' }] } }),
    ).toMatchObject({ code: 'tooFine' });
  });

  it('marks as read what is named, and only one’s own; a muted kind is not told and not counted, but kept', async () => {
    const [sales, keeper] = [await company.as('sales'), await company.as('storekeeper')];
    const ship = async (): Promise<void> => {
      const made = await order('SMOKER', '1');
      const shipment = await manager.call(dispatch.createShipment, { body: { orderId: made.id } });
      await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
    };
    await sales.call(platform.readNotices, { body: { ids: 'all' } });
    await ship();
    await ship();
    const told = await sales.call(platform.notices);
    expect(told.unread).toBe(2);
    const [first, second] = told.rows;
    await keeper.call(platform.readNotices, { body: { ids: [first?.id ?? 0] } });
    expect((await sales.call(platform.notices)).unread).toBe(2);
    await sales.call(platform.readNotices, { body: { ids: [first?.id ?? 0] } });
    expect((await sales.call(platform.notices)).rows.slice(0, 2).map(({ id, read }) => [id, read])).toEqual([
      [first?.id, true],
      [second?.id, false],
    ]);

    await sales.call(platform.muteNotices, { body: { kinds: ['shipped'] } });
    expect(await sales.call(platform.mutedNotices)).toEqual({ kinds: ['shipped'] });
    expect((await sales.call(platform.notices)).unread).toBe(0);
    expect((await sales.call(platform.notices)).rows.some(({ kind }) => kind === 'shipped')).toBe(false);
    const all = await sales.call(platform.allNotices, { query: { limit: 500 } });
    expect(all.rows.filter(({ id }) => id === second?.id)).toMatchObject([{ kind: 'shipped', read: false, linkKind: 'shipment' }]);
    expect((await keeper.call(platform.allNotices, { query: { find: 'SH-' } })).total).toBe(0);
    await sales.call(platform.muteNotices, { body: { kinds: [] } });
    expect((await sales.call(platform.notices)).unread).toBe(1);
  });

  it('tells those concerned, once each, and not the one who did it', async () => {
    const sales = await company.as('sales');
    const made = await order('SMOKER', '1');
    const shipment = await manager.call(dispatch.createShipment, { body: { orderId: made.id } });
    await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
    expect(await sales.call(platform.notices)).toMatchObject({
      unread: 1,
      rows: [{ kind: 'shipped', text: 'SH-1001 left for CO-1001', read: false, link: { kind: 'shipment', id: 1 } }],
    });
    expect(await manager.call(platform.notices)).toEqual({ unread: 0, rows: [] });
    await sales.call(platform.readNotices, { body: { ids: 'all' } });
    expect(await sales.call(platform.notices)).toMatchObject({ unread: 0, rows: [{ read: true }] });
  });
});
