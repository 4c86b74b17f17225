/** Figures of selling are what their documents come to. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, figureViews, type ListFilter, type OrderView, type SellingFigures } from '@terrace/contract';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { accounts, catalogue, counter, dispatch, returns, selling } = api;
let room: StoreRoom;

beforeEach(async () => {
  room = await openStoreRoom();
});
afterEach(async () => {
  room.company.sound();
  await room.company.close();
});

const figures = (query: object = {}): Promise<SellingFigures> => room.manager.call(selling.figures, { query });

const offered = (itemId: number, quantity: string): Promise<OrderView> =>
  room.manager.call(selling.createQuote, {
    body: {
      customerId: 1,
      warehouseId: 1,
      requiredDate: '2027-03-20',
      validUntil: '2027-03-15',
      probability: 50,
      lines: [{ itemId, quantity }],
    },
  });

describe('figures of selling', () => {
  it('say what came in, what is left of it to ship, and what is left of what was charged, by whatever is asked', async () => {
    const pail = await room.newItem('PAIL');
    await room.receive(pail, '10', '2.00');
    const open = await room.confirmed(pail, '3', '2027-03-09');
    const sale = await room.manager.call(counter.sell, {
      body: { warehouseId: 1, lines: [{ itemId: pail, quantity: '4', free: '1' }], payments: [{ method: 'card', amount: '36' }] },
    });
    const all = await figures();
    expect(all).toMatchObject({ intake: '60.00', backlog: '30.00', margin: { revenue: '30.00', cost: '8.00', margin: '22.00', share: 73.3 } });
    expect(all.weeks.filter(({ intake, backlog }) => intake !== '0.00' || backlog !== '0.00')).toEqual([
      { week: '2027-03-01', intake: '60.00', backlog: '0.00' },
      { week: '2027-03-08', intake: '0.00', backlog: '30.00' },
    ]);
    expect(all.margins).toMatchObject([{ name: 'Cash sale', revenue: '30.00', cost: '8.00' }]);
    expect((await figures({ by: 'order' })).margins).toMatchObject([{ id: sale.orderId, name: sale.order }]);
    expect((await figures({ by: 'group' })).margins).toMatchObject([{ id: 0, name: 'All' }]);
    expect((await figures({ by: 'person' })).margins).toMatchObject([{ name: 'manager' }]);

    // What comes back is neither charged nor a cost any more.
    const { pieces } = await room.manager.call(counter.findReceipt, { query: { number: sale.number } });
    await room.manager.call(counter.returnSale, {
      params: { id: sale.id },
      body: { reason: 'too many', good: true, method: 'card', lines: [{ shipmentLineId: pieces[0]?.shipmentLineId ?? 0, quantity: '2' }] },
    });
    expect((await figures()).margin).toMatchObject({ revenue: '15.00', cost: '4.00', margin: '11.00' });
    expect((await room.manager.call(accounts.proof)).checks.every(({ holds }) => holds)).toBe(true);

    // A promise that passes with nothing sent is not kept, until all of it has left.
    room.company.turnTo('2027-03-12');
    room.manager = await room.company.as('manager');
    const late = await figures();
    expect([late.promised, late.wished]).toEqual([
      { lines: 2, kept: 1 },
      { lines: 2, kept: 1 },
    ]);
    expect(late.late).toMatchObject([{ orderId: open, code: 'PAIL', wished: '2027-03-09', left: null }]);
    expect(late.backlog).toBe('30.00');
    expect(late.weeks.find(({ week }) => week === '2027-03-08')?.backlog).toBe('30.00');
  });

  it('count what came back, went away again and came back once, as the ledger does', async () => {
    const { manager } = room;
    const pail = await room.newItem('PAIL');
    await room.receive(pail, '10', '2.00');
    const orderId = await room.confirmed(pail, '4');
    const { lines } = await manager.call(selling.getOrder, { params: { id: orderId } });
    const shipment = await manager.call(dispatch.createShipment, { body: { orderId, lines: [{ orderLineId: lines[0]?.id ?? 0, quantity: '4' }] } });
    await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
    const [piece] = await manager.call(returns.returnable, { params: { id: orderId } });
    let back = await manager.call(returns.authorise, {
      body: { orderId, reason: 'dented', lines: [{ shipmentLineId: piece?.shipmentLineId ?? 0, quantity: '2' }] },
    });
    const take = async (): Promise<void> => {
      const body = { version: back.version, binId: 1, lines: [{ lineId: back.lines[0]?.id ?? 0, quantity: '2' }] };
      back = await manager.call(returns.receiveReturn, { params: { id: back.id }, body });
    };
    await take();
    expect((await figures()).margin.cost).toBe('4.00');
    back = await manager.call(returns.takeReturnBack, { params: { id: back.id }, body: { version: back.version } });
    expect((await figures()).margin.cost).toBe('8.00');
    await take();
    const ledger = (await manager.call(accounts.proof)).accounts.find(({ code }) => code === '5000');
    expect((await figures()).margin.cost).toBe(ledger?.balance);
    expect((await figures()).margin.cost).toBe('4.00');
  });

  it('count lost quotes by their reason', async () => {
    const pail = await room.newItem('PAIL');
    for (const reason of ['price', 'date', 'price'] as const) {
      const quote = await offered(pail, '1');
      await room.manager.call(selling.loseQuote, { params: { id: quote.id }, body: { version: quote.version, reason } });
    }
    expect((await figures()).lost).toEqual([
      { reason: 'price', quotes: 2, value: '20.00' },
      { reason: 'date', quotes: 1, value: '10.00' },
    ]);
  });

  it('are the sums of the lists that they open', async () => {
    const { manager } = room;
    const pail = await room.newItem('PAIL');
    const body = { customerId: 1, warehouseId: 1, requiredDate: '2027-03-20', beyondCredit: true };
    const ordered = (quantity: string, confirm: boolean) =>
      manager.call(selling.createOrder, { body: { ...body, confirm, lines: [{ itemId: pail, quantity }] } });
    await ordered('2', true);
    await ordered('5', false);
    const off = await ordered('7', true);
    await manager.call(selling.cancelOrder, { params: { id: off.id }, body: { version: off.version, reason: 'off' } });
    await ordered('3', true);
    const all = await figures();
    const sum = async (filter: ListFilter): Promise<number> =>
      (await manager.call(selling.listOrders, { query: { filter: JSON.stringify(filter) } })).rows.reduce((net, row) => net + Number(row.net), 0);
    expect(await sum(figureViews.taken(all.from, all.until))).toBe(Number(all.intake));
    expect(await sum(figureViews.toShip())).toBe(Number(all.backlog));
    expect(Number(all.intake)).toBe(50);
    expect(await sum(figureViews.taken('2027-01-01', '2027-02-28'))).toBe(0);
    const quote = await offered(pail, '4');
    await manager.call(selling.loseQuote, { params: { id: quote.id }, body: { version: quote.version, reason: 'price' } });
    const lost = await manager.call(selling.listQuotes, { query: { filter: JSON.stringify(figureViews.lost(all.from, all.until)) } });
    expect(lost.rows.map(({ number }) => number)).toEqual([quote.number]);
  });

  it('count what has left of an order no more in the backlog, order by order and week by week', async () => {
    const { manager } = room;
    const pail = await room.newItem('PAIL');
    await room.receive(pail, '10', '2.00');
    const order = await manager.call(selling.createOrder, {
      body: {
        customerId: 1,
        warehouseId: 1,
        requiredDate: '2027-03-20',
        confirm: true,
        lines: [
          { itemId: pail, quantity: '3', price: '0.335' },
          { itemId: pail, quantity: '1', free: '1' },
        ],
      },
    });
    await room.confirmed(pail, '2');
    const shipment = await manager.call(dispatch.createShipment, {
      body: { orderId: order.id, lines: [{ orderLineId: order.lines[0]?.id ?? 0, quantity: '1' }] },
    });
    const toShip = async (): Promise<string[]> =>
      (await manager.call(selling.listOrders, { query: { filter: JSON.stringify(figureViews.toShip()) } })).rows.map((row) => row.toShip).sort();
    expect(await toShip()).toEqual(['1.01', '20.00']);
    await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
    expect(await toShip()).toEqual(['0.67', '20.00']);
    const { backlog, weeks } = await figures();
    expect(backlog).toBe('20.67');
    expect(weeks.reduce((sum, week) => sum + Math.round(Number(week.backlog) * 100), 0)).toBe(2067);
  });

  it('count the rest of a quote that was ordered in part as lost, and its charges are ordered once', async () => {
    const { manager } = room;
    const administrator = await room.company.as('administrator');
    const freight = (
      await manager.call(catalogue.createItem, {
        body: { code: 'FREIGHT', description: 'Freight', group: 'ALL', unit: 'each', sellPrice: '8.00', kind: 'charge' },
      })
    ).id;
    await administrator.call(selling.addChargeRule, {
      body: { itemId: freight, carrier: '', by: 'value', active: true, steps: [{ from: '0', price: '8.00' }] },
    });
    const pail = await room.newItem('PAIL');
    let quote = await offered(pail, '10');
    expect(quote.lines.map(({ code }) => code)).toEqual(['PAIL', 'FREIGHT']);
    const charged: string[] = [];
    for (const quantity of ['3', '2']) {
      const lines = quote.lines.map(({ id, outstanding, code, ordered }) => ({
        lineId: id,
        quantity: code === 'PAIL' ? quantity : String(Number(outstanding) - Number(ordered)),
      }));
      const order = await manager.call(selling.orderFromQuote, { params: { id: quote.id }, body: { version: quote.version, lines } });
      const { requiredDate } = order;
      const kept = order.lines.map(({ id, itemId, quantity: said, price }) => ({ id, itemId, quantity: said, price }));
      // Saved once more it has what was offered, and no charge by rule beside it.
      const saved = await manager.call(selling.changeOrder, {
        params: { id: order.id },
        body: { version: order.version, customerId: 1, warehouseId: 1, requiredDate, lines: kept },
      });
      charged.push(saved.net);
      quote = await manager.call(selling.getOrder, { params: { id: quote.id } });
    }
    expect(charged).toEqual(['38.00', '20.00']);
    await manager.call(selling.loseQuote, { params: { id: quote.id }, body: { version: quote.version, reason: 'price' } });
    const all = await figures();
    expect(all.lost).toEqual([{ reason: 'price', quotes: 1, value: '50.00' }]);
    const lost = await manager.call(selling.listQuotes, { query: { filter: JSON.stringify(figureViews.lost(all.from, all.until)) } });
    expect(lost.rows).toMatchObject([{ number: quote.number, state: 'won', lostReason: 'price', lost: '50.00' }]);
  });
});
