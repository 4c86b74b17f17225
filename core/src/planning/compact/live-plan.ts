/**
 * A plan that is kept: every node's outcome beside what it was computed from, so that after a change only what depends
 * on it is planned anew. What comes out is the same as from planning everything.
 */
import type { Day } from '../../base';
import { dateSuggestion } from '../dates';
import type { DataProblem } from '../problem';
import { BOM_STRIDE, EVER, sameNumbers, type PlanBook } from './book';
import { exact, scaledUp } from './exact';
import { orderNodes, type PlanGraph } from './graph';
import { CALL_STRIDE } from './counted-demand';
import { NET_STRIDE, Netter, OWN, PLACE_LATE } from './netter';

/** Needed by, quantity, usable, balance before, missing, sized, place by, due, days late. */
export const SUGGESTION_STRIDE = 9;

/** The outcome of one node, in columns that the strides of this folder tell. */
export interface NodeOutcome {
  readonly suggestions: readonly number[];
  readonly supplies: readonly number[];
  readonly pegs: readonly number[];
  readonly exceptions: readonly number[];
  /** Items (itself, or phantoms passed through) that are to be made and have no bill of materials. */
  readonly unmade: readonly number[];
  readonly unruled: boolean;
}

const NOTHING: readonly number[] = [];
const EMPTY: NodeOutcome = {
  suggestions: NOTHING,
  supplies: NOTHING,
  pegs: NOTHING,
  exceptions: NOTHING,
  unmade: NOTHING,
  unruled: false,
};

export class LivePlan {
  private readonly outcomes: (NodeOutcome | undefined)[] = [];
  /** What suggestions of other nodes call for: node, number, day, quantity. */
  private readonly inbox: (number[] | undefined)[] = [];
  /** What a node's own suggestions call for: node called, number, day, quantity. */
  private readonly outbox: (readonly number[] | undefined)[] = [];
  private readonly netter: Netter;
  private readonly dates = { placeBy: 0, due: 0, daysLate: 0 };
  private shape: PlanGraph | null = null;
  private whole = false;
  private calls: number[] = [];
  private unmade: number[] = [];

  constructor(readonly book: PlanBook) {
    this.netter = new Netter(book);
  }

  /** The order of the nodes, as of the last planning. */
  get graph(): PlanGraph {
    this.shape ??= orderNodes(this.book);
    return this.shape;
  }

  outcome(node: number): NodeOutcome {
    return this.outcomes[node] ?? EMPTY;
  }

  /** What suggestions of other nodes call for at a node: node, number, day, quantity. */
  callsFor(node: number): readonly number[] {
    return this.inbox[node] ?? NOTHING;
  }

  /** Who wants something of a node: demands by their ids, and nodes whose suggestions call for it by their keys; each once. */
  wantedBy(node: number): string[] {
    const { book } = this;
    const makers = this.callsFor(node).flatMap((parent, at) => (at % CALL_STRIDE === 0 ? [book.keyOf(parent)] : []));
    return [...new Set([...(book.demandsOf[node] ?? []).map((row) => book.demands.ids[row] ?? ''), ...makers])];
  }

  /** What a node's suggestions call for: node called, number, day, quantity. */
  callsOf(node: number): readonly number[] {
    return this.outbox[node] ?? NOTHING;
  }

  /** All data problems of nodes, besides those of rows that the book keeps. */
  *nodeProblems(node: number): Generator<DataProblem> {
    const { book } = this;
    const { unruled, unmade } = this.outcome(node);
    const warehouse = book.warehouseCodes[book.warehouseOf(node)] ?? '';
    if (unruled) {
      const message = `${book.itemCodes[book.itemOf(node)] ?? ''} is wanted in ${warehouse}, but no planning rule says where it comes from.`;
      yield { code: 'noRule', subject: book.keyOf(node), message };
    }
    for (const item of unmade) {
      const code = book.itemCodes[item] ?? '';
      const subject = book.keyOf(book.node(item, book.warehouseOf(node)));
      yield { code: 'noBom', subject, message: `${code} is to be made in ${warehouse}, but has no bill of materials.` };
    }
  }

  /** Plans everything. Throws {@link TooWide} where a figure is not exact. */
  runAll(): void {
    this.outcomes.length = 0;
    this.inbox.length = 0;
    this.outbox.length = 0;
    const graph = this.reshape();
    for (const node of graph.order) {
      this.planNode(node, graph);
      const { calls } = this;
      this.outbox[node] = calls;
      for (let at = 0; at < calls.length; at += CALL_STRIDE)
        this.deliver(calls[at] ?? 0, node, calls[at + 1] ?? 0, calls[at + 2] ?? 0, calls[at + 3] ?? 0);
    }
    this.book.touched.clear();
    this.whole = true;
  }

