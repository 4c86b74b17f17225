/** What was agreed with a customer stays: price, tax, and what each shipment is invoiced for. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type OrderView } from '@terrace/contract';
import { TODAY } from './testing/company';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { selling, catalogue, dispatch, accounts } = api;
let room: StoreRoom;
let itemId: number;
beforeEach(async () => {
  room = await openStoreRoom();
  itemId = await room.newItem('CHAIR', { discountCeiling: '10' });
  await room.receive(itemId, '40', '2.00');
});
afterEach(async () => {
  room.company.sound();
  await room.company.close();
});

type Line = { id?: number; itemId: number; quantity: string; price?: string; discount?: string; requiredDate?: string };
const body = (lines: readonly Line[], more: Record<string, unknown> = {}) =>
  ({ customerId: 1, reference: '', warehouseId: 1, requiredDate: TODAY, note: '', custom: {}, lines: [...lines], ...more }) as never;
const enter = (lines: readonly Line[], confirm = true): Promise<OrderView> =>
  room.manager.call(selling.createOrder, { body: body(lines, { confirm }) });
const again = (order: OrderView): Line[] => order.lines.map(({ id, itemId: item, quantity }) => ({ id, itemId: item, quantity }));
const change = (order: OrderView, lines: readonly Line[], more: Record<string, unknown> = {}): Promise<OrderView> =>
  room.manager.call(selling.changeOrder, { params: { id: order.id }, body: body(lines, { version: order.version, ...more }) });
async function listAt(value: string, breaks: readonly { from: string; value: string }[] = [], currency = 'EUR'): Promise<number> {
  const list = await room.manager.call(selling.createPriceList, {
    body: { code: `L${value}`, name: 'List', currency, customerId: null, customerGroup: null, validFrom: null, validTo: null, rounding: '0.01' },
  });
  await room.manager.call(selling.addPriceEntry, {
    params: { id: list.id },
    body: { itemId, groupCode: null, way: 'amount', validFrom: null, validTo: null, breaks: [{ from: '0', value }, ...breaks] },
  });
  return list.id;
}
const priceItem = (sellPrice: string): Promise<void> => room.priceItem(itemId, sellPrice, { discountCeiling: '10' });

describe('an agreed price', () => {
  it('stays with its explanation when something else of the order is changed, although the lists have changed', async () => {
    const order = await enter([{ itemId, quantity: '3' }]);
    await priceItem('20.00');
    const after = await change(order, again(order), { note: 'leave at the gate' });
    expect([after.lines[0]?.price, after.lines[0]?.priceSteps, after.total]).toEqual([
      order.lines[0]?.price,
      order.lines[0]?.priceSteps,
      order.total,
    ]);
    // The same, said by somebody who sends every price that he sees.
    const sent = after.lines.map(({ id, quantity, price }) => ({ id, itemId, quantity, price }));
    expect((await change(after, sent, { note: 'at the door' })).lines[0]?.priceSteps).toEqual(order.lines[0]?.priceSteps);
  });

  it('follows the item, and a quantity that reaches another break; a price typed on purpose is explained as such', async () => {
    await listAt('9.00', [{ from: '10', value: '8.00' }]);
    const order = await enter([{ itemId, quantity: '3' }]);
    expect(order.lines[0]?.price).toBe('9.00');
    const more = await change(
      order,
      again(order).map((line) => ({ ...line, quantity: '5' })),
    );
    expect([more.lines[0]?.price, more.lines[0]?.priceSteps]).toEqual(['9.00', order.lines[0]?.priceSteps]);
    const many = await change(
      more,
      again(more).map((line) => ({ ...line, quantity: '12' })),
    );
    expect(many.lines[0]?.price).toBe('8.00');
    const typed = await change(
      many,
      again(many).map((line) => ({ ...line, price: '7.50' })),
    );
    expect(typed.lines[0]?.priceSteps.at(-1)).toContain('typed 7.50 instead of 8.00');
  });

  it('counts a discount against what was agreed, and not against a list that came later', async () => {
    const order = await enter([{ itemId, quantity: '3', discount: '5' }]);
    await priceItem('50.00');
    const after = await change(
      order,
      again(order).map((line) => ({ ...line, discount: '8' })),
    );
    expect([after.lines[0]?.price, after.lines[0]?.discount]).toEqual(['10.00', '8']);
    const sales = await room.company.as('sales');
    const beyond = body(
      again(after).map((line) => ({ ...line, discount: '12' })),
      { version: after.version },
    );
    expect(await sales.refused(selling.changeOrder, { params: { id: after.id }, body: beyond })).toMatchObject({ code: 'overCeiling' });
  });

  it('is shown for a line that is there, and what holds today for a new one', async () => {
    const order = await enter([{ itemId, quantity: '3' }]);
    await priceItem('20.00');
    const asked = (lineId?: number) =>
      room.manager.call(selling.explainPrice, { query: { itemId, quantity: '3', customerId: 1, ...(lineId === undefined ? {} : { lineId }) } });
    expect((await asked(order.lines[0]?.id)).price).toBe('10.00');
    expect((await asked()).price).toBe('20.00');
  });

  it('needs no rate of a list that is not used, nor of one that has lost it since', async () => {
    const order = await enter([{ itemId, quantity: '3' }]);
    const other = await room.newItem('STOOL');
    await room.manager.call(catalogue.saveCurrency, { body: { code: 'GBP', name: 'Pound', rate: '1.2', date: TODAY } });
    await listAt('7.00', [], 'GBP');
    // The list has a price for the chair only, and pounds had no rate yet on the day of the order.
    room.company.terrace.store.sqlite.exec('delete from exchange_rate');
    const after = await change(order, [...again(order), { itemId: other, quantity: '1' }]);
    expect(after.lines.map((line) => line.price)).toEqual(['10.00', '10.00']);
    expect(await room.manager.refused(selling.createOrder, { body: body([{ itemId, quantity: '1' }]) })).toMatchObject({ code: 'noRate' });
  });

  it('is asked for again as of today by an action of its own, looked at first, for the lines that are chosen', async () => {
    const order = await enter([
      { itemId, quantity: '3' },
      { itemId, quantity: '2' },
    ]);
    await priceItem('12.00');
    const preview = await room.manager.call(selling.pricesAgain, { params: { id: order.id } });
    expect(preview.lines.map(({ from, to }) => [from, to])).toEqual([
      ['10.00', '12.00'],
      ['10.00', '12.00'],
    ]);
    expect([preview.from, preview.to]).toEqual(['60.00', '72.00']);
    const chosen = [preview.lines[1]?.id ?? 0];
    const after = await room.manager.call(selling.priceAgain, { params: { id: order.id }, body: { version: order.version, lines: chosen } });
    expect([after.lines.map((line) => line.price), after.total]).toEqual([['10.00', '12.00'], '64.80']);
    const twice = { params: { id: order.id }, body: { version: after.version, lines: chosen } };
    expect(await room.manager.refused(selling.priceAgain, twice)).toMatchObject({ code: 'nothingChanges' });
  });

  it('of an item that was given up since is still an order that can be changed', async () => {
    const order = await enter([{ itemId, quantity: '3' }]);
    const { code, description, group, unit, version } = await room.manager.call(catalogue.getItem, { params: { id: itemId } });
    await room.manager.call(catalogue.changeItem, {
      params: { id: itemId },
      body: { code, description, group, unit, version, active: false, sellPrice: '10.00' },
    });
    expect((await change(order, again(order), { note: 'last ones' })).note).toBe('last ones');
  });
});

describe('a line', () => {
  it('is not wanted on a day that has passed, unless it was already', async () => {
    const late = body([{ itemId, quantity: '1', requiredDate: '2027-02-20' }]);
    expect(await room.manager.refused(selling.createOrder, { body: late })).toMatchObject({
      code: 'badDate',
      errors: [{ field: 'lines.0.requiredDate' }],
    });
  });

  it('that is cancelled has no amount any more', async () => {
    const order = await enter([{ itemId, quantity: '3' }]);
    const after = await room.manager.call(selling.cancelOrder, { params: { id: order.id }, body: { version: order.version, reason: 'gone' } });
    expect([after.lines[0]?.amount, after.net, after.total]).toEqual(['0.00', '0.00', '0.00']);
  });
});

describe('tax', () => {
  const taxed = async (rate: string): Promise<void> => {
    const admin = await room.company.as('administrator');
    await admin.call(catalogue.saveTaxCode, { body: { code: 'FULL', name: 'Full rate', rate } });
  };

  it('stays as it was when the order was entered, in the order and on its invoices', async () => {
    const { version, ...customer } = await room.manager.call(catalogue.getCustomer, { params: { id: 1 } });
    await room.manager.call(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, version, taxCode: 'FULL' } });
    const order = await enter([{ itemId, quantity: '4' }]);
    expect([order.net, order.tax]).toEqual(['40.00', '8.00']);
    await taxed('30');
    expect((await room.manager.call(selling.getOrder, { params: { id: order.id } })).tax).toBe('8.00');
    const shipment = await room.manager.call(dispatch.createShipment, { body: { orderId: order.id } });
    await room.manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
    const invoice = await room.manager.call(selling.invoiceOrder, { params: { id: order.id }, body: {} });
    expect([invoice.tax, invoice.total]).toEqual(['8.00', '48.00']);
    // A new order has the new rate.
    expect((await enter([{ itemId, quantity: '1' }])).tax).toBe('3.00');
    const kept = await room.manager.call(selling.getOrder, { params: { id: order.id } });
    expect(kept.total).toBe((await room.manager.call(accounts.getInvoice, { params: { id: invoice.id } })).total);
  });
});

describe('a shipment', () => {
  const ship = async (order: OrderView, quantity: string): Promise<number> => {
    const lines = [{ orderLineId: order.lines[0]?.id ?? 0, quantity }];
    const { id, version } = await room.manager.call(dispatch.createShipment, { body: { orderId: order.id, lines } });
    await room.manager.call(dispatch.ship, { params: { id }, body: { version } });
    return id;
  };

  it('is invoiced for its own lines; the other one stays to be invoiced, and can be taken back', async () => {
    const order = await enter([{ itemId, quantity: '5' }]);
    const [first, second] = [await ship(order, '2'), await ship(order, '3')];
    const invoice = await room.manager.call(selling.invoiceOrder, { params: { id: order.id }, body: { shipmentId: second } });
    expect([invoice.lines[0]?.quantity, invoice.net]).toEqual(['3', '30.00']);
    const invoiced = async (id: number) => (await room.manager.call(dispatch.getShipment, { params: { id } })).invoiced;
    expect([await invoiced(first), await invoiced(second)]).toEqual([false, true]);
    expect(await room.manager.refused(selling.invoiceOrder, { params: { id: order.id }, body: { shipmentId: second } })).toMatchObject({
      code: 'nothingToInvoice',
    });
    const reverse = async (id: number) => {
      const { version } = await room.manager.call(dispatch.getShipment, { params: { id } });
      return { params: { id }, body: { version } };
    };
    expect(await room.manager.refused(dispatch.reverseShipment, await reverse(second))).toMatchObject({ code: 'invoiced' });
    expect((await room.manager.call(dispatch.reverseShipment, await reverse(first))).state).toBe('reversed');
  });

  it('that is on an invoice already is not put on the next one of the order', async () => {
    const order = await enter([{ itemId, quantity: '5' }]);
    const first = await ship(order, '2');
    await room.manager.call(selling.invoiceOrder, { params: { id: order.id }, body: {} });
    await ship(order, '3');
    const rest = await room.manager.call(selling.invoiceOrder, { params: { id: order.id }, body: {} });
    expect(rest.lines[0]?.quantity).toBe('3');
    await room.manager.call(accounts.reverseInvoice, { params: { id: rest.id }, body: { version: rest.version } });
    // Taking the second invoice back leaves the first shipment invoiced.
    expect((await room.manager.call(dispatch.getShipment, { params: { id: first } })).invoiced).toBe(true);
  });
});
