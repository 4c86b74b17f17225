/** Lines of an order cancelled by themselves: what was reserved is free, the order is worth less, what has shipped stays. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

const { accounts, dispatch, platform, selling, stores } = api;
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

async function order(confirm = true) {
  const line = (code: string, quantity: string) => ({ itemId: company.id('item', code), quantity });
  return manager.call(selling.createOrder, {
    body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-12', lines: [line('SMOKER', '4'), line('FRAME', '2')], confirm },
  });
}
type Order = Awaited<ReturnType<typeof order>>;
const cancelling = ({ id, version, lines }: Order, at: number, quantity?: string) => ({
  params: { id, line: lines[at]?.id ?? 0 },
  body: { version, reason: 'the customer has one', ...(quantity === undefined ? {} : { quantity }) },
});
const free = async (code: string) => (await manager.call(stores.availability, { query: { item: company.id('item', code), warehouse: 1 } })).free;

describe('a line of an order', () => {
  it('is cancelled in part or as a whole: what was reserved for it is free, and the order is worth less', async () => {
    const before = await order();
    expect([before.total, await free('SMOKER')]).toEqual(['180.48', '6']);
    const part = await manager.call(selling.cancelLine, cancelling(before, 0, '1'));
    expect(part.lines[0]).toMatchObject({ cancelled: '1', outstanding: '3', reserved: '3', amount: '108.00' });
    expect([part.total, part.state, await free('SMOKER')]).toEqual(['137.28', 'confirmed', '7']);
    const all = await manager.call(selling.cancelLine, cancelling(part, 0));
    expect(all.lines[0]).toMatchObject({ cancelled: '4', outstanding: '0', reserved: '0', covered: 'done' });
    expect([all.total, await free('SMOKER')]).toEqual(['7.68', '10']);
    const history = await manager.call(platform.history, { params: { kind: 'customerOrder', id: before.id } });
    expect(history[0]?.what).toBe(`cancelled 3 SMOKER of line 1 of ${before.number}: the customer has one`);
  });

  it('stays cancelled when the order is changed elsewhere; who says anew how much is wanted gets that', async () => {
    const made = await order();
    const part = await manager.call(selling.cancelLine, cancelling(made, 0, '1'));
    const change = (now: Order, first: string) =>
      manager.call(selling.changeOrder, {
        params: { id: now.id },
        body: {
          customerId: now.customerId,
          warehouseId: now.warehouseId,
          requiredDate: now.requiredDate,
          version: now.version,
          note: 'ring first',
          lines: now.lines.map(({ id, itemId, quantity }, at) => ({ id, itemId, quantity: at === 0 ? first : quantity })),
        },
      });
    const changed = await change(part, '4');
    expect(changed.lines[0]).toMatchObject({ quantity: '4', cancelled: '1', outstanding: '3', reserved: '3' });
    expect([changed.total, await free('SMOKER')]).toEqual([part.total, '7']);
    const anew = await change(changed, '2');
    expect(anew.lines[0]).toMatchObject({ quantity: '2', cancelled: '0', outstanding: '2', reserved: '2' });
    expect(await free('SMOKER')).toBe('8');
  });

  it('that is the last makes the order a cancelled one, or ends it where something has shipped', async () => {
    const first = await manager.call(selling.cancelLine, cancelling(await order(), 0));
    expect((await manager.call(selling.cancelLine, cancelling(first, 1))).state).toBe('cancelled');
    const second = await order();
    const shipment = await manager.call(dispatch.createShipment, {
      body: { orderId: second.id, lines: [{ orderLineId: second.lines[1]?.id ?? 0, quantity: '2' }] },
    });
    const picked = await manager.call(dispatch.startPicking, { params: { id: shipment.id }, body: { version: shipment.version } });
    await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: picked.version } });
    const shipped = await manager.call(selling.getOrder, { params: { id: second.id } });
    expect((await manager.call(selling.cancelLine, cancelling(shipped, 0))).state).toBe('shipped');
    const now = await manager.call(selling.getOrder, { params: { id: second.id } });
    expect((await manager.refused(selling.cancelLine, cancelling(now, 1))).code).toBe('wrongState');
  });

  it('is refused where it is on a shipment, more than there is, another order’s, or was changed meanwhile', async () => {
    const one = await order();
    const other = await order(false);
    expect((await manager.refused(selling.cancelLine, cancelling(one, 0, '5'))).details).toMatchObject({ most: '4', field: 'quantity' });
    expect((await manager.refused(selling.cancelLine, cancelling({ ...one, lines: other.lines }, 0))).code).toBe('unknownLine');
    await manager.call(dispatch.createShipment, { body: { orderId: one.id } });
    const now = await manager.call(selling.getOrder, { params: { id: one.id } });
    expect((await manager.refused(selling.cancelLine, cancelling(now, 0))).code).toBe('onShipment');
    await manager.call(selling.cancelLine, cancelling(other, 0, '1'));
    expect((await manager.refused(selling.cancelLine, cancelling(other, 0, '1'))).code).toBe('staleVersion');
    // A draft stays one.
    expect(await manager.call(selling.getOrder, { params: { id: other.id } })).toMatchObject({ state: 'draft', total: '137.28' });
  });
});

describe('a line that was on a document which is no more', () => {
  type Ending = (made: Order) => Promise<void>;
  const drafted = async ({ id, lines }: Order) =>
    manager.call(dispatch.createShipment, { body: { orderId: id, lines: [{ orderLineId: lines[0]?.id ?? 0, quantity: '2' }] } });
  const endings: Readonly<Record<string, Ending>> = {
    'a shipment that was cancelled': async (made) => {
      const { id, version } = await drafted(made);
      await manager.call(dispatch.cancelShipment, { params: { id }, body: { version } });
    },
    'a shipment that was taken back': async (made) => {
      const { id, version } = await drafted(made);
      const left = await manager.call(dispatch.ship, { params: { id }, body: { version } });
      await manager.call(dispatch.reverseShipment, { params: { id }, body: { version: left.version } });
    },
    'an invoice that was taken back': async (made) => {
      const { id, version } = await drafted(made);
      const left = await manager.call(dispatch.ship, { params: { id }, body: { version } });
      const invoice = await manager.call(selling.invoiceOrder, { params: { id: made.id }, body: {} });
      await manager.call(accounts.reverseInvoice, { params: { id: invoice.id }, body: { version: invoice.version } });
      await manager.call(dispatch.reverseShipment, { params: { id }, body: { version: left.version } });
    },
  };
  const now = (id: number): Promise<Order> => manager.call(selling.getOrder, { params: { id } });
  const typed = ({ customerId, warehouseId, requiredDate, version, lines }: Order) => ({
    customerId,
    warehouseId,
    requiredDate,
    version,
    lines: lines.map(({ id, itemId, quantity }) => ({ id, itemId, quantity })),
  });

  it.each(Object.keys(endings))('%s: is removed like any other, and what it was on still says so', async (which) => {
    const made = await order();
    await endings[which]?.(made);
    const { lines, ...rest } = typed(await now(made.id));
    const kept = await manager.call(selling.changeOrder, { params: { id: made.id }, body: { ...rest, lines: lines.slice(1) } });
    expect(kept.lines.map(({ code, quantity }) => [code, quantity])).toEqual([['FRAME', '2']]);
    expect([kept.total, await free('SMOKER')]).toEqual(['7.68', '10']);
    const { rows } = await manager.call(dispatch.listShipments);
    const was = await manager.call(dispatch.getShipment, { params: { id: rows[0]?.id ?? 0 } });
    expect(was.lines.map(({ code, quantity }) => [code, quantity])).toEqual([['SMOKER', '2']]);
    expect((await manager.call(selling.listOrders)).rows.find(({ id }) => id === made.id)).toMatchObject({ lines: 1 });
    expect((await manager.call(selling.boughtBefore, { params: { id: 1 } })).map(({ code }) => code)).toEqual(['FRAME']);
    // Another is put in its place, and the order goes on to its end.
    const again = await manager.call(selling.changeOrder, {
      params: { id: made.id },
      body: { ...typed(kept), lines: [...typed(kept).lines, { itemId: company.id('item', 'SMOKER'), quantity: '1' }] },
    });
    expect(again.lines.map(({ code, position }) => [code, position])).toEqual([
      ['FRAME', 1],
      ['SMOKER', 2],
    ]);
    const last = await manager.call(dispatch.createShipment, {
      body: { orderId: made.id, lines: [{ orderLineId: again.lines[1]?.id ?? 0, quantity: '1' }] },
    });
    await manager.call(dispatch.ship, { params: { id: last.id }, body: { version: last.version } });
    expect((await manager.call(selling.cancelLine, cancelling(await now(made.id), 0))).state).toBe('shipped');
  });

  it.each(Object.keys(endings))('%s: goes on by itself as a whole, and comes back', async (which) => {
    const made = await order();
    await endings[which]?.(made);
    const { version, lines, warehouseId } = await now(made.id);
    const [first, second] = lines.map(({ id, quantity }) => ({ lineId: id, quantity }));
    const part = { warehouseId, shipTo: '', carrier: '' };
    const { orders } = await manager.call(selling.divideOrder, {
      params: { id: made.id },
      body: {
        version,
        parts: [
          { ...part, lines: second ? [second] : [] },
          { ...part, lines: first ? [first] : [] },
        ],
      },
    });
    const parts = await Promise.all(orders.map(({ id }) => now(id)));
    expect(parts.map((each) => each.lines.map(({ code, quantity }) => [code, quantity]))).toEqual([[['FRAME', '2']], [['SMOKER', '4']]]);
    const others = parts.slice(1).map((each) => ({ id: each.id, version: each.version }));
    await manager.call(selling.joinOrders, { params: { id: made.id }, body: { version: parts[0]?.version ?? 0, others } });
    const joined = await now(made.id);
    expect(joined.lines.map(({ code, quantity }) => `${quantity} ${code}`).sort()).toEqual(['2 FRAME', '4 SMOKER']);
    expect(joined.total).toBe(made.total);
  });
});
