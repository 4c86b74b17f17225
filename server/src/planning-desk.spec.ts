import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type SuggestionRow } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { openCompany, type Client, type Company } from './testing/company';

const { planning, selling, stores, catalogue, production } = api;
let company: Company;
let manager: Client;
const id = (code: string): number => company.id('item', code);
const settled = (): Promise<void> => company.terrace.planner.settled();

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterAll(() => company.close());

const order = async (code: string, quantity: string, requiredDate: string, confirm = true) =>
  manager.call(selling.createOrder, { body: { customerId: 1, warehouseId: 1, requiredDate, lines: [{ itemId: id(code), quantity }], confirm } });
const inDanger = async (): Promise<string[]> => {
  await settled();
  return (await manager.call(planning.listEndangered)).rows.map((row) => row.number);
};
const suggested = async (code: string): Promise<SuggestionRow | undefined> => {
  await settled();
  return (await manager.call(planning.listSuggestions)).rows.find((row) => row.code === code && row.firmId === null);
};

describe('promises', () => {
  it('of what is reserved are not in danger, whoever wants the item sooner', async () => {
    const held = await order('SMOKER', '10', '2027-03-20');
    expect(held.lines[0]?.covered).toBe('all reserved');
    const sooner = await order('SMOKER', '4', '2027-03-02');
    expect(await inDanger()).toEqual([sooner.number]);
    const chart = await manager.call(planning.getOrderChart, { params: { id: held.id } });
    expect(chart.lines[0]?.served).toMatchObject([{ kind: 'stock', quantity: '10' }]);
    await manager.call(selling.cancelOrder, { params: { id: held.id }, body: { version: held.version, reason: 'no more bees' } });
    // What was held is free, but the sooner one has not taken it yet: by the plan it can have it.
    expect(await inDanger()).toEqual([]);
    const view = await manager.call(selling.getOrder, { params: { id: sooner.id } });
    await manager.call(selling.cancelOrder, { params: { id: sooner.id }, body: { version: view.version, reason: 'neither' } });
  });

  it('of a draft are none: its chart has nothing to wait for', async () => {
    const draft = await order('SMOKER', '300', '2027-03-02', false);
    expect((await manager.call(planning.getOrderChart, { params: { id: draft.id } })).lines).toEqual([]);
    expect(await inDanger()).not.toContain(draft.number);
  });

  it('go out as a file as the list is narrowed', async () => {
    const late = await order('FRAME', '700', '2027-03-02');
    expect(await inDanger()).toContain(late.number);
    const file = await manager.agent
      .get('/api/planning/endangered')
      .query({ file: 'csv', columns: 'number:Order,cause:Waits for', find: late.number });
    expect(file.text.trim().split(/\r?\n/)).toHaveLength(2);
    expect(file.text).toMatch(/Order;Waits for|Order,Waits for/);
    expect((await manager.agent.get('/api/planning/endangered').query({ file: 'pdf', columns: 'number:Order' })).type).toBe('application/pdf');
    await manager.call(selling.cancelOrder, { params: { id: late.id }, body: { version: late.version, reason: 'too late' } });
  });
});

describe('data problems', () => {
  const lacking = async (): Promise<string[]> => {
    await settled();
    return (await manager.call(planning.listProblems)).rows.map((row) => `${row.code} ${row.subject}`);
  };

  it('name what is to be bought from nobody, until somebody sells it', async () => {
    const rule = { warehouseId: 1, source: 'buy' as const, leadDays: 3 };
    await manager.call(api.planning.setRule, { params: { id: id('STRIPS') }, body: rule });
    expect(await lacking()).toEqual([]);
    const wanted = await order('STRIPS', '5', '2027-03-20');
    expect(await lacking()).toEqual(['noSupplier STRIPS@WORKS']);
    const supplierId = company.id('supplier', 'METAL');
    await manager.call(catalogue.setTerm, { params: { id: id('STRIPS') }, body: { supplierId, price: '19.00', leadDays: 4 } });
    expect(await lacking()).toEqual([]);
    expect(await suggested('STRIPS')).toMatchObject({ supplier: 'Ironbeck Metalworks', cost: '95.00' });
    await manager.call(selling.cancelOrder, { params: { id: wanted.id }, body: { version: wanted.version, reason: 'winter' } });
  });

  it('name a demand that no rule covers, and what is made from nothing', async () => {
    const wanted = await order('STRIPS', '2', '2027-03-20');
    await manager.call(api.planning.setRule, { params: { id: id('STRIPS') }, body: { warehouseId: 1, source: 'make', leadDays: 3 } });
    expect(await lacking()).toEqual(['noBom STRIPS@WORKS']);
    await manager.call(selling.cancelOrder, { params: { id: wanted.id }, body: { version: wanted.version, reason: 'winter' } });
    expect(await lacking()).toEqual([]);
  });
});

