import { describe, expect, it } from 'vitest';
import { UNSAID_RULE, explainSuggestion, planExplained, type PlanProblem, type PlanningRule } from './index';

const rule = (more: Partial<PlanningRule>): PlanningRule => ({ ...UNSAID_RULE, item: 'BOARD', warehouse: 'WORKS', leadDays: 2, ...more });

/** The sentence of the first (or a later) suggestion for one item of which 40 are wanted on 5 March. */
function why(more: Partial<PlanningRule>, place = 0, problem: Partial<PlanProblem> = {}): string {
  const given = rule(more);
  const { result, reasons } = planExplained({
    today: '2027-03-01',
    horizon: '2027-09-30',
    calendars: [{ code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [] }],
    warehouses: [{ code: 'WORKS', calendar: 'STD' }],
    items: [{ code: 'BOARD', decimals: 1, phantom: false }],
    rules: [given],
    boms: [],
    stock: [{ item: 'BOARD', warehouse: 'WORKS', quantity: '12', usableUntil: null }],
    receipts: [],
    demands: [{ id: 'CO-9/1', item: 'BOARD', warehouse: 'WORKS', date: '2027-03-05', quantity: '40', kind: 'order', probability: null }],
    ...problem,
  });
  const suggestion = result.suggestions[place];
  const reason = suggestion && reasons.get(suggestion.id);
  if (!suggestion || !reason) throw new Error('nothing is suggested');
  return explainSuggestion(suggestion, reason, { unit: 'm', decimals: 1, rule: given });
}

describe('the sentence that says why', () => {
  it('gives what is missing, for whom, and until when it has to be placed', () => {
    expect(why({})).toBe('On 5 Mar 28 m would be missing. For CO-9/1 (28). Buy 28 m. To be placed by 3 Mar.');
    expect(why({ safety: '10' })).toContain('28 m would be missing, below the safety stock of 10 m. For CO-9/1 (28). Buy 38 m.');
    expect(why({ safety: '15' }, 0, { demands: [] })).toContain('On 1 Mar 12 m would be left, below the safety stock of 15. Buy 3 m.');
  });

  it('follows every step from what is missing to what is ordered', () => {
    expect(why({ safety: '10', multiple: '12' })).toContain('Buy 48 m: 38 → 48 in multiples of 12.');
    expect(why({ lotSizing: { kind: 'fixed', quantity: '25' } })).toContain('Buy 50 m: 28 → 50 in lots of 25.');
    expect(why({ lotSizing: { kind: 'minMax', min: '0', max: '60' } })).toContain('Buy 88 m: 28 → 88 to fill up to 60.');
    expect(why({ yield: '0.95', minimum: '35', multiple: '8' })).toContain(
      'Buy 40 m: 28 → 29.5 for a yield of 95 % → 35 as the minimum order → 40 in multiples of 8.',
    );
    expect(why({ maximum: '20' }, 1)).toContain('Buy 8 m: 28 → 8 since the maximum order is 20.');
  });

  it('says what orders together cover', () => {
    const demands = ['2027-03-05', '2027-03-09'].map((date, index) => {
      return { id: `CO-9/${index + 1}`, item: 'BOARD', warehouse: 'WORKS', date, quantity: '40', kind: 'order' as const, probability: null };
    });
    expect(why({ lotSizing: { kind: 'period', days: 5 } }, 0, { demands })).toContain('Buy 68 m: 28 → 68 for 5 working days together.');
    const dear = why({ lotSizing: { kind: 'leastCost', orderCost: '100', holdingPerUnitDay: '0.01' } }, 0, { demands });
    expect(dear).toContain('Buy 68 m: 28 → 68 with what is cheapest to order along.');
  });

  it('says what keeps it from coming in time', () => {
    expect(why({ leadDays: 8 })).toContain('It comes 6 days late: 8 working days of lead time do not fit before 5 Mar.');
    expect(why({ fenceDays: 6 })).toContain('nothing new is placed for the next 6 working days.');
  });

  it('calls a forecast by its day, and counts those beyond the first three', () => {
    const demands = [1, 2, 3, 4, 5].map((day) => {
      const date = `2027-03-0${day}`;
      return {
        id: `forecast BOARD WORKS/${date}`,
        item: 'BOARD',
        warehouse: 'WORKS',
        date,
        quantity: '20',
        kind: 'forecast' as const,
        probability: null,
      };
    });
    const together = why({ demand: 'forecast', lotSizing: { kind: 'period', days: 10 } }, 0, { demands });
    expect(together).toContain('For the forecast from 1 Mar (8), the forecast from 2 Mar (20), the forecast from 3 Mar (20) and 2 more.');
  });
});
