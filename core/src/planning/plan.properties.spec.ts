import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { WorkingCalendar, addDays, dayOf } from '../base';
import { UNSAID_RULE, plan, planExplained, type PlanProblem, type PlanningRule } from './index';

const today = '2027-03-01';
const ITEMS = ['HIVE', 'BOX', 'FRAME', 'BOARD'];

const rule = (item: string, source: 'buy' | 'make' | 'none', more: Partial<PlanningRule> = {}): PlanningRule => ({
  ...UNSAID_RULE,
  item,
  warehouse: 'WORKS',
  source,
  leadDays: 2,
  ...more,
});

const problem = (more: Partial<PlanProblem>): PlanProblem => ({
  today,
  horizon: '2027-09-30',
  calendars: [{ code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [] }],
  warehouses: [{ code: 'WORKS', calendar: 'STD' }],
  items: ITEMS.map((code) => ({ code, decimals: 0, phantom: false })),
  rules: [],
  boms: [],
  stock: [],
  receipts: [],
  demands: [],
  ...more,
});

const quantity = fc.integer({ min: 1, max: 60 }).map(String);
const date = fc.integer({ min: -10, max: 120 }).map((days) => addDays(today, days));
const item = fc.constantFrom(...ITEMS);
const line = (component: string) =>
  fc.record({
    component: fc.constant(component),
    quantity: fc.constantFrom('1', '2', '1.5'),
    scrap: fc.constantFrom('0', '0.05'),
    offsetDays: fc.constant(0),
    from: fc.constant(null),
    to: fc.constant(null),
  });

const problems: fc.Arbitrary<PlanProblem> = fc
  .record({
    stock: fc.array(fc.record({ item, warehouse: fc.constant('WORKS'), quantity, usableUntil: fc.option(date, { nil: null }) }), { maxLength: 6 }),
    receipts: fc
      .array(fc.record({ item, warehouse: fc.constant('WORKS'), date, quantity, locked: fc.boolean() }), { maxLength: 6 })
      .map((rows) => rows.map((row, index) => ({ ...row, id: `PO-${index}` }))),
    demands: fc
      .array(
        fc.record({ item, warehouse: fc.constant('WORKS'), date, quantity, kind: fc.constant('order' as const), probability: fc.constant(null) }),
        { maxLength: 8 },
      )
      .map((rows) => rows.map((row, index) => ({ ...row, id: `CO-${index}` }))),
    boms: fc.tuple(line('BOX'), line('FRAME'), line('BOARD'), line('BOARD')).map(([box, frame, one, two]) => [
      { item: 'HIVE', lines: [box, frame] },
      { item: 'BOX', lines: [one] },
      { item: 'FRAME', lines: [two] },
    ]),
    safety: fc.constantFrom('0', '7'),
    minimum: fc.constantFrom('0', '25'),
    multiple: fc.constantFrom('0', '6'),
  })
  .map(({ safety, minimum, multiple, ...rows }) =>
    problem({
      ...rows,
      rules: [rule('HIVE', 'make', { safety }), rule('BOX', 'make'), rule('FRAME', 'make', { minimum }), rule('BOARD', 'buy', { multiple, safety })],
    }),
  );

const sum = (texts: readonly string[]): number => texts.reduce((all, text) => all + Number(text), 0);

describe('properties of every plan', () => {
  it('leaves nothing short that could have been supplied', () => {
    fc.assert(
      fc.property(problems, (each) => {
        expect(plan(each).exceptions.filter((exception) => exception.kind === 'short')).toEqual([]);
      }),
    );
  });

  it('accounts for every piece of a suggestion in its pegs', () => {
    fc.assert(
      fc.property(problems, (each) => {
        for (const suggestion of plan(each).suggestions)
          expect(sum(suggestion.pegs.map((peg) => peg.quantity))).toBeCloseTo(Number(suggestion.quantity), 6);
      }),
    );
  });

  it('covers each counted demand wholly, from stock, receipts and suggestions', () => {
    fc.assert(
      fc.property(problems, (each) => {
        const { pegs } = planExplained(each);
        for (const demand of each.demands)
          expect(sum(pegs.filter((peg) => peg.demand === demand.id).map((peg) => peg.quantity))).toBe(Number(demand.quantity));
      }),
    );
  });

  it('moves nothing to a day on which nobody works, nor to one before today, nor to where it is', () => {
    fc.assert(
      fc.property(problems, (each) => {
        const [stated] = each.calendars;
        const calendar = new WorkingCalendar(stated ?? { code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [] });
        for (const { kind, from, to } of plan(each).exceptions) {
          if ((kind !== 'bringForward' && kind !== 'pushBack' && kind !== 'overdueReceipt') || to === null) continue;
          expect(calendar.onOrAfter(dayOf(to))).toBe(dayOf(to));
          expect(to >= each.today).toBe(true);
          expect(to).not.toBe(from);
          expect(kind === 'bringForward' ? to < from : to > from).toBe(true);
        }
      }),
    );
  });

  it('brings forward to the last working day before a Sunday that needs it, and leaves alone what comes then', () => {
    const needed = (date: string): PlanProblem =>
      problem({
        rules: [rule('BOARD', 'buy')],
        receipts: [{ id: 'PO-1/1', item: 'BOARD', warehouse: 'WORKS', date, quantity: '5', locked: false }],
        demands: [{ id: 'CO-1/1', item: 'BOARD', warehouse: 'WORKS', date: '2027-03-14', quantity: '5', kind: 'order', probability: null }],
      });
    const moved = (date: string) => plan(needed(date)).exceptions.map(({ kind, from, to }) => ({ kind, from, to }));
    expect(moved('2027-03-18')).toEqual([{ kind: 'bringForward', from: '2027-03-18', to: '2027-03-12' }]);
    expect(moved('2027-03-12')).toEqual([]);
    expect(moved('2027-03-13')).toEqual([]);
    expect(moved('2027-03-10')).toEqual([{ kind: 'pushBack', from: '2027-03-10', to: '2027-03-12' }]);
    expect(moved('2027-02-25')).toEqual([{ kind: 'overdueReceipt', from: '2027-02-25', to: '2027-03-12' }]);
  });

  it('does not depend on the order of the rows', () => {
    fc.assert(
      fc.property(problems, (each) => {
        const turned: PlanProblem = {
          ...each,
          items: [...each.items].reverse(),
          rules: [...each.rules].reverse(),
          boms: [...each.boms].reverse(),
          stock: [...each.stock].reverse(),
          receipts: [...each.receipts].reverse(),
          demands: [...each.demands].reverse(),
        };
        expect(plan(turned)).toEqual(plan(each));
      }),
    );
  });

  it('never places in the past, and keeps the rule’s minimum and multiple', () => {
    fc.assert(
      fc.property(problems, (each) => {
        for (const suggestion of plan(each).suggestions) {
          expect(suggestion.placeBy >= today && suggestion.placeBy <= suggestion.due).toBe(true);
          const { minimum, multiple } = each.rules.find((one) => one.item === suggestion.item) ?? { minimum: '0', multiple: '0' };
          expect(Number(suggestion.quantity)).toBeGreaterThanOrEqual(Number(minimum));
          if (multiple !== '0') expect(Number(suggestion.quantity) % Number(multiple)).toBe(0);
        }
      }),
    );
  });

  it('leaves a bad row out and plans the rest as if it were not there', () => {
    fc.assert(
      fc.property(problems, (each) => {
        const bad = { id: 'BAD', item: 'HIVE', warehouse: 'WORKS', date: '2027-02-30', quantity: '5', kind: 'order' as const, probability: null };
        const got = plan({ ...each, demands: [...each.demands, bad] });
        expect(got.suggestions).toEqual(plan(each).suggestions);
        expect(got.problems).toMatchObject([{ code: 'badDate', subject: 'BAD' }]);
      }),
    );
  });
});

