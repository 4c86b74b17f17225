/** Looking into a kept plan: one item's record, and pegging both ways through all levels. */
import type { Day } from '../../base';
import { Arrivals } from './arrivals';
import { DEMAND_KINDS } from './book';
import { SUGGESTION_STRIDE, type LivePlan } from './live-plan';
import { CALL_STRIDE, ROW } from './counted-demand';
import { EXCEPTION_STRIDE, EXPIRES, Netter, PEG_STRIDE, RECEIPT_SUPPLY, STOCK_SUPPLY, SUGGESTION_SUPPLY, SUPPLY_STRIDE } from './netter';
import { PromisedPegs, type Reserved } from './promised-pegs';
import { PlanWriter } from './written';

/** One thing that changes the projected balance of an item in a warehouse. */
export interface RecordEvent {
  readonly day: Day;
  /** The day that was given, where it counts on another. */
  readonly given: Day;
  readonly what: 'stock' | 'receipt' | 'suggestion' | 'order' | 'component' | 'transfer' | 'forecast' | 'quote' | 'called' | 'leaves';
  /** Id of the row or suggestion. */
  readonly id: string;
  /** Whole number of the item's decimals; below zero for what takes. */
  readonly quantity: number;
  /** Of a suggestion, the day to place it by. */
  readonly placeBy: Day | null;
}

/** All that the plan counts with for a node, in order of day; on one day supply comes before demand. */
export function recordOf(plan: LivePlan, node: number): RecordEvent[] {
  return new RecordReader(plan).read(node);
}

/** Reads the records of many nodes. */
export class RecordReader {
  private readonly writer: PlanWriter;
  private readonly netter: Netter;

  constructor(private readonly plan: LivePlan) {
    this.writer = new PlanWriter(plan);
    this.netter = new Netter(plan.book);
  }

  /** As {@link recordOf}. */
  read(node: number): RecordEvent[] {
    const { plan, writer, netter } = this;
    const { book } = plan;
    const { supplies, suggestions, exceptions } = plan.outcome(node);
    const events: RecordEvent[] = [];
    for (let at = 0; at < supplies.length; at += SUPPLY_STRIDE) {
      const [kind = 0, day = 0, quantity = 0, row = 0] = supplies.slice(at, at + SUPPLY_STRIDE);
      if (kind === STOCK_SUPPLY) events.push({ day, given: day, what: 'stock', id: 'stock', quantity, placeBy: null });
      else if (kind === RECEIPT_SUPPLY)
        events.push({ day, given: book.receipts.days[row] ?? day, what: 'receipt', id: book.receipts.ids[row] ?? '', quantity, placeBy: null });
      else {
        const place = (row - 1) * SUGGESTION_STRIDE;
        const [due = day, placeBy = day] = [suggestions[place + 7], suggestions[place + 6]];
        events.push({ day, given: due, what: 'suggestion', id: `${book.keyOf(node)}#${row}`, quantity, placeBy });
      }
    }
    netter.net(node, plan.callsFor(node));
    const { order, a: owners, b: numbers, day: days, date: dates, quantity: quantities } = netter.demand;
    for (const index of order) {
      const [a = 0, b = 0, day = 0, given = 0, quantity = 0] = [owners[index], numbers[index], days[index], dates[index], quantities[index]];
      const what = a === ROW ? (DEMAND_KINDS[book.demands.marks[b] ?? 0] ?? 'order') : 'called';
      events.push({ day, given, what, id: writer.demandId(a, b), quantity: -quantity, placeBy: null });
    }
    for (let at = 0; at < exceptions.length; at += EXCEPTION_STRIDE) {
      const [kind, , , from = 0, , quantity = 0] = exceptions.slice(at, at + EXCEPTION_STRIDE);
      if (kind === EXPIRES) events.push({ day: from, given: from, what: 'leaves', id: book.keyOf(node), quantity: -quantity, placeBy: null });
    }
    return events.sort((a, b) => a.day - b.day || rankOf(a) - rankOf(b));
  }
}

function rankOf(event: RecordEvent): number {
  if (event.what === 'stock') return 0;
  if (event.quantity > 0) return 1;
  return event.what === 'leaves' ? 3 : 2;
}

/** A supply with all that it waits for, as pegs tell it. */
export interface PegNode {
  readonly kind: 'stock' | 'receipt' | 'suggestion' | 'demand';
  readonly id: string;
  readonly node: number;
  /** How much of it serves what is above. */
  readonly quantity: number;
  /** Of a suggestion, when to place it; of anything else the same as due. */
  readonly start: Day;
  readonly due: Day;
  /** When it will really be there; `null` where something that it needs has no supply. */
  readonly ready: Day | null;
  /** The day on which what is above wants it. */
  readonly wanted: Day;
  readonly below: readonly PegNode[];
}

const MOST_NODES = 2000;

/** Pegging of one plan; made once for a moment, since it works out when everything is really there. */
export class PegTrail {
  readonly arrivals: Arrivals;
  private left = MOST_NODES;

  private readonly promised: PromisedPegs;

  constructor(
    private readonly plan: LivePlan,
    reserved: Reserved,
  ) {
    this.promised = new PromisedPegs(plan, reserved);
    this.arrivals = new Arrivals(plan, this.promised);
  }

  /**
   * What serves a demand row, down through all levels; at most {@link MOST_NODES} supplies are followed. What a suggestion
   * calls for has the suggestion's name: `at` tells the node of which it calls.
   */
  below(demandId: string, at?: number): PegNode[] {
    const { demands } = this.plan.book;
    this.left = MOST_NODES;
    const row = demands.find(demandId);
    if (row !== undefined) return this.servers(demands.nodes[row] ?? 0, ROW, row);
    const caller = this.suggestionOf(demandId);
    return caller && at !== undefined ? this.servers(at, caller.node, caller.number) : [];
  }

