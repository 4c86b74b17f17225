/** Orders divided into several and joined again: nothing is lost, and each part goes on by itself. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { api, type BodyIn, type DivisionPreview, type OrderView } from '@terrace/contract';
import { divideReasons } from '@terrace/core';
import { slipLines } from './dispatch';
import { openCompany, somebody, type Client, type Company } from './testing/company';

const { dispatch, selling, setup, stores } = api;
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

type Line = NonNullable<BodyIn<typeof selling.createOrder>>['lines'][number];
const item = (code: string): number => company.id('item', code);
async function order(lines: (Omit<Line, 'itemId'> & { code?: string })[], confirm = true): Promise<OrderView> {
  const body = {
    customerId: 1,
    warehouseId: 1,
    requiredDate: '2027-03-12',
    confirm,
    lines: lines.map(({ code = 'SMOKER', ...line }) => ({ itemId: item(code), ...line })),
  };
  return manager.call(selling.createOrder, { body });
}
const view = (id: number): Promise<OrderView> => manager.call(selling.getOrder, { params: { id } });
const preview = (id: number, body: NonNullable<BodyIn<typeof selling.previewDivision>>): Promise<DivisionPreview> =>
  manager.call(selling.previewDivision, { params: { id }, body });
const asSaid = ({ parts }: DivisionPreview): NonNullable<BodyIn<typeof selling.divideOrder>>['parts'] =>
  parts.map(({ warehouseId, shipTo, carrier, lines }) => ({
    warehouseId,
    shipTo,
    carrier,
    lines: lines.map(({ lineId, quantity }) => ({ lineId, quantity })),
  }));
async function divide(id: number, parts: NonNullable<BodyIn<typeof selling.divideOrder>>['parts']): Promise<OrderView[]> {
  const { version } = await view(id);
  const { orders } = await manager.call(selling.divideOrder, { params: { id }, body: { version, parts } });
  return Promise.all(orders.map((each) => view(each.id)));
}
const cents = (text: string): number => Math.round(Number(text) * 100);
const sum = (orders: readonly OrderView[], of: (order: OrderView) => string): number => orders.reduce((all, each) => all + cents(of(each)), 0);

describe('an order', () => {
  it('is looked at divided without a trace, by what is short now', async () => {
    const whole = await order([{ quantity: '14', price: '0.333' }]);
    const before = company.everything();
    const seen = await preview(whole.id, { reasons: ['short'] });
    expect(company.everything()).toBe(before);
    expect(seen.could).toEqual(['short']);
    expect(seen.parts.map(({ why, lines, ready }) => [why, lines.map(({ quantity, reserved }) => `${quantity} (${reserved})`), ready])).toEqual([
      [[], ['10 (10)'], 'all'],
      [['short'], ['4 (0)'], 'nothing'],
    ]);
    expect(seen.parts.reduce((all, part) => all + cents(part.total), 0)).toBe(cents(whole.total));
    expect((await preview(whole.id, {})).parts).toHaveLength(1);
  });

  it('becomes a family: what is reserved goes along, the rest follows, and each part knows the others', async () => {
    const whole = await order([{ quantity: '14', note: 'for the apiary' }]);
    const parts = await divide(whole.id, asSaid(await preview(whole.id, { reasons: ['short'] })));
    expect(parts.map(({ number, state }) => [number, state])).toEqual([
      [whole.number, 'confirmed'],
      [`${whole.number}-2`, 'confirmed'],
    ]);
    for (const part of parts) expect(part.family.map(({ number }) => number)).toEqual([whole.number, `${whole.number}-2`]);
    expect(parts[0]?.ready).toBe('all');
    expect(sum(parts, ({ total }) => total)).toBe(cents(whole.total));
    // A part of a part has the next number.
    const [follows] = parts.slice(1);
    if (!follows) throw new RangeError('nothing follows');
    const again = await divide(follows.id, handOver(follows, 1));
    expect(again.map(({ number }) => number)).toEqual([`${whole.number}-2`, `${whole.number}-3`]);
    expect((await view(whole.id)).family).toHaveLength(3);
  });

  it('keeps what has shipped, and is invoiced to the cent of the whole', async () => {
    const whole = await order([{ quantity: '9', price: '0.335', discount: '3', free: '2' }]);
    const parts = await divide(whole.id, handOver(whole, 4, 2));
    expect(parts).toHaveLength(3);
    const totals: number[] = [];
    for (const part of parts) {
      const shipment = await manager.call(dispatch.createShipment, { body: { orderId: part.id } });
      const picked = await manager.call(dispatch.startPicking, { params: { id: shipment.id }, body: { version: shipment.version } });
      await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: picked.version } });
      totals.push(cents((await manager.call(selling.invoiceOrder, { params: { id: part.id }, body: {} })).total));
    }
    expect(totals.reduce((all, each) => all + each, 0)).toBe(cents(whole.total));
    expect(
      (await manager.refused(selling.divideOrder, { params: { id: whole.id }, body: { version: (await view(whole.id)).version, parts: [] } })).code,
    ).toMatch(/badInput|wrongState/);
  });

  it('goes with a slip that tells the whole: with this, sent before, to follow and when', async () => {
    const whole = await order([{ quantity: '14' }, { code: 'STRIPS', quantity: '5' }]);
    const parts = await divide(whole.id, asSaid(await preview(whole.id, { reasons: ['short'] })));
    const made = await manager.call(dispatch.createShipment, {
      body: { orderId: whole.id, lines: [{ orderLineId: whole.lines[0]?.id ?? 0, quantity: '4' }] },
    });
    const slip = () =>
      slipLines(company.terrace.commands.look(somebody('manager')), made.id).map(({ code, here, before, follows, when }) => [
        code,
        here / 1e5,
        before / 1e5,
        follows / 1e5,
        when,
      ]);
    const promised = parts[1]?.promiseDate ?? null;
    expect(slip()[0]).toEqual(['SMOKER', 4, 0, 10, promised]);
    const picked = await manager.call(dispatch.startPicking, { params: { id: made.id }, body: { version: made.version } });
    await manager.call(dispatch.ship, { params: { id: made.id }, body: { version: picked.version } });
    expect(slip()[0]).toEqual(['SMOKER', 4, 0, 10, promised]);
    const next = await manager.call(dispatch.createShipment, { body: { orderId: whole.id } });
    const later = slipLines(company.terrace.commands.look(somebody('manager')), next.id)[0];
    expect([later?.here, later?.before, later?.follows].map((each) => (each ?? 0) / 1e5)).toEqual([6, 4, 4]);
    const paper = await manager.agent.get(`/api/papers/packingSlip/${next.id}`);
    expect([paper.status, paper.type]).toEqual([200, 'application/pdf']);
  });

  it('is divided by hand as somebody says, and by nothing that is not the whole', async () => {
    const whole = await order([{ quantity: '5' }, { code: 'STRIPS', quantity: '2' }]);
    const [one, two] = whole.lines.map(({ id }) => id);
    const [lineId = 0, other = 0] = [one, two];
    const attempt = (parts: unknown, version = whole.version) =>
      manager.refused(selling.divideOrder, { params: { id: whole.id }, body: { version, parts } });
    const all = [{ lineId: other, quantity: '2' }];
    expect(await attempt([{ lines: all }, { lines: [{ lineId, quantity: '4' }] }])).toMatchObject({ code: 'notAllThere' });
    expect(await attempt([{ lines: all }, { lines: [{ lineId, quantity: '2.5' }] }])).toMatchObject({ code: 'tooFine' });
    expect(await attempt([{ lines: all }, { lines: [{ lineId: 999, quantity: '5' }] }])).toMatchObject({ code: 'unknownLine' });
    expect(await attempt([{ lines: [...all, { lineId, quantity: '5' }] }])).toMatchObject({ code: 'nothingToDivide' });
    expect(await attempt([{ lines: [...all, { lineId, quantity: '5' }] }, { lines: [] }])).toMatchObject({ code: 'emptyPart' });
    expect(await attempt([{ lines: all }, { lines: [{ lineId, quantity: '5' }] }], 99)).toMatchObject({ code: 'staleVersion' });
    const [stays, goes] = await divide(whole.id, [
      { lines: [...all, { lineId, quantity: '2' }] },
      { shipTo: 'Yard 2, Fennmoor', carrier: 'Fen Parcels', lines: [{ lineId, quantity: '3' }] },
    ]);
    expect(stays?.lines.map(({ quantity }) => quantity)).toEqual(['2', '2']);
    expect(goes).toMatchObject({ shipTo: 'Yard 2, Fennmoor', carrier: 'Fen Parcels', ready: 'all' });
  });

  it('goes in part from another warehouse that has what is short here', async () => {
    await manager.call(stores.adjust, {
      body: { warehouseId: 2, reason: 'OPENING', lines: [{ itemId: item('SMOKER'), binId: 3, change: '3', unitCost: '20.00' }] },
    });
    const whole = await order([{ quantity: '14' }]);
    const seen = await preview(whole.id, { reasons: ['warehouse', 'short'] });
    expect(seen.parts.map(({ warehouse, lines }) => [warehouse, lines[0]?.quantity, lines[0]?.reserved])).toEqual([
      ['WORKS', '10', '10'],
      ['DEPOT', '3', '3'],
      ['WORKS', '1', '0'],
    ]);
  });

  it('is joined again while nothing has shipped, and is worth what it was', async () => {
    const whole = await order([{ quantity: '14', price: '0.333', discount: '2', free: '1' }]);
    const [first, second] = await divide(whole.id, asSaid(await preview(whole.id, { reasons: ['short'] })));
    if (!first || !second) throw new RangeError('there are no two parts');
    const others = [{ id: second.id, version: second.version }];
    await manager.call(selling.joinOrders, { params: { id: first.id }, body: { version: first.version, others } });
    const again = await view(whole.id);
    expect(again.lines.map(({ quantity, free, reserved, amount }) => [quantity, free, reserved, amount])).toEqual(
      whole.lines.map(({ quantity, free, reserved, amount }) => [quantity, free, reserved, amount]),
    );
    expect([again.net, again.tax, again.total]).toEqual([whole.net, whole.tax, whole.total]);
    expect((await view(second.id)).state).toBe('cancelled');
    expect(await manager.refused(selling.joinOrders, { params: { id: first.id }, body: { version: again.version, others } })).toMatchObject({
      code: 'staleVersion',
    });
    const stranger = await order([{ quantity: '1' }]);
    const strangers = { version: again.version, others: [{ id: stranger.id, version: stranger.version }] };
    expect(await manager.refused(selling.joinOrders, { params: { id: first.id }, body: strangers })).toMatchObject({ code: 'notOneFamily' });
  });

  it('is divided by itself as it is confirmed, where the house wants that', async () => {
    const { version, ...rules } = await manager.call(setup.houseRules);
    const administrator = await company.as('administrator');
    await administrator.call(setup.saveHouseRules, { body: { ...rules, divideBy: ['short'], version } });
    const divided = await order([{ quantity: '14' }]);
    expect(divided.family).toHaveLength(2);
    expect(divided.lines.map(({ quantity }) => quantity)).toEqual(['10']);
    const body = {
      customerId: 1,
      warehouseId: 1,
      requiredDate: '2027-03-12',
      confirm: true,
      complete: true,
      lines: [{ itemId: item('STRIPS'), quantity: '500' }],
    };
    expect((await manager.call(selling.createOrder, { body })).family).toEqual([]);
  });

  it('adds up over all parts, whatever the lines and the reasons', async () => {
    const one = fc.record({
      code: fc.constantFrom('SMOKER', 'STRIPS', 'WIRE'),
      quantity: fc.integer({ min: 1, max: 30 }).map(String),
      price: fc.integer({ min: 1, max: 99_999 }).map((n) => (n / 1000).toFixed(3)),
      discount: fc.integer({ min: 0, max: 10 }).map(String),
      shipTo: fc.constantFrom('', 'Yard 2'),
      carrier: fc.constantFrom('', 'Fen Parcels'),
      direct: fc.boolean(),
    });
    const some = fc.array(
      one.chain((line) => fc.integer({ min: 0, max: Number(line.quantity) }).map((free) => ({ ...line, free: String(free) }))),
      { minLength: 1, maxLength: 4 },
    );
    await fc.assert(
      fc.asyncProperty(some, fc.subarray([...divideReasons]), fc.boolean(), async (lines, chosen, confirm) => {
        const whole = await order(lines, confirm);
        const seen = await preview(whole.id, { reasons: chosen });
        const parts = seen.parts.length > 1 ? await divide(whole.id, asSaid(seen)) : [whole];
        for (const of of ['net', 'tax', 'total'] as const) expect(sum(parts, (part) => part[of])).toBe(cents(whole[of]));
        const figure = (orders: readonly OrderView[], of: 'quantity' | 'free' | 'amount') =>
          Math.round(orders.flatMap((each) => each.lines).reduce((all, line) => all + Number(line[of]), 0) * 1000);
        for (const of of ['quantity', 'free', 'amount'] as const) expect(figure(parts, of)).toBe(figure([whole], of));
        for (const part of parts)
          if (part.state !== 'cancelled')
            await manager.call(selling.cancelOrder, { params: { id: part.id }, body: { version: (await view(part.id)).version, reason: 'over' } });
      }),
      { numRuns: 25 },
    );
  });
});

/** Parts by hand of an order of one line: so many go, each to a part of its own. */
function handOver({ lines: [line] }: OrderView, ...go: number[]): NonNullable<BodyIn<typeof selling.divideOrder>>['parts'] {
  if (!line) throw new RangeError('there is no line');
  const stays = Number(line.outstanding) - go.reduce((all, each) => all + each, 0);
  return [stays, ...go].map((quantity) => ({ lines: [{ lineId: line.id, quantity: String(quantity) }] }));
}
