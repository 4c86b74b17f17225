/**
 * Netting of one node after the other, in columns that are used again and again: what counts of its demand, the days on
 * which anything happens, what is assigned and suggested, and what each supply serves.
 */
import type { Day } from '../../base';
import { workingDayFor } from '../dates';
import { byCodePoint, type ExceptionKind } from '../problem';
import { EVER, type PlanBook } from './book';
import { CountedDemand } from './counted-demand';
import { exact } from './exact';
import { firstLeastCost, raised, upTo, usableOf, wholeOrder, type CompactRule } from './rule';

/** What is kept rather than taken. */
export const KEPT = -2;
/** Subjects of exceptions besides demands: a receipt, the node itself, one of its suggestions. */
export const RECEIPT = -3;
export const ITSELF = -4;
export const OWN = -5;

/** Number is implied by the place: needed by, quantity, usable, balance before, missing, sized. */
export const NET_STRIDE = 6;
/** Kind, day counted from, quantity, row of a receipt or number of a suggestion. */
export const SUPPLY_STRIDE = 4;
/** Supply's place, demand's two numbers, quantity, day on which the demand counts. */
export const PEG_STRIDE = 5;
/** Kind, subject's two numbers, from, to, quantity. */
export const EXCEPTION_STRIDE = 6;
export const STOCK_SUPPLY = 0;
export const RECEIPT_SUPPLY = 1;
export const SUGGESTION_SUPPLY = 2;
/** No day. */
export const NEVER = -EVER;

export const EXCEPTION_KINDS: readonly ExceptionKind[] = [
  'bringForward',
  'pushBack',
  'cancel',
  'overdueReceipt',
  'overdueDemand',
  'placeLate',
  'expires',
  'short',
];
export const [BRING_FORWARD, PUSH_BACK, CANCEL, OVERDUE_RECEIPT, OVERDUE_DEMAND, PLACE_LATE, EXPIRES, SHORT] = [0, 1, 2, 3, 4, 5, 6, 7] as const;

export class Netter {
  readonly demand: CountedDemand;
  /** What came of it. */
  nets: number[] = [];
  supplies: number[] = [];
  pegs: number[] = [];
  exceptions: number[] = [];

  private readonly lockedDay: number[] = [];
  private readonly lockedRow: number[] = [];
  private readonly pool: number[] = [];
  private poolNext = 0;
  private readonly lotUntil: number[] = [];
  private readonly lotLeft: number[] = [];
  private readonly supplyUntil: number[] = [];
  private node = 0;
  private rule: CompactRule | undefined;
  private now: State = { level: 0, lot: 0, demand: 0, locked: 0, leaving: 0, gone: 0 };
  private readonly later: State = { level: 0, lot: 0, demand: 0, locked: 0, leaving: 0, gone: 0 };
  private readonly laterLeft: number[] = [];
  private readonly comingDay: number[] = [];
  private readonly comingMissing: number[] = [];

  constructor(private readonly book: PlanBook) {
    this.demand = new CountedDemand(book);
  }

  /** Nets a node; `calls` is what suggestions of other nodes call for: node, number, day, quantity. */
  net(node: number, calls: readonly number[] | undefined): void {
    this.node = node;
    this.rule = this.book.rules[node];
    this.nets = [];
    this.supplies = [];
    this.pegs = [];
    this.exceptions = [];
    this.demand.count(node, this.rule, calls);
    this.tellOverdue();
    this.readSupply();
    this.sweep();
    this.peg();
  }

  private tellOverdue(): void {
    const { today } = this.book;
    const { order, date, a, b, quantity } = this.demand;
    for (const index of order)
      if ((date[index] ?? 0) < today) this.except(OVERDUE_DEMAND, a[index] ?? 0, b[index] ?? 0, date[index] ?? 0, today, quantity[index] ?? 0);
  }

