import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PlanWriter, arrivalsOf, plan, planLive, recordOf, type LivePlan, type PlanProblem } from '../index';
import { CALL_STRIDE, ROW } from './counted-demand';
import { SUGGESTION_STRIDE } from './live-plan';
import { KEPT, PEG_STRIDE, SUPPLY_STRIDE } from './netter';
import { PromisedPegs } from './promised-pegs';
import { randomProblems } from './random-problems';
import { usableOf } from './rule';

const all = fc.boolean().chain((layered) => randomProblems(layered));
const RUNS = { numRuns: 300 };

function planned(problem: PlanProblem): LivePlan {
  const live = planLive(problem);
  if (!live) throw new Error('the figures of these problems are small');
  return live;
}

const sum = (values: Iterable<number>): number => [...values].reduce((total, value) => total + value, 0);

describe('every plan', () => {
  it('accounts for all supply: what there was and comes is what is taken, what leaves unused and what is left', () => {
    fc.assert(
      fc.property(all, (problem) => {
        const live = planned(problem);
        for (const node of live.graph.order) {
          const events = recordOf(live, node);
          const left = sum(events.map((event) => event.quantity));
          const supplied = sum(events.filter((event) => event.quantity > 0).map((event) => event.quantity));
          const wanted = 0 - sum(events.filter((event) => event.quantity < 0 && event.what !== 'leaves').map((event) => event.quantity));
          const gone = 0 - sum(events.filter((event) => event.what === 'leaves').map((event) => event.quantity));
          expect(supplied).toBe(wanted + gone + left);
        }
      }),
      RUNS,
    );
  });

  it('leaves nothing short at the end of any day that could have been supplied', () => {
    fc.assert(
      fc.property(all, (problem) => {
        const live = planned(problem);
        for (const node of live.graph.order) {
          const rule = live.book.rules[node];
          if (!rule || rule.source === 'none' || live.graph.cyclic[node] === 1) continue;
          let balance = 0;
          const events = recordOf(live, node);
          events.forEach((event, index) => {
            balance += event.quantity;
            if (events[index + 1]?.day !== event.day) expect(balance).toBeGreaterThanOrEqual(rule.threshold);
          });
        }
      }),
      RUNS,
    );
  });

  it('pegs no supply and no demand beyond its quantity, and covers every demand that has a source', () => {
    fc.assert(
      fc.property(all, (problem) => {
        const live = planned(problem);
        for (const node of live.graph.order) {
          if (live.graph.cyclic[node] === 1) continue;
          const { pegs, supplies } = live.outcome(node);
          const [bySupply, byDemand] = [new Map<number, number>(), new Map<string, number>()];
          for (let at = 0; at < pegs.length; at += PEG_STRIDE) {
            const [supply = 0, a = 0, b = 0, quantity = 0] = pegs.slice(at, at + PEG_STRIDE);
            expect(quantity).toBeGreaterThan(0);
            bySupply.set(supply, (bySupply.get(supply) ?? 0) + quantity);
            if (a !== KEPT) byDemand.set(`${a} ${b}`, (byDemand.get(`${a} ${b}`) ?? 0) + quantity);
          }
          for (const [supply, quantity] of bySupply) expect(quantity).toBeLessThanOrEqual(supplies[supply * SUPPLY_STRIDE + 2] ?? 0);
          const wanted =
            0 -
            sum(
              recordOf(live, node)
                .filter((event) => event.quantity < 0 && event.what !== 'leaves')
                .map((event) => event.quantity),
            );
          const taken = sum(byDemand.values());
          const { source } = live.book.rules[node] ?? { source: 'none' };
          if (source === 'none') expect(taken).toBeLessThanOrEqual(wanted);
          else expect(taken).toBe(wanted);
        }
      }),
      RUNS,
    );
  });

  it('suggests on the first day on which something is missing, and no more than the rule asks for', () => {
    fc.assert(
      fc.property(all, (problem) => {
        const live = planned(problem);
        for (const node of live.graph.order) {
          const rule = live.book.rules[node];
          if (!rule) continue;
          const { suggestions } = live.outcome(node);
          for (let at = 0; at < suggestions.length; at += SUGGESTION_STRIDE) {
            const [, quantity = 0, , balance = 0, missing = 0, sized = 0] = suggestions.slice(at, at + SUGGESTION_STRIDE);
            expect(missing).toBe(rule.threshold - balance);
            expect(missing).toBeGreaterThan(0);
            expect(sized).toBeGreaterThanOrEqual(missing);
            if (rule.sizing === 'lotForLot') expect(sized).toBe(missing);
            if (rule.multiple > 0 && quantity !== rule.maximum) expect(quantity % rule.multiple).toBe(0);
            // One step less would not do: it is below the minimum, or too little of it is usable.
            const less = quantity - (rule.multiple > 0 ? rule.multiple : 1);
            if (rule.maximum === Infinity && less >= rule.minimum && less > 0) expect(usableOf(rule, less)).toBeLessThan(sized);
          }
        }
      }),
      RUNS,
    );
  });

  it('calls for components and transfers as much as its suggestions need, no demand from nowhere', () => {
    fc.assert(
      fc.property(all, (problem) => {
        const live = planned(problem);
        const [called, heard] = [new Map<string, number>(), new Map<string, number>()];
        const add = (map: Map<string, number>, key: string, quantity: number): void => {
          map.set(key, (map.get(key) ?? 0) + quantity);
        };
        for (const node of live.graph.order) {
          const [out, into] = [live.callsOf(node), live.callsFor(node)];
          for (let at = 0; at < out.length; at += 4) add(called, `${node} to ${out[at] ?? 0}`, out[at + 3] ?? 0);
          for (let at = 0; at < into.length; at += 4) add(heard, `${into[at] ?? ROW} to ${node}`, into[at + 3] ?? 0);
        }
        expect(heard).toEqual(called);
      }),
      RUNS,
    );
  });

  it('says the same in whatever order the rows come', () => {
    fc.assert(
      fc.property(all, (problem) => {
        const turned: PlanProblem = {
          ...problem,
          items: [...problem.items].reverse(),
          rules: [...problem.rules].reverse(),
          boms: [...problem.boms].reverse(),
          receipts: [...problem.receipts].reverse(),
          demands: [...problem.demands].reverse(),
        };
        expect(plan(turned)).toEqual(plan(problem));
      }),
      RUNS,
    );
  });

  it('is not touched elsewhere by a bad row', () => {
    const bad = fc.constantFrom(
      { item: 'NONE', date: '2027-03-09', quantity: '4' },
      { item: 'A', date: null, quantity: '4' },
      { item: 'A', date: '2027-02-30', quantity: '4' },
      { item: 'B', date: '2027-03-09', quantity: '0.5' },
      { item: 'C', date: '2027-03-09', quantity: '-1' },
    );
    fc.assert(
      fc.property(all, bad, (problem, row) => {
        const more = { ...row, id: 'BAD', warehouse: 'WORKS', kind: 'order' as const, probability: null };
        const [with_, without] = [plan({ ...problem, demands: [...problem.demands, more] }), plan(problem)];
        expect(with_.suggestions).toEqual(without.suggestions);
        expect(with_.exceptions).toEqual(without.exceptions);
        expect(with_.problems.filter((each) => each.subject !== 'BAD')).toEqual(without.problems);
        expect(with_.problems.filter((each) => each.subject === 'BAD')).toHaveLength(1);
      }),
      RUNS,
    );
  });

  it('gives an order line a day exactly where all that it needs, through all levels, has a supply', () => {
    fc.assert(
      fc.property(all, (problem) => {
        const live = planned(problem);
        const writer = new PlanWriter(live);
        const promised = new PromisedPegs(live, new Map());
        const { book } = live;
        // What is taken of what is wanted, by who wants it and where; orders go before what is only expected.
        const taken = new Map<string, number>();
        const servers = new Map<string, Set<string>>();
        for (const node of live.graph.order)
          for (const { demand, supply, supplyKind, quantity } of writer.pegs(node, promised.of(node))) {
            const key = `${demand} at ${node}`;
            taken.set(key, (taken.get(key) ?? 0) + Number(quantity));
            if (supplyKind !== 'stock') servers.set(demand, (servers.get(demand) ?? new Set()).add(supply));
          }
        const never = new Set<string>();
        const miss = (who: string, node: number, wanted: number): boolean => (taken.get(`${who} at ${node}`) ?? 0) < wanted - 1e-9;
        const unit = (node: number): number => 10 ** (book.decimals[book.itemOf(node)] ?? 0);
        for (const node of live.graph.order) {
          const calls = live.callsFor(node);
          const wanted = new Map<string, number>();
          for (let at = 0; at < calls.length; at += CALL_STRIDE) {
            if ((calls[at + 2] ?? 0) > book.horizon) continue;
            const who = writer.demandId(calls[at] ?? 0, calls[at + 1] ?? 0);
            wanted.set(who, (wanted.get(who) ?? 0) + (calls[at + 3] ?? 0) / unit(node));
          }
          for (const [who, quantity] of wanted) if (miss(who, node, quantity)) never.add(who);
        }
        // Whoever is served by what never comes never comes either.
        for (let before = -1; before !== never.size;) {
          before = never.size;
          for (const [who, supplies] of servers) if ([...supplies].some((each) => never.has(each))) never.add(who);
        }
        for (const [id, { ready }] of arrivalsOf(live)) {
          const row = book.demands.find(id) ?? 0;
          const node = book.demands.nodes[row] ?? 0;
          const whole = !miss(id, node, (book.demands.quantities[row] ?? 0) / unit(node));
          expect(ready !== null, id).toBe(whole && !never.has(id));
        }
      }),
      RUNS,
    );
  });
});
