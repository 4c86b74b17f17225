/** What a live plan says, written out: decimals, dates and ids as results show them. */
import { dateOf, writeDecimal, type Day } from '../../base';
import type { Peg, PlanException, PlanResult, Reason, Suggestion, SupplyPeg } from '../problem';
import { byCodePoint } from '../problem';
import { ProblemList } from '../problem-list';
import { ROW } from './counted-demand';
import {
  EXCEPTION_KINDS,
  EXCEPTION_STRIDE,
  ITSELF,
  KEPT,
  NEVER,
  OWN,
  PEG_STRIDE,
  RECEIPT,
  STOCK_SUPPLY,
  SUPPLY_STRIDE,
  SUGGESTION_SUPPLY,
} from './netter';
import { SUGGESTION_STRIDE, type LivePlan } from './live-plan';

export const SAFETY = 'safety';

/** A suggestion with the figures that it follows from. */
export interface ReasonedSuggestion {
  readonly suggestion: Suggestion;
  readonly reason: Reason;
}

/** Writes the outcome of single nodes of a plan. */
export class PlanWriter {
  private readonly dates = new Map<Day, string>();

  constructor(private readonly plan: LivePlan) {}

  /** `YYYY-MM-DD`, remembered, since a plan has few days and many dates. */
  date(day: Day): string {
    let text = this.dates.get(day);
    if (text === undefined) {
      text = dateOf(day);
      this.dates.set(day, text);
    }
    return text;
  }

  /** A quantity of the node's item in its shortest form. */
  quantity(node: number, value: number): string {
    const { book } = this.plan;
    const decimals = book.decimals[book.itemOf(node)] ?? 0;
    return decimals === 0 ? String(value) : writeDecimal(BigInt(value), decimals);
  }

  /** Who a demand is: the id of a row, of a suggestion, or `safety`. */
  demandId(a: number, b: number): string {
    const { book } = this.plan;
    if (a === KEPT) return SAFETY;
    return a === ROW ? (book.demands.ids[b] ?? '') : `${book.keyOf(a)}#${b}`;
  }

  suggestions(node: number): ReasonedSuggestion[] {
    const { book } = this.plan;
    const rule = book.rules[node];
    if (!rule || rule.source === 'none') return [];
    const { suggestions, pegs, supplies } = this.plan.outcome(node);
    const key = book.keyOf(node);
    const served = new Map<number, Peg[]>();
    for (let at = 0; at < pegs.length; at += PEG_STRIDE) {
      const place = (pegs[at] ?? 0) * SUPPLY_STRIDE;
      if (supplies[place] !== SUGGESTION_SUPPLY) continue;
      const number = supplies[place + 3] ?? 0;
      const list = served.get(number) ?? [];
      list.push({ demand: this.demandId(pegs[at + 1] ?? 0, pegs[at + 2] ?? 0), quantity: this.quantity(node, pegs[at + 3] ?? 0) });
      served.set(number, list);
    }
    const written: ReasonedSuggestion[] = [];
    for (let at = 0, number = 1; at < suggestions.length; at += SUGGESTION_STRIDE, number += 1) {
      const figure = (place: number): string => this.quantity(node, suggestions[at + place] ?? 0);
      const day = (place: number): string => this.date(suggestions[at + place] ?? 0);
      written.push({
        suggestion: {
          id: `${key}#${number}`,
          kind: rule.source,
          item: book.itemCodes[book.itemOf(node)] ?? '',
          warehouse: book.warehouseCodes[book.warehouseOf(node)] ?? '',
          from: rule.from < 0 ? null : (book.warehouseCodes[rule.from] ?? null),
          quantity: figure(1),
          placeBy: day(6),
          due: day(7),
          neededBy: day(0),
          daysLate: suggestions[at + 8] ?? 0,
          pegs: served.get(number) ?? [],
        },
        reason: { balance: figure(3), threshold: this.quantity(node, rule.threshold), missing: figure(4), sized: figure(5) },
      });
    }
    return written;
  }