describe('components', () => {
  it('are wanted so many working days after the start of their production, over the weekend', async () => {
    const lines = [
      { componentId: id('BAR'), quantity: '4', scrap: '0', offsetDays: 2, validFrom: null, validTo: null },
      { componentId: id('WIRE'), quantity: '2.4', scrap: '0', offsetDays: 0, validFrom: null, validTo: null },
    ];
    await manager.call(catalogue.setBom, { params: { id: id('FRAME') }, body: { lines } });
    const made = await manager.call(production.createProduction, {
      // Starts on a Thursday: two working days later it is Monday.
      body: { itemId: id('FRAME'), warehouseId: 1, quantity: '5', startDate: '2027-03-11', dueDate: '2027-03-18' },
    });
    await settled();
    const dayOf = async (code: string): Promise<string | undefined> => {
      const { events } = await manager.call(planning.getRecord, { params: { itemId: id(code), warehouseId: 1 } });
      return events.find((event) => event.id.startsWith(`${made.number}/`))?.day;
    };
    expect([await dayOf('BAR'), await dayOf('WIRE')]).toEqual(['2027-03-15', '2027-03-11']);
    const when = await manager.call(stores.strip, { query: { item: id('BAR'), warehouse: 1 } });
    expect(when.events.find((event) => event.document.startsWith(`${made.number}/`))?.date).toBe('2027-03-15');
  });
});

describe('pegging', () => {
  it('goes down from what is wanted, and from what a suggestion calls for, to what serves it', async () => {
    const wanted = await order('FRAME', '50', '2027-03-22');
    await settled();
    const place = (code: string): { itemId: number; warehouseId: number } => ({ itemId: id(code), warehouseId: 1 });
    const { serving } = await manager.call(planning.getServing, { query: { ...place('FRAME'), demand: `${wanted.number}/1` } });
    const made = serving.find((peg) => peg.kind === 'suggestion');
    expect(made?.below.map((peg) => peg.code)).toEqual(expect.arrayContaining(['BAR', 'WIRE']));
    const below = await manager.call(planning.getServing, { query: { ...place('BAR'), demand: made?.id ?? '' } });
    const sum = below.serving.reduce((all, peg) => all + Number(peg.quantity), 0);
    const called = made?.below.filter((peg) => peg.code === 'BAR').reduce((all, peg) => all + Number(peg.quantity), 0);
    expect(sum).toBe(called);
    const { served } = await manager.call(planning.getServed, { query: { kind: 'suggestion', id: below.serving.at(-1)?.id ?? '' } });
    expect(JSON.stringify(served)).toContain(`${wanted.number}/1`);
    expect((await manager.call(planning.getServing, { query: { ...place('BAR'), demand: 'CO-0/1' } })).serving).toEqual([]);
    await manager.call(selling.cancelOrder, { params: { id: wanted.id }, body: { version: wanted.version, reason: 'enough' } });
  });
});

