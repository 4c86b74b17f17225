import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type Adoption, type PlanCopyView } from '@terrace/contract';
import { WhatIf, plan, type Supposition } from '@terrace/core';
import { gatherProblem } from './planning';
import { openCompany, type Client, type Company, somebody } from './testing/company';

const { planning, selling, catalogue, buying, production } = api;
let company: Company;
let manager: Client;
const id = (code: string): number => company.id('item', code);

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
  // A second supplier for bars, slower and dearer than the first.
  const { id: second } = await manager.call(catalogue.createSupplier, {
    body: { code: 'ALDER', name: 'Alder Yard', email: 'yard@alder.example', paymentDays: 30, currency: 'EUR' },
  });
  await manager.call(catalogue.setTerm, {
    params: { id: id('BAR') },
    body: { supplierId: second, price: '9.50', leadDays: 12, preferred: false, multiple: '10' },
  });
  const { id: order } = await manager.call(selling.createOrder, {
    body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-20', lines: [{ itemId: id('FRAME'), quantity: '60' }], confirm: true },
  });
  expect(order).toBeGreaterThan(0);
  await manager.call(buying.createPurchase, {
    body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: id('SMOKER'), quantity: '30', dueDate: '2027-03-25' }] },
  });
});
afterAll(() => company.close());

const copyOf = async (): Promise<PlanCopyView> => manager.call(planning.getPlanCopy);
const look = () => company.terrace.commands.look(somebody('manager'));
const planned = () => plan(gatherProblem(look()));

/** What is suggested, without the names of what it serves. */
const suggested = (result: ReturnType<typeof plan>) => result.suggestions.map(({ pegs: _pegs, ...each }) => each);

/** Supposes and adopts; the plan then has to be what was supposed. */
async function adopted(list: readonly (Supposition & Adoption)[]): Promise<readonly string[]> {
  const copy = await copyOf();
  const whatIf = new WhatIf(copy);
  whatIf.suppose(list);
  const wanted = whatIf.result();
  const { done } = await manager.call(planning.adopt, { body: { historyId: copy.historyId, suppositions: [...list] } });
  expect(suggested(planned())).toEqual(suggested(wanted));
  company.sound();
  return done;
}

describe('a copy of the plan', () => {
  it('is the problem that is planned, with what suppliers ask and what things are worth', async () => {
    const copy = await copyOf();
    expect(plan(copy.problem)).toEqual(planned());
    expect(copy.facts.offers.filter((each) => each.item === 'BAR').map((each) => each.supplier)).toEqual([expect.stringMatching(/./), 'ALDER']);
    expect(copy.words.orders).toMatchObject([{ customer: expect.stringMatching(/./) as string }]);
    const { before } = new WhatIf(copy).suppose([]);
    expect(Number(before.purchases)).toBeGreaterThan(0);
  });

  it('changes nothing, whatever is supposed', async () => {
    const before = company.everything();
    new WhatIf(await copyOf()).suppose([{ kind: 'rule', item: 'BAR', warehouse: 'WORKS', change: { safety: '500' } }]);
    expect(company.everything()).toBe(before);
  });

  it('is for those who may see the plan', async () => {
    const everybody = await company.as('viewer');
    expect((await everybody.call(planning.getPlanCopy)).seq).toBeGreaterThan(0);
    expect((await everybody.refused(planning.adopt, { body: { historyId: 0, suppositions: [{ kind: 'lose', supplier: 'ALDER' }] } })).code).toBe(
      'notAllowed',
    );
  });
});