  /**
   * Plans what the changes of the book since the last planning touch, and what that calls for; tells the nodes that were
   * planned anew. Throws {@link TooWide} where a figure is not exact: the plan is then to be made anew.
   */
  catchUp(): readonly number[] {
    const { book } = this;
    if (!this.whole) {
      this.runAll();
      return [...this.graph.order];
    }
    this.whole = false;
    const graph = book.reshaped || this.hasNewNode() ? this.reshape() : this.graph;
    const waiting = new RankQueue(graph.ranks);
    for (const node of book.touched) waiting.add(node);
    book.touched.clear();
    const planned: number[] = [];
    for (let node = waiting.take(); node !== undefined; node = waiting.take()) {
      this.planNode(node, graph);
      planned.push(node);
      const before = this.outbox[node] ?? NOTHING;
      if (sameNumbers(before, this.calls)) continue;
      for (const child of changedChildren(before, this.calls)) {
        this.redeliver(child, node);
        waiting.add(child);
      }
      this.outbox[node] = this.calls;
    }
    this.whole = true;
    return planned;
  }

  /** True where a node has come that has no place in the order yet. */
  private hasNewNode(): boolean {
    const { ranks } = this.graph;
    for (const node of this.book.touched) if ((ranks[node] ?? -1) < 0 && this.book.isPresent(node)) return true;
    return false;
  }

  /** Orders anew; nodes that a loop closed or opened round, and what calls for them, are to be planned anew. */
  private reshape(): PlanGraph {
    const { book } = this;
    const before = this.shape;
    const graph = orderNodes(book);
    this.shape = graph;
    book.reshaped = false;
    if (!before) return graph;
    const turned: number[] = [];
    graph.ranks.forEach((rank, node) => {
      const gone = rank < 0 && (before.ranks[node] ?? -1) >= 0;
      if (gone || (graph.cyclic[node] ?? 0) !== (before.cyclic[node] ?? 0)) turned.push(node);
    });
    // Loops are rare, and whoever calls for a node is not written down: whatever is made is planned anew.
    if (turned.length > 0) {
      for (const node of turned) book.touched.add(node);
      book.rules.forEach((rule, node) => {
        if (rule?.source === 'make' || rule?.source === 'transfer') book.touched.add(node);
      });
    }
    return graph;
  }

  private deliver(child: number, parent: number, number: number, day: Day, quantity: number): void {
    const list = this.inbox[child];
    if (list) list.push(parent, number, day, quantity);
    else this.inbox[child] = [parent, number, day, quantity];
  }

  /** Puts what a node calls for now in place of what it called for before. */
  private redeliver(child: number, parent: number): void {
    const kept: number[] = [];
    const list = this.inbox[child] ?? NOTHING;
    for (let at = 0; at < list.length; at += CALL_STRIDE) {
      if (list[at] !== parent) kept.push(list[at] ?? 0, list[at + 1] ?? 0, list[at + 2] ?? 0, list[at + 3] ?? 0);
    }
    const { calls } = this;
    for (let at = 0; at < calls.length; at += CALL_STRIDE)
      if (calls[at] === child) kept.push(parent, calls[at + 1] ?? 0, calls[at + 2] ?? 0, calls[at + 3] ?? 0);
    this.inbox[child] = kept;
  }

  private planNode(node: number, graph: PlanGraph): void {
    const { book, netter } = this;
    this.calls = [];
    this.unmade = [];
    const item = book.itemOf(node);
    const idle = (graph.ranks[node] ?? -1) < 0 || graph.cyclic[node] === 1 || (book.phantoms[item] === true && !this.hasRows(node));
    if (idle) {
      this.outcomes[node] = undefined;
      return;
    }
    netter.net(node, this.inbox[node]);
    const { nets, supplies, pegs, exceptions } = netter;
    const suggestions = nets.length === 0 ? NOTHING : this.date(node, nets, exceptions, graph);
    const unruled = netter.demand.order.length > 0 && book.rules[node] === undefined && !book.badRules.has(node);
    if (suggestions.length + supplies.length + pegs.length + exceptions.length === 0 && !unruled) this.outcomes[node] = undefined;
    else this.outcomes[node] = { suggestions, supplies, pegs, exceptions, unmade: this.unmade.length === 0 ? NOTHING : this.unmade, unruled };
  }

  /** A phantom is netted only where a demand names it. */
  private hasRows(node: number): boolean {
    return (this.book.demandsOf[node]?.length ?? 0) > 0;
  }