describe('what the desk refuses', () => {
  const good = { kind: 'buy' as const, quantity: '30', placeBy: '2027-03-10', due: '2027-03-16' };

  it('is said of the field that is wrong, and nothing is kept', async () => {
    await order('SMOKER', '40', '2027-03-18');
    const each = await suggested('SMOKER');
    const refusals = [
      [{ ...good, quantity: '1.5' }, 'quantity'],
      [{ ...good, quantity: '-3' }, 'quantity'],
      [{ ...good, due: '2027-02-27' }, 'due'],
      [{ ...good, placeBy: '2027-03-20' }, 'placeBy'],
      [{ ...good, kind: 'transfer' as const }, 'fromId'],
      [{ ...good, kind: 'transfer' as const, fromId: 1 }, 'fromId'],
      [{ ...good, supplierId: 999 }, 'supplierId'],
    ] as const;
    for (const [figures, field] of refusals) {
      const refused = await manager.refused(planning.keepSuggestion, { body: { ...figures, name: each?.id, seq: 0 } });
      expect([field, refused.details?.['field'] ?? refused.errors?.[0]?.field]).toEqual([field, field]);
    }
    expect(
      (await manager.call(planning.listSuggestions, { query: { filter: JSON.stringify({ firmId: { op: 'atLeast', value: '1' } }) } })).total,
    ).toBe(0);
    expect((await manager.refused(planning.keepSuggestion, { body: { ...good, name: 'SMOKER@WORKS#99', seq: 0 } })).status).toBeGreaterThanOrEqual(
      400,
    );
  });

  it('holds for those who may only look', async () => {
    const viewer = await company.as('viewer');
    const each = await suggested('SMOKER');
    const denied = [
      await viewer.refused(planning.keepSuggestion, { body: { ...good, name: each?.id, seq: 0 } }),
      await viewer.refused(planning.release, { body: { seq: 0, suggestions: [{ name: each?.id, seen: { quantity: '1', due: '' } }] } }),
      await viewer.refused(planning.applyExceptions, {
        body: { seq: 0, exceptions: [{ kind: 'cancel', subject: 'PO-1001/1', seen: { itemId: 1, to: null, quantity: '1' } }] },
      }),
      await viewer.refused(planning.adopt, { body: { historyId: 0, suppositions: [{ kind: 'lose', supplier: 'METAL' }] } }),
      await viewer.refused(planning.ignoreSuggestions, { body: { itemId: id('SMOKER'), warehouseId: 1, until: '2027-04-01' } }),
    ];
    expect(denied.map((problem) => problem.code)).toEqual(denied.map(() => 'notAllowed'));
    expect((await viewer.call(planning.listSuggestions)).total).toBeGreaterThan(0);
  });

  it('says what a remedy there is none for, and that something is gone', async () => {
    const state = await manager.call(planning.getPlan);
    const none = await manager.refused(planning.applyExceptions, {
      body: { seq: state.seq, exceptions: [{ kind: 'cancel', subject: 'PO-9999/1', seen: { itemId: 1, to: null, quantity: '1' } }] },
    });
    expect(none.code).toBe('staleVersion');
    expect((await manager.refused(planning.getSuggestion, { query: { name: 'SMOKER@WORKS#99' } })).code).toBe('notFound');
  });
});

describe('a suggestion looked at', () => {
  it('says why in its rule’s own figures, and who could supply it at what price', async () => {
    const rule = { warehouseId: 1, source: 'buy' as const, leadDays: 0, safety: '2', multiple: '12', minimum: '24' };
    await manager.call(api.planning.setRule, { params: { id: id('SMOKER') }, body: rule });
    const each = await suggested('SMOKER');
    const view = await manager.call(planning.getSuggestion, { query: { name: each?.id ?? '' } });
    expect(view.why).toMatch(
      /^On \d+ Mar \d+ each would be (missing, below the safety stock of 2 each|left, below the safety stock of 2)\. For CO-\d+\/1 \(\d+\)\./,
    );
    expect(view.why).toContain('in multiples of 12');
    expect(Number(view.quantity) % 12).toBe(0);
    expect(view.choices).toMatchObject([{ supplier: 'Ironbeck Metalworks', preferred: true, price: '17.80', leadDays: 4 }]);
  });
});

describe('suggestions', () => {
  it('within a few days are those to be placed by then, the most urgent first, and say whom they serve', async () => {
    const placed = await order('SMOKER', '40', '2027-03-08');
    await settled();
    const all = await manager.call(planning.listSuggestions, { query: { limit: 1000 } });
    for (const within of [0, 7, 30]) {
      const soon = await manager.call(planning.listSuggestions, { query: { within, limit: 1000 } });
      const by = addDays('2027-03-01', within);
      expect(soon.total).toBe(all.rows.filter((row) => row.placeBy <= by).length);
      expect(soon.rows.map((row) => row.id).sort()).toEqual(
        all.rows
          .filter((row) => row.placeBy <= by)
          .map((row) => row.id)
          .sort(),
      );
      const urgency = soon.rows.map((row) => `${row.placeBy} ${9999 - row.daysLate}`);
      expect(urgency).toEqual([...urgency].sort());
    }
    const [mine] = all.rows.filter((row) => row.code === 'SMOKER');
    const { pegs } = await manager.call(planning.getSuggestion, { query: { name: mine?.id ?? '' } });
    expect([mine?.serves, mine?.servesMore]).toEqual([pegs[0]?.demand, pegs.length - 1]);
    await manager.call(selling.cancelOrder, { params: { id: placed.id }, body: { version: placed.version, reason: 'only asked' } });
  });
});