  exceptions(node: number): PlanException[] {
    const { book } = this.plan;
    const { exceptions } = this.plan.outcome(node);
    const key = book.keyOf(node);
    const written: PlanException[] = [];
    for (let at = 0; at < exceptions.length; at += EXCEPTION_STRIDE) {
      const [kind = 0, a = 0, b = 0, from = 0, to = 0, quantity = 0] = exceptions.slice(at, at + EXCEPTION_STRIDE);
      const subject = a === ITSELF ? key : a === OWN ? `${key}#${b}` : a === RECEIPT ? (book.receipts.ids[b] ?? '') : this.demandId(a, b);
      written.push({
        kind: EXCEPTION_KINDS[kind] ?? 'short',
        subject,
        item: book.itemCodes[book.itemOf(node)] ?? '',
        warehouse: book.warehouseCodes[book.warehouseOf(node)] ?? '',
        from: this.date(from),
        to: to === NEVER ? null : this.date(to),
        quantity: this.quantity(node, quantity),
      });
    }
    return written;
  }

  /** Every peg of a node, stock and receipts included, by supply: the plan's own unless others are given. */
  pegs(node: number, pegs = this.plan.outcome(node).pegs): SupplyPeg[] {
    const { book } = this.plan;
    const { supplies } = this.plan.outcome(node);
    const written: SupplyPeg[] = [];
    for (let at = 0; at < pegs.length; at += PEG_STRIDE) {
      const place = (pegs[at] ?? 0) * SUPPLY_STRIDE;
      const [kind = 0, day = 0, , row = 0] = supplies.slice(place, place + SUPPLY_STRIDE);
      written.push({
        item: book.itemCodes[book.itemOf(node)] ?? '',
        warehouse: book.warehouseCodes[book.warehouseOf(node)] ?? '',
        supplyKind: kind === STOCK_SUPPLY ? 'stock' : kind === SUGGESTION_SUPPLY ? 'suggestion' : 'receipt',
        supply: kind === STOCK_SUPPLY ? 'stock' : kind === SUGGESTION_SUPPLY ? `${book.keyOf(node)}#${row}` : (book.receipts.ids[row] ?? ''),
        day: this.date(day),
        demand: this.demandId(pegs[at + 1] ?? 0, pegs[at + 2] ?? 0),
        quantity: this.quantity(node, pegs[at + 3] ?? 0),
      });
    }
    return written;
  }
}

/** The whole result, sorted as its form says. */
export function writeResult(plan: LivePlan): PlanResult {
  const { book } = plan;
  const writer = new PlanWriter(plan);
  const problems = new ProblemList();
  for (const each of book.rowProblems.values()) problems.add(each.code, each.subject, each.message);
  for (const each of plan.graph.loops) problems.add(each.code, each.subject, each.message);
  const byCodes = (a: number, b: number): number =>
    byCodePoint(book.itemCodes[book.itemOf(a)] ?? '', book.itemCodes[book.itemOf(b)] ?? '') ||
    byCodePoint(book.warehouseCodes[book.warehouseOf(a)] ?? '', book.warehouseCodes[book.warehouseOf(b)] ?? '');
  const suggestions: Suggestion[] = [];
  const exceptions: PlanException[] = [];
  for (const node of [...plan.graph.order].sort(byCodes)) {
    for (const { suggestion } of writer.suggestions(node)) suggestions.push(suggestion);
    exceptions.push(...writer.exceptions(node));
    for (const each of plan.nodeProblems(node)) problems.add(each.code, each.subject, each.message);
  }
  exceptions.sort(
    (a, b) =>
      byCodePoint(a.kind, b.kind) ||
      byCodePoint(a.item, b.item) ||
      byCodePoint(a.warehouse, b.warehouse) ||
      byCodePoint(a.subject, b.subject) ||
      byCodePoint(a.from, b.from),
  );
  return { suggestions, exceptions, problems: problems.sorted() };
}
