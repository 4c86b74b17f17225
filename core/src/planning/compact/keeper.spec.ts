import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PlanKeeper, UNSAID_RULE, plan, writeResult, type PlanProblem } from '../index';
import { randomProblems } from './random-problems';

const turns = Number(process.env['PROPERTY_RUNS'] ?? 300);
const DOCUMENTS = 4;

/** The same rows as lines of a few documents; a line may be on its way and wanted at once, like that of a transfer. */
function inDocuments(problem: PlanProblem): PlanProblem {
  const named = (index: number): string => `DOC-${index % DOCUMENTS}/${Math.floor(index / DOCUMENTS) + 1}`;
  return {
    ...problem,
    receipts: problem.receipts.map((each, index) => ({ ...each, id: named(index) })),
    demands: problem.demands.map((each, index) => ({ ...each, id: named(index) })),
  };
}

const documents = (name: string, { receipts, demands }: PlanProblem) => ({
  receipts: receipts.filter((each) => each.id.startsWith(`${name}/`)),
  demands: demands.filter((each) => each.id.startsWith(`${name}/`)),
});

describe('a plan that is told what documents say', () => {
  const TRANSFER: PlanProblem = {
    today: '2027-03-01',
    horizon: '2027-06-30',
    calendars: [{ code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [] }],
    warehouses: [
      { code: 'WORKS', calendar: 'STD' },
      { code: 'DEPOT', calendar: 'STD' },
    ],
    items: [{ code: 'SMOKER', decimals: 0, phantom: false }],
    rules: [{ ...UNSAID_RULE, item: 'SMOKER', warehouse: 'WORKS', leadDays: 4 }],
    boms: [],
    stock: [{ item: 'SMOKER', warehouse: 'WORKS', quantity: '10', usableUntil: null }],
    receipts: [{ id: 'TR-1/1', item: 'SMOKER', warehouse: 'DEPOT', date: '2027-03-04', quantity: '8', locked: false }],
    demands: [{ id: 'TR-1/1', item: 'SMOKER', warehouse: 'WORKS', date: '2027-03-01', quantity: '8', kind: 'transfer', probability: null }],
  };

  it('no longer wants what has left: a transfer that is on its way is only expected', () => {
    const keeper = new PlanKeeper(TRANSFER);
    const onItsWay = { receipts: TRANSFER.receipts.map((each) => ({ ...each, locked: true })), demands: [] };
    keeper.tellDocument('TR-1', onItsWay);
    keeper.tellStock('SMOKER', [{ item: 'SMOKER', warehouse: 'WORKS', quantity: '2', usableUntil: null }]);
    keeper.live.catchUp();
    expect(writeResult(keeper.live).suggestions).toEqual([]);
    keeper.tellDocument('TR-1', { receipts: [], demands: [] });
    keeper.live.catchUp();
    expect(writeResult(keeper.live).exceptions).toEqual([]);
  });

  it('is the plan that is made from all of them anew, whatever they said before', () => {
    const pairs = fc
      .boolean()
      .chain((layered) => fc.tuple(randomProblems(layered), fc.array(randomProblems(layered), { minLength: 1, maxLength: 3 })));
    fc.assert(
      fc.property(pairs, fc.array(fc.nat(DOCUMENTS - 1), { minLength: 1, maxLength: 8 }), ([first, others], told) => {
        let current = inDocuments(first);
        const keeper = new PlanKeeper(current);
        told.forEach((index, turn) => {
          const name = `DOC-${index}`;
          const says = documents(name, inDocuments(others[turn % others.length] ?? first));
          keeper.tellDocument(name, says);
          const rest = <T extends { id: string }>(rows: readonly T[]): T[] => rows.filter((each) => !each.id.startsWith(`${name}/`));
          current = {
            ...current,
            receipts: [...rest(current.receipts), ...says.receipts],
            demands: [...rest(current.demands), ...says.demands],
          };
          keeper.live.catchUp();
          expect(writeResult(keeper.live)).toEqual(plan(current));
        });
      }),
      { numRuns: turns },
    );
  });
});