  private readSupply(): void {
    const { book, node, lotUntil, lotLeft, lockedDay, lockedRow, pool, supplyUntil } = this;
    const { today, horizon, receipts } = book;
    for (const column of [lotUntil, lotLeft, lockedDay, lockedRow, pool, supplyUntil]) column.length = 0;
    this.poolNext = 0;
    const lots = book.stock[node];
    if (lots) {
      for (let at = 0; at < lots.length; at += 2) {
        const [until = 0, quantity = 0] = [lots[at], lots[at + 1]];
        if (until < today) continue;
        lotUntil.push(until);
        lotLeft.push(quantity);
        this.supply(STOCK_SUPPLY, today, quantity, 0, until);
      }
    }
    const rows = book.receiptsOf[node];
    if (!rows || rows.length === 0) return;
    const sorted = rows.filter((row) => (receipts.days[row] ?? 0) <= horizon);
    if (sorted.length > 1)
      sorted.sort((a, b) => (receipts.days[a] ?? 0) - (receipts.days[b] ?? 0) || byCodePoint(receipts.ids[a] ?? '', receipts.ids[b] ?? ''));
    for (const row of sorted) {
      const day = receipts.days[row] ?? 0;
      if (receipts.marks[row] !== 1) {
        pool.push(row);
        continue;
      }
      if (day < today) this.except(OVERDUE_RECEIPT, RECEIPT, row, day, this.workingDayFor(today), receipts.quantities[row] ?? 0);
      lockedDay.push(day < today ? today : day);
      lockedRow.push(row);
    }
  }

  private sweep(): void {
    const { now, lotLeft } = this;
    now.level = 0;
    for (const left of lotLeft) now.level += left;
    now.lot = 0;
    now.demand = 0;
    now.locked = 0;
    now.leaving = 0;
    const { today, horizon, receipts } = this.book;
    const threshold = this.rule?.threshold ?? 0;
    let shortSaid = false;
    for (let day = today; day <= horizon; day = this.nextDay(now)) {
      const lockedBefore = now.locked;
      this.passDay(now, lotLeft, day);
      for (let index = lockedBefore; index < now.locked; index += 1) {
        const row = this.lockedRow[index] ?? 0;
        this.supply(RECEIPT_SUPPLY, day, receipts.quantities[row] ?? 0, row, EVER);
      }
      if (now.gone > 0) this.except(EXPIRES, ITSELF, 0, day, day, now.gone);
      while (now.level < threshold) {
        if (this.poolNext < this.pool.length) this.assign(day);
        else if (this.rule && this.rule.source !== 'none') this.suggest(day, this.rule);
        else {
          if (!shortSaid) this.except(SHORT, ITSELF, 0, day, day, exact(threshold - now.level));
          shortSaid = true;
          break;
        }
      }
    }
    for (let index = this.poolNext; index < this.pool.length; index += 1) {
      const row = this.pool[index] ?? 0;
      this.except(CANCEL, RECEIPT, row, receipts.days[row] ?? 0, NEVER, receipts.quantities[row] ?? 0);
    }
  }

  /** The next day on which anything happens. */
  private nextDay(state: State): Day {
    const demand = this.demand.order[state.demand];
    const wanted = demand === undefined ? EVER : (this.demand.day[demand] ?? EVER);
    const locked = this.lockedDay[state.locked] ?? EVER;
    const leaving = this.lotUntil[state.leaving] ?? EVER;
    const first = wanted < locked ? wanted : locked;
    return first < leaving ? first : leaving;
  }

