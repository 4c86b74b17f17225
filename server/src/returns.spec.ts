/** Customers' returns: agreed on, taken in to be held, decided on, credited or replaced, and taken back; traced to the end. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, epcisDocument, type InvoiceView, type ReturnView } from '@terrace/contract';
import { paperOf } from './papers';
import { somebody } from './testing/company';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { accounts, dispatch, planning, platform, production, returns, selling, stores } = api;
let room: StoreRoom;

beforeEach(async () => {
  room = await openStoreRoom();
});
afterEach(() => room.closeProven());

/** Ships an order of an item; with the pieces that are named. */
async function shipped(itemId: number, quantity: string, pieces?: { lot?: string; serials?: string; quantity?: string }[]): Promise<number> {
  const { manager } = room;
  const orderId = await room.confirmed(itemId, quantity);
  const { lines } = await manager.call(selling.getOrder, { params: { id: orderId } });
  const line = { orderLineId: lines[0]?.id ?? 0, quantity };
  let made = await manager.call(dispatch.createShipment, { body: { orderId, lines: [line] } });
  if (pieces)
    made = await manager.call(dispatch.changeShipment, {
      params: { id: made.id },
      body: { version: made.version, lines: [{ ...line, pieces }] },
    });
  await manager.call(dispatch.ship, { params: { id: made.id }, body: { version: made.version } });
  return orderId;
}
const invoiced = (id: number): Promise<InvoiceView> => room.manager.call(selling.invoiceOrder, { params: { id }, body: {} });
const returnable = (id: number) => room.manager.call(returns.returnable, { params: { id } });
async function agreed(orderId: number, quantities: readonly string[], reason = 'dented'): Promise<ReturnView> {
  const pieces = await returnable(orderId);
  return room.manager.call(returns.authorise, {
    body: {
      orderId,
      reason,
      lines: quantities.map((quantity, at) => {
        const { shipmentLineId = 0, lot = '', serial = '' } = pieces[at] ?? {};
        return { shipmentLineId, lot, serial, quantity };
      }),
    },
  });
}
const receive = (back: ReturnView, quantity: string, at = 0): Promise<ReturnView> =>
  room.manager.call(returns.receiveReturn, {
    params: { id: back.id },
    body: { version: back.version, binId: 1, lines: [{ lineId: back.lines[at]?.id ?? 0, quantity }] },
  });
const decide = (back: ReturnView, decision: 'restock' | 'rework' | 'scrap', quantity: string, more: object = {}): Promise<ReturnView> =>
  room.manager.call(returns.decideReturn, {
    params: { id: back.id },
    body: { version: back.version, decision, lines: [{ lineId: back.lines[0]?.id ?? 0, quantity }], ...more },
  });
const stockOf = async (item: number): Promise<{ onHand: string; free: string }> =>
  room.manager.call(stores.availability, { query: { item, warehouse: 1 } });

