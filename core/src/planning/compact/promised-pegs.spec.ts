import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { UNSAID_RULE, arrivalsOf, planLive, type LivePlan, type PlanProblem, type Reserved } from '../index';
import { dateOf } from '../../base';
import { CountedDemand, ROW } from './counted-demand';
import { PEG_STRIDE, SUPPLY_STRIDE } from './netter';
import { PromisedPegs } from './promised-pegs';
import { randomProblems } from './random-problems';

type Demand = PlanProblem['demands'][number];
const demand = (id: string, date: string, quantity: string, kind: Demand['kind'] = 'order'): Demand => {
  return { id, item: 'GLOVES', warehouse: 'WORKS', date, quantity, kind, probability: null };
};

/** Ten pieces in stock; more can be bought, but not within three weeks. */
const problem = (demands: readonly Demand[]): PlanProblem => ({
  today: '2027-03-01',
  horizon: '2027-06-30',
  calendars: [{ code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [] }],
  warehouses: [{ code: 'WORKS', calendar: 'STD' }],
  items: [{ code: 'GLOVES', decimals: 0, phantom: false }],
  rules: [{ ...UNSAID_RULE, item: 'GLOVES', warehouse: 'WORKS', leadDays: 15, demand: 'both' }],
  boms: [],
  stock: [{ item: 'GLOVES', warehouse: 'WORKS', quantity: '10', usableUntil: null }],
  receipts: [],
  demands,
});

function live(of: PlanProblem): LivePlan {
  const plan = planLive(of);
  if (!plan) throw new Error('too wide');
  return plan;
}

function ready(demands: readonly Demand[], reserved: Reserved = new Map()): Record<string, string> {
  const found = arrivalsOf(live(problem(demands)), reserved);
  return Object.fromEntries([...found].map(([id, each]) => [id, each.ready === null ? 'never' : dateOf(each.ready)]));
}

describe('what an order counts on', () => {
  it('is the stock that is reserved for it, though others want it sooner', () => {
    const demands = [demand('CO-1/1', '2027-03-02', '6'), demand('CO-2/1', '2027-03-05', '10')];
    expect(ready(demands)).toEqual({ 'CO-1/1': '2027-03-01', 'CO-2/1': '2027-03-22' });
    expect(ready(demands, new Map([['CO-2/1', '10']]))).toEqual({ 'CO-1/1': '2027-03-22', 'CO-2/1': '2027-03-01' });
    expect(ready(demands, new Map([['CO-2/1', '3']]))).toEqual({ 'CO-1/1': '2027-03-01', 'CO-2/1': '2027-03-22' });
  });

  it('is not taken by what is only forecast', () => {
    const demands = [demand('guess', '2027-03-02', '10', 'forecast'), demand('CO-2/1', '2027-03-05', '10')];
    expect(ready(demands)).toEqual({ 'CO-2/1': '2027-03-01' });
  });

  it('is not taken by a quote, though the quote is counted as wanted sooner', () => {
    const demands = [{ ...demand('QU-1/1', '2027-03-02', '1', 'quote'), probability: '0.5' }, demand('CO-2/1', '2027-03-05', '10')];
    const quoted = problem(demands);
    const rules = quoted.rules.map((rule) => ({ ...rule, source: 'none' as const, quotesFrom: '0.4' }));
    const found = arrivalsOf(live({ ...quoted, rules })).get('CO-2/1');
    expect(dateOf(found?.ready ?? 0)).toBe('2027-03-01');
  });

  it('is never more than a supply has, and serves nobody beyond what they want', () => {
    fc.assert(
      fc.property(randomProblems(false), fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 5 }), (each, held) => {
        const plan = planLive(each);
        if (!plan) return;
        const ids = each.demands.map((row) => row.id);
        const counted = new CountedDemand(plan.book);
        const pegs = new PromisedPegs(plan, new Map(held.map((quantity, index) => [ids[index % Math.max(1, ids.length)] ?? '', String(quantity)])));
        for (const node of plan.graph.order) {
          const { supplies } = plan.outcome(node);
          const of = pegs.of(node);
          const taken = new Map<string, number>();
          const add = (key: string, quantity: number): void => void taken.set(key, (taken.get(key) ?? 0) + quantity);
          for (let at = 0; at < of.length; at += PEG_STRIDE) {
            add(`supply ${of[at]}`, of[at + 3] ?? 0);
            if ((of[at + 1] ?? 0) >= ROW) add(`demand ${of[at + 1]} ${of[at + 2]}`, of[at + 3] ?? 0);
          }
          counted.count(node, plan.book.rules[node], plan.callsFor(node));
          for (const index of counted.order) add(`demand ${counted.a[index]} ${counted.b[index]}`, -(counted.quantity[index] ?? 0));
          for (let supply = 0; supply < supplies.length / SUPPLY_STRIDE; supply += 1)
            add(`supply ${supply}`, -(supplies[supply * SUPPLY_STRIDE + 2] ?? 0));
          for (const [key, left] of taken) expect([key, left <= 0]).toEqual([key, true]);
        }
      }),
      { numRuns: 60 },
    );
  });
});
