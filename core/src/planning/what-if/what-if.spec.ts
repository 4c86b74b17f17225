import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, definedOf } from '../../base';
import { UNSAID_RULE, plan, WhatIf, type PlanCopy, type PlanFacts, type PlanProblem, type PlanningRule, type Supposition } from '../index';
import { TODAY, randomProblems } from '../compact/random-problems';

const turns = Number(process.env['PROPERTY_RUNS'] ?? 300);
const NOTHING: PlanFacts = { costs: [], offers: [], own: [], coming: [], making: [], reserved: [] };

const place = { item: fc.constantFrom('A', 'C', 'D'), warehouse: fc.constantFrom('WORKS', 'DEPOT') };
const day = fc.integer({ min: 0, max: 50 }).map((days) => addDays(TODAY, days));
const supposition: fc.Arbitrary<Supposition> = fc.oneof(
  fc.record({
    kind: fc.constant('order' as const),
    name: fc.constantFrom('one more', 'another'),
    ...place,
    quantity: fc.integer({ min: 1, max: 90 }).map(String),
    date: day,
  }),
  fc.record({ kind: fc.constant('move' as const), id: fc.constantFrom('PO-0', 'PO-1', 'CO-0', 'CO-1'), date: day }),
  fc.record({
    kind: fc.constant('rule' as const),
    ...place,
    change: fc.record(
      { leadDays: fc.integer({ min: 0, max: 9 }), safety: fc.constantFrom('0', '7'), source: fc.constantFrom('buy', 'make', 'none') },
      { requiredKeys: [] },
    ),
  }),
);

/** The problem that suppositions make of another, row by row. */
function supposed(problem: PlanProblem, list: readonly Supposition[]): PlanProblem {
  let { rules, receipts, demands } = problem;
  for (const each of list) {
    if (each.kind === 'order') {
      const { item, warehouse, quantity, date } = each;
      const id = `${each.name}/1`;
      demands = [...demands.filter((row) => row.id !== id), { id, item, warehouse, date, quantity, kind: 'order', probability: null }];
    } else if (each.kind === 'move') {
      receipts = receipts.map((row) => (row.id === each.id ? { ...row, date: each.date } : row));
      demands = demands.map((row) => (row.id === each.id ? { ...row, date: each.date } : row));
    } else if (each.kind === 'rule') {
      const at = (rule: PlanningRule): boolean => rule.item === each.item && rule.warehouse === each.warehouse;
      const kept = rules.find(at) ?? { ...UNSAID_RULE, item: each.item, warehouse: each.warehouse };
      rules = [...rules.filter((rule) => !at(rule)), { ...kept, ...definedOf(each.change) }];
    }
  }
  return { ...problem, rules, receipts, demands };
}

/** A shop that buys wax and makes candles of it. */
function candles(change: { readonly problem?: Partial<PlanProblem>; readonly facts?: Partial<PlanFacts> } = {}): PlanCopy {
  const problem: PlanProblem = {
    today: '2027-03-01',
    horizon: '2027-05-31',
    calendars: [{ code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [] }],
    warehouses: [{ code: 'WORKS', calendar: 'STD' }],
    items: [
      { code: 'CANDLE', decimals: 0, phantom: false },
      { code: 'WAX', decimals: 1, phantom: false },
    ],
    rules: [
      { ...UNSAID_RULE, item: 'CANDLE', warehouse: 'WORKS', source: 'make', leadDays: 2 },
      { ...UNSAID_RULE, item: 'WAX', warehouse: 'WORKS', leadDays: 5, multiple: '25' },
    ],
    boms: [{ item: 'CANDLE', lines: [{ component: 'WAX', quantity: '0.5', scrap: '0', offsetDays: 0, from: null, to: null }] }],
    stock: [{ item: 'WAX', warehouse: 'WORKS', quantity: '10', usableUntil: null }],
    receipts: [{ id: 'PO-7/1', item: 'WAX', warehouse: 'WORKS', date: '2027-03-09', quantity: '50', locked: false }],
    demands: [{ id: 'CO-1/1', item: 'CANDLE', warehouse: 'WORKS', date: '2027-03-15', quantity: '100', kind: 'order', probability: null }],
    ...change.problem,
  };
  const facts: PlanFacts = {
    costs: [
      { item: 'WAX', cost: '4.00' },
      { item: 'CANDLE', cost: '3.00' },
    ],
    offers: [
      { item: 'WAX', supplier: 'HIVE', preferred: true, leadDays: 5, minimum: '0', multiple: '25', prices: [{ from: '0', price: '4.00' }] },
      {
        item: 'WAX',
        supplier: 'COMB',
        preferred: false,
        leadDays: 15,
        minimum: '60',
        multiple: '0',
        prices: [
          { from: '0', price: '5.00' },
          { from: '50', price: '4.50' },
        ],
      },
    ],
    own: [{ item: 'WAX', warehouse: 'WORKS', leadDays: 0, minimum: '0', multiple: '0' }],
    coming: [{ id: 'PO-7/1', supplier: 'HIVE', price: '4.00' }],
    making: [],
    reserved: [],
    ...change.facts,
  };
  return { problem, facts };
}