  /** Lets one day's locked receipts, demand and leaving stock pass; tells how much left unused. */
  private passDay(state: State, left: number[], day: Day): void {
    const { lockedDay, lockedRow, lotUntil } = this;
    const { order, day: demandDay, quantity: demandQuantity } = this.demand;
    while (lockedDay[state.locked] === day) {
      state.level += this.book.receipts.quantities[lockedRow[state.locked] ?? 0] ?? 0;
      state.locked += 1;
    }
    let wanted = 0;
    for (let at = order[state.demand]; at !== undefined && demandDay[at] === day; at = order[state.demand]) {
      wanted += demandQuantity[at] ?? 0;
      state.demand += 1;
    }
    state.level = exact(exact(state.level) - exact(wanted));
    while (wanted > 0 && state.lot < left.length) {
      const there = left[state.lot] ?? 0;
      if (there > wanted) {
        left[state.lot] = there - wanted;
        break;
      }
      left[state.lot] = 0;
      wanted -= there;
      state.lot += 1;
    }
    state.gone = 0;
    while (lotUntil[state.leaving] === day) {
      state.gone += left[state.leaving] ?? 0;
      left[state.leaving] = 0;
      state.leaving += 1;
    }
    state.level -= state.gone;
  }

  private assign(day: Day): void {
    const { receipts, today } = this.book;
    const row = this.pool[this.poolNext] ?? 0;
    this.poolNext += 1;
    const quantity = receipts.quantities[row] ?? 0;
    const date = receipts.days[row] ?? 0;
    const slack = this.rule?.slackDays ?? 0;
    this.now.level += quantity;
    this.supply(RECEIPT_SUPPLY, day, quantity, row, EVER);
    const to = this.workingDayFor(day);
    if (date < today) this.except(OVERDUE_RECEIPT, RECEIPT, row, date, to, quantity);
    else if (date > day && date - to > slack) this.except(BRING_FORWARD, RECEIPT, row, date, to, quantity);
    else if (date <= day && to - date > slack) this.except(PUSH_BACK, RECEIPT, row, date, to, quantity);
  }

  /** Nothing is moved to a day on which nobody works. */
  private workingDayFor(day: Day): Day {
    const { calendars, today } = this.book;
    const calendar = calendars[this.book.warehouseOf(this.node)];
    return calendar ? workingDayFor(day, today, calendar) : day;
  }

  private suggest(day: Day, rule: CompactRule): void {
    const balance = this.now.level;
    const missing = exact(rule.threshold - balance);
    const sized = this.sizeLot(day, rule, balance, missing);
    const whole = wholeOrder(rule, sized);
    if (whole <= rule.maximum) {
      this.order1(day, rule, whole, balance, missing, sized);
      return;
    }
    let rest = whole;
    for (; rest >= rule.maximum; rest -= rule.maximum) this.order1(day, rule, rule.maximum, balance, missing, sized);
    if (rest > 0) this.order1(day, rule, raised(rule, rest), balance, missing, sized);
  }

  private order1(day: Day, rule: CompactRule, quantity: number, balance: number, missing: number, sized: number): void {
    const usable = usableOf(rule, quantity);
    this.nets.push(day, quantity, usable, balance, missing, sized);
    this.supply(SUGGESTION_SUPPLY, day, usable, this.nets.length / NET_STRIDE, EVER);
    this.now.level = exact(this.now.level + usable);
  }

  private sizeLot(day: Day, rule: CompactRule, balance: number, missing: number): number {
    switch (rule.sizing) {
      case 'lotForLot':
        return missing;
      case 'fixed':
      case 'reorderPoint':
        return upTo(missing, rule.measure);
      case 'minMax':
        return exact(rule.measure - balance);
      case 'period':
        return this.mostMissing(day, rule);
      case 'leastCost':
        this.lookAhead(rule);
        this.comingDay[0] = day;
        return firstLeastCost(rule, this.comingDay, this.comingMissing);
    }
  }

  /** The most by which the threshold exceeds the balance in the working days that one order covers. */
  private mostMissing(day: Day, rule: CompactRule): number {
    const { calendars, horizon } = this.book;
    const calendar = calendars[this.book.warehouseOf(this.node)];
    const last = Math.min(calendar?.ahead(day, rule.measure - 1) ?? horizon, horizon);
    const state = this.startLater();
    let most = exact(rule.threshold - state.level);
    for (let each = this.nextDay(state); each <= last; each = this.nextDay(state)) {
      this.passDay(state, this.laterLeft, each);
      const missing = exact(rule.threshold - state.level);
      if (missing > most) most = missing;
    }
    return most;
  }

