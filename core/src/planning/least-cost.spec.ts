import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { UNSAID_RULE, leastCostLots, plan, type NetRequirement, type PlanProblem } from './index';

/** The cheapest of all ways there are: each requirement but the first begins an order of its own, or does not. */
function cheapest(requirements: readonly NetRequirement[], orderCost: bigint, holding: bigint): bigint {
  let best: bigint | null = null;
  for (let choice = 0; choice < 2 ** Math.max(0, requirements.length - 1); choice += 1) {
    let [cost, from] = [0n, 0];
    requirements.forEach((each, index) => {
      if (index === 0 || (choice >> (index - 1)) % 2 === 1) {
        cost += orderCost;
        from = each.day;
      }
      cost += holding * each.quantity * BigInt(each.day - from);
    });
    if (best === null || cost < best) best = cost;
  }
  return requirements.length === 0 ? 0n : (best ?? 0n);
}

const series = fc
  .array(fc.record({ gap: fc.integer({ min: 1, max: 9 }), quantity: fc.integer({ min: 1, max: 50 }) }), { maxLength: 10 })
  .map((rows) => {
    let day = 100;
    return rows.map((row): NetRequirement => ({ day: (day += row.gap), quantity: BigInt(row.quantity) }));
  });

describe('least cost', () => {
  it('is the true optimum, and its orders cover everything', () => {
    fc.assert(
      fc.property(
        series,
        fc.integer({ min: 0, max: 400 }).map(BigInt),
        fc.integer({ min: 0, max: 5 }).map(BigInt),
        (requirements, orderCost, holding) => {
          const { orders, cost } = leastCostLots(requirements, orderCost, holding);
          expect(cost).toBe(cheapest(requirements, orderCost, holding));
          const all = requirements.reduce((sum, each) => sum + each.quantity, 0n);
          expect(orders.reduce((sum, order) => sum + order.quantity, 0n)).toBe(all);
          // What the orders cost by themselves is what was said.
          const spent = orders.reduce((sum, order, index) => {
            const covered = requirements.slice(order.first, orders[index + 1]?.first ?? requirements.length);
            const start = requirements[order.first]?.day ?? 0;
            return sum + orderCost + covered.reduce((held, each) => held + holding * each.quantity * BigInt(each.day - start), 0n);
          }, 0n);
          expect(spent).toBe(cost);
        },
      ),
    );
  });

  it('joins requirements in a plan while holding is cheaper than another order', () => {
    const problem = (orderCost: string): PlanProblem => ({
      today: '2027-03-01',
      horizon: '2027-06-30',
      calendars: [{ code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [] }],
      warehouses: [{ code: 'W', calendar: 'STD' }],
      items: [{ code: 'JAR', decimals: 0, phantom: false }],
      rules: [
        {
          ...UNSAID_RULE,
          item: 'JAR',
          warehouse: 'W',
          leadDays: 1,
          lotSizing: { kind: 'leastCost', orderCost, holdingPerUnitDay: '0.05' },
        },
      ],
      boms: [],
      stock: [{ item: 'JAR', warehouse: 'W', quantity: '4', usableUntil: null }],
      receipts: [],
      demands: ['2027-03-10', '2027-03-17', '2027-03-24', '2027-05-05'].map((date, index) => ({
        id: `D${index}`,
        item: 'JAR',
        warehouse: 'W',
        date,
        quantity: '10',
        kind: 'order',
        probability: null,
      })),
    });
    const quantities = (orderCost: string): string[] => plan(problem(orderCost)).suggestions.map((each) => `${each.neededBy} ${each.quantity}`);
    // Holding ten for a week costs 3.50, for two weeks 7.00. Where two ways cost the same, the first order is the smaller.
    expect(quantities('3')).toEqual(['2027-03-10 6', '2027-03-17 10', '2027-03-24 10', '2027-05-05 10']);
    expect(quantities('6')).toEqual(['2027-03-10 6', '2027-03-17 20', '2027-05-05 10']);
    expect(quantities('20')).toEqual(['2027-03-10 26', '2027-05-05 10']);
    expect(quantities('900')).toEqual(['2027-03-10 36']);
    expect(plan(problem('-1')).problems.map((each) => each.code)).toEqual(['badRule']);
  });
});