describe('what if', () => {
  it('plans what is supposed as a plan of rows that say so, whatever was supposed before', () => {
    fc.assert(
      fc.property(randomProblems(true), fc.array(fc.array(supposition, { maxLength: 4 }), { minLength: 1, maxLength: 3 }), (drawn, rounds) => {
        // A moved row has to be there, and a rule that is good stays so.
        const has = (id: string): boolean => [...drawn.receipts, ...drawn.demands].some((row) => row.id === id);
        const whatIf = new WhatIf({ problem: drawn, facts: NOTHING });
        for (const round of [...rounds, []]) {
          const list = round.filter((each) => each.kind !== 'move' || has(each.id));
          whatIf.suppose(list);
          expect(whatIf.result()).toEqual(plan(supposed(drawn, list)));
        }
      }),
      { numRuns: turns / 3 },
    );
  });

  it('finds no difference where nothing is supposed', () => {
    const same = new WhatIf(candles()).suppose([]);
    expect(same.lines).toEqual([]);
    expect(same.suggestions).toEqual([]);
    expect(same.after).toEqual(same.before);
  });

  it('counts purchases, the worth of stock and what is in work', () => {
    const { before } = new WhatIf(candles()).suppose([]);
    // Wax for 100 candles is 50; 10 lie here and 50 come for 200.00.
    expect(before.purchases).toBe('200.00');
    expect(before.purchasesBy[0]).toEqual({ start: '2027-03-01', amount: '200.00' });
    expect(before.stockBy[0]).toEqual({ start: '2027-03-01', amount: '40.00' });
    // After the candles are made of the wax 10 are left.
    expect(before.stockBy[3]?.amount).toBe('40.00');
    expect(before.fullest).toBe(1);
    expect(before.late).toBe(0);
  });

  it('buys from the next supplier where one is lost, and tells who comes late by it', () => {
    const lost = new WhatIf(candles()).suppose([{ kind: 'lose', supplier: 'HIVE' }]);
    const bought = lost.suggestions.find((each) => each.item === 'WAX')?.after;
    // The least of the other's orders, 15 working days from today, at their price from 50 on.
    expect(bought).toMatchObject({ supplier: 'COMB', quantity: '60', due: '2027-03-22', placeBy: '2027-03-01' });
    expect(lost.after.purchases).toBe('270.00');
    // It was wanted on 11 March: what is made of it waits those 11 days.
    expect(lost.lines).toMatchObject([{ id: 'CO-1/1', before: { ready: '2027-03-15' }, after: { ready: '2027-03-26' } }]);
    expect([lost.before.late, lost.after.late]).toEqual([0, 1]);
  });

  it('leaves short what nobody sells any more', () => {
    const lost = new WhatIf(candles()).suppose([
      { kind: 'lose', supplier: 'HIVE' },
      { kind: 'lose', supplier: 'COMB' },
    ]);
    expect(lost.after.purchases).toBe('0.00');
    // The candles are still to be made; but of the wax for them only a fifth is there.
    expect(lost.lines).toMatchObject([{ id: 'CO-1/1', before: { ready: '2027-03-15' }, after: { ready: null, cause: 'CANDLE@WORKS#1' } }]);
    expect([lost.after.late, lost.after.unserved]).toEqual([0, 1]);
  });

  it('takes an order more into the plan and forgets it again', () => {
    const whatIf = new WhatIf(candles());
    const more = whatIf.suppose([{ kind: 'order', name: 'one more', item: 'CANDLE', warehouse: 'WORKS', quantity: '200', date: '2027-04-05' }]);
    expect(more.lines).toMatchObject([{ id: 'one more/1', before: null, after: { wanted: '2027-04-05', ready: '2027-04-05' } }]);
    // 100 of wax more, of which 10 lie here: a case of 25 more than 75.
    expect(more.after.purchases).toBe('600.00');
    expect(whatIf.suppose([]).after.purchases).toBe('200.00');
  });

  it('moves production with what it is made of', () => {
    const copy = candles({
      problem: {
        receipts: [{ id: 'MO-3', item: 'CANDLE', warehouse: 'WORKS', date: '2027-03-15', quantity: '100', locked: false }],
        demands: [{ id: 'MO-3/1', item: 'WAX', warehouse: 'WORKS', date: '2027-03-11', quantity: '50', kind: 'component', probability: null }],
      },
      facts: { making: [{ id: 'MO-3', start: '2027-03-11', running: false }] },
    });
    const whatIf = new WhatIf(copy);
    const moved = whatIf.suppose([{ kind: 'move', id: 'MO-3', date: '2027-03-29' }]);
    expect(moved.suggestions.map((each) => [each.before?.due, each.after?.due])).toEqual([['2027-03-11', '2027-03-25']]);
  });

  it('leaves reserved stock with whoever holds it, however soon another order is supposed', () => {
    const stock = [{ item: 'CANDLE', warehouse: 'WORKS', quantity: '100', usableUntil: null }];
    const sooner: Supposition = { kind: 'order', name: 'sooner', item: 'CANDLE', warehouse: 'WORKS', quantity: '100', date: '2027-03-02' };
    const open = new WhatIf(candles({ problem: { stock } })).suppose([sooner]);
    expect(open.lines.map((each) => each.id)).toContain('CO-1/1');
    const held = new WhatIf(candles({ problem: { stock }, facts: { reserved: [{ demand: 'CO-1/1', quantity: '100' }] } })).suppose([sooner]);
    expect(held.lines.map((each) => each.id)).toEqual(['sooner/1']);
    expect(held.lines[0]?.after?.ready ?? '9999').toMatch(/^2027-03-(0[3-9]|[123])|^9999/);
  });

  it('keeps a component so many working days after the start, wherever production is moved', () => {
    const copy = candles({
      problem: {
        receipts: [{ id: 'MO-3', item: 'CANDLE', warehouse: 'WORKS', date: '2027-03-15', quantity: '100', locked: false }],
        // Starts on a Thursday; wanted two working days later, after the weekend.
        demands: [{ id: 'MO-3/1', item: 'WAX', warehouse: 'WORKS', date: '2027-03-15', quantity: '50', kind: 'component', probability: null }],
      },
      facts: { making: [{ id: 'MO-3', start: '2027-03-11', running: false }] },
    });
    // Moved by a day less than two weeks, it starts on a Wednesday and is wanted on the Friday.
    const { suggestions } = new WhatIf(copy).suppose([{ kind: 'move', id: 'MO-3', date: '2027-03-28' }]);
    expect(suggestions.map((each) => each.after?.due)).toEqual(['2027-03-26']);
  });

  it('names data problems that only what is supposed has', () => {
    const { problems } = new WhatIf(candles({ problem: { receipts: [] } })).suppose([
      { kind: 'rule', item: 'WAX', warehouse: 'WORKS', change: { source: 'make' } },
    ]);
    expect(problems.map((each) => [each.code, each.subject])).toEqual([['noBom', 'WAX@WORKS']]);
  });

  it.each<[string, Supposition, RegExp]>([
    ['an unknown item', { kind: 'order', name: 'n', item: 'NONE', warehouse: 'WORKS', quantity: '1', date: '2027-04-01' }, /no item NONE/],
    ['an unknown warehouse', { kind: 'order', name: 'n', item: 'WAX', warehouse: 'MOON', quantity: '1', date: '2027-04-01' }, /no warehouse MOON/],
    ['half a candle', { kind: 'order', name: 'n', item: 'CANDLE', warehouse: 'WORKS', quantity: '0.5', date: '2027-04-01' }, /CANDLE/],
    ['a day that is none', { kind: 'move', id: 'PO-7/1', date: '2027-02-30' }, /not a date/],
    ['a day that has passed', { kind: 'move', id: 'PO-7/1', date: '2027-02-01' }, /has passed/],
    ['a row that is not there', { kind: 'move', id: 'PO-9/9', date: '2027-04-01' }, /PO-9\/9/],
    ['a supplier of nothing', { kind: 'lose', supplier: 'NOBODY' }, /NOBODY/],
  ])('refuses %s and keeps what was supposed', (_name, bad, words) => {
    const whatIf = new WhatIf(candles());
    whatIf.suppose([{ kind: 'lose', supplier: 'HIVE' }]);
    const before = whatIf.result();
    expect(() => whatIf.suppose([bad])).toThrow(words);
    expect(whatIf.result()).toEqual(before);
  });
});
