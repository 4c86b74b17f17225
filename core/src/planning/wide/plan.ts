/** The run: all nodes in order of dependency, each netted once all its demand is known. */
import { dateOf, writeDecimal, type Day } from '../../base';
import { dateSuggestion } from '../dates';
import { countDemand } from './demand';
import { explode } from './explosion';
import { netNode, type NetSuggestion } from './netting';
import { orderNodes } from './order';
import { pegNode, type NodePeg } from './pegging';
import {
  byCodePoint,
  type ExplainedPlan,
  type Peg,
  type PlanException,
  type PlanProblem,
  type Reason,
  type Suggestion,
  type SupplyPeg,
} from '../problem';
import type { PlanInput, PlanNode } from '../input';
import { nodeOf, readRows } from '../rows';

/** Plans a problem in integers of any size, one node after the other. The same rules as the kept plan, told plainly. */
export function planWide(problem: PlanProblem): ExplainedPlan {
  const run = new Run(readRows(problem));
  run.all();
  return run.outcome();
}

class Run {
  private readonly suggestions: { node: PlanNode; net: NetSuggestion; row: Suggestion }[] = [];
  private readonly exceptions: PlanException[] = [];
  private readonly reasons = new Map<string, Reason>();
  private readonly pegs: SupplyPeg[] = [];

  constructor(private readonly input: PlanInput) {}

  all(): void {
    const order = orderNodes(this.input);
    for (const key of order.keys) {
      const node = this.input.nodes.get(key);
      if (!node || order.cyclic.has(key)) continue;
      if (node.item.phantom && node.demands.length === 0) continue;
      this.planNode(node, order.cyclic);
    }
  }

  outcome(): ExplainedPlan {
    const byNode = (a: { item: string; warehouse: string }, b: { item: string; warehouse: string }): number =>
      byCodePoint(a.item, b.item) || byCodePoint(a.warehouse, b.warehouse);
    const suggestions = [...this.suggestions].sort((a, b) => byNode(a.row, b.row) || a.net.number - b.net.number).map((each) => each.row);
    const exceptions = [...this.exceptions].sort(
      (a, b) => byCodePoint(a.kind, b.kind) || byNode(a, b) || byCodePoint(a.subject, b.subject) || byCodePoint(a.from, b.from),
    );
    return { result: { suggestions, exceptions, problems: this.input.problems.sorted() }, reasons: this.reasons, pegs: this.pegs };
  }

  private planNode(node: PlanNode, cyclic: ReadonlySet<string>): void {
    const calendar = this.input.calendars.get(node.warehouse);
    if (!calendar) return;
    const { today, horizon } = this.input;
    const demands = countDemand(node, today, horizon);
    if (demands.length > 0 && !node.rule && !node.badRule) {
      this.input.problems.add('noRule', node.key, `${node.item.code} is wanted in ${node.warehouse}, but no planning rule says where it comes from.`);
    }
    const net = netNode(node, demands, today, horizon, calendar);
    const pegs = pegNode(demands, net.supplies);
    const write = (quantity: bigint): string => writeDecimal(quantity, node.item.decimals);
    const place = { item: node.item.code, warehouse: node.warehouse };
    for (const { supply, demand, quantity } of pegs) {
      this.pegs.push({ ...place, supplyKind: supply.kind, supply: supply.id, day: dateOf(supply.day), demand, quantity: write(quantity) });
    }
    for (const { kind, subject, from, to, quantity } of net.exceptions) {
      this.exceptions.push({ kind, subject, ...place, from: dateOf(from), to: to === null ? null : dateOf(to), quantity: write(quantity) });
    }
    const pegsOf = groupPegs(pegs, write);
    for (const suggestion of net.suggestions) this.suggest(node, suggestion, net.threshold, pegsOf, cyclic);
  }

  private suggest(node: PlanNode, net: NetSuggestion, threshold: bigint, pegsOf: ReadonlyMap<string, Peg[]>, cyclic: ReadonlySet<string>): void {
    const calendar = this.input.calendars.get(node.warehouse);
    const { rule } = node;
    if (!calendar || !rule || rule.source === 'none') return;
    const id = `${node.key}#${net.number}`;
    const dates = dateSuggestion(net.neededBy, rule.leadDays, rule.fenceDays, this.input.today, calendar);
    const write = (quantity: bigint): string => writeDecimal(quantity, node.item.decimals);
    const row: Suggestion = {
      id,
      kind: rule.source,
      item: node.item.code,
      warehouse: node.warehouse,
      from: rule.from,
      quantity: write(net.quantity),
      placeBy: dateOf(dates.placeBy),
      due: dateOf(dates.due),
      neededBy: dateOf(net.neededBy),
      daysLate: dates.daysLate,
      pegs: pegsOf.get(id) ?? [],
    };
    this.suggestions.push({ node, net, row });
    this.reasons.set(id, { balance: write(net.balance), threshold: write(threshold), missing: write(net.missing), sized: write(net.sized) });
    if (dates.daysLate > 0) {
      this.exceptions.push({
        kind: 'placeLate',
        subject: id,
        item: row.item,
        warehouse: row.warehouse,
        from: row.neededBy,
        to: row.due,
        quantity: row.quantity,
      });
    }
    if (rule.source === 'make') {
      for (const call of explode(this.input, node.item, node.warehouse, net.quantity, dates.placeBy, cyclic)) {
        this.callFor(
          nodeOf(this.input, call.component, node.warehouse),
          id,
          'component',
          calendar.ahead(dates.placeBy, call.offsetDays),
          call.quantity,
        );
      }
    } else if (rule.source === 'transfer' && rule.from !== null) {
      this.callFor(nodeOf(this.input, node.item, rule.from), id, 'transfer', dates.placeBy, net.quantity);
    }
  }

  private callFor(node: PlanNode, id: string, kind: 'component' | 'transfer', date: Day, quantity: bigint): void {
    node.demands.push({ id, kind, date, quantity, probability: null });
  }
}

function groupPegs(pegs: readonly NodePeg[], write: (quantity: bigint) => string): Map<string, Peg[]> {
  const grouped = new Map<string, Peg[]>();
  for (const { supply, demand, quantity } of pegs) {
    if (supply.kind !== 'suggestion') continue;
    const list = grouped.get(supply.id) ?? [];
    list.push({ demand, quantity: write(quantity) });
    grouped.set(supply.id, list);
  }
  return grouped;
}
