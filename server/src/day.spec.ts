import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type OrderView } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

let company: Company;
let manager: Client;

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterAll(() => company.close());

const { selling, planning, buying, production, dispatch, accounts, stores, platform, catalogue } = api;

describe('one day, from a customer’s order to the payment', () => {
  let order: OrderView;

  it('promises what is free and says what is not', async () => {
    const [warehouseId, customerId] = [company.id('warehouse', 'WORKS'), company.id('customer', 'HOLLIN')];
    const availability = await manager.call(stores.availability, {
      query: { item: company.id('item', 'FRAME'), warehouse: warehouseId, quantity: '10' },
    });
    expect(availability).toMatchObject({ onHand: '6', free: '6', promise: { date: null, quantityNow: '6' } });
    const draft = await manager.call(selling.createOrder, {
      body: {
        customerId,
        warehouseId,
        requiredDate: '2027-03-12',
        lines: [
          { itemId: company.id('item', 'SMOKER'), quantity: '3' },
          { itemId: company.id('item', 'FRAME'), quantity: '10' },
          { itemId: company.id('item', 'STRIPS'), quantity: '2', price: '0' },
        ],
      },
    });
    expect(draft).toMatchObject({ number: 'CO-1001', state: 'draft', total: '168.00' });
    order = await manager.call(selling.confirmOrder, { params: { id: draft.id }, body: { version: draft.version } });
    expect(order.lines.map((line) => line.covered)).toEqual(['all reserved', '6 of 10 reserved', 'nothing reserved']);
    expect(order).toMatchObject({ state: 'confirmed', ready: 'part', promiseDate: null });
    company.sound();
  });

  it('plans, with a reason for each suggestion and a data problem for what nobody sells', async () => {
    const plan = await manager.call(planning.runPlan);
    expect(plan).toMatchObject({ behind: false, whole: true, suggestions: 1, problems: 1, endangered: 1 });
    expect((await manager.call(planning.listProblems)).rows).toMatchObject([{ code: 'noRule', subject: 'STRIPS@WORKS' }]);
    const { rows } = await manager.call(planning.listSuggestions);
    expect(rows).toMatchObject([{ kind: 'make', code: 'FRAME', quantity: '4', level: 0 }]);
    expect((await manager.call(planning.getSuggestion, { query: { name: rows[0]?.id ?? '' } })).why).toContain('For CO-1001/2 (4).');
  });

  it('plans level by level once components are short too', async () => {
    const more = await manager.call(selling.changeOrder, {
      params: { id: order.id },
      body: {
        version: order.version,
        customerId: order.customerId,
        warehouseId: order.warehouseId,
        requiredDate: order.requiredDate,
        lines: order.lines
          .slice(0, 2)
          .map((line) => ({ id: line.id, itemId: line.itemId, quantity: line.code === 'FRAME' ? '20' : line.quantity, price: line.price })),
      },
    });
    order = more;
    const { rows } = await manager.call(planning.listSuggestions, { query: { sort: 'level' } });
    expect(rows.map(({ kind, code, quantity, level }) => `${level} ${kind} ${quantity} ${code}`)).toEqual(['0 make 14 FRAME', '1 buy 36 BAR']);
    const strip = await manager.call(stores.strip, { query: { item: company.id('item', 'FRAME'), warehouse: order.warehouseId } });
    expect(strip.events.at(-1)).toMatchObject({ balance: '-14', planned: '0' });
    expect(strip.firstShort).toBe('2027-03-12');
  });

  it('releases one purchase order per supplier and production orders, once', async () => {
    const plan = await manager.call(planning.getPlan);
    const { rows } = await manager.call(planning.listSuggestions);
    const body = { seq: plan.seq, suggestions: rows.map(({ id: name, quantity, due }) => ({ name, seen: { quantity, due } })) };
    const preview = await manager.call(planning.previewRelease, { body });
    expect(preview.documents.map((each) => [each.kind, each.number, each.total])).toEqual([
      ['productionOrder', null, '0.00'],
      ['purchaseOrder', null, '7.20'],
    ]);
    const made = await manager.call(planning.release, { body });
    expect(made.documents.map((each) => each.number)).toEqual(['PRD-1001', 'PO-1001']);
    expect((await manager.refused(planning.release, { body })).code).toBe('staleVersion');
    expect(await manager.call(planning.getPlan)).toMatchObject({ behind: false, whole: false, suggestions: 0 });
  });

  it('approves, sends and receives in part', async () => {
    let purchase = await manager.call(buying.getPurchase, { params: { id: 1 } });
    expect((await manager.refused(buying.sendPurchase, { params: { id: 1 }, body: { version: purchase.version } })).code).toBe('wrongState');
    purchase = await manager.call(buying.approvePurchase, { params: { id: 1 }, body: { version: purchase.version } });
    purchase = await manager.call(buying.sendPurchase, { params: { id: 1 }, body: { version: purchase.version } });
    const { rows } = await manager.call(platform.outbox);
    expect(rows[0]).toMatchObject({ to: 'sales@ironbeck.example', document: 'PO-1001' });
    purchase = await manager.call(buying.receive, {
      params: { id: 1 },
      body: { version: purchase.version, lines: [{ lineId: purchase.lines[0]?.id ?? 0, quantity: '30' }] },
    });
    expect(purchase).toMatchObject({ state: 'partReceived', lines: [{ received: '30', outstanding: '6' }] });
    company.sound();
  });

  it('refuses to finish without components, names them, and finishes what they allow', async () => {
    let made = await manager.call(production.getProduction, { params: { id: 1 } });
    made = await manager.call(production.releaseProduction, { params: { id: 1 }, body: { version: made.version } });
    const before = company.everything();
    const refused = await manager.refused(production.finishProduction, { params: { id: 1 }, body: { version: made.version, quantity: '14' } });
    expect(refused).toMatchObject({ code: 'componentsShort', detail: expect.stringContaining('6 each of BAR') as string });
    expect(company.everything()).toBe(before);
    made = await manager.call(production.finishProduction, { params: { id: 1 }, body: { version: made.version, quantity: '12' } });
    expect(made).toMatchObject({ state: 'running', finished: '12', cost: '10.81' });
    const purchase = await manager.call(buying.getPurchase, { params: { id: 1 } });
    await manager.call(buying.receive, {
      params: { id: 1 },
      body: { version: purchase.version, lines: [{ lineId: purchase.lines[0]?.id ?? 0, quantity: '6' }] },
    });
    made = await manager.call(production.finishProduction, { params: { id: 1 }, body: { version: made.version, quantity: '2' } });
    expect(made).toMatchObject({ state: 'finished', finished: '14', components: [{ issued: '56' }, { issued: '35.28' }] });
    company.sound();
  });

  it('ships, invoices, is paid, and closes the order', async () => {
    order = await manager.call(selling.reserveOrder, { params: { id: order.id } });
    expect(order.ready).toBe('all');
    let shipment = await manager.call(dispatch.createShipment, { body: { orderId: order.id } });
    const pdf = await manager.agent.get(`/api/papers/shipment/${shipment.id}`);
    expect([pdf.type, (pdf.body as Buffer).subarray(0, 5).toString()]).toEqual(['application/pdf', '%PDF-']);
    shipment = await manager.call(dispatch.startPicking, { params: { id: shipment.id }, body: { version: shipment.version } });
    shipment = await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
    expect((await manager.call(selling.getOrder, { params: { id: order.id } })).state).toBe('shipped');
    let invoice = await manager.call(selling.invoiceOrder, { params: { id: order.id }, body: { shipmentId: shipment.id } });
    expect(invoice).toMatchObject({ net: '172.00', tax: '34.40', total: '206.40', dueDate: '2027-03-15' });
    expect((await manager.refused(api.accounts.payInvoice, { params: { id: invoice.id }, body: { amount: '300', method: 'cash' } })).code).toBe(
      'tooMuch',
    );
    invoice = await manager.call(api.accounts.payInvoice, { params: { id: invoice.id }, body: { amount: '206.40', method: 'transfer' } });
    expect(invoice.state).toBe('paid');
    expect((await manager.call(selling.getOrder, { params: { id: order.id } })).state).toBe('closed');
    company.sound();
  });

  it('shows the trail from the order to the payment on every document, and every move of the item', async () => {
    for (const kind of ['customerOrder', 'purchaseOrder', 'productionOrder', 'shipment', 'invoice', 'payment'] as const) {
      const trail = await manager.call(platform.trail, { params: { kind, id: 1 } });
      const numbers = trail.nodes.map((node) => node.number);
      expect(numbers, kind).toEqual(expect.arrayContaining(['CO-1001', 'PRD-1001', 'PO-1001', 'SH-1001', 'INV-1001', 'PAY-1001']));
    }
    const { rows } = await manager.call(stores.moves, { query: { item: company.id('item', 'FRAME') } });
    expect(rows.map((row) => [row.quantity, row.after])).toEqual([
      ['-14', '0'],
      ['-6', '14'],
      ['2', '20'],
      ['12', '18'],
      ['6', '6'],
    ]);
    const proof = await manager.call(accounts.proof);
    expect(proof.checks.every((each) => each.holds)).toBe(true);
  });

  it('takes everything back, last first, and the ledger and journal with it', async () => {
    let shipment = await manager.call(dispatch.getShipment, { params: { id: 1 } });
    expect((await manager.refused(dispatch.reverseShipment, { params: { id: 1 }, body: { version: shipment.version } })).code).toBe('invoiced');
    let invoice = await manager.call(api.accounts.getInvoice, { params: { id: 1 } });
    expect((await manager.refused(api.accounts.reverseInvoice, { params: { id: 1 }, body: { version: invoice.version } })).code).toBe('wrongState');
    const { settled } = await manager.call(api.accounts.reversePayment, { params: { id: 1 } });
    expect(settled).toMatchObject([{ number: 'INV-1001', reversed: true }]);
    invoice = await manager.call(api.accounts.getInvoice, { params: { id: 1 } });
    invoice = await manager.call(api.accounts.reverseInvoice, { params: { id: 1 }, body: { version: invoice.version } });
    shipment = await manager.call(dispatch.reverseShipment, { params: { id: 1 }, body: { version: shipment.version } });
    expect(shipment.state).toBe('reversed');
    const back = await manager.call(selling.getOrder, { params: { id: order.id } });
    expect(back).toMatchObject({ state: 'confirmed', ready: 'all' });
    await manager.call(selling.cancelOrder, { params: { id: order.id }, body: { version: back.version, reason: 'changed their mind' } });
    await manager.call(production.reverseCompletion, { params: { id: 2 } });
    await manager.call(production.reverseCompletion, { params: { id: 1 } });
    const made = await manager.call(production.getProduction, { params: { id: 1 } });
    await manager.call(production.cancelProduction, { params: { id: 1 }, body: { version: made.version, reason: 'not wanted' } });
    await manager.call(buying.reverseReceipt, { params: { id: 2 } });
    await manager.call(buying.reverseReceipt, { params: { id: 1 } });
    expect((await manager.refused(buying.reverseReceipt, { params: { id: 1 } })).code).toBe('alreadyReversed');
    const { rows } = await manager.call(catalogue.listItems);
    expect(rows.map((row) => `${row.onHand} ${row.code}`)).toEqual(['20 BAR', '6 FRAME', '10 SMOKER', '0 STRIPS', '100 WIRE']);
    const proof = await manager.call(accounts.proof);
    expect(Object.fromEntries(proof.accounts.map((each) => [each.code, each.balance]))).toMatchObject({
      '1400': '190.20',
      '5100': '0.00',
      '1500': '0.00',
      '2100': '0.00',
      '1200': '0.00',
      '1000': '0.00',
    });
    company.sound();
  });

  it('takes orders by hand: a purchase order with prices from the terms, a production order with its start', async () => {
    const purchase = await manager.call(buying.createPurchase, {
      body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: company.id('item', 'WIRE'), quantity: '12.5', dueDate: '2027-03-09' }] },
    });
    expect(purchase).toMatchObject({ state: 'draft', total: '0.50' });
    const made = await manager.call(production.createProduction, {
      body: { itemId: company.id('item', 'FRAME'), warehouseId: 1, quantity: '2', dueDate: '2027-03-08' },
    });
    expect(made).toMatchObject({ startDate: '2027-03-04', components: [{ needed: '8' }, { needed: '5.04' }] });
    const today = await manager.call(platform.today);
    expect(today.waiting.find((each) => each.key === 'approve')).toMatchObject({
      count: 1,
      first: [{ text: purchase.number, date: purchase.lines[0]?.dueDate }],
    });
  });
});