  /** The node and number that a suggestion's name tells. */
  private suggestionOf(name: string): { readonly node: number; readonly number: number } | null {
    const [, key = '', number = ''] = /^(.*)#(\d+)$/.exec(name) ?? [];
    const at = key.lastIndexOf('@');
    const node = this.plan.book.find(key.slice(0, at), key.slice(at + 1));
    return node === undefined ? null : { node, number: Number(number) };
  }

  private servers(node: number, a: number, b: number): PegNode[] {
    const { supplies, suggestions } = this.plan.outcome(node);
    const pegs = this.promised.of(node);
    const { book } = this.plan;
    const found: PegNode[] = [];
    for (let at = 0; at < pegs.length; at += PEG_STRIDE) {
      if (pegs[at + 1] !== a || pegs[at + 2] !== b) continue;
      if (this.left <= 0) return found;
      this.left -= 1;
      const supply = pegs[at] ?? 0;
      const [kind = 0, day = 0, , row = 0] = supplies.slice(supply * SUPPLY_STRIDE, supply * SUPPLY_STRIDE + SUPPLY_STRIDE);
      const common = { node, quantity: pegs[at + 3] ?? 0, ready: this.arrivals.arrival(node, supply), wanted: pegs[at + 4] ?? 0 };
      if (kind === STOCK_SUPPLY) found.push({ kind: 'stock', id: 'stock', ...common, start: day, due: day, below: [] });
      else if (kind === RECEIPT_SUPPLY) {
        const id = book.receipts.ids[row] ?? '';
        const due = book.receipts.days[row] ?? day;
        found.push({ kind: 'receipt', id, ...common, start: due, due, below: this.orderParts(id) });
      } else if (kind === SUGGESTION_SUPPLY) {
        const place = (row - 1) * SUGGESTION_STRIDE;
        found.push({
          kind: 'suggestion',
          id: `${book.keyOf(node)}#${row}`,
          ...common,
          start: suggestions[place + 6] ?? day,
          due: suggestions[place + 7] ?? day,
          below: this.parts(node, row),
        });
      }
    }
    return found;
  }

  /** What serves what a suggestion calls for. */
  private parts(node: number, number: number): PegNode[] {
    const calls = this.plan.callsOf(node);
    const children = new Set<number>();
    for (let at = 0; at < calls.length; at += CALL_STRIDE) if (calls[at + 1] === number) children.add(calls[at] ?? 0);
    return [...children].flatMap((child) => this.servers(child, node, number));
  }

  /** What serves the demand rows of an order that is a receipt, such as components of production. */
  private orderParts(id: string): PegNode[] {
    const { demands } = this.plan.book;
    const found: PegNode[] = [];
    for (let line = 1; ; line += 1) {
      const row = demands.find(`${id}/${line}`);
      if (row === undefined && line > 60) return found;
      if (row !== undefined) found.push(...this.servers(demands.nodes[row] ?? 0, ROW, row));
    }
  }

  /** Whom a supply serves, up through all levels: `below` of each holds what it serves in turn. */
  above(kind: 'receipt' | 'suggestion', id: string): PegNode[] {
    this.left = MOST_NODES;
    const { book } = this.plan;
    if (kind === 'receipt') {
      const row = book.receipts.find(id);
      return row === undefined ? [] : this.served(book.receipts.nodes[row] ?? 0, RECEIPT_SUPPLY, row);
    }
    const named = this.suggestionOf(id);
    return named ? this.served(named.node, SUGGESTION_SUPPLY, named.number) : [];
  }

  private served(node: number, kind: number, row: number): PegNode[] {
    const { book } = this.plan;
    const { supplies } = this.plan.outcome(node);
    const pegs = this.promised.of(node);
    const found: PegNode[] = [];
    for (let at = 0; at < pegs.length; at += PEG_STRIDE) {
      const supply = pegs[at] ?? 0;
      if (supplies[supply * SUPPLY_STRIDE] !== kind || supplies[supply * SUPPLY_STRIDE + 3] !== row) continue;
      const [a = 0, b = 0, quantity = 0, wanted = 0] = [pegs[at + 1], pegs[at + 2], pegs[at + 3], pegs[at + 4]];
      if (a < ROW || this.left <= 0) continue;
      this.left -= 1;
      const common = { quantity, wanted, ready: this.arrivals.arrival(node, supply) };
      if (a >= 0) {
        const { suggestions } = this.plan.outcome(a);
        const place = (b - 1) * SUGGESTION_STRIDE;
        const [start = wanted, due = wanted] = [suggestions[place + 6], suggestions[place + 7]];
        found.push({ kind: 'suggestion', id: `${book.keyOf(a)}#${b}`, node: a, ...common, start, due, below: this.served(a, SUGGESTION_SUPPLY, b) });
        continue;
      }
      const id = book.demands.ids[b] ?? '';
      const order = book.receipts.find(id.slice(0, Math.max(0, id.lastIndexOf('/'))));
      found.push({
        kind: 'demand',
        id,
        node: book.demands.nodes[b] ?? 0,
        ...common,
        start: wanted,
        due: wanted,
        below: order === undefined ? [] : this.served(book.receipts.nodes[order] ?? 0, RECEIPT_SUPPLY, order),
      });
    }
    return found;
  }
}