describe('adopting', () => {
  it('does all of it or nothing, and says what can not be', async () => {
    const before = company.everything();
    const problem = await manager.refused(planning.adopt, {
      body: {
        historyId: 0,
        suppositions: [
          { kind: 'rule', item: 'BAR', warehouse: 'WORKS', change: { safety: '40' } },
          { kind: 'move', id: 'CO-99999/1', date: '2027-04-01' },
        ],
      },
    });
    expect(problem.errors?.[0]?.field).toBe('suppositions.1');
    expect(company.everything()).toBe(before);
    const half = await manager.refused(planning.adopt, {
      body: { historyId: 0, suppositions: [{ kind: 'rule', item: 'FRAME', warehouse: 'WORKS', change: { safety: '0.5' } }] },
    });
    expect(half.errors?.[0]?.field).toBe('suppositions.0');
    expect(company.everything()).toBe(before);
  });

  it('makes a changed rule and moved lines the plan that was supposed', async () => {
    const copy = await copyOf();
    const line = copy.problem.demands.find((each) => each.item === 'FRAME' && each.kind === 'order')?.id ?? '';
    const bought = copy.problem.receipts.find((each) => each.item === 'SMOKER')?.id ?? '';
    const done = await adopted([
      { kind: 'rule', item: 'BAR', warehouse: 'WORKS', change: { safety: '40', lotSizing: { kind: 'fixed', quantity: '25' } } },
      { kind: 'move', id: line, date: '2027-04-12' },
      { kind: 'move', id: bought, date: '2027-04-02' },
    ]);
    expect(done).toHaveLength(3);
  });

  it('never moves another line: places move up, and what has changed since it was seen is refused', async () => {
    const lines = [
      { itemId: id('SMOKER'), quantity: '2', requiredDate: '2027-05-04' },
      { itemId: id('FRAME'), quantity: '3', requiredDate: '2027-05-05' },
      { itemId: id('FRAME'), quantity: '4', requiredDate: '2027-05-06' },
    ];
    const order = await manager.call(selling.createOrder, {
      body: { customerId: 1, warehouseId: 1, requiredDate: '2027-05-04', lines, confirm: true },
    });
    const copy = await copyOf();
    const seen = copy.problem.demands.find((each) => each.id === `${order.number}/2`);
    expect(seen).toMatchObject({ item: 'FRAME', quantity: '3' });
    const [, second, third] = order.lines;
    const kept = [second, third].map((line) => ({
      id: line?.id,
      itemId: id('FRAME'),
      quantity: line?.quantity ?? '',
      requiredDate: line?.requiredDate ?? '',
    }));
    await manager.call(selling.changeOrder, {
      params: { id: order.id },
      body: { customerId: 1, warehouseId: 1, requiredDate: '2027-05-04', lines: kept, version: order.version },
    });
    const before = company.everything();
    const move = { kind: 'move', id: `${order.number}/2`, date: '2027-06-01' } as const;
    const problem = await manager.refused(planning.adopt, { body: { historyId: copy.historyId, suppositions: [move] } });
    expect(problem).toMatchObject({ code: 'staleVersion', detail: expect.stringContaining(`${order.number} has changed since`) as string });
    expect(company.everything()).toBe(before);
    // Supposed once more on a newer copy, it is seen to be another line by now.
    const now = new WhatIf(await copyOf());
    expect(() => now.suppose([{ ...move, seen: { item: 'FRAME', date: '2027-05-05' } }])).toThrow(/is now FRAME on 2027-05-06/);
    await adopted([move]);
    const after = await manager.call(selling.getOrder, { params: { id: order.id } });
    expect(after.lines.map((line) => [line.quantity, line.requiredDate])).toEqual([
      ['3', '2027-05-05'],
      ['4', '2027-06-01'],
    ]);
  });

  it('moves production with its components as it was supposed, drafted or released, earlier or later', async () => {
    const made = await manager.call(production.createProduction, {
      body: { itemId: id('FRAME'), warehouseId: 1, quantity: '30', dueDate: '2027-04-20' },
    });
    await adopted([{ kind: 'move', id: made.number, date: '2027-05-06' }]);
    const moved = await manager.call(production.getProduction, { params: { id: made.id } });
    expect(moved.dueDate).toBe('2027-05-06');
    await adopted([{ kind: 'move', id: made.number, date: '2027-03-03' }]);
    await manager.call(production.releaseProduction, { params: { id: made.id }, body: { version: moved.version + 1 } });
    await adopted([{ kind: 'move', id: made.number, date: '2027-06-10' }]);
  });

  it('enters an order that was supposed as a draft for the customer that is named', async () => {
    const { done } = await manager.call(planning.adopt, {
      body: { historyId: 0, suppositions: [{ kind: 'order', customerId: 1, item: 'FRAME', warehouse: 'WORKS', quantity: '5', date: '2027-05-03' }] },
    });
    expect(done[0]).toMatch(/^CO-\d+ is entered for .*draft/);
    const { rows } = await manager.call(selling.listOrders);
    expect(rows.find((each) => done[0]?.startsWith(each.number))).toMatchObject({ state: 'draft', requiredDate: '2027-05-03' });
  });

  it('gives a supplier up: what is to come is cancelled, the next one is preferred, and what nobody sells is only reported', async () => {
    const first = (await copyOf()).words.suppliers.find((each) => each.id === 1)?.code ?? '';
    const done = await adopted([{ kind: 'lose', supplier: first }]);
    expect(done.join('; ')).toMatch(/cancelled.*nothing is bought from .* any more/);
    const bar = await manager.call(catalogue.getItem, { params: { id: id('BAR') } });
    expect(bar.terms.find((each) => each.preferred)?.supplier).toBe('Alder Yard');
    expect(bar.rules[0]?.source).toBe('buy');
    const wire = await manager.call(catalogue.getItem, { params: { id: id('WIRE') } });
    expect(wire.rules[0]?.source).toBe('none');
    expect((await manager.refused(planning.adopt, { body: { historyId: 0, suppositions: [{ kind: 'lose', supplier: first }] } })).code).toBe(
      'inactiveSupplier',
    );
  });
});