describe('data problems', () => {
  const codes = (more: Partial<PlanProblem>): string[] => plan(problem(more)).problems.map(({ code, subject }) => `${code} ${subject}`);
  const demand = { id: 'CO-1', item: 'HIVE', warehouse: 'WORKS', date: '2027-03-20', quantity: '4', kind: 'order' as const, probability: null };
  const bom = (parent: string, component: string, more: object = {}) => ({
    item: parent,
    lines: [{ component, quantity: '1', scrap: '0', offsetDays: 0, from: null, to: null, ...more }],
  });

  it('are listed in the order of the rules, the first of a row only', () => {
    expect(codes({ demands: [{ ...demand, item: 'NONE', warehouse: 'NOWHERE' }] })).toEqual(['unknownItem CO-1']);
    expect(codes({ demands: [{ ...demand, warehouse: 'NOWHERE', date: null }] })).toEqual(['unknownWarehouse CO-1']);
    expect(codes({ demands: [{ ...demand, date: null, quantity: '-1' }] })).toEqual(['badDate CO-1']);
    expect(codes({ demands: [{ ...demand, quantity: '0.5' }] })).toEqual(['badQuantity CO-1']);
    expect(codes({ demands: [{ ...demand, quantity: '2.00' }] })).toEqual(['noRule HIVE@WORKS']);
    expect(codes({ stock: [{ item: 'HIVE', warehouse: 'WORKS', quantity: '-1', usableUntil: null }] })).toEqual(['badQuantity HIVE@WORKS']);
    expect(codes({ boms: [bom('HIVE', 'NONE')] })).toEqual(['unknownItem HIVE/NONE']);
    expect(codes({ boms: [bom('NONE', 'ALSONONE')] })).toEqual(['unknownItem NONE']);
  });

  it('name rules that can’t be planned by, and net their nodes without one', () => {
    for (const bad of [
      { safety: '-1' },
      { yield: '0' },
      { yield: '1.1' },
      { minimum: '0.5' },
      { maximum: '0' },
      { maximum: '5', minimum: '6' },
      { lotSizing: { kind: 'fixed', quantity: '0' } },
      { lotSizing: { kind: 'period', days: 0 } },
      { lotSizing: { kind: 'minMax', min: '5', max: '4' } },
      { source: 'transfer' },
      { source: 'transfer', from: 'WORKS' },
    ] as const) {
      expect(codes({ rules: [rule('HIVE', 'buy', bad as Partial<PlanningRule>)] })).toEqual(['badRule HIVE@WORKS']);
    }
    const { exceptions, problems: found } = plan(problem({ rules: [rule('HIVE', 'buy', { yield: '2' })], demands: [demand] }));
    expect(exceptions).toMatchObject([{ kind: 'short', subject: 'HIVE@WORKS', quantity: '4' }]);
    expect(found).toHaveLength(1);
  });

  it('name a missing bill of materials once, and loops by all that is in them', () => {
    expect(codes({ rules: [rule('HIVE', 'make')], demands: [demand, { ...demand, id: 'CO-2', date: '2027-04-20' }] })).toEqual(['noBom HIVE@WORKS']);
    const looped = {
      rules: [rule('HIVE', 'make'), rule('BOX', 'make'), rule('FRAME', 'make')],
      boms: [bom('HIVE', 'BOX'), bom('BOX', 'FRAME'), bom('FRAME', 'BOX')],
      demands: [demand],
    };
    expect(codes(looped)).toEqual(['cycle BOX@WORKS > FRAME@WORKS']);
    expect(plan(problem(looped)).suggestions.map((each) => each.id)).toEqual(['HIVE@WORKS#1']);
  });
});
