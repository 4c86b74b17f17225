/** Which demand of a node counts, in columns that are used again for the next node: what the netter takes from. */
import { isLess, type Day } from '../../base';
import { byCodePoint } from '../problem';
import { FORECAST, ORDER, QUOTE, type PlanBook } from './book';
import { narrow } from './exact';
import type { CompactRule } from './rule';

/** Who a demand is: a row of the book, or (from 0 up) the node whose suggestion calls for it. */
export const ROW = -1;
/** Node, number of its suggestion, day, quantity. */
export const CALL_STRIDE = 4;

export class CountedDemand {
  /** Day counted on. */
  readonly day: number[] = [];
  /** Day as given. */
  readonly date: number[] = [];
  readonly quantity: number[] = [];
  readonly a: number[] = [];
  readonly b: number[] = [];
  /** Places in the columns, by day counted and id. */
  readonly order: number[] = [];
  /** True where one suggestion may call more than once. */
  repeats = false;

  constructor(private readonly book: PlanBook) {}

  /** Counts a node's demand; `calls` is what suggestions of other nodes call for. */
  count(node: number, rule: CompactRule | undefined, calls: readonly number[] | undefined): void {
    const { book, order } = this;
    const { today, horizon } = book;
    for (const column of [this.day, this.date, this.quantity, this.a, this.b, order]) column.length = 0;
    const how = rule?.demand ?? 'orders';
    const rows = book.demandsOf[node];
    const { demands } = book;
    const eaten = rows && how === 'consume' && rule ? this.eatForecasts(rows, rule) : null;
    if (rows) {
      for (const row of rows) {
        const date = demands.days[row] ?? 0;
        if (date > horizon) continue;
        const quantity = this.countedQuantity(row, how, rule) - (eaten?.get(row) ?? 0);
        if (quantity <= 0) continue;
        this.push(date, today, quantity, ROW, row);
      }
    }
    this.repeats = false;
    if (calls) {
      for (let at = 0; at < calls.length; at += CALL_STRIDE) {
        const [parent = 0, number = 0, date = 0, quantity = 0] = [calls[at], calls[at + 1], calls[at + 2], calls[at + 3]];
        if (date > horizon) continue;
        const last = this.a.length - 1;
        // Calls of one suggestion for one component follow each other.
        if (this.a[last] === parent && this.b[last] === number) this.repeats = true;
        this.push(date, today, quantity, parent, number);
      }
    }
    for (let index = 0; index < this.day.length; index += 1) order.push(index);
    if (order.length > 1) order.sort((a, b) => (this.day[a] ?? 0) - (this.day[b] ?? 0) || this.compareIds(a, b));
  }

  private push(date: Day, today: Day, quantity: number, a: number, b: number): void {
    this.day.push(date < today ? today : date);
    this.date.push(date);
    this.quantity.push(quantity);
    this.a.push(a);
    this.b.push(b);
  }

  private countedQuantity(row: number, how: CompactRule['demand'], rule: CompactRule | undefined): number {
    const { demands, today } = this.book;
    const quantity = demands.quantities[row] ?? 0;
    switch (demands.marks[row]) {
      case ORDER:
        return how === 'forecast' ? 0 : quantity;
      case FORECAST:
        return how === 'orders' || (demands.days[row] ?? 0) < today ? 0 : quantity;
      case QUOTE: {
        const probability = this.book.probabilities.get(row);
        const from = rule?.quotesFrom ?? null;
        if (!rule || how === 'forecast' || from === null || !probability || isLess(probability, from)) return 0;
        if (!rule.quotesWeighted) return quantity;
        const weighted = BigInt(quantity) * probability.mantissa;
        const unit = 10n ** BigInt(probability.scale);
        return narrow((weighted + unit - 1n) / unit);
      }
      default:
        return quantity;
    }
  }

  /** What orders eat of each forecast: backwards from their date first, the latest before; then ahead, the earliest before. */
  private eatForecasts(rows: readonly number[], rule: CompactRule): Map<number, number> {
    const { days, quantities, marks, ids } = this.book.demands;
    const { today } = this.book;
    const byDate = (a: number, b: number): number => (days[a] ?? 0) - (days[b] ?? 0) || byCodePoint(ids[a] ?? '', ids[b] ?? '');
    const forecasts = rows.filter((row) => marks[row] === FORECAST && (days[row] ?? 0) >= today);
    const ahead = [...forecasts].sort(byDate);
    const back = [...forecasts].sort((a, b) => (days[b] ?? 0) - (days[a] ?? 0) || byCodePoint(ids[a] ?? '', ids[b] ?? ''));
    const eaten = new Map<number, number>();
    let hunger = 0;
    const bite = (row: number): void => {
      const taken = Math.min(hunger, (quantities[row] ?? 0) - (eaten.get(row) ?? 0));
      eaten.set(row, (eaten.get(row) ?? 0) + taken);
      hunger -= taken;
    };
    for (const order of rows.filter((row) => marks[row] === ORDER).sort(byDate)) {
      const date = days[order] ?? 0;
      hunger = quantities[order] ?? 0;
      for (const row of back) {
        const day = days[row] ?? 0;
        if (hunger > 0 && day <= date && day >= date - rule.consumeBack) bite(row);
      }
      for (const row of ahead) {
        const day = days[row] ?? 0;
        if (hunger > 0 && day > date && day <= date + rule.consumeForward) bite(row);
      }
    }
    return eaten;
  }

  private compareIds(a: number, b: number): number {
    const [parentA = 0, parentB = 0, numberA = 0, numberB = 0] = [this.a[a], this.a[b], this.b[a], this.b[b]];
    const { book } = this;
    if (parentA === ROW && parentB === ROW) return byCodePoint(book.demands.ids[numberA] ?? '', book.demands.ids[numberB] ?? '');
    if (parentA >= 0 && parentB >= 0) {
      if (parentA === parentB) return byCodePoint(String(numberA), String(numberB));
      const [codeA = '', codeB = ''] = [book.itemCodes[book.itemOf(parentA)], book.itemCodes[book.itemOf(parentB)]];
      if (codeA !== codeB && !codeA.startsWith(codeB) && !codeB.startsWith(codeA)) return byCodePoint(codeA, codeB);
    }
    return byCodePoint(this.idOf(parentA, numberA), this.idOf(parentB, numberB));
  }

  private idOf(parent: number, number: number): string {
    return parent === ROW ? (this.book.demands.ids[number] ?? '') : `${this.book.keyOf(parent)}#${number}`;
  }
}
