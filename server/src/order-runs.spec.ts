/** The same with many orders: looked at first, done for all that can, stopped, cut short, and known afterwards. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type OrderAct, type OrderRunView } from '@terrace/contract';
import { OrderRuns } from './desk/order-runs';
import { openCompany, somebody, type Client, type Company } from './testing/company';

const { dispatch, selling, setup } = api;
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

async function draft(quantity = '1', code = 'SMOKER'): Promise<number> {
  const lines = [{ itemId: company.id('item', code), quantity }];
  return (await manager.call(selling.createOrder, { body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-12', lines } })).id;
}
const drafts = async (count: number): Promise<number[]> => {
  const ids: number[] = [];
  for (let at = 0; at < count; at += 1) ids.push(await draft());
  return ids;
};
const order = (id: number) => manager.call(selling.getOrder, { params: { id } });
const confirm = async (id: number) => manager.call(selling.confirmOrder, { params: { id }, body: { version: (await order(id)).version } });
const preview = (act: OrderAct, ids: number[]) => manager.call(selling.previewRun, { body: { act, ids } });

async function ended(id: number): Promise<OrderRunView> {
  await expect.poll(async () => (await manager.call(selling.getRun, { params: { id } })).state, { timeout: 20_000 }).not.toBe('running');
  return manager.call(selling.getRun, { params: { id } });
}
const run = async (act: OrderAct, ids: number[]) => ended((await manager.call(selling.startRun, { body: { act, ids } })).id);

describe('papers of many orders', () => {
  it('are looked at, printed together in one file, and can be had again; what has none says why', async () => {
    const [one = 0, two = 0, three = 0] = await drafts(3);
    await confirm(one);
    await confirm(two);
    await run({ act: 'ship' }, [one, two]);
    const seen = await preview({ act: 'printConfirmations' }, [one, three]);
    expect(seen.rows.map(({ can, words }) => [can, words])).toEqual([
      [true, 'its confirmation'],
      [false, expect.stringMatching(/is draft: there is nothing to confirm/)],
    ]);
    const paper = async (act: OrderAct, ids: number[]) => {
      const done = await run(act, ids);
      const answer = await manager.agent.get(`/api/papers/run/${done.id}`).buffer(true);
      return { done, pages: (answer.body as Buffer).toString('latin1').match(/\/Type \/Page\b(?!s)/g)?.length, type: answer.type };
    };
    const confirmations = await paper({ act: 'printConfirmations' }, [one, two, three]);
    expect(confirmations).toMatchObject({
      pages: 2,
      type: 'application/pdf',
      done: { title: 'Print confirmations', papers: true, done: 2, refused: 1 },
    });
    const picking = await paper({ act: 'printPickLists' }, [one, two, three]);
    expect(picking.pages).toBe(2);
    expect(picking.done.rows.map(({ words }) => words)).toEqual([
      'SH-1001',
      'SH-1002',
      expect.stringMatching(/on no shipment that is still to be picked/),
    ]);
    const shipment = await manager.call(dispatch.getShipment, { params: { id: 1 } });
    await manager.call(dispatch.ship, { params: { id: 1 }, body: { version: shipment.version } });
    // What has left is picked no more; what went into its parcel can be printed all the same.
    expect((await preview({ act: 'printPickLists' }, [one, two])).can).toBe(1);
    expect((await paper({ act: 'printSlips' }, [one, two])).pages).toBe(2);
    const other = await run({ act: 'hold', reason: 'waits' }, [two]);
    expect(other.papers).toBe(false);
    expect((await manager.agent.get(`/api/papers/run/${other.id}`)).status).toBe(404);
  });
});

describe('many orders', () => {
  it('are looked at without a trace: what would become of each, or why it can’t be', async () => {
    const [one = 0, two = 0] = await drafts(2);
    await confirm(two);
    const before = company.everything();
    const { rows, can } = await preview({ act: 'confirm' }, [one, two, 999, one]);
    expect(can).toBe(1);
    expect(rows.map(({ can: may, words }) => [may, words])).toEqual([
      [true, 'confirmed: 1 of 1 line reserved, promised 12 Mar'],
      [false, expect.stringMatching(/is confirmed: only a draft can be confirmed/)],
      [false, expect.stringMatching(/There is no such customer order/)],
    ]);
    expect(company.everything()).toBe(before);
  });

  it('are done where they can be, each with what became of it; the others stay as they are', async () => {
    const ids = await drafts(9);
    await confirm(ids[4] ?? 0);
    const done = await run({ act: 'confirm' }, ids);
    expect(done).toMatchObject({ state: 'done', title: 'Confirm', who: 'manager', total: 9, done: 8, refused: 1 });
    expect(done.rows[4]).toMatchObject({ id: ids[4], state: 'refused', words: expect.stringMatching(/only a draft/) as string });
    for (const id of ids) expect((await order(id)).state).toBe('confirmed');
    expect((await manager.call(selling.runs))[0]).toMatchObject({ id: done.id, done: 8 });
  });

  it('are held and let go, moved, carried and wanted on another day, with what follows', async () => {
    const [one = 0, two = 0] = await drafts(2);
    await confirm(one);
    await run({ act: 'hold', reason: 'waits for a deposit' }, [one, two]);
    expect(await order(one)).toMatchObject({ held: 'waits for a deposit', state: 'confirmed' });
    expect((await manager.refused(dispatch.createShipment, { body: { orderId: one } })).code).toBe('onHold');
    const { version } = await order(two);
    expect((await manager.refused(selling.confirmOrder, { params: { id: two }, body: { version } })).detail).toMatch(/held: waits for a deposit/);
    expect((await run({ act: 'letGo' }, [one, two])).done).toBe(2);
    expect((await run({ act: 'redate', date: '2027-04-01' }, [one, two])).rows[0]?.words).toMatch(/^wanted 1 Apr: 1 of 1 line reserved/);
    expect((await order(one)).lines[0]).toMatchObject({ requiredDate: '2027-04-01', promiseDate: '2027-04-01' });
    await run({ act: 'carry', carrier: 'Fen Parcels', service: 'next day' }, [one]);
    const moved = await run({ act: 'move', warehouseId: 2 }, [one, two]);
    expect(moved.rows.map(({ words }) => words)).toEqual([expect.stringMatching(/^from DEPOT: 0 of 1 line reserved/), 'from DEPOT']);
    expect(await order(one)).toMatchObject({ warehouse: 'DEPOT', carrier: 'Fen Parcels', service: 'next day' });
    expect((await manager.call(api.stores.availability, { query: { item: company.id('item', 'SMOKER'), warehouse: 1 } })).free).toBe('10');
    await run({ act: 'move', warehouseId: 1 }, [one]);
    // What is only looked at has no number yet.
    expect((await preview({ act: 'ship' }, [one])).rows[0]?.words).toBe('a shipment with 1 line');
    const shipped = await run({ act: 'ship' }, [one]);
    expect(shipped.rows[0]?.words).toMatch(/^SH-\d+ with 1 line$/);
    const { rows } = await manager.call(dispatch.listShipments);
    expect((await manager.call(dispatch.getShipment, { params: { id: rows[0]?.id ?? 0 } })).carrier).toBe('Fen Parcels, next day');
    expect((await run({ act: 'move', warehouseId: 2 }, [one])).rows[0]?.words).toMatch(/is on shipment SH-/);
  });

  it('are invoiced once, whoever asks twice at once', async () => {
    const id = await draft();
    await confirm(id);
    const shipment = await manager.call(dispatch.createShipment, { body: { orderId: id } });
    const picked = await manager.call(dispatch.startPicking, { params: { id: shipment.id }, body: { version: shipment.version } });
    await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: picked.version } });
    const both = await Promise.all([1, 2].map(() => manager.call(selling.startRun, { body: { act: { act: 'invoice' }, ids: [id] } })));
    const [first, second] = await Promise.all(both.map((each) => ended(each.id)));
    expect([first?.done, second?.done].sort()).toEqual([0, 1]);
  });

  it('take the right of the act, of the moment', async () => {
    const ids = await drafts(1);
    const viewer = await company.as('viewer');
    expect(await viewer.refused(selling.startRun, { body: { act: { act: 'confirm' }, ids } })).toMatchObject({ code: 'notAllowed' });
    expect(await viewer.refused(selling.previewRun, { body: { act: { act: 'invoice' }, ids } })).toMatchObject({ code: 'notAllowed' });
    expect(await manager.refused(selling.startRun, { body: { act: { act: 'hold', reason: '' }, ids } })).toMatchObject({ code: 'badInput' });
  });
});

describe('a run', () => {
  it('is stopped by who began it: what was done stands, the rest is untouched', async () => {
    const ids = await drafts(60);
    const { id } = await manager.call(selling.startRun, { body: { act: { act: 'confirm' }, ids } });
    const other = await company.as('sales');
    const refusal = await other.refused(selling.stopRun, { params: { id } });
    expect(['notYours', 'wrongState']).toContain(refusal.code);
    await manager.attempt(selling.stopRun, { params: { id } });
    const view = await ended(id);
    const states = await Promise.all(view.rows.map(async (row) => [row.state, (await order(row.id)).state]));
    for (const [became, now] of states) expect(now).toBe(became === 'done' ? 'confirmed' : 'draft');
    expect(view.done + view.rows.filter(({ state }) => state === 'waiting').length).toBe(60);
  });

  it('that a kill has cut short says so: nothing goes on by itself', async () => {
    const [one = 0] = await drafts(1);
    const { commands } = company.terrace;
    const actor = somebody('manager');
    const { id } = commands.perform(actor, (work) => new OrderRuns(commands, () => undefined).start(work, { act: { act: 'confirm' }, ids: [one] }));
    // As if the server had begun anew.
    new OrderRuns(commands, () => undefined).go(id);
    const view = await manager.call(selling.getRun, { params: { id } });
    expect(view).toMatchObject({ state: 'cut', done: 0, total: 1 });
    expect(view.rows[0]?.state).toBe('waiting');
    expect((await order(one)).state).toBe('draft');
  });

  it('ends where whoever began it has lost the right', async () => {
    const ids = await drafts(40);
    const { id } = await manager.call(selling.startRun, { body: { act: { act: 'confirm' }, ids } });
    const administrator = await company.as('administrator');
    const { people } = await administrator.call(setup.people);
    const person = people.find(({ login }) => login === 'manager');
    if (!person) throw new RangeError('there is no manager');
    const { name, login, email, version } = person;
    await administrator.call(setup.changePerson, { params: { id: person.id }, body: { name, login, email, active: false, roles: [], version } });
    const sales = await company.as('sales');
    await expect.poll(async () => (await sales.call(selling.getRun, { params: { id } })).state, { timeout: 20_000 }).not.toBe('running');
    const { rows } = await sales.call(selling.getRun, { params: { id } });
    for (const row of rows.filter(({ state }) => state === 'waiting'))
      expect((await sales.call(selling.getOrder, { params: { id: row.id } })).state).toBe('draft');
  });
});
