/** A change of a confirmed order is looked at before it is made; and what is picked already stays. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type BodyIn, type OrderView } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

const { catalogue, dispatch, selling } = api;
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
const enter = (lines: Line[], confirm = true): Promise<OrderView> =>
  manager.call(selling.createOrder, { body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-12', confirm, lines } });
const bodyOf = (order: OrderView, lines: Line[], requiredDate = order.requiredDate) => ({
  customerId: 1,
  warehouseId: 1,
  requiredDate,
  version: order.version,
  lines,
});
const preview = (order: OrderView, lines: Line[], date?: string) =>
  manager.call(selling.previewChange, { params: { id: order.id }, body: bodyOf(order, lines, date) });

describe('a change of a confirmed order', () => {
  it('says first what becomes free, what is promised otherwise and what is new; and keeps nothing of it', async () => {
    const order = await enter([
      { itemId: item('SMOKER'), quantity: '8' },
      { itemId: item('FRAME'), quantity: '2' },
    ]);
    const [smoker, frame] = order.lines;
    const before = company.everything();
    const seen = await preview(order, [
      { id: smoker?.id, itemId: item('SMOKER'), quantity: '12' },
      { itemId: item('STRIPS'), quantity: '500' },
    ]);
    expect(company.everything()).toBe(before);
    expect(seen.rows.map(({ position, code, words, trouble }) => [position, code, words, trouble])).toEqual([
      [1, 'SMOKER', '2 more are reserved', false],
      [1, 'SMOKER', 'promised for no day instead of 2027-03-12', true],
      [2, 'STRIPS', expect.stringMatching(/^is new: \d+ of 500 reserved, promised for no day$/), true],
      [2, 'FRAME', expect.stringMatching(/^goes/), false],
    ]);
    expect([seen.from, Number(seen.to) > Number(seen.from)]).toEqual([order.total, true]);
    const fewer = await preview(order, [
      { id: smoker?.id, itemId: item('SMOKER'), quantity: '3' },
      { id: frame?.id, itemId: item('FRAME'), quantity: '2' },
    ]);
    expect(fewer.rows.map(({ words }) => words)).toEqual(['5 reserved become free, 3 stay']);
    // Nothing changes that anybody counts on.
    const same = order.lines.map(({ id, itemId, quantity }) => ({ id, itemId, quantity }));
    expect((await preview(order, same)).rows).toEqual([]);
  });

  it('names what was bought for it, and the credit limit that it passes', async () => {
    const order = await enter([{ itemId: item('SMOKER'), quantity: '10' }]);
    const [line] = order.lines;
    const { openOrders: _, owes: __, id, ...customer } = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
    await manager.call(catalogue.changeCustomer, { params: { id }, body: { ...customer, creditLimit: '500' } });
    const more = await preview(order, [{ id: line?.id, itemId: item('SMOKER'), quantity: '900' }]);
    expect(more.beyondCredit).toMatch(/credit limit is 500.00/);
  });

  it('can’t be what the change itself can’t: refused with why, by the same words', async () => {
    const order = await enter([{ itemId: item('SMOKER'), quantity: '5' }]);
    const lineId = order.lines[0]?.id ?? 0;
    await manager.call(dispatch.createShipment, { body: { orderId: order.id, lines: [{ orderLineId: lineId, quantity: '4' }] } });
    const asked = (quantity: string) => ({ params: { id: order.id }, body: bodyOf(order, [{ id: lineId, itemId: item('SMOKER'), quantity }]) });
    // Four are picked: five or four can be wanted, three can’t.
    for (const route of [selling.previewChange, selling.changeOrder]) expect((await manager.refused(route, asked('3'))).code).toBe('onShipment');
    expect((await manager.call(selling.previewChange, asked('4'))).rows[0]?.words).toBe('1 reserved become free, 4 stay');
    expect((await manager.refused(selling.previewChange, { ...asked('4'), body: { ...asked('4').body, version: 99 } })).code).toBe('staleVersion');
  });
});
