/** Quotes and blanket orders: offered, ordered in full or in part, called off, lost; and what the plan makes of them. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type BodyIn, type OrderView } from '@terrace/contract';
import { paperOf } from './papers';
import { gatherProblem } from './planning/problem';
import { migrationsFolder, openCompany, somebody, type Client, type Company } from './testing/company';

const { catalogue, selling, setup } = api;
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

type Body = NonNullable<BodyIn<typeof selling.createQuote>>;
const item = (code: string): number => company.id('item', code);
const body = (more: Partial<Body> = {}): Body => ({
  customerId: 1,
  warehouseId: 1,
  requiredDate: '2027-03-20',
  validUntil: '2027-03-15',
  probability: 60,
  lines: [{ itemId: item('SMOKER'), quantity: '11', free: '1', price: '9.99', discount: '2' }],
  ...more,
});
const offer = (more: Partial<Body> = {}): Promise<OrderView> => manager.call(selling.createQuote, { body: body(more) });
const view = (id: number): Promise<OrderView> => manager.call(selling.getOrder, { params: { id } });
async function take(id: number, lines?: { lineId: number; quantity: string }[], more: object = {}): Promise<OrderView> {
  const { version } = await view(id);
  return manager.call(selling.orderFromQuote, { params: { id }, body: { version, ...(lines ? { lines } : {}), ...more } });
}

describe('a quote', () => {
  it('promises, reserves and books nothing, and is no order: not in the order book, nor confirmed', async () => {
    const quote = await offer();
    expect(quote).toMatchObject({ number: 'QU-1001', kind: 'quote', state: 'offered', probability: 60, lapsed: false, ready: 'nothing' });
    expect((await manager.call(selling.listOrders, {})).rows).toEqual([]);
    expect((await manager.call(selling.listQuotes, {})).rows).toMatchObject([
      { number: 'QU-1001', customer: 'Hollin Lane Farm Shop', lapsed: false },
    ]);
    expect((await manager.call(api.stores.availability, { query: { item: item('SMOKER'), warehouse: 1 } })).free).toBe('10');
    expect((await manager.call(catalogue.getCustomer, { params: { id: 1 } })).openOrders).toBe(0);
    const at = { params: { id: quote.id }, body: { version: quote.version } };
    expect((await manager.refused(selling.confirmOrder, at)).code).toBe('wrongState');
    expect((await manager.refused(selling.cancelOrder, { params: at.params, body: { ...at.body, reason: 'x' } })).code).toBe('notAnOrder');
    expect(await manager.call(selling.boughtBefore, { params: { id: 1 } })).toEqual([]);
  });

  it('becomes an order at what was offered, whatever the lists say by then; with the last of it it is won', async () => {
    const quote = await offer({ reference: 'Spring', shipTo: 'Yard 2', complete: true });
    const order = await take(quote.id);
    expect(order).toMatchObject({
      kind: 'order',
      state: 'draft',
      reference: 'Spring',
      shipTo: 'Yard 2',
      complete: true,
      requiredDate: '2027-03-20',
      net: quote.net,
    });
    expect(order.lines[0]).toMatchObject({ price: quote.lines[0]?.price, discount: '2', free: '1', quantity: '11' });
    expect(order.lines[0]?.priceSteps.at(-1)).toBe('As quoted in QU-1001.');
    expect(await view(quote.id)).toMatchObject({ state: 'won', lines: [{ ordered: '11' }] });
    const { version } = order;
    expect((await manager.call(selling.confirmOrder, { params: { id: order.id }, body: { version } })).state).toBe('confirmed');
    const trail = await manager.call(api.platform.trail, { params: { kind: 'customerOrder', id: order.id } });
    expect(trail.nodes.map(({ number }) => number)).toEqual(expect.arrayContaining(['QU-1001', order.number]));
  });

  it('becomes orders in parts that charge together what it would, and is no more than it is', async () => {
    const quote = await offer();
    const lineId = quote.lines[0]?.id ?? 0;
    const first = await take(quote.id, [{ lineId, quantity: '6' }], { requiredDate: '2027-03-18' });
    expect(first).toMatchObject({ requiredDate: '2027-03-18', lines: [{ quantity: '6', free: '0' }] });
    const { version } = await view(quote.id);
    const more = { params: { id: quote.id }, body: { version, lines: [{ lineId, quantity: '6' }] } };
    expect(await manager.refused(selling.orderFromQuote, more)).toMatchObject({ code: 'tooMuch', details: { most: '5' } });
    const twice = [1, 2].map(() => ({ lineId, quantity: '1' }));
    expect((await manager.refused(selling.orderFromQuote, { params: { id: quote.id }, body: { version, lines: twice } })).code).toBe('unknownLine');
    const changed = { ...body({ lines: [{ id: lineId, itemId: item('SMOKER'), quantity: '5' }] }), version };
    expect((await manager.refused(selling.changeQuote, { params: { id: quote.id }, body: changed })).code).toBe('alreadyOrdered');
    const second = await take(quote.id);
    expect(second.lines[0]).toMatchObject({ quantity: '5', free: '1' });
    expect((await view(quote.id)).state).toBe('won');
    expect(
      (await manager.refused(selling.orderFromQuote, { params: { id: quote.id }, body: { version: (await view(quote.id)).version } })).code,
    ).toBe('wrongState');
  });

  it('lapses after its last day, until it is let hold longer', async () => {
    const quote = await offer({ validUntil: '2027-03-01' });
    expect((await manager.refused(selling.createQuote, { body: body({ validUntil: '2027-02-28' }) })).errors?.[0]?.field).toBe('validUntil');
    // As if it were the day after.
    company.terrace.store.sqlite.prepare("update customer_order set valid_until = '2027-02-27' where id = ?").run(quote.id);
    expect((await view(quote.id)).lapsed).toBe(true);
    expect(
      (await manager.call(selling.listQuotes, { query: { filter: JSON.stringify({ lapsed: { op: 'equals', value: 'true' } }) } })).rows,
    ).toHaveLength(1);
    const { version, lines } = await view(quote.id);
    expect((await manager.refused(selling.orderFromQuote, { params: { id: quote.id }, body: { version } })).code).toBe('lapsed');
    const renewed = {
      ...body({ validUntil: '2027-03-31', lines: [{ ...body().lines[0], id: lines[0]?.id, itemId: item('SMOKER'), quantity: '11' }] }),
      version,
    };
    expect((await manager.call(selling.changeQuote, { params: { id: quote.id }, body: renewed })).lapsed).toBe(false);
    expect((await take(quote.id)).state).toBe('draft');
  });

  it('is lost with a reason, and stays so; one that two people take at once becomes one order', async () => {
    const quote = await offer();
    const lost = { params: { id: quote.id }, body: { version: quote.version, reason: 'price' as const, note: 'by 4 %' } };
    expect(await manager.call(selling.loseQuote, lost)).toMatchObject({ state: 'lost', lostReason: 'price' });
    expect((await manager.refused(selling.loseQuote, lost)).code).toBe('staleVersion');
    const other = await offer();
    const both = await Promise.all(
      [manager, await company.as('sales')].map((each) =>
        each.attempt(selling.orderFromQuote, { params: { id: other.id }, body: { version: other.version } }),
      ),
    );
    expect(both.map(({ status }) => status).sort()).toEqual([200, 409]);
  });

  it('has numbers of its own, which nothing else may begin with', async () => {
    const administrator = await company.as('administrator');
    await offer();
    const { numbering } = await administrator.call(setup.numbering);
    expect(numbering.filter(({ kind }) => kind === 'QU' || kind === 'BO')).toMatchObject([
      { kind: 'QU', example: 'QU-1002' },
      { kind: 'BO', example: 'BO-1001' },
    ]);
    const body = { kind: 'CO', prefix: 'QU', width: 4, byYear: false, next: 1001 };
    expect((await administrator.refused(setup.saveNumbering, { body })).code).toBe('prefixTaken');
  });

  it('is printed and mailed as what it is', async () => {
    const quote = await offer();
    const paper = paperOf(company.terrace.commands.look(somebody('manager')), 'customerOrder', quote.id);
    expect([paper.title, paper.facts]).toEqual(['Quote', expect.arrayContaining([['Holds until', '2027-03-15']])]);
    const { openOrders: _, owes: __, id, ...customer } = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
    await manager.call(catalogue.changeCustomer, { params: { id }, body: { ...customer, email: 'buyer@hollin.example' } });
    await manager.call(selling.mailConfirmation, { params: { id: quote.id }, body: { version: quote.version } });
    const administrator = await company.as('administrator');
    expect((await administrator.call(api.platform.outbox)).rows[0]?.subject).toBe('Quote QU-1001');
  });

  it('counts in the plan as the house says: from how likely it is, in full or by that', async () => {
    const quote = await offer({ lines: [{ itemId: item('SMOKER'), quantity: '30' }] });
    const demands = () => gatherProblem(company.terrace.commands.look(somebody('manager'))).demands.filter(({ kind }) => kind === 'quote');
    expect(demands()).toMatchObject([{ id: 'QU-1001/1', quantity: '30', probability: '0.6', date: '2027-03-20' }]);
    const rules = () => gatherProblem(company.terrace.commands.look(somebody('manager'))).rules[0];
    expect(rules()).toMatchObject({ quotesFrom: null, quotesWeighted: false });
    const administrator = await company.as('administrator');
    const { version, ...house } = await administrator.call(setup.houseRules);
    await administrator.call(setup.saveHouseRules, { body: { ...house, quotesFrom: 50, quotesWeighted: true, version } });
    expect(rules()).toMatchObject({ quotesFrom: '0.5', quotesWeighted: true });
    await take(quote.id, [{ lineId: quote.lines[0]?.id ?? 0, quantity: '10' }]);
    expect(demands()).toMatchObject([{ quantity: '20' }]);
    await manager.call(selling.loseQuote, { params: { id: quote.id }, body: { version: (await view(quote.id)).version, reason: 'noNeed' } });
    expect(demands()).toEqual([]);
  });
});

describe('a blanket order', () => {
  it('is called off by and by, each time at what was agreed, and is closed with the last', async () => {
    const agreed = await offer({ kind: 'blanket', validUntil: '2027-12-31', lines: [{ itemId: item('SMOKER'), quantity: '20', price: '8' }] });
    expect(agreed).toMatchObject({ number: 'BO-1001', state: 'agreed' });
    const lineId = agreed.lines[0]?.id ?? 0;
    const dates = ['2027-04-01', '2027-05-03'];
    for (const requiredDate of dates)
      expect(await take(agreed.id, [{ lineId, quantity: '5' }], { requiredDate, reference: 'May' })).toMatchObject({
        requiredDate,
        lines: [{ price: '8.00' }],
      });
    expect(await view(agreed.id)).toMatchObject({ state: 'agreed', lines: [{ ordered: '10' }] });
    await take(agreed.id);
    expect((await view(agreed.id)).state).toBe('closed');
  });

  it('has left again what is wanted no more of a call-off: cancelled, in part or as a whole, or changed; and is open for it', async () => {
    const agreed = await offer({ kind: 'blanket', validUntil: '2027-12-31', lines: [{ itemId: item('SMOKER'), quantity: '20', free: '2' }] });
    const lineId = agreed.lines[0]?.id ?? 0;
    const ordered = async () => {
      const { state, lines } = await view(agreed.id);
      return [state, lines[0]?.ordered];
    };
    const first = await take(agreed.id, [{ lineId, quantity: '8' }]);
    const last = await take(agreed.id);
    expect(await ordered()).toEqual(['closed', '20']);
    const part = await manager.call(selling.cancelLine, {
      params: { id: first.id, line: first.lines[0]?.id ?? 0 },
      body: { version: first.version, reason: 'fewer', quantity: '3' },
    });
    expect(await ordered()).toEqual(['agreed', '17']);
    expect((await take(agreed.id)).lines).toMatchObject([{ quantity: '3' }]);
    expect(await ordered()).toEqual(['closed', '20']);
    await manager.call(selling.cancelOrder, { params: { id: first.id }, body: { version: part.version, reason: 'none' } });
    expect(await ordered()).toEqual(['agreed', '15']);
    const { customerId, warehouseId, requiredDate, lines } = last;
    await manager.call(selling.changeOrder, {
      params: { id: last.id },
      body: { customerId, warehouseId, requiredDate, version: last.version, lines: lines.map(({ id, itemId }) => ({ id, itemId, quantity: '10' })) },
    });
    expect(await ordered()).toEqual(['agreed', '13']);
    // Nobody can take more than was agreed on, however much an order wants.
    expect(
      (
        await manager.refused(selling.orderFromQuote, {
          params: { id: agreed.id },
          body: { version: (await view(agreed.id)).version, lines: [{ lineId, quantity: '8' }] },
        })
      ).details,
    ).toMatchObject({ most: '7' });
  });

  it('has its call-offs found again by who comes from the release before, parts of them too, where there is no doubt', async () => {
    const agreed = await offer({
      kind: 'blanket',
      validUntil: '2027-12-31',
      lines: [
        { itemId: item('SMOKER'), quantity: '20' },
        { itemId: item('FRAME'), quantity: '5' },
        { itemId: item('FRAME'), quantity: '6' },
      ],
    });
    const called = await take(agreed.id);
    const { warehouseId, lines } = called;
    const [smoker] = lines;
    const part = { warehouseId, shipTo: '', carrier: '' };
    const share = (quantity: string) => ({ lineId: smoker?.id ?? 0, quantity });
    const rest = lines.slice(1).map(({ id, quantity }) => ({ lineId: id, quantity }));
    await manager.call(selling.divideOrder, {
      params: { id: called.id },
      body: {
        version: called.version,
        parts: [
          { ...part, lines: [share('12'), ...rest] },
          { ...part, lines: [share('8')] },
        ],
      },
    });
    const { sqlite } = company.terrace.store;
    const known = (): unknown =>
      sqlite.prepare('select id, quoted_line_id as "of" from customer_order_line where quoted_line_id is not null order by id').all();
    const smokers = sqlite
      .prepare('select l.id, l.quoted_line_id as "of" from customer_order_line l where l.quoted_line_id is not null and l.item_id = ? order by l.id')
      .all(item('SMOKER'));
    expect(smokers).toHaveLength(2);
    sqlite.exec('update customer_order_line set quoted_line_id = null');
    const [, , ...found] = readFileSync(join(migrationsFolder, '0034_quoted_lines.sql'), 'utf8').split('--> statement-breakpoint');
    for (const statement of found) sqlite.exec(statement);
    expect(known()).toEqual(smokers);
  });

  it('that was ended stays so, whatever becomes of its call-offs; a quote that was won is open again without its order', async () => {
    const agreed = await offer({ kind: 'blanket', validUntil: '2027-12-31', lines: [{ itemId: item('SMOKER'), quantity: '20' }] });
    const called = await take(agreed.id, [{ lineId: agreed.lines[0]?.id ?? 0, quantity: '5' }]);
    const { version } = await view(agreed.id);
    await manager.call(selling.loseQuote, { params: { id: agreed.id }, body: { version, reason: 'other', note: '' } });
    await manager.call(selling.cancelOrder, { params: { id: called.id }, body: { version: called.version, reason: 'x' } });
    expect(await view(agreed.id)).toMatchObject({ state: 'closed', lines: [{ ordered: '0' }] });
    const quote = await offer();
    const order = await take(quote.id);
    expect((await view(quote.id)).state).toBe('won');
    await manager.call(selling.cancelOrder, { params: { id: order.id }, body: { version: order.version, reason: 'x' } });
    expect((await view(quote.id)).state).toBe('offered');
    expect((await take(quote.id)).total).toBe(order.total);
  });

  it('is ended before that, without being lost', async () => {
    const agreed = await offer({ kind: 'blanket' });
    const { version } = agreed;
    const ended = await manager.call(selling.loseQuote, { params: { id: agreed.id }, body: { version, reason: 'other', note: 'they close down' } });
    expect(ended).toMatchObject({ state: 'closed', lostReason: '' });
  });
});
