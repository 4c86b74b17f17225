/** A plan in the few figures by which it is compared with another. */
import { type Amount, asAmount, asPrice, asQuantity, dateOf, type Day, dayOf, extend, type WorkingCalendar, writeAmount } from '../../base';
import type { PlanKeeper } from '../compact/keeper';
import { RecordReader } from '../compact/look';
import { PlanWriter } from '../compact/written';
import { arrivalsOf } from '../compact/arrivals';
import type { Reserved } from '../compact/promised-pegs';
import { priceAt, supply, type SizedOffer } from '../offers';
import { Periods } from '../periods';
import type { DataProblem, Suggestion } from '../problem';

const QUANTITY_SCALE = 5;

/** When a customer's order line is there. */
export interface LineFigure {
  readonly wanted: string;
  /** `null` where a part has no supply. */
  readonly ready: string | null;
  readonly cause: string;
}

export interface SuggestionFigure extends Pick<Suggestion, 'kind' | 'item' | 'warehouse' | 'from' | 'quantity' | 'placeBy' | 'due' | 'daysLate'> {
  /** Of a purchase, whom it goes to. */
  readonly supplier: string | null;
}

export interface PlanFigures {
  readonly lines: ReadonlyMap<string, LineFigure>;
  readonly suggestions: readonly SuggestionFigure[];
  readonly problems: readonly DataProblem[];
  readonly summary: PlanSummary;
}

/** Amounts as decimal texts in the books' currency, weeks and months by their first day in the plan. */
export interface PlanSummary {
  /** Order lines that come after the day wanted, and those of which a part has no supply. */
  readonly late: number;
  readonly unserved: number;
  /** Calendar days late, of all late lines together. */
  readonly daysLate: number;
  /** What is to come from suppliers, ordered and suggested, by the month in which it comes. */
  readonly purchases: string;
  readonly purchasesBy: readonly { readonly start: string; readonly amount: string }[];
  /** What stock is worth at the end of each week. */
  readonly stock: string;
  readonly stockBy: readonly { readonly start: string; readonly amount: string }[];
  /** Orders of production, existing and suggested, that are in work in each week; and in the fullest one. */
  readonly fullest: number;
  readonly inWorkBy: readonly { readonly start: string; readonly orders: number }[];
}

/** What figures need to know besides the plan; quantities in 10⁻⁵ units, prices of one base unit. */
export interface FigureFacts {
  readonly costs: ReadonlyMap<string, number>;
  readonly offers: (item: string) => readonly (SizedOffer & { readonly supplier: string })[];
  readonly calendarOf: (warehouse: string) => WorkingCalendar;
  /** Price of one unit of what comes from a supplier, by the receipt. */
  readonly prices: ReadonlyMap<string, number>;
  /** First day of production that exists, by its number. */
  readonly starts: ReadonlyMap<string, Day>;
  readonly reserved: Reserved;
}

/** Takes a kept plan's figures: late lines, purchases, what stock is worth and what is in work, week by week. */
export function figuresOf(keeper: PlanKeeper, facts: FigureFacts): PlanFigures {
  const { live } = keeper;
  const { book } = live;
  const writer = new PlanWriter(live);
  const reader = new RecordReader(live);
  const weeks = new Periods(book.today, book.horizon, 'week');
  const months = new Periods(book.today, book.horizon, 'month');
  const stock = weeks.starts.map(() => 0);
  const inWork = weeks.starts.map(() => 0);
  const bought = months.starts.map(() => 0);
  const work = (from: Day, to: Day): void => {
    for (let week = weeks.at(from); week <= weeks.at(Math.max(from, to)); week += 1) inWork[week] = (inWork[week] ?? 0) + 1;
  };
  const buy = (day: Day, amount: Amount): void => {
    const month = months.at(day);
    bought[month] = (bought[month] ?? 0) + amount;
  };
  const suggestions: SuggestionFigure[] = [];
  for (const node of live.graph.order) {
    const item = book.itemCodes[book.itemOf(node)] ?? '';
    const scale = 10 ** (QUANTITY_SCALE - (book.decimals[book.itemOf(node)] ?? 0));
    for (const { suggestion } of writer.suggestions(node)) {
      const { kind, warehouse, from, quantity, placeBy, due, daysLate } = suggestion;
      const units = Math.round(Number(quantity) * 10 ** QUANTITY_SCALE);
      const supplied =
        kind === 'buy'
          ? supply(
              facts.offers(item),
              { quantity: units, neededBy: dayOf(suggestion.neededBy), placeBy: dayOf(placeBy), due: dayOf(due), daysLate },
              facts.calendarOf(warehouse),
              book.today,
            )
          : null;
      if (supplied) buy(supplied.due, extend(asQuantity(supplied.ordered), priceAt(supplied.offer, supplied.ordered)));
      if (kind === 'make') work(dayOf(placeBy), dayOf(due));
      const other = supplied?.insteadOf ? supplied : null;
      suggestions.push({
        kind,
        item,
        warehouse,
        from,
        quantity,
        placeBy: other ? dateOf(other.placeBy) : placeBy,
        due: other ? dateOf(other.due) : due,
        daysLate: other?.daysLate ?? daysLate,
        supplier: supplied?.offer.supplier ?? null,
      });
    }
    const cost = asPrice(facts.costs.get(item) ?? 0);
    const changes = weeks.starts.map(() => 0);
    for (const event of reader.read(node)) {
      const week = weeks.at(event.day);
      changes[week] = (changes[week] ?? 0) + event.quantity;
      if (event.what !== 'receipt') continue;
      const price = facts.prices.get(event.id);
      if (price !== undefined) buy(event.day, extend(asQuantity(event.quantity * scale), asPrice(price)));
      const start = facts.starts.get(event.id);
      if (start !== undefined) work(start, event.day);
    }
    let balance = 0;
    changes.forEach((change, week) => {
      balance += change;
      if (balance > 0 && cost > 0) stock[week] = (stock[week] ?? 0) + extend(asQuantity(balance * scale), cost);
    });
  }
  const lines = new Map<string, LineFigure>();
  let [late, unserved, daysLate] = [0, 0, 0];
  for (const [id, { wanted, ready, cause }] of arrivalsOf(live, facts.reserved)) {
    lines.set(id, { wanted: dateOf(wanted), ready: ready === null ? null : dateOf(ready), cause });
    if (ready === null) unserved += 1;
    else if (ready > wanted) [late, daysLate] = [late + 1, daysLate + ready - wanted];
  }
  const problems: DataProblem[] = [...book.rowProblems.values(), ...live.graph.loops];
  for (const node of live.graph.order) problems.push(...live.nodeProblems(node));
  const written = (starts: readonly Day[], amounts: readonly number[]): PlanSummary['stockBy'] =>
    starts.map((start, index) => ({ start: dateOf(start), amount: writeAmount(asAmount(amounts[index] ?? 0)) }));
  return {
    lines,
    suggestions,
    problems,
    summary: {
      late,
      unserved,
      daysLate,
      purchases: writeAmount(asAmount(bought.reduce((sum, each) => sum + each, 0))),
      purchasesBy: written(months.starts, bought),
      stock: writeAmount(asAmount(Math.round(stock.reduce((sum, each) => sum + each, 0) / Math.max(1, stock.length)))),
      stockBy: written(weeks.starts, stock),
      fullest: Math.max(0, ...inWork),
      inWorkBy: weeks.starts.map((start, index) => ({ start: dateOf(start), orders: inWork[index] ?? 0 })),
    },
  };
}
