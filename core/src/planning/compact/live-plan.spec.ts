import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { UNSAID_RULE, plan, planExplained, planLive, planWide, writeResult, PlanWriter, type PlanBook, type PlanProblem } from '../index';
import { nodeKey, readRows } from '../rows';
import { EVER, bookOf } from './book';
import { LivePlan } from './live-plan';
import { randomProblems } from './random-problems';

const all = fc.boolean().chain((layered) => randomProblems(layered));
const turns = Number(process.env['PROPERTY_RUNS'] ?? 300);

/** Makes a book hold what a problem says: everything is put, and what is no longer there is dropped. */
function follow(book: PlanBook, before: PlanProblem, after: PlanProblem): void {
  const input = readRows(after);
  book.rowProblems.clear();
  for (const each of input.problems.sorted()) book.rowProblems.set(`${each.code} ${each.subject}`, each);
  for (const item of input.items.values()) book.setBom(book.findItem(item.code) ?? 0, item.bom);
  const good = new Set([...input.nodes.values()].flatMap((node) => [...node.receipts, ...node.demands].map((each) => each.id)));
  for (const { id } of before.receipts) if (!good.has(id)) book.dropReceipt(id);
  for (const { id } of before.demands) if (!good.has(id)) book.dropDemand(id);
  for (const { code: item } of after.items) {
    for (const { code: warehouse } of after.warehouses) {
      const at = book.find(item, warehouse) ?? -1;
      const node = input.nodes.get(nodeKey(item, warehouse));
      book.setRule(at, node?.rule ?? null, node?.badRule ?? false);
      book.setStock(at, node?.stock.flatMap((each) => [each.usableUntil ?? EVER, Number(each.quantity)]) ?? []);
      for (const each of node?.receipts ?? []) book.putReceipt(each.id, at, each.date, Number(each.quantity), each.locked);
      for (const each of node?.demands ?? []) book.putDemand(each.id, at, each.date, Number(each.quantity), each.kind, each.probability);
    }
  }
}

describe('the plan in exact numbers', () => {
  it('says what integers of any size say', () => {
    fc.assert(
      fc.property(all, (problem) => {
        expect(planLive(problem)).not.toBeNull();
        const [compact, wide] = [planExplained(problem), planWide(problem)];
        expect(compact.result).toEqual(wide.result);
        expect(compact.reasons).toEqual(wide.reasons);
        const sorted = (pegs: typeof wide.pegs): string[] => pegs.map((peg) => JSON.stringify(peg)).sort();
        expect(sorted(compact.pegs)).toEqual(sorted(wide.pegs));
      }),
      { numRuns: turns },
    );
  });

  it('goes over to integers of any size where a figure is not exact', () => {
    fc.assert(
      fc.property(randomProblems(true), fc.constantFrom('90071992547409930', '9007199254740991'), (problem, large) => {
        // Cut into orders of a few pieces, such quantities would be more orders than there is room for.
        const rules = problem.rules.map((each) => ({ ...each, maximum: null }));
        const demands = problem.demands.map((each, index) => (index === 0 ? { ...each, quantity: large, kind: 'order' as const } : each));
        expect(plan({ ...problem, rules, demands })).toEqual(planWide({ ...problem, rules, demands }).result);
      }),
      { numRuns: turns / 5 },
    );
  });

  it('goes over to integers of any size also where only what is missing below the safety stock is not exact', () => {
    const { exceptions } = plan({
      today: '2027-03-01',
      horizon: '2027-06-30',
      calendars: [{ code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [] }],
      warehouses: [{ code: 'WORKS', calendar: 'STD' }],
      items: [{ code: 'GLOVES', decimals: 0, phantom: false }],
      rules: [{ ...UNSAID_RULE, item: 'GLOVES', warehouse: 'WORKS', source: 'none', safety: '14' }],
      boms: [],
      stock: [],
      receipts: [],
      demands: [
        { id: 'CO-0', item: 'GLOVES', warehouse: 'WORKS', date: '2027-03-01', quantity: '9007199254740991', kind: 'order', probability: null },
      ],
    });
    expect(exceptions.map((each) => [each.kind, each.quantity])).toEqual([['short', '9007199254741005']]);
  });
});

describe('net change', () => {
  it('gives what planning everything gives, whatever changed', () => {
    fc.assert(
      fc.property(
        fc
          .boolean()
          .chain((layered) =>
            fc.tuple(randomProblems(layered), fc.array(fc.tuple(randomProblems(layered), fc.integer({ min: 1, max: 31 })), { maxLength: 4 })),
          ),
        ([first, changes]) => {
          const live = new LivePlan(bookOf(first));
          live.runAll();
          let problem = first;
          for (const [other, parts] of changes) {
            const take = <T>(bit: number, fresh: readonly T[], old: readonly T[]): readonly T[] => ((parts & bit) === 0 ? old : fresh);
            const next: PlanProblem = {
              ...problem,
              rules: take(1, other.rules, problem.rules),
              boms: take(2, other.boms, problem.boms),
              stock: take(4, other.stock, problem.stock),
              receipts: take(8, other.receipts, problem.receipts),
              demands: take(16, other.demands, problem.demands),
            };
            follow(live.book, problem, next);
            live.catchUp();
            expect(writeResult(live)).toEqual(plan(next));
            problem = next;
          }
          const writer = new PlanWriter(live);
          const pegs = live.graph.order.length === 0 ? [] : [...live.graph.order].flatMap((node) => writer.pegs(node));
          expect(pegs.map((peg) => JSON.stringify(peg)).sort()).toEqual(
            planExplained(problem)
              .pegs.map((peg) => JSON.stringify(peg))
              .sort(),
          );
        },
      ),
      { numRuns: turns },
    );
  });

  it('plans only what one changed row touches', () => {
    fc.assert(
      fc.property(randomProblems(true), (problem) => {
        const live = new LivePlan(bookOf(problem));
        live.runAll();
        expect(live.catchUp()).toEqual([]);
        const leaf = live.book.find('D', 'DEPOT') ?? -1;
        live.book.putDemand('ONE', leaf, live.book.today + 5, 3, 'component');
        const planned = live.catchUp();
        expect(planned[0]).toBe(leaf);
        const called = new Set(planned);
        for (const node of planned) if (node !== leaf) expect(called.has(node)).toBe(true);
        live.book.dropDemand('ONE');
        live.catchUp();
        expect(writeResult(live)).toEqual(plan(problem));
      }),
      { numRuns: turns / 3 },
    );
  });
});
