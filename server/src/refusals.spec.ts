import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type AnyRoute, type OrderView } from '@terrace/contract';
import { TODAY, openCompany, type Client, type Company } from './testing/company';

let company: Company;
let manager: Client;
let draft: OrderView;

const { selling, buying, dispatch, stores, catalogue, planning } = api;

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
  draft = await manager.call(selling.createOrder, { body: orderOf('SMOKER', '2') });
});
afterAll(() => company.close());

function orderOf(item: string, quantity: string, more: Record<string, unknown> = {}) {
  return { customerId: 1, warehouseId: 1, requiredDate: '2027-03-12', lines: [{ itemId: company.id('item', item), quantity }], ...more };
}

/** Refused with this code, said at this field, and nothing has changed. */
async function refuses(route: AnyRoute, call: Record<string, unknown>, code: string, field?: string): Promise<void> {
  const before = company.everything();
  const problem = await manager.refused(route, call);
  expect(problem.code, problem.detail).toBe(code);
  expect(problem.detail.length).toBeGreaterThan(10);
  if (field !== undefined) expect(problem.errors?.map((each) => each.field)).toContain(field);
  expect(company.everything()).toBe(before);
}

describe('bad input is refused, said where it belongs, and changes nothing', () => {
  it.each([
    ['finer than its unit', '1.5', 'tooFine'],
    ['negative', '-3', 'notPositive'],
    ['nothing', '0', 'notPositive'],
    ['text', 'a dozen', 'notANumber'],
    ['enormous', '9999999999999', 'tooLarge'],
    ['with an exponent', '1e9', 'notANumber'],
  ])('a quantity that is %s', (_, quantity, code) => refuses(selling.createOrder, { body: orderOf('SMOKER', quantity) }, code, 'lines.0.quantity'));

  it.each([
    ['impossible', '2027-02-30', 'badInput'],
    ['past', '2027-02-26', 'badDate'],
    ['text', 'soon', 'badInput'],
    ['far beyond', '9999-01-01', 'badInput'],
  ])('a date that is %s', (_, requiredDate, code) =>
    refuses(selling.createOrder, { body: orderOf('SMOKER', '1', { requiredDate }) }, code, 'requiredDate'),
  );

  it('a line without an item, said in words of where it is', async () => {
    const lines = [
      { itemId: company.id('item', 'SMOKER'), quantity: '1' },
      { itemId: 0, quantity: '1' },
    ];
    const problem = await manager.refused(selling.createOrder, { body: { ...orderOf('SMOKER', '1'), customerId: 0, lines } });
    expect(problem.detail).toMatch(/Customer: .*Line 2, item: Choose an item\./);
    expect(problem.errors?.map((each) => each.field)).toEqual(['customerId', 'lines.1.itemId']);
  });

  it('an unknown item, an inactive item, an unknown customer, no line', async () => {
    await refuses(
      selling.createOrder,
      { body: { ...orderOf('SMOKER', '1'), lines: [{ itemId: 9999, quantity: '1' }] } },
      'unknownItem',
      'lines.0.itemId',
    );
    const strips = await manager.call(catalogue.getItem, { params: { id: company.id('item', 'STRIPS') } });
    await manager.call(catalogue.changeItem, {
      params: { id: strips.id },
      body: { code: strips.code, description: strips.description, group: strips.group, unit: strips.unit, version: strips.version, active: false },
    });
    await refuses(selling.createOrder, { body: orderOf('STRIPS', '1') }, 'inactiveItem', 'lines.0.itemId');
    await refuses(selling.createOrder, { body: orderOf('SMOKER', '1', { customerId: 77 }) }, 'notFound', 'customerId');
    await refuses(selling.createOrder, { body: orderOf('SMOKER', '1', { lines: [] }) }, 'badInput', 'lines');
    await refuses(
      selling.createOrder,
      { body: { ...orderOf('SMOKER', '1'), lines: [{ itemId: company.id('item', 'SMOKER'), quantity: '1', discount: '101' }] } },
      'badShare',
      'lines.0.discount',
    );
  });

  it('a stale version: the second writer hears who changed what', async () => {
    const body = { ...orderOf('SMOKER', '3'), reference: 'first', version: draft.version };
    await manager.call(selling.changeOrder, { params: { id: draft.id }, body });
    const problem = await manager.refused(selling.changeOrder, { params: { id: draft.id }, body: { ...body, reference: 'second' } });
    expect(problem).toMatchObject({
      status: 409,
      code: 'staleVersion',
      details: { who: 'manager', seen: draft.version, current: draft.version + 1 },
    });
    expect(problem.detail).toContain('manager changed it meanwhile');
    expect((await manager.call(selling.getOrder, { params: { id: draft.id } })).reference).toBe('first');
  });

  it('a right that is missing, on the server', async () => {
    const viewer = await company.as('viewer');
    for (const [route, call] of [
      [selling.createOrder, { body: orderOf('SMOKER', '1') }],
      [planning.runPlan, {}],
      [stores.adjust, { body: {} }],
      [catalogue.createSupplier, { body: {} }],
    ] as const) {
      expect(await viewer.refused(route, call)).toMatchObject({ status: 403, code: 'notAllowed' });
    }
    const sales = await company.as('sales');
    expect(await sales.refused(buying.approvePurchase, { params: { id: 1 }, body: { version: 1 } })).toMatchObject({ code: 'notAllowed' });
  });

  it('shipping more than there is, and a closed document', async () => {
    const order = await manager.call(selling.createOrder, { body: { ...orderOf('SMOKER', '40'), confirm: true } });
    expect(order.lines[0]?.reserved).toBe('10');
    await refuses(
      dispatch.createShipment,
      { body: { orderId: order.id, lines: [{ orderLineId: order.lines[0]?.id, quantity: '41' }] } },
      'tooMuch',
      'lines.0.quantity',
    );
    const shipment = await manager.call(dispatch.createShipment, {
      body: { orderId: order.id, lines: [{ orderLineId: order.lines[0]?.id ?? 0, quantity: '11' }] },
    });
    await refuses(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } }, 'notEnough', 'lines.0.quantity');
    await manager.call(dispatch.cancelShipment, { params: { id: shipment.id }, body: { version: shipment.version } });
    await refuses(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version + 1 } }, 'wrongState');
    const cancelled = await manager.call(selling.cancelOrder, { params: { id: order.id }, body: { version: order.version, reason: 'too many' } });
    await refuses(selling.changeOrder, { params: { id: order.id }, body: { ...orderOf('SMOKER', '1'), version: cancelled.version } }, 'wrongState');
    await refuses(selling.confirmOrder, { params: { id: order.id }, body: { version: cancelled.version } }, 'wrongState');
  });

  it('receiving before it is sent, and more than ordered beyond tolerance', async () => {
    let order = await manager.call(buying.createPurchase, {
      body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: company.id('item', 'BAR'), quantity: '100', dueDate: '2027-03-09' }] },
    });
    const receive = (quantity: string) => ({
      params: { id: order.id },
      body: { version: order.version, lines: [{ lineId: order.lines[0]?.id ?? 0, quantity }] },
    });
    await refuses(buying.receive, receive('1'), 'wrongState');
    order = await manager.call(buying.approvePurchase, { params: { id: order.id }, body: { version: order.version } });
    order = await manager.call(buying.sendPurchase, { params: { id: order.id }, body: { version: order.version } });
    await refuses(buying.receive, receive('106'), 'tooMuch', 'lines.0.quantity');
    await refuses(buying.receive, { ...receive('1'), body: { ...receive('1').body, date: '2027-03-02' } }, 'badDate', 'date');
    order = await manager.call(buying.receive, receive('105'));
    expect(order.state).toBe('received');
  });

  it('adjusting below what is reserved, naming who holds it; once released it goes', async () => {
    const order = await manager.call(selling.createOrder, { body: { ...orderOf('FRAME', '5'), confirm: true } });
    const adjust = {
      body: { warehouseId: 1, reason: 'BREAKAGE', note: 'dropped', lines: [{ itemId: company.id('item', 'FRAME'), binId: 1, newQuantity: '2' }] },
    };
    const before = company.everything();
    const problem = await manager.refused(stores.adjust, adjust);
    expect(problem).toMatchObject({ code: 'heldByOthers', details: { takeable: '1', holders: [{ document: order.number, quantity: '5' }] } });
    expect(company.everything()).toBe(before);
    await refuses(stores.adjust, { body: { ...adjust.body, note: '' } }, 'noteNeeded', 'note');
    const [held] = await manager.call(stores.holders, { params: { id: company.id('item', 'FRAME') } });
    await manager.call(stores.release, { params: { id: held?.id ?? 0 } });
    await manager.call(stores.adjust, adjust);
    company.sound();
  });

  it('a bill of materials that leads back to itself, naming the path', async () => {
    const line = { componentId: company.id('item', 'FRAME'), quantity: '1' };
    const before = company.everything();
    const problem = await manager.refused(catalogue.setBom, { params: { id: company.id('item', 'BAR') }, body: { lines: [line] } });
    expect(problem.detail).toContain('BAR → FRAME → BAR');
    expect(company.everything()).toBe(before);
  });

  it('a file that is not what it says', async () => {
    const attach = (name: string, content: string) =>
      manager.agent.post(`/api/records/customerOrder/${draft.id}/files`).attach('file', Buffer.from(content), name);
    for (const [name, content] of [
      ['order.pdf', 'MZ this is no PDF'],
      ['photo.png', '<html>'],
      ['tool.exe', '%PDF-1.7'],
    ] as const) {
      const answer = await attach(name, content);
      expect([answer.status, (answer.body as { code?: string }).code ?? (JSON.parse(answer.text) as { code: string }).code]).toEqual([
        422,
        'notWhatItSays',
      ]);
    }
    expect((await attach('order.pdf', '%PDF-1.7 a small one')).status).toBe(200);
    const files = await manager.agent.get(`/api/records/customerOrder/${draft.id}/files`);
    expect(files.body).toMatchObject([{ name: 'order.pdf', type: 'application/pdf' }]);
    const [file] = files.body as { id: number }[];
    expect((await manager.agent.get(`/api/files/${file?.id ?? 0}`)).headers['content-disposition']).toContain('attachment');
  });

  it('HTML and SQL in text fields are text', async () => {
    const nasty = `<script>alert(1)</script>'); drop table item; --`;
    const order = await manager.call(selling.createOrder, { body: orderOf('SMOKER', '1', { reference: nasty, note: nasty }) });
    expect(order).toMatchObject({ reference: nasty, note: nasty });
    const { rows } = await manager.call(selling.listOrders, { query: { find: "drop table %' _" } });
    expect(rows).toEqual([]);
    expect((await manager.call(selling.listOrders, { query: { find: '<script>' } })).rows).toMatchObject([
      { number: order.number, reference: nasty },
    ]);
    expect(await manager.call(catalogue.findItems, { query: { text: "'; drop table item; --" } })).toEqual([]);
  });

  it('a customer who pays in a currency that has no rate', async () => {
    const administrator = await company.as('administrator');
    await administrator.call(catalogue.saveCurrency, { body: { code: 'USD', name: 'US dollar' } });
    const { id } = await administrator.call(catalogue.createCustomer, { body: { code: 'FAR', name: 'Far Away Honey', currency: 'USD' } });
    await refuses(selling.createOrder, { body: orderOf('SMOKER', '1', { customerId: id }) }, 'noRate', 'customerId');
    const own = await manager.call(selling.createOrder, { body: orderOf('SMOKER', '1') });
    await refuses(
      selling.changeOrder,
      { params: { id: own.id }, body: { ...orderOf('SMOKER', '1', { customerId: id }), version: own.version } },
      'noRate',
      'customerId',
    );
    await manager.call(selling.confirmOrder, { params: { id: own.id }, body: { version: own.version } });
  });

  it('a payment that is older than its invoice', async () => {
    const order = await manager.call(selling.createOrder, { body: orderOf('BAR', '1', { confirm: true }) });
    const shipment = await manager.call(dispatch.createShipment, { body: { orderId: order.id } });
    await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
    const invoice = await manager.call(selling.invoiceOrder, { params: { id: order.id }, body: {} });
    const pay = (date: string) => ({ params: { id: invoice.id }, body: { amount: '0.10', method: 'cash' as const, date } });
    await refuses(api.accounts.payInvoice, pay('2001-03-01'), 'badDate', 'date');
    await manager.call(api.accounts.payInvoice, pay(TODAY));
  });

  it.each([
    ['serial', 'SPELT-S', { serials: 'ab-1 AB-1' }, { serials: 'ab-1 ab-2' }, { serials: 'AB-2 AB-3' }],
    ['lot', 'SPELT-L', null, { lot: 'wx-1' }, { lot: 'WX-1' }],
  ] as const)('a %s number that differs from another in capitals only', async (tracking, code, within, first, second) => {
    const { id } = await manager.call(catalogue.createItem, {
      body: { code, description: code, group: 'ALL', unit: 'each', sellPrice: '1', tracking },
    });
    const adjust = (piece: object) => ({
      body: { warehouseId: 1, reason: 'BREAKAGE', note: 'found', lines: [{ itemId: id, binId: 1, change: '2', cost: '1', pieces: [piece] }] },
    });
    if (within) await refuses(stores.adjust, adjust(within), 'serialTwice');
    await manager.call(stores.adjust, adjust(first));
    await refuses(stores.adjust, adjust(second), 'otherSpelling');
    company.sound();
  });
});