describe('a return', () => {
  it('of a lot that is blocked is not put back into stock before the lot is freed, and says so', async () => {
    const item = await room.newItem('BALM', { tracking: 'lot' });
    await room.receive(item, '2', '3.00', [{ lot: 'B-1' }]);
    const back = await receive(await agreed(await shipped(item, '1'), ['1']), '1');
    const { rows } = await room.manager.call(stores.listLots, { query: { item } });
    const { id, version } = await room.manager.call(stores.getLot, { params: { id: rows[0]?.id ?? 0 } });
    const blocked = await room.manager.call(stores.blockLot, { params: { id }, body: { version, reason: 'turned rancid' } });
    const body = { version: back.version, decision: 'restock' as const, lines: [{ lineId: back.lines[0]?.id ?? 0, quantity: '1' }] };
    const refusal = await room.manager.refused(returns.decideReturn, { params: { id: back.id }, body });
    expect([refusal.code, refusal.detail]).toEqual(['blocked', expect.stringContaining('Lot B-1 of BALM is blocked: turned rancid')]);
    await room.manager.call(stores.freeLot, { params: { id }, body: { version: blocked.version, reason: 'it was not' } });
    // Freeing the lot made all of it available, these too; they are decided on all the same.
    expect(await room.manager.call(returns.decideReturn, { params: { id: back.id }, body })).toMatchObject({ lines: [{ decided: '1' }] });
    expect(await stockOf(item)).toMatchObject({ onHand: '2', free: '2' });
  });

  it('comes in held at what it left with; put back it is free, scrapped its reason bears it', async () => {
    const item = await room.newItem('KETTLE', { costing: 'fifo' });
    await room.receive(item, '2', '3.33');
    await room.receive(item, '2', '5.00');
    const orderId = await shipped(item, '3');
    expect(await room.worthOf('KETTLE')).toBe('5.00');
    expect(await returnable(orderId)).toMatchObject([{ code: 'KETTLE', shipped: '3', returning: '0' }]);
    const back = await agreed(orderId, ['2']);
    expect(back).toMatchObject({ number: 'RET-1001', state: 'authorised', order: 'CO-1001', lines: [{ quantity: '2', received: '0' }] });
    const held = await receive(back, '2');
    expect(held).toMatchObject({ state: 'arrived', lines: [{ received: '2', decided: '0' }] });
    // Three left for 11.66: two of them come back for two thirds of it.
    expect(await room.worthOf('KETTLE')).toBe('12.77');
    expect(await stockOf(item)).toMatchObject({ onHand: '3', free: '1' });
    const one = await decide(held, 'restock', '1', { note: 'was only the box' });
    expect(await stockOf(item)).toMatchObject({ onHand: '3', free: '2' });
    const refused = await room.manager.refused(returns.decideReturn, {
      params: { id: one.id },
      body: { version: one.version, decision: 'scrap', lines: [{ lineId: one.lines[0]?.id ?? 0, quantity: '1' }] },
    });
    expect(refused.code).toBe('unknownChoice');
    const done = await decide(one, 'scrap', '1', { reason: 'BREAKAGE' });
    expect(done).toMatchObject({
      state: 'done',
      decisions: [
        { decision: 'restock', why: 'was only the box' },
        { decision: 'scrap', why: 'Breakage' },
      ],
    });
    expect(await stockOf(item)).toMatchObject({ onHand: '2', free: '2' });
    const last = await agreed(orderId, ['1']);
    expect(
      await room.manager.refused(returns.authorise, {
        body: { orderId, reason: 'x', lines: [{ ...(await returnable(orderId))[0]!, quantity: '1' }] },
      }),
    ).toMatchObject({
      code: 'tooMuch',
    });
    await decide(await receive(last, '1'), 'restock', '1');
    expect((await room.manager.call(returns.listReturns, {})).rows.map(({ number, state }) => [number, state])).toEqual([
      ['RET-1002', 'done'],
      ['RET-1001', 'done'],
    ]);
  });

  it('is refused beyond what left, twice, when stale, without the right, and what is decided is not taken back', async () => {
    const item = await room.newItem('PAIL');
    await room.receive(item, '5', '2.00');
    const orderId = await shipped(item, '2');
    const [piece] = await returnable(orderId);
    const line = { shipmentLineId: piece?.shipmentLineId ?? 0, quantity: '3' };
    const code = async (lines: object[]) =>
      (await room.manager.refused(returns.authorise, { body: { orderId, reason: 'x', lines: lines as never } })).code;
    expect([
      await code([line]),
      await code([
        { ...line, quantity: '1' },
        { ...line, quantity: '1' },
      ]),
      await code([{ ...line, lot: 'L' }]),
    ]).toEqual(['tooMuch', 'twice', 'unknownLine']);
    const back = await agreed(orderId, ['2']);
    const at = { params: { id: back.id }, body: { version: back.version, lines: [{ lineId: back.lines[0]?.id ?? 0, quantity: '3' }] } };
    expect((await room.manager.refused(returns.receiveReturn, at)).code).toBe('tooMuch');
    const seller = await room.company.as('sales');
    expect((await seller.refused(returns.receiveReturn, at)).code).toBe('notAllowed');
    const shipment = await room.manager.call(dispatch.getShipment, { params: { id: 1 } });
    expect((await room.manager.refused(dispatch.reverseShipment, { params: { id: 1 }, body: { version: shipment.version } })).code).toBe(
      'wrongState',
    );
    const held = await receive(back, '1');
    expect((await room.manager.refused(returns.takeReturnBack, { params: { id: back.id }, body: { version: back.version } })).code).toBe(
      'staleVersion',
    );
    const undone = await room.manager.call(returns.takeReturnBack, { params: { id: back.id }, body: { version: held.version } });
    expect(undone).toMatchObject({ state: 'authorised', lines: [{ received: '0' }] });
    expect(await room.worthOf('PAIL')).toBe('6.00');
    const decided = await decide(await receive(undone, '1'), 'restock', '1');
    expect(decided.state).toBe('arrived');
    expect((await room.manager.refused(returns.takeReturnBack, { params: { id: back.id }, body: { version: decided.version } })).code).toBe(
      'wrongState',
    );
    const other = await agreed(orderId, []).catch(() => null);
    expect(other).toBeNull();
    // What was agreed keeps its place until it is cancelled.
    const { version } = await room.manager.call(returns.getReturn, { params: { id: back.id } });
    expect(version).toBe(decided.version);
  });

  it('is given back in money as it was charged, free pieces and part invoices with it, and not replaced too', async () => {
    const item = await room.newItem('VEIL');
    await room.receive(item, '5', '2.00');
    const orderId = await shipped(item, '3');
    const back = await receive(await agreed(orderId, ['2']), '2');
    const at = { params: { id: back.id }, body: { version: back.version } };
    expect((await room.manager.refused(returns.creditReturn, at)).code).toBe('notInvoiced');
    const charged = await invoiced(orderId);
    expect(charged.total).toBe('36.00');
    const credited = await room.manager.call(returns.creditReturn, at);
    expect(credited).toMatchObject({ lines: [{ credited: '2' }], credits: [{ number: 'CR-1001', total: '-24.00', state: 'paid' }] });
    expect(await room.manager.call(accounts.getInvoice, { params: { id: charged.id } })).toMatchObject({ state: 'open', open: '12.00' });
    const after = { params: { id: back.id }, body: { version: credited.version } };
    expect((await room.manager.refused(returns.creditReturn, after)).code).toBe('nothingToCredit');
    expect((await room.manager.refused(returns.replaceReturn, after)).code).toBe('wrongState');
    const trail = await room.manager.call(platform.trail, { params: { kind: 'customerReturn', id: back.id } });
    expect(trail.nodes.map(({ number }) => number)).toEqual(expect.arrayContaining(['CO-1001', 'SH-1001', 'INV-1001', 'RET-1001', 'CR-1001']));
    const paper = paperOf(room.company.terrace.commands.look(somebody('manager')), 'customerReturn', back.id);
    expect([paper.title, paper.table.rows.length]).toEqual(['Return slip', 1]);
  });

  it('is replaced by an order free of charge, and not given back in money too', async () => {
    const item = await room.newItem('LID');
    await room.receive(item, '5', '2.00');
    const orderId = await shipped(item, '2');
    await invoiced(orderId);
    const back = await receive(await agreed(orderId, ['2'], 'warped'), '2');
    const replaced = await room.manager.call(returns.replaceReturn, { params: { id: back.id }, body: { version: back.version } });
    expect(replaced.replacement).toBe('CO-1002');
    expect((await room.manager.refused(returns.takeReturnBack, { params: { id: back.id }, body: { version: replaced.version } })).code).toBe(
      'wrongState',
    );
    const order = await room.manager.call(selling.getOrder, { params: { id: replaced.replacementId ?? 0 } });
    expect(order).toMatchObject({ state: 'draft', reference: 'RET-1001', total: '0.00', lines: [{ quantity: '2', free: '2' }] });
    const at = { params: { id: back.id }, body: { version: replaced.version } };
    expect((await room.manager.refused(returns.creditReturn, at)).code).toBe('wrongState');
    expect((await room.manager.refused(returns.replaceReturn, at)).code).toBe('wrongState');
    // Without its replacement it may be made good in another way.
    await room.manager.call(selling.cancelOrder, { params: { id: order.id }, body: { version: order.version, reason: 'money instead' } });
    const free = await room.manager.call(returns.getReturn, { params: { id: back.id } });
    expect(free).toMatchObject({ replacementId: null, replacement: '' });
    expect(await room.manager.call(returns.creditReturn, at)).toMatchObject({ credits: [{ total: '-24.00' }] });
  });

  it('is free again when its credit note is taken back: to be given back once more, or replaced', async () => {
    const item = await room.newItem('HIVE');
    await room.receive(item, '5', '2.00');
    const orderId = await shipped(item, '3');
    const charged = await invoiced(orderId);
    let back = await receive(await agreed(orderId, ['3']), '2');
    const act = async (route: typeof returns.creditReturn): Promise<ReturnView> =>
      room.manager.call(route, { params: { id: back.id }, body: { version: back.version } });
    const noteTakenBack = async (at: number): Promise<void> => {
      const { id = 0 } = back.credits[at] ?? {};
      const { version } = await room.manager.call(accounts.getInvoice, { params: { id } });
      await room.manager.call(accounts.reverseInvoice, { params: { id }, body: { version } });
      back = await room.manager.call(returns.getReturn, { params: { id: back.id } });
    };
    back = await act(returns.creditReturn);
    back = await receive(back, '1');
    back = await act(returns.creditReturn);
    expect(back).toMatchObject({ lines: [{ credited: '3' }], credits: [{ total: '-24.00' }, { total: '-12.00' }] });
    // One of two: what the other gave back stays given back.
    await noteTakenBack(0);
    expect(back).toMatchObject({ lines: [{ credited: '1' }], credits: [{ state: 'reversed' }, { state: 'paid' }] });
    room.company.sound();
    back = await act(returns.creditReturn);
    expect(back.credits.map(({ total, state }) => [total, state])).toEqual([
      ['-24.00', 'reversed'],
      ['-12.00', 'paid'],
      ['-24.00', 'paid'],
    ]);
    expect(await room.manager.call(accounts.getInvoice, { params: { id: charged.id } })).toMatchObject({ state: 'paid', open: '0.00' });
    expect((await room.manager.refused(returns.replaceReturn, { params: { id: back.id }, body: { version: back.version } })).code).toBe('wrongState');
    await noteTakenBack(1);
    await noteTakenBack(2);
    expect(back.lines).toMatchObject([{ credited: '0' }]);
    expect(await room.manager.call(accounts.getInvoice, { params: { id: charged.id } })).toMatchObject({ state: 'open', open: charged.total });
    expect((await act(returns.replaceReturn)).replacement).toMatch(/^CO-/);
  });
});

