/**
 * When what serves each demand will really be there: lateness travels up from what is bought and made too late through
 * all that waits for it. The plan itself goes on as if everything came when it is needed.
 */
import type { Day } from '../../base';
import { COMPONENT, ORDER, TRANSFER } from './book';
import type { CalendarTable } from './calendar-table';
import { SUGGESTION_STRIDE, type LivePlan } from './live-plan';
import { CALL_STRIDE, ROW } from './counted-demand';
import { PromisedPegs, type Reserved } from './promised-pegs';
import { PEG_STRIDE, RECEIPT_SUPPLY, STOCK_SUPPLY, SUGGESTION_SUPPLY, SUPPLY_STRIDE } from './netter';

/** What the plan says about one order line. */
export interface Arrival {
  readonly wanted: Day;
  /** Day on which all of it is there; `null` where a part has no supply at all. */
  readonly ready: Day | null;
  /** The supply that comes last where that is after the day wanted: `stock`, a receipt's id or a suggestion's. */
  readonly cause: string;
}

/** When each order line within the horizon can be served, by its id; `reserved` is what stock is kept for which demand. */
export function arrivalsOf(plan: LivePlan, reserved: Reserved = new Map()): Map<string, Arrival> {
  return new Arrivals(plan, new PromisedPegs(plan, reserved)).ofOrders();
}

const NEVER = Infinity;
const NEEDED: readonly number[] = [COMPONENT, TRANSFER];

/** A day put off by calendar days, on the next working day then. */
function waiting(day: Day, days: number, calendar: CalendarTable | undefined): Day {
  if (days === 0 || days === NEVER) return day + days;
  return calendar?.onOrAfter(day + days) ?? day + days;
}

/** Works through all nodes, what is called for first; also tells when single suggestions are really there. */
export class Arrivals {
  /** Calendar days by which a node's suggestions wait for what they need; endless where a part has no supply. */
  private readonly waits: (number[] | undefined)[] = [];
  /** The same for production that is ordered already, by its number. */
  private readonly orderWaits = new Map<string, number>();
  private readonly ready = new Map<number, { day: Day; covered: number; cause: string }>();

  constructor(
    private readonly plan: LivePlan,
    private readonly promised: PromisedPegs,
  ) {
    const { order } = plan.graph;
    for (let at = order.length - 1; at >= 0; at -= 1) this.pass(order[at] ?? 0);
  }

  ofOrders(): Map<string, Arrival> {
    const { demands, horizon } = this.plan.book;
    const found = new Map<string, Arrival>();
    demands.nodes.forEach((node, row) => {
      if (demands.marks[row] !== ORDER || demands.find(demands.ids[row] ?? '') !== row) return;
      const wanted = demands.days[row] ?? 0;
      if (wanted > horizon || this.plan.book.rules[node]?.demand === 'forecast') return;
      const served = this.ready.get(row);
      const whole = served !== undefined && served.day !== NEVER && served.covered >= (demands.quantities[row] ?? 0);
      const late = whole && served.day > wanted && served.day > this.plan.book.today;
      found.set(demands.ids[row] ?? '', { wanted, ready: whole ? served.day : null, cause: late || (served && !whole) ? served.cause : '' });
    });
    return found;
  }

  /** When a node's supply is really there; `null` where something that it needs has no supply. */
  arrival(node: number, supply: number): Day | null {
    const day = this.comes(node, supply);
    return day === NEVER ? null : day;
  }

  private comes(node: number, supply: number): Day {
    const { book } = this.plan;
    const { supplies, suggestions } = this.plan.outcome(node);
    const at = supply * SUPPLY_STRIDE;
    const row = supplies[at + 3] ?? 0;
    if (supplies[at] === STOCK_SUPPLY) return book.today;
    const calendar = book.calendars[book.warehouseOf(node)];
    if (supplies[at] === RECEIPT_SUPPLY) {
      const date = book.receipts.days[row] ?? 0;
      // What should have come by now comes tomorrow at the earliest.
      const comes = date < book.today ? book.today + 1 : date;
      const wait = this.orderWaits.get(book.receipts.ids[row] ?? '') ?? 0;
      return waiting(comes, wait, calendar);
    }
    const due = suggestions[(row - 1) * SUGGESTION_STRIDE + 7] ?? 0;
    const wait = this.waits[node]?.[row - 1] ?? 0;
    return waiting(due, wait, calendar);
  }

