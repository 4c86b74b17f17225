/**
 * What each demand really counts on. The plan pegs by day alone, since that is how it balances; but stock that is
 * reserved is kept for whoever holds it, and what somebody has ordered goes before what is only forecast. Promises are
 * judged by these pegs; nodes where neither plays a part have the plan's own.
 */
import { readUnits } from '../units';
import { EVER, FORECAST, QUOTE } from './book';
import { CountedDemand, ROW } from './counted-demand';
import type { LivePlan } from './live-plan';
import { STOCK_SUPPLY, SUPPLY_STRIDE } from './netter';

/** Quantities as decimal text, by the id of the demand that holds them. */
export type Reserved = ReadonlyMap<string, string>;

const EXPECTED: readonly number[] = [FORECAST, QUOTE];

export class PromisedPegs {
  private readonly demand: CountedDemand;
  private readonly known = new Map<number, readonly number[]>();

  constructor(
    private readonly plan: LivePlan,
    private readonly reserved: Reserved,
  ) {
    this.demand = new CountedDemand(plan.book);
  }

  /** A node's pegs: supply, who takes (two numbers), quantity, day; in order of the supplies. */
  of(node: number): readonly number[] {
    let pegs = this.known.get(node);
    if (!pegs) {
      pegs = this.needsOwn(node) ? this.peg(node) : this.plan.outcome(node).pegs;
      this.known.set(node, pegs);
    }
    return pegs;
  }

  private needsOwn(node: number): boolean {
    const { demands, demandsOf } = this.plan.book;
    return (demandsOf[node] ?? []).some((row) => EXPECTED.includes(demands.marks[row] ?? 0) || this.reserved.has(demands.ids[row] ?? ''));
  }

  private peg(node: number): number[] {
    const { plan, demand } = this;
    const { book } = plan;
    const { supplies } = plan.outcome(node);
    demand.count(node, book.rules[node], plan.callsFor(node));
    const untils = this.untilsOf(node);
    const count = supplies.length / SUPPLY_STRIDE;
    const left = Array.from({ length: count }, (_, supply) => supplies[supply * SUPPLY_STRIDE + 2] ?? 0);
    const wanted = new Map(demand.order.map((index) => [index, demand.quantity[index] ?? 0]));
    const taken: number[][] = [];
    const take = (supply: number, index: number, most: number): void => {
      const quantity = Math.min(most, left[supply] ?? 0, wanted.get(index) ?? 0);
      if (quantity <= 0) return;
      left[supply] = (left[supply] ?? 0) - quantity;
      wanted.set(index, (wanted.get(index) ?? 0) - quantity);
      taken.push([supply, demand.a[index] ?? 0, demand.b[index] ?? 0, quantity, demand.day[index] ?? 0]);
    };
    const decimals = book.decimals[book.itemOf(node)] ?? 0;
    for (const index of demand.order) {
      if (demand.a[index] !== ROW) continue;
      const text = this.reserved.get(book.demands.ids[demand.b[index] ?? 0] ?? '');
      let held = text === undefined ? 0 : Number(readUnits(text, decimals) ?? 0);
      for (let supply = 0; supply < count && held > 0 && supplies[supply * SUPPLY_STRIDE] === STOCK_SUPPLY; supply += 1) {
        const before = left[supply] ?? 0;
        take(supply, index, held);
        held -= before - (left[supply] ?? 0);
      }
    }
    const expected = (index: number): boolean => demand.a[index] === ROW && EXPECTED.includes(book.demands.marks[demand.b[index] ?? 0] ?? 0);
    const inTurn = [...demand.order.filter((index) => !expected(index)), ...demand.order.filter(expected)];
    let first = 0;
    for (const index of inTurn) {
      while (first < count && (left[first] ?? 0) === 0) first += 1;
      for (let supply = first; supply < count && (wanted.get(index) ?? 0) > 0; supply += 1)
        if ((untils[supply] ?? EVER) >= (demand.day[index] ?? 0)) take(supply, index, Infinity);
    }
    return taken.sort((one, other) => (one[0] ?? 0) - (other[0] ?? 0)).flat();
  }

  /** Until when each of a node's supplies can be used: stock comes first among them, lot by lot. */
  private untilsOf(node: number): number[] {
    const { stock, today } = this.plan.book;
    const lots = stock[node] ?? [];
    const untils: number[] = [];
    for (let at = 0; at < lots.length; at += 2) if ((lots[at] ?? 0) >= today) untils.push(lots[at] ?? 0);
    return untils;
  }
}
