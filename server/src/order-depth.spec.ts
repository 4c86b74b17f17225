/** What an order says beyond items and prices: free pieces, where each line goes, terms, their numbers, what a supplier ships. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type BodyIn, type OrderView } from '@terrace/contract';
import { paperOf } from './papers';
import { openCompany, somebody, type Client, type Company } from './testing/company';

const { accounts, catalogue, dispatch, planning, selling, setup, stores } = api;
let company: Company;
let manager: Client;

beforeEach(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterEach(async () => {
  company.sound();
  await company.close();
});

type Body = NonNullable<BodyIn<typeof selling.createOrder>>;
const item = (code: string): number => company.id('item', code);
const body = (line: Partial<Body['lines'][number]>, more: Partial<Body> = {}): Body => ({
  customerId: 1,
  warehouseId: 1,
  requiredDate: '2027-03-12',
  lines: [{ itemId: item('SMOKER'), quantity: '5', ...line }],
  ...more,
});
const enter = (line: Partial<Body['lines'][number]>, more: Partial<Body> = {}): Promise<OrderView> =>
  manager.call(selling.createOrder, { body: { confirm: true, ...body(line, more) } });
const view = (id: number): Promise<OrderView> => manager.call(selling.getOrder, { params: { id } });
async function ship(orderId: number, quantity?: string): Promise<void> {
  const lineId = (await view(orderId)).lines[0]?.id ?? 0;
  const lines = quantity === undefined ? {} : { lines: [{ orderLineId: lineId, quantity }] };
  const made = await manager.call(dispatch.createShipment, { body: { orderId, ...lines } });
  const picked = await manager.call(dispatch.startPicking, { params: { id: made.id }, body: { version: made.version } });
  await manager.call(dispatch.ship, { params: { id: made.id }, body: { version: picked.version } });
}
const invoice = (id: number) => manager.call(selling.invoiceOrder, { params: { id }, body: {} });

describe('pieces free of charge', () => {
  it('go with the others and cost nothing, whatever is invoiced when, or taken back', async () => {
    const { id, net } = await enter({ quantity: '6', free: '1', price: '10' });
    expect(net).toBe('50.00');
    await ship(id, '4');
    const first = await invoice(id);
    expect([first.net, first.lines[0]?.free]).toEqual(['40.00', '0']);
    await ship(id);
    const second = await invoice(id);
    expect([second.net, second.lines[0]?.quantity, second.lines[0]?.free]).toEqual(['10.00', '2', '1']);
    // The first is taken back and written again: it has no free piece, as before.
    await manager.call(accounts.reverseInvoice, { params: { id: first.id }, body: { version: first.version } });
    const again = await invoice(id);
    expect([again.net, again.lines[0]?.free]).toEqual(['40.00', '0']);
    expect((await view(id)).state).toBe('invoiced');
  });

  it('are some of what is ordered, in the pieces of its unit, and what was charged stays so', async () => {
    expect((await manager.refused(selling.createOrder, { body: body({ free: '6' }) })).errors?.[0]).toMatchObject({ field: 'lines.0.free' });
    expect((await manager.refused(selling.createOrder, { body: body({ free: '0.5' }) })).code).toBe('tooFine');
    const order = await enter({ quantity: '6', price: '10' });
    await ship(order.id, '5');
    await invoice(order.id);
    const { version, lines } = await view(order.id);
    const changed = { ...body({ id: lines[0]?.id, quantity: '6', free: '3', price: '10' }), version };
    expect((await manager.refused(selling.changeOrder, { params: { id: order.id }, body: changed })).code).toBe('alreadyInvoiced');
    const one = { ...body({ id: lines[0]?.id, quantity: '6', free: '1', price: '10' }), version };
    expect((await manager.call(selling.changeOrder, { params: { id: order.id }, body: one })).net).toBe('50.00');
  });
});

describe('an order', () => {
  it('keeps the terms that were agreed, whatever becomes of the customer’s', async () => {
    const administrator = await company.as('administrator');
    await administrator.call(catalogue.savePaymentTerm, {
      body: { code: 'N60', name: 'In sixty days', days: 60, fromMonthEnd: false, discountDays: 0, discount: '0', active: true },
    });
    const [own, agreed] = [await enter({ quantity: '1' }), await enter({ quantity: '1' }, { paymentTerm: 'N60' })];
    const { openOrders: _, owes: __, id, ...customer } = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
    await manager.call(catalogue.changeCustomer, { params: { id }, body: { ...customer, paymentDays: 3 } });
    for (const order of [own, agreed]) await ship(order.id);
    expect((await invoice(own.id)).dueDate).toBe('2027-03-15');
    expect((await invoice(agreed.id)).dueDate).toBe('2027-04-30');
    expect((await manager.refused(selling.createOrder, { body: body({}, { paymentTerm: 'N90' }) })).errors?.[0]?.field).toBe('paymentTerm');
  });

  it('has somebody who sells it: who entered it, or whom they name', async () => {
    const order = await enter({});
    expect(order.salesPerson).toBe('manager');
    const sales = somebody('sales').id;
    const { version, lines } = order;
    const changed = { ...body({ id: lines[0]?.id }, { salesPersonId: sales }), version };
    expect((await manager.call(selling.changeOrder, { params: { id: order.id }, body: changed })).salesPerson).toBe('sales');
    expect((await manager.refused(selling.createOrder, { body: body({}, { salesPersonId: 999 }) })).code).toBe('unknownChoice');
  });

  it('goes where it was ordered to, and lines that go another way are a shipment of their own', async () => {
    const { id } = await enter(
      {},
      { shipTo: 'Yard 2, Fennmoor', lines: [...body({}).lines, { itemId: item('FRAME'), quantity: '1', carrier: 'Fen Parcels' }] },
    );
    const made = await manager.call(dispatch.createShipment, { body: { orderId: id } });
    expect(made).toMatchObject({ address: 'Yard 2, Fennmoor', carrier: '' });
    expect(made.lines.map(({ code }) => code)).toEqual(['SMOKER']);
    const [one, two] = (await view(id)).lines;
    const both = [one, two].map((line) => ({ orderLineId: line?.id ?? 0, quantity: '1' }));
    await manager.call(dispatch.cancelShipment, { params: { id: made.id }, body: { version: made.version } });
    expect((await manager.refused(dispatch.createShipment, { body: { orderId: id, lines: both } })).code).toBe('otherWay');
    const paper = paperOf(company.terrace.commands.look(somebody('manager')), 'customerOrder', id);
    expect(paper.facts).toContainEqual(['Goes to', 'Yard 2, Fennmoor']);
  });

  it('goes as a whole where that was agreed', async () => {
    const { id } = await enter({ quantity: '14' }, { complete: true });
    expect((await manager.refused(dispatch.createShipment, { body: { orderId: id } })).code).toBe('shipsComplete');
    const whole = await enter({ itemId: item('FRAME'), quantity: '1' }, { complete: true });
    await ship(whole.id);
    expect((await view(whole.id)).state).toBe('shipped');
  });

  it('has lines that the supplier ships: nothing is reserved, planned or shipped for them here, and they are listed as needs', async () => {
    const { id, lines, ready } = await enter({ quantity: '4', direct: true });
    expect([lines[0]?.covered, lines[0]?.reserved, ready]).toEqual(['the supplier ships it', '0', 'nothing']);
    expect((await manager.call(stores.availability, { query: { item: item('SMOKER'), warehouse: 1 } })).free).toBe('10');
    expect((await manager.refused(dispatch.createShipment, { body: { orderId: id } })).code).toBe('nothingToShip');
    const forced = { orderId: id, lines: [{ orderLineId: lines[0]?.id ?? 0, quantity: '1' }] };
    expect((await manager.refused(dispatch.createShipment, { body: forced })).code).toBe('shippedDirect');
    const [need] = await manager.call(selling.shippedDirect);
    expect(need).toMatchObject({ orderId: id, code: 'SMOKER', quantity: '4', shipTo: 'Hollin Lane 4' });
    const { rows } = await manager.call(planning.listSuggestions, { query: {} });
    expect(rows.filter(({ code }) => code === 'SMOKER')).toEqual([]);
    // Taken back here, it is reserved like any other.
    const { version } = await view(id);
    const here = { ...body({ id: lines[0]?.id, quantity: '4' }), version };
    expect((await manager.call(selling.changeOrder, { params: { id }, body: here })).lines[0]).toMatchObject({ reserved: '4', direct: false });
    expect(await manager.call(selling.shippedDirect)).toEqual([]);
  });
});

describe('a customer', () => {
  it('calls items by their own numbers: found by them, printed with them, each meaning one', async () => {
    const keep = (itemId: number, theirCode: string) => ({ params: { id: 1 }, body: { itemId, theirCode } });
    await manager.call(catalogue.keepCustomerItem, keep(item('SMOKER'), 'HL-77'));
    expect(await manager.refused(catalogue.keepCustomerItem, keep(item('FRAME'), 'hl-77'))).toMatchObject({ code: 'codeTaken' });
    const find = async (customer?: number) =>
      (await manager.call(catalogue.findItems, { query: { text: 'hl-77', customer } })).map(({ code }) => code);
    expect([await find(), await find(1), await find(99)]).toEqual([[], ['SMOKER'], []]);
    const order = await enter({ note: 'in the small box' });
    expect(order.lines[0]?.theirCode).toBe('HL-77');
    const { table } = paperOf(company.terrace.commands.look(somebody('manager')), 'customerOrder', order.id);
    expect(table.rows[0]?.[1]).toMatch(/your number HL-77\nin the small box$/);
    const left = await manager.call(catalogue.dropCustomerItem, { params: { id: 1, item: item('SMOKER') } });
    expect(left).toEqual([]);
    expect((await manager.refused(catalogue.dropCustomerItem, { params: { id: 1, item: item('SMOKER') } })).code).toBe('notFound');
  });

  it('has what they ordered before beside, each item as it was ordered last', async () => {
    await enter({ quantity: '2', price: '11' });
    const latest = await enter({ quantity: '3', price: '12', discount: '2' });
    await enter({ itemId: item('FRAME'), quantity: '1' });
    const before = await manager.call(selling.boughtBefore, { params: { id: 1 } });
    expect(before.map(({ code }) => code)).toEqual(['FRAME', 'SMOKER']);
    expect(before[1]).toMatchObject({ quantity: '3', price: '12.00', discount: '2', number: latest.number });
    expect((await manager.refused(selling.boughtBefore, { params: { id: 99 } })).code).toBe('notFound');
  });
});

describe('house rules', () => {
  it('name the reasons to divide by, and no other', async () => {
    const { version, ...rules } = await manager.call(setup.houseRules);
    const administrator = await company.as('administrator');
    expect((await administrator.refused(setup.saveHouseRules, { body: { ...rules, divideBy: ['moon'], version } })).code).toBe('badInput');
  });
});