  private pass(node: number): void {
    const { book } = this.plan;
    const { supplies } = this.plan.outcome(node);
    const pegs = this.promised.of(node);
    let [last, comes] = [-1, 0];
    for (let at = 0; at < pegs.length; at += PEG_STRIDE) {
      const [supply = 0, a = 0, b = 0, quantity = 0, day = 0] = [pegs[at], pegs[at + 1], pegs[at + 2], pegs[at + 3], pegs[at + 4]];
      if (supply !== last) comes = this.comes(node, supply);
      last = supply;
      if (a >= 0) {
        if (comes <= day) continue;
        const waits = this.waits[a] ?? (this.waits[a] = []);
        waits[b - 1] = Math.max(waits[b - 1] ?? 0, comes - day);
      } else if (a === ROW && book.demands.marks[b] === ORDER) {
        const place = supply * SUPPLY_STRIDE;
        const known = this.ready.get(b);
        const cause = known && known.day >= comes ? known.cause : this.nameOf(node, supplies[place] ?? 0, supplies[place + 3] ?? 0);
        this.ready.set(b, { day: Math.max(known?.day ?? 0, comes), covered: (known?.covered ?? 0) + quantity, cause });
      } else if (a === ROW && comes > day) {
        const id = book.demands.ids[b] ?? '';
        const order = id.slice(0, Math.max(0, id.lastIndexOf('/')));
        this.orderWaits.set(order, Math.max(this.orderWaits.get(order) ?? 0, comes - day));
      }
    }
    this.missUnserved(node, pegs);
  }

  /** Whatever calls for more than is supplied waits without end. */
  private missUnserved(node: number, pegs: readonly number[]): void {
    const { demands, horizon } = this.plan.book;
    const calls = this.plan.callsFor(node);
    const rows = (this.plan.book.demandsOf[node] ?? []).filter(
      (row) => NEEDED.includes(demands.marks[row] ?? 0) && (demands.days[row] ?? 0) <= horizon,
    );
    if (calls.length === 0 && rows.length === 0) return;
    const left = new Map<string, { readonly a: number; readonly b: number; quantity: number }>();
    const add = (a: number, b: number, quantity: number): void => {
      const key = `${a} ${b}`;
      const known = left.get(key);
      if (known) known.quantity += quantity;
      else left.set(key, { a, b, quantity });
    };
    for (let at = 0; at < calls.length; at += CALL_STRIDE)
      if ((calls[at + 2] ?? 0) <= horizon) add(calls[at] ?? 0, calls[at + 1] ?? 0, calls[at + 3] ?? 0);
    for (const row of rows) add(ROW, row, demands.quantities[row] ?? 0);
    for (let at = 0; at < pegs.length; at += PEG_STRIDE) add(pegs[at + 1] ?? 0, pegs[at + 2] ?? 0, -(pegs[at + 3] ?? 0));
    for (const { a, b, quantity } of left.values()) {
      if (quantity <= 0) continue;
      if (a >= 0) {
        const waits = this.waits[a] ?? (this.waits[a] = []);
        waits[b - 1] = NEVER;
      } else if (a === ROW) {
        const id = demands.ids[b] ?? '';
        this.orderWaits.set(id.slice(0, Math.max(0, id.lastIndexOf('/'))), NEVER);
      }
    }
  }

  private nameOf(node: number, kind: number, row: number): string {
    const { book } = this.plan;
    if (kind === STOCK_SUPPLY) return 'stock';
    return kind === SUGGESTION_SUPPLY ? `${book.keyOf(node)}#${row}` : (book.receipts.ids[row] ?? '');
  }
}