  private date(node: number, nets: readonly number[], exceptions: number[], graph: PlanGraph): number[] {
    const { book, dates } = this;
    const rule = book.rules[node];
    const calendar = book.calendars[book.warehouseOf(node)];
    const suggestions: number[] = [];
    if (!rule || !calendar) return suggestions;
    for (let at = 0, number = 1; at < nets.length; at += NET_STRIDE, number += 1) {
      const [neededBy = 0, quantity = 0] = [nets[at], nets[at + 1]];
      dateSuggestion(neededBy, rule.leadDays, rule.fenceDays, book.today, calendar, dates);
      const { placeBy, due, daysLate } = dates;
      suggestions.push(neededBy, quantity, nets[at + 2] ?? 0, nets[at + 3] ?? 0, nets[at + 4] ?? 0, nets[at + 5] ?? 0, placeBy, due, daysLate);
      if (daysLate > 0) exceptions.push(PLACE_LATE, OWN, number, neededBy, due, quantity);
      if (rule.source === 'make') this.explode(node, book.itemOf(node), number, quantity, 1, 0, 0, placeBy, graph);
      else if (rule.source === 'transfer') this.calls.push(book.node(book.itemOf(node), rule.from), number, placeBy, quantity);
    }
    return suggestions;
  }

  /** Calls for an item's lines, phantoms replaced by theirs; `factor × 10^-scale` of each unit of the quantity made. */
  private explode(
    node: number,
    parent: number,
    number: number,
    quantity: number,
    factor: number,
    scale: number,
    offset: number,
    start: Day,
    graph: PlanGraph,
  ): void {
    const { book } = this;
    const lines = book.boms[parent];
    if (!lines || lines.length === 0) {
      if (!this.unmade.includes(parent)) this.unmade.push(parent);
      return;
    }
    const warehouse = book.warehouseOf(node);
    for (let at = 0; at < lines.length; at += BOM_STRIDE) {
      if ((lines[at + 4] ?? -EVER) > start || (lines[at + 5] ?? EVER) < start) continue;
      const component = lines[at] ?? 0;
      const child = book.node(component, warehouse);
      if (graph.cyclic[child] === 1) continue;
      const through = factor === 1 ? (lines[at + 1] ?? 0) : exact(factor * (lines[at + 1] ?? 0));
      const finer = scale + (lines[at + 2] ?? 0);
      const later = offset + (lines[at + 3] ?? 0);
      if (book.phantoms[component] === true) {
        this.explode(node, component, number, quantity, through, finer, later, start, graph);
        continue;
      }
      const called = scaledUp(quantity, through, finer + (book.decimals[book.itemOf(node)] ?? 0) - (book.decimals[component] ?? 0));
      this.calls.push(child, number, later === 0 ? start : (book.calendars[warehouse]?.ahead(start, later) ?? start), called);
    }
  }
}

/** The nodes for which two lists of calls differ. */
function changedChildren(before: readonly number[], after: readonly number[]): Set<number> {
  const callsByChild = (calls: readonly number[]): Map<number, string> => {
    const found = new Map<number, string>();
    for (let at = 0; at < calls.length; at += CALL_STRIDE) {
      const child = calls[at] ?? 0;
      found.set(child, `${found.get(child) ?? ''}${calls[at + 1] ?? 0} ${calls[at + 2] ?? 0} ${calls[at + 3] ?? 0};`);
    }
    return found;
  };
  const [old, fresh] = [callsByChild(before), callsByChild(after)];
  const changed = new Set<number>();
  for (const [child, calls] of old) if (fresh.get(child) !== calls) changed.add(child);
  for (const child of fresh.keys()) if (!old.has(child)) changed.add(child);
  return changed;
}

/** Nodes waiting to be planned, the first in the order first; each waits once. */
class RankQueue {
  private readonly heap: number[] = [];
  private readonly waiting = new Set<number>();

  constructor(private readonly ranks: Int32Array) {}

  add(node: number): void {
    if (this.waiting.has(node)) return;
    this.waiting.add(node);
    const { heap } = this;
    let at = heap.length;
    heap.push(node);
    while (at > 0) {
      const up = (at - 1) >> 1;
      if (this.rank(up) <= this.rank(at)) break;
      this.swap(up, at);
      at = up;
    }
  }

  take(): number | undefined {
    const { heap } = this;
    const [first] = heap;
    const last = heap.pop();
    if (first === undefined || last === undefined) return undefined;
    this.waiting.delete(first);
    if (heap.length === 0) return first;
    heap[0] = last;
    for (let at = 0; ;) {
      const left = 2 * at + 1;
      let least = at;
      if (left < heap.length && this.rank(left) < this.rank(least)) least = left;
      if (left + 1 < heap.length && this.rank(left + 1) < this.rank(least)) least = left + 1;
      if (least === at) return first;
      this.swap(least, at);
      at = least;
    }
  }

  private rank(at: number): number {
    return this.ranks[this.heap[at] ?? 0] ?? -1;
  }

  private swap(a: number, b: number): void {
    const { heap } = this;
    const held = heap[a] ?? 0;
    heap[a] = heap[b] ?? 0;
    heap[b] = held;
  }
}
