/** An item's plan by period: what is wanted, what comes, what is suggested, what has to be placed, and what is left. */
import { dateOf, dayOf, readDecimal, toScale, writeDecimal } from '../base';
import { Periods, type Period } from './periods';

export interface PhasedEvent {
  /** Day on which it counts. */
  readonly day: string;
  readonly what: 'stock' | 'receipt' | 'suggestion' | 'order' | 'component' | 'transfer' | 'forecast' | 'quote' | 'called' | 'leaves';
  /** Decimal text; below zero for what takes. */
  readonly quantity: string;
  readonly placeBy: string | null;
}

/** Figures of one period, as decimal texts. */
export interface Phase {
  /** First day of the period, the plan's first day in the first one. */
  readonly start: string;
  /** Wanted by customers, by production and by other warehouses, and what stops being usable. */
  readonly wanted: string;
  /** What is ordered. */
  readonly ordered: string;
  /** What is suggested. */
  readonly suggested: string;
  /** Projected balance at the end of the period. */
  readonly balance: string;
  /** What of the suggestions has to be placed in this period. */
  readonly toPlace: string;
}

type Figures = { wanted: bigint; ordered: bigint; suggested: bigint; toPlace: bigint };

/**
 * Groups what a plan counts with by day, week (from Monday) or month, from `today` to `horizon`, periods without anything
 * included. Quantities have at most `decimals` decimals; throws RangeError for one that is no such decimal.
 */
export function timePhased(
  events: readonly PhasedEvent[],
  decimals: number,
  today: string,
  horizon: string,
  period: Period,
): { readonly opening: string; readonly phases: readonly Phase[] } {
  const units = (text: string): bigint => {
    const value = readDecimal(text);
    const whole = value && toScale(value, decimals);
    if (whole === null) throw new RangeError(`${text} is no quantity of ${decimals} decimals`);
    return whole;
  };
  const periods = new Periods(dayOf(today), dayOf(horizon), period);
  const figures: Figures[] = periods.starts.map(() => ({ wanted: 0n, ordered: 0n, suggested: 0n, toPlace: 0n }));
  let opening = 0n;
  for (const event of events) {
    const quantity = units(event.quantity);
    const at = figures[periods.at(dayOf(event.day))];
    if (!at) continue;
    if (event.what === 'stock') opening += quantity;
    else if (event.what === 'receipt') at.ordered += quantity;
    else if (event.what === 'suggestion') at.suggested += quantity;
    else at.wanted -= quantity;
    const placed = event.what === 'suggestion' && event.placeBy !== null ? figures[periods.at(dayOf(event.placeBy))] : undefined;
    if (placed) placed.toPlace += quantity;
  }
  let balance = opening;
  const written = (value: bigint): string => writeDecimal(value, decimals);
  const phases = figures.map(({ wanted, ordered, suggested, toPlace }, index): Phase => {
    balance += ordered + suggested - wanted;
    return {
      start: dateOf(periods.starts[index] ?? dayOf(today)),
      wanted: written(wanted),
      ordered: written(ordered),
      suggested: written(suggested),
      balance: written(balance),
      toPlace: written(toPlace),
    };
  });
  return { opening: written(opening), phases };
}
