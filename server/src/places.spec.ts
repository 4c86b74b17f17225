/** Places: warehouses and bins that are added, changed and closed, usable at once and never closed over stock. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type BinView } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

const { setup, stores, selling, catalogue } = api;
let company: Company;
let administrator: Client;
let manager: Client;

beforeAll(async () => {
  company = await openCompany();
  administrator = await company.as('administrator');
  manager = await company.as('manager');
});
afterAll(() => company.close());

const barn = { code: 'BARN', name: 'Barn by the river', address: 'River Lane 1', calendar: 'STD', dock: 'GATE' };
const binsOf = async (id: number): Promise<readonly BinView[]> => (await administrator.call(setup.bins, { params: { id } })).bins;
const put = (warehouseId: number, binId: number, change = '2') => ({
  body: { warehouseId, reason: 'OPENING', note: '', lines: [{ itemId: company.id('item', 'SMOKER'), binId, change, unitCost: '17.50' }] },
});

describe('a warehouse', () => {
  it('is there for everything at once, with its dock', async () => {
    const { id } = await administrator.call(setup.addWarehouse, { body: barn });
    expect(await administrator.refused(setup.addWarehouse, { body: { ...barn, code: 'barn' } })).toMatchObject({
      code: 'alreadyThere',
      details: { field: 'code' },
    });
    expect(await administrator.refused(setup.addWarehouse, { body: { ...barn, code: 'SHED', calendar: 'NONE' } })).toMatchObject({
      details: { field: 'calendar' },
    });
    const { warehouses, bins } = await manager.call(catalogue.choices);
    expect(warehouses.map(({ code }) => code)).toContain('BARN');
    const gate = bins.find(({ warehouseId }) => warehouseId === id);
    expect(gate?.code).toBe('GATE');
    await manager.call(stores.adjust, put(id, gate?.id ?? 0));
    const order = { customerId: company.id('customer', 'HOLLIN'), warehouseId: id, requiredDate: '2027-03-10' };
    await manager.call(selling.createOrder, { body: { ...order, lines: [{ itemId: company.id('item', 'SMOKER'), quantity: '1' }] } });
    company.sound();
  });

  it('is closed only when nothing is in the way, and says what is', async () => {
    const id = company.id('warehouse', 'BARN');
    const { version } = (await administrator.call(setup.places)).warehouses.find((each) => each.id === id) ?? { version: 0 };
    const { dock: _, ...fields } = barn;
    const close = { params: { id }, body: { ...fields, active: false, version } };
    const before = company.everything();
    const problem = await administrator.refused(setup.changeWarehouse, close);
    expect(problem).toMatchObject({ code: 'inUse' });
    expect(problem.detail).toMatch(/1 balance of stock \(SMOKER in GATE\); 1 customer order \(CO-\d+\)/);
    expect(company.everything()).toBe(before);

    const [order] = (await manager.call(selling.listOrders, { query: { limit: 1 } })).rows;
    const draft = await manager.call(selling.getOrder, { params: { id: order?.id ?? 0 } });
    await manager.call(selling.cancelOrder, { params: { id: draft.id }, body: { version: draft.version, reason: 'not wanted' } });
    const [gate] = await binsOf(id);
    await manager.call(stores.adjust, put(id, gate?.id ?? 0, '-2'));
    await administrator.call(setup.changeWarehouse, close);
    expect((await manager.call(catalogue.choices)).warehouses.map(({ code }) => code)).not.toContain('BARN');
    expect(await manager.refused(stores.adjust, put(id, gate?.id ?? 0))).toMatchObject({ code: 'closed' });
    expect(await administrator.refused(setup.changeWarehouse, close)).toMatchObject({ code: 'staleVersion' });
    await administrator.call(setup.changeWarehouse, { params: { id }, body: { ...fields, active: true, version: version + 1 } });
    company.sound();
  });
});

describe('bins', () => {
  it('come as a list or as ranges, each once, walked by in the order in which they were written', async () => {
    const id = company.id('warehouse', 'BARN');
    const answer = await administrator.call(setup.addBins, { params: { id }, body: { codes: 'A-01-01 … A-02-02\nZ-9, B-1', size: 'pallet' } });
    expect(answer.added).toBe(6);
    expect(answer.bins.map(({ code, walk }) => [code, walk])).toEqual([
      ['GATE', 0],
      ['A-01-01', 10],
      ['A-01-02', 20],
      ['A-02-01', 30],
      ['A-02-02', 40],
      ['Z-9', 50],
      ['B-1', 60],
    ]);
    const again = await administrator.call(setup.addBins, { params: { id }, body: { codes: 'a-01-01 … a-01-03'.toUpperCase() } });
    expect(again.added).toBe(1);
    expect(await administrator.refused(setup.addBins, { params: { id }, body: { codes: 'A-1 … B-22-1' } })).toMatchObject({
      code: 'badRange',
      details: { field: 'codes' },
    });
    expect(await administrator.refused(setup.addBins, { params: { id }, body: { codes: 'OK-1\nNOT:OK' } })).toMatchObject({ code: 'badCode' });
    expect((await binsOf(id)).some(({ code }) => code === 'OK-1')).toBe(false);
  });

  it('are walked by anew, blocked, closed and opened, many at once or not at all', async () => {
    const id = company.id('warehouse', 'BARN');
    const bins = await binsOf(id);
    const called = (code: string): BinView => {
      const found = bins.find((each) => each.code === code);
      if (!found) throw new Error(`no bin ${code}`);
      return found;
    };
    const [one, other, gate] = [called('B-1'), called('Z-9'), called('GATE')];
    const change = (more: object, ...which: readonly BinView[]) => ({ params: { id }, body: { bins: which.map((each) => each.id), ...more } });
    const { bins: walked } = await administrator.call(setup.changeBins, change({ walkFrom: 1, size: 'small' }, one, other));
    expect(walked.slice(0, 3).map(({ code, walk, size }) => [code, walk, size])).toEqual([
      ['GATE', 0, ''],
      ['B-1', 1, 'small'],
      ['A-01-01', 10, 'pallet'],
    ]);
    await manager.call(stores.adjust, put(id, one.id));
    await administrator.call(setup.changeBins, change({ blocked: true }, one, other));
    expect(await manager.refused(stores.adjust, put(id, one.id))).toMatchObject({ code: 'blocked' });
    // What lies there can leave.
    const before = await binsOf(id);
    expect(await administrator.refused(setup.changeBins, change({ active: false, size: 'x' }, other, one))).toMatchObject({
      code: 'inUse',
      detail: expect.stringContaining('SMOKER in B-1') as string,
    });
    expect(await binsOf(id)).toEqual(before);
    await manager.call(stores.adjust, put(id, one.id, '-2'));
    await administrator.call(setup.changeBins, change({ active: false }, other, one));
    expect((await manager.call(catalogue.choices)).bins.map(({ id: each }) => each)).not.toContain(one.id);
    for (const more of [{ blocked: true }, { active: false }])
      expect(await administrator.refused(setup.changeBins, change(more, gate))).toMatchObject({ code: 'inUse' });
    company.sound();
  });

  it('are renamed, and one of them is the dock', async () => {
    const id = company.id('warehouse', 'BARN');
    const [gate, , aisle] = await binsOf(id);
    if (!gate || !aisle) throw new Error('no bins');
    const to = (bin: BinView, body: { code: string; dock: boolean }) => ({ params: { id, bin: bin.id }, body });
    expect(await administrator.refused(setup.changeBin, to(aisle, { code: 'gate', dock: false }))).toMatchObject({ code: 'alreadyThere' });
    expect(await administrator.refused(setup.changeBin, to(gate, { code: 'GATE', dock: false }))).toMatchObject({ code: 'inUse' });
    const { bins } = await administrator.call(setup.changeBin, to(aisle, { code: 'A-NEW', dock: true }));
    expect(bins.filter(({ dock }) => dock).map(({ code }) => code)).toEqual(['A-NEW']);
    await administrator.call(setup.changeBin, to(aisle, { code: 'A-NEW', dock: true }));
    const paper = await administrator.agent.get(`/api/papers/labels/bins/${id}?only=${gate.id},${aisle.id}`);
    expect(paper.type).toBe('application/pdf');
  });
});
