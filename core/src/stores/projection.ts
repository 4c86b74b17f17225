/** The projected balance of an item in a warehouse: what is available now and each supply and demand by date. */
import { asQuantity, type Quantity } from '../base';

export interface ProjectionEvent {
  readonly date: string;
  readonly kind: 'supply' | 'demand';
  readonly quantity: Quantity;
  /** Number of the document, for people. */
  readonly document: string;
  /** Suggestions of the plan are told apart from what is ordered. */
  readonly firm: boolean;
}

export interface ProjectedEvent extends ProjectionEvent {
  /** Date on which it counts: its own, or today where that has passed. */
  readonly countedOn: string;
  /** Balance after it, of firm events only. */
  readonly balance: Quantity;
  /** Balance after it, suggestions included. */
  readonly planned: Quantity;
}

/** The running balances in date order; on one day supply counts before demand. What is overdue counts as of today. */
export function projectBalance(available: Quantity, events: readonly ProjectionEvent[], today: string): ProjectedEvent[] {
  const counted = events.map((event) => ({ ...event, countedOn: event.date < today ? today : event.date }));
  counted.sort((a, b) => a.countedOn.localeCompare(b.countedOn) || b.kind.localeCompare(a.kind) || a.document.localeCompare(b.document));
  let balance: number = available;
  let planned: number = available;
  return counted.map((event) => {
    const change = event.kind === 'supply' ? event.quantity : -event.quantity;
    if (event.firm) balance += change;
    planned += change;
    return { ...event, balance: asQuantity(balance), planned: asQuantity(planned) };
  });
}

/** The first date on which the firm balance is below a level, or `null`. */
export function firstShort(available: Quantity, projected: readonly ProjectedEvent[], level: Quantity, today: string): string | null {
  if (available < level) return today;
  const lastOfDay = projected.filter((event, index) => projected[index + 1]?.countedOn !== event.countedOn);
  return lastOfDay.find((event) => event.balance < level)?.countedOn ?? null;
}