  /** What is missing from now through the horizon, each day what it adds to the most that was missing before. */
  private lookAhead(rule: CompactRule): void {
    const { comingDay, comingMissing } = this;
    const state = this.startLater();
    let most = exact(rule.threshold - state.level);
    comingDay.length = 1;
    comingMissing.length = 0;
    comingMissing.push(most);
    for (let each = this.nextDay(state); each <= this.book.horizon; each = this.nextDay(state)) {
      this.passDay(state, this.laterLeft, each);
      const missing = exact(rule.threshold - state.level);
      if (missing <= most) continue;
      comingDay.push(each);
      comingMissing.push(missing - most);
      most = missing;
    }
  }

  private startLater(): State {
    const { now, later, laterLeft, lotLeft } = this;
    later.level = now.level;
    later.lot = now.lot;
    later.demand = now.demand;
    later.locked = now.locked;
    later.leaving = now.leaving;
    laterLeft.length = lotLeft.length;
    for (let index = 0; index < lotLeft.length; index += 1) laterLeft[index] = lotLeft[index] ?? 0;
    return later;
  }

  private supply(kind: number, day: Day, quantity: number, row: number, until: Day): void {
    this.supplies.push(kind, day, quantity, row);
    this.supplyUntil.push(until);
  }

  private except(kind: number, a: number, b: number, from: Day, to: Day, quantity: number): void {
    this.exceptions.push(kind, a, b, from, to, quantity);
  }

  /** Demands take in their order: from stock by its last day of use, then from supplies as they come. */
  private peg(): void {
    const { supplies, supplyUntil } = this;
    const { order, quantity: demandQuantity, day: demandDay } = this.demand;
    const count = supplyUntil.length;
    let at = 0;
    let left = supplies[2] ?? 0;
    let first = 0;
    for (const index of order) {
      let wanted = demandQuantity[index] ?? 0;
      while (wanted > 0 && at < count) {
        if (left === 0 || (supplyUntil[at] ?? 0) < (demandDay[index] ?? 0)) {
          this.keepRest(at, left);
          at += 1;
          left = supplies[at * SUPPLY_STRIDE + 2] ?? 0;
          first = this.pegs.length;
          continue;
        }
        const bite = wanted < left ? wanted : left;
        this.pushPeg(first, at, index, bite);
        left -= bite;
        wanted -= bite;
      }
    }
    for (; at < count; at += 1, left = supplies[at * SUPPLY_STRIDE + 2] ?? 0) this.keepRest(at, left);
  }

  private keepRest(at: number, left: number): void {
    if (left > 0 && this.supplies[at * SUPPLY_STRIDE] === SUGGESTION_SUPPLY) this.pegs.push(at, KEPT, 0, left, EVER);
  }

  /** One peg per supply and demand, at the place of the first; `first` is where this supply's pegs begin. */
  private pushPeg(first: number, supply: number, demand: number, quantity: number): void {
    const { pegs } = this;
    const [a = 0, b = 0, day = 0] = [this.demand.a[demand], this.demand.b[demand], this.demand.day[demand]];
    if (this.demand.repeats) {
      for (let at = first; at < pegs.length; at += PEG_STRIDE) {
        if (pegs[at + 1] !== a || pegs[at + 2] !== b) continue;
        pegs[at + 3] = (pegs[at + 3] ?? 0) + quantity;
        return;
      }
    }
    pegs.push(supply, a, b, quantity, day);
  }
}

/** How far a walk through the days has come. */
interface State {
  /** Projected balance. */
  level: number;
  /** First lot that may have something left. */
  lot: number;
  demand: number;
  locked: number;
  /** First lot that has not left yet. */
  leaving: number;
  /** What left unused on the last day passed. */
  gone: number;
}