describe('a piece that comes back', () => {
  it('keeps its serial number, is worked over on a production order, leaves again, and its trace and events know it', async () => {
    const item = await room.newItem('SCALE', { tracking: 'serial' });
    await room.receive(item, '2', '40.00', [{ serials: 'S-1 S-2' }]);
    const orderId = await shipped(item, '2', [{ serials: 'S-1 S-2' }]);
    expect((await returnable(orderId)).map(({ serial, shipped: gone }) => [serial, gone])).toEqual([
      ['S-1', '1'],
      ['S-2', '1'],
    ]);
    const held = await receive(await agreed(orderId, ['1'], 'shows nothing'), '1');
    expect(await room.worthOf('SCALE')).toBe('40.00');
    const decided = await decide(held, 'rework', '1');
    const [decision] = decided.decisions;
    expect(decision).toMatchObject({ decision: 'rework', production: 'PRD-1001' });
    expect(decided.state).toBe('done');
    const plan = await room.manager.call(planning.runPlan);
    expect(plan).toMatchObject({ behind: false, whole: true });
    const order = await room.manager.call(production.getProduction, { params: { id: decision?.productionId ?? 0 } });
    expect(order).toMatchObject({ state: 'released', code: 'SCALE', components: [{ code: 'SCALE', reserved: '1', short: '0' }] });
    // Given up, what came back with a fault would be free to be sold.
    const cancelled = await room.manager.refused(production.cancelProduction, {
      params: { id: order.id },
      body: { version: order.version, reason: 'off' },
    });
    expect(cancelled.code).toBe('worksOver');
    const finished = await room.manager.call(production.finishProduction, {
      params: { id: order.id },
      body: {
        version: order.version,
        quantity: '1',
        binId: 1,
        pieces: [{ serials: 'S-1' }],
        taken: [{ componentId: order.components[0]?.id ?? 0, pieces: [{ serials: 'S-1' }] }],
      },
    });
    expect(finished).toMatchObject({ state: 'finished', cost: '40.00' });
    expect(await room.worthOf('SCALE')).toBe('40.00');
    const { rows } = await room.manager.call(stores.listSerials, { query: { find: 'S-1' } });
    const serial = rows[0]?.id ?? 0;
    await shipped(item, '1', [{ serials: 'S-1' }]);
    const trace = await room.manager.call(stores.trace, { params: { kind: 'serial', id: serial } });
    expect(JSON.stringify(trace)).toContain('RET-1001');
    const { epcisBody } = epcisDocument.parse(await room.manager.call(stores.traceEvents, { params: { kind: 'serial', id: serial } }));
    const returned = epcisBody.eventList.filter(({ disposition }) => disposition === 'returned');
    expect(returned).toMatchObject([{ type: 'ObjectEvent', bizStep: 'receiving', bizTransactionList: [{ type: 'rma' }] }]);
    expect(JSON.stringify(returned)).toContain('S-1');
  });
});
