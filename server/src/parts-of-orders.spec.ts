/** Parts of an order come to the order, to the cent, however it is shipped, invoiced, taken back and divided. */
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type InvoiceView, type OrderView } from '@terrace/contract';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { accounts, catalogue, dispatch, selling } = api;
let room: StoreRoom;
let pail = 0;

beforeEach(async () => {
  room = await openStoreRoom();
  pail = await room.newItem('PAIL');
  await room.receive(pail, '1000', '0.10');
});
afterEach(async () => {
  room.company.sound();
  await room.company.close();
});

const read = (id: number): Promise<OrderView> => room.manager.call(selling.getOrder, { params: { id } });
const ordered = (quantity: string, price: string, discount: string): Promise<OrderView> =>
  room.manager.call(selling.createOrder, {
    body: {
      customerId: 1,
      warehouseId: 1,
      requiredDate: '2027-03-05',
      confirm: true,
      beyondCredit: true,
      lines: [{ itemId: pail, quantity, price, discount, discountReason: 'agreed' }],
    },
  });
async function ship(orderId: number, quantity: string): Promise<{ id: number; version: number }> {
  const { lines } = await read(orderId);
  const made = await room.manager.call(dispatch.createShipment, {
    body: { orderId, lines: [{ orderLineId: lines[0]?.id ?? 0, quantity }] },
  });
  return room.manager.call(dispatch.ship, { params: { id: made.id }, body: { version: made.version } });
}
const invoice = (id: number, shipmentId: number): Promise<InvoiceView> =>
  room.manager.call(selling.invoiceOrder, { params: { id }, body: { shipmentId } });
const takeBack = ({ id, version }: { id: number; version: number }): Promise<unknown> =>
  room.manager.call(accounts.reverseInvoice, { params: { id }, body: { version } });
const cents = (text: string): number => Math.round(Number(text) * 100);
const sums = (some: readonly { net: string; total: string }[]): number[] => [
  some.reduce((sum, each) => sum + cents(each.net), 0),
  some.reduce((sum, each) => sum + cents(each.total), 0),
];

describe('invoices of parts of an order', () => {
  it('of 3 at 0.335 singly are 1.01 in all, also where one is taken back and made again', async () => {
    const order = await ordered('3', '0.335', '0');
    expect(order.net).toBe('1.01');
    const shipments = [await ship(order.id, '1'), await ship(order.id, '1'), await ship(order.id, '1')];
    const made: InvoiceView[] = [];
    for (const each of shipments) made.push(await invoice(order.id, each.id));
    expect(made.map(({ net }) => net)).toEqual(['0.34', '0.33', '0.34']);
    expect(sums(made)).toEqual(sums([order]));
    const [first, , last] = made;
    if (!first || !last) throw new Error('three were made');
    await takeBack(last);
    await takeBack(first);
    const again = [made[1], await invoice(order.id, shipments[2]?.id ?? 0), await invoice(order.id, shipments[0]?.id ?? 0)] as InvoiceView[];
    expect(sums(again)).toEqual(sums([order]));
  });

  it('come to the order in whatever order its parts are divided, shipped, invoiced and taken back', async () => {
    const step = fc.record({ divide: fc.boolean(), again: fc.boolean(), which: fc.nat(9), quantity: fc.integer({ min: 1, max: 4 }) });
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 3, max: 9 }),
        fc.integer({ min: 1, max: 999 }),
        fc.constantFrom('0', '12.5', '33.33'),
        fc.array(step, { minLength: 3, maxLength: 5 }),
        async (quantity, price, discount, steps) => {
          const order = await ordered(String(quantity), (price / 1000).toFixed(3), discount);
          const family = [order.id];
          const standing: { orderId: number; shipmentId: number; invoice: InvoiceView }[] = [];
          for (const each of steps) {
            const orderId = family[each.which % family.length] ?? order.id;
            const { lines, version } = await read(orderId);
            const open = Number(lines[0]?.outstanding ?? 0);
            const lineId = lines[0]?.id ?? 0;
            if (each.divide && open > 1) {
              const part = (n: number) => ({ warehouseId: null, shipTo: '', carrier: '', lines: [{ lineId, quantity: String(n) }] });
              const { orders } = await room.manager.call(selling.divideOrder, {
                params: { id: orderId },
                body: { version, parts: [part(open - 1), part(1)] },
              });
              for (const { id } of orders) if (!family.includes(id)) family.push(id);
            } else if (open > 0) {
              const { id: shipmentId } = await ship(orderId, String(Math.min(open, each.quantity)));
              standing.push({ orderId, shipmentId, invoice: await invoice(orderId, shipmentId) });
            }
            const back = standing[each.which % Math.max(1, standing.length)];
            if (!each.again || !back) continue;
            await takeBack(back.invoice);
            back.invoice = await invoice(back.orderId, back.shipmentId);
          }
          for (const orderId of family) {
            const left = (await read(orderId)).lines[0]?.outstanding ?? '0';
            if (left === '0') continue;
            const { id: shipmentId } = await ship(orderId, left);
            standing.push({ orderId, shipmentId, invoice: await invoice(orderId, shipmentId) });
          }
          expect(sums(standing.map((each) => each.invoice))).toEqual(sums([order]));
        },
      ),
      { numRuns: 8 },
    );
  });
});

describe('dividing an order in another currency', () => {
  it('keeps what it is worth in the books, also when its parts are joined again', async () => {
    const { manager } = room;
    const administrator = await room.company.as('administrator');
    await administrator.call(catalogue.saveCurrency, { body: { code: 'GBP', name: 'Pound', date: '2027-02-01', rate: '1.2345' } });
    const customer = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
    const { version, code, name } = customer;
    await manager.call(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, version, code, name, currency: 'GBP' } });
    const order = await ordered('7', '0.335', '12.5');
    const lineId = order.lines[0]?.id ?? 0;
    const part = (quantity: string) => ({ warehouseId: null, shipTo: '', carrier: '', lines: [{ lineId, quantity }] });
    const { orders } = await manager.call(selling.divideOrder, {
      params: { id: order.id },
      body: { version: order.version, parts: [part('3'), part('2'), part('2')] },
    });
    const parts = await Promise.all(orders.map(({ id }) => read(id)));
    expect(parts.reduce((sum, each) => sum + cents(each.booksTotal), 0)).toBe(cents(order.booksTotal));
    const [first, ...others] = parts;
    await manager.call(selling.joinOrders, {
      params: { id: first?.id ?? 0 },
      body: { version: first?.version ?? 0, others: others.map(({ id, version: seen }) => ({ id, version: seen })) },
    });
    expect((await read(order.id)).booksTotal).toBe(order.booksTotal);
  });
});
