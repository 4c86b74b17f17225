/**
 * Netting one node, day by day: locked receipts come, demand takes, stock leaves when it is no longer usable; where the
 * balance at the end of the day is below the threshold, receipts already ordered are moved there first and only then
 * something new is suggested.
 */
import type { Day, WorkingCalendar } from '../../base';
import { workingDayFor } from '../dates';
import type { CountedDemand } from './demand';
import type { NetRequirement } from '../least-cost';
import { byCodePoint, type ExceptionKind } from '../problem';
import type { PlanNode, PlanReceipt } from '../input';
import { cutIntoOrders, sizeLot } from './sizing';

/** Something that demand can take from. */
export interface Supply {
  readonly kind: 'stock' | 'receipt' | 'suggestion';
  readonly id: string;
  /** Day from which it counts. */
  readonly day: Day;
  readonly quantity: bigint;
  readonly usableUntil: Day | null;
}

export interface NetSuggestion {
  readonly number: number;
  readonly neededBy: Day;
  readonly quantity: bigint;
  readonly usable: bigint;
  /** The figures that it follows from. */
  readonly balance: bigint;
  readonly missing: bigint;
  readonly sized: bigint;
}

export interface NetException {
  readonly kind: ExceptionKind;
  readonly subject: string;
  readonly from: Day;
  readonly to: Day | null;
  readonly quantity: bigint;
}

export interface Netting {
  /** In the order in which demand takes from them. */
  readonly supplies: readonly Supply[];
  readonly suggestions: readonly NetSuggestion[];
  readonly exceptions: readonly NetException[];
  readonly threshold: bigint;
}

interface Lot {
  left: bigint;
  readonly usableUntil: Day | null;
}

/** Stock by nearest end of use, and what has come besides; below zero where demand is not yet covered. */
interface Balance {
  readonly lots: Lot[];
  other: bigint;
}

/** Nets a node's demand against its stock and receipts and suggests what is missing. */
export function netNode(node: PlanNode, demands: readonly CountedDemand[], today: Day, horizon: Day, calendar: WorkingCalendar): Netting {
  return new NodeNetting(node, demands, today, horizon, calendar).run();
}

class NodeNetting {
  private readonly balance: Balance;
  private readonly locked = new Map<Day, PlanReceipt[]>();
  private readonly taken = new Map<Day, bigint>();
  private readonly pool: PlanReceipt[];
  private readonly supplies: Supply[] = [];
  private readonly suggestions: NetSuggestion[] = [];
  private readonly exceptions: NetException[] = [];
  private readonly threshold: bigint;
  private shortSaid = false;

  constructor(
    private readonly node: PlanNode,
    demands: readonly CountedDemand[],
    private readonly today: Day,
    private readonly horizon: Day,
    private readonly calendar: WorkingCalendar,
  ) {
    this.threshold = node.rule?.threshold ?? 0n;
    const lots = node.stock
      .filter((stock) => stock.usableUntil === null || stock.usableUntil >= today)
      .sort((a, b) => (a.usableUntil ?? Infinity) - (b.usableUntil ?? Infinity))
      .map((stock) => ({ left: stock.quantity, usableUntil: stock.usableUntil }));
    this.balance = { lots, other: 0n };
    for (const lot of lots) this.supplies.push({ kind: 'stock', id: 'stock', day: today, quantity: lot.left, usableUntil: lot.usableUntil });
    const receipts = node.receipts.filter((each) => each.date <= horizon).sort((a, b) => a.date - b.date || byCodePoint(a.id, b.id));
    this.pool = receipts.filter((each) => !each.locked);
    for (const receipt of receipts.filter((each) => each.locked)) {
      if (receipt.date < today) this.except('overdueReceipt', receipt.id, receipt.date, workingDayFor(today, today, calendar), receipt.quantity);
      const day = Math.max(receipt.date, today);
      this.locked.set(day, [...(this.locked.get(day) ?? []), receipt]);
    }
    for (const demand of demands) {
      if (demand.date < today) this.except('overdueDemand', demand.id, demand.date, today, demand.quantity);
      this.taken.set(demand.countedOn, (this.taken.get(demand.countedOn) ?? 0n) + demand.quantity);
    }
  }

  run(): Netting {
    for (const day of this.days()) {
      for (const receipt of this.locked.get(day) ?? []) this.supplies.push(this.receiptOn(receipt, day));
      const gone = this.passDay(this.balance, day);
      if (gone > 0n) this.except('expires', this.node.key, day, day, gone);
      this.fill(day);
    }
    for (const receipt of this.pool) this.except('cancel', receipt.id, receipt.date, null, receipt.quantity);
    return { supplies: this.supplies, suggestions: this.suggestions, exceptions: this.exceptions, threshold: this.threshold };
  }

  /** The days on which anything happens, today first. */
  private days(): Day[] {
    const leaving = this.balance.lots.flatMap((lot) => (lot.usableUntil === null ? [] : [lot.usableUntil]));
    const days = new Set([this.today, ...this.locked.keys(), ...this.taken.keys(), ...leaving]);
    return [...days].filter((day) => day <= this.horizon).sort((a, b) => a - b);
  }

  /** Lets one day's locked receipts, demand and leaving stock pass over a balance; returns what left unused. */
  private passDay(balance: Balance, day: Day): bigint {
    for (const receipt of this.locked.get(day) ?? []) balance.other += receipt.quantity;
    let wanted = this.taken.get(day) ?? 0n;
    for (const lot of balance.lots) {
      if (wanted === 0n) break;
      const bite = lot.left < wanted ? lot.left : wanted;
      lot.left -= bite;
      wanted -= bite;
    }
    balance.other -= wanted;
    let gone = 0n;
    for (const lot of balance.lots) {
      if (lot.usableUntil !== day) continue;
      gone += lot.left;
      lot.left = 0n;
    }
    return gone;
  }

  private fill(day: Day): void {
    while (level(this.balance) < this.threshold) {
      const receipt = this.pool.shift();
      if (receipt) this.assign(receipt, day);
      else if (this.node.rule && this.node.rule.source !== 'none') this.suggest(day);
      else {
        if (!this.shortSaid) this.except('short', this.node.key, day, day, this.threshold - level(this.balance));
        this.shortSaid = true;
        return;
      }
    }
  }

  private assign(receipt: PlanReceipt, day: Day): void {
    const slack = this.node.rule?.slackDays ?? 0;
    this.balance.other += receipt.quantity;
    this.supplies.push(this.receiptOn(receipt, day));
    const to = workingDayFor(day, this.today, this.calendar);
    if (receipt.date < this.today) this.except('overdueReceipt', receipt.id, receipt.date, to, receipt.quantity);
    else if (receipt.date > day && receipt.date - to > slack) this.except('bringForward', receipt.id, receipt.date, to, receipt.quantity);
    else if (receipt.date <= day && to - receipt.date > slack) this.except('pushBack', receipt.id, receipt.date, to, receipt.quantity);
  }

  private suggest(day: Day): void {
    const { rule } = this.node;
    if (!rule) return;
    const balance = level(this.balance);
    const missing = this.threshold - balance;
    const sized = sizeLot(
      rule,
      missing,
      balance,
      (days) => this.mostMissing(day, days),
      () => this.requirements(day),
    );
    for (const { quantity, usable } of cutIntoOrders(rule, sized)) {
      const number = this.suggestions.length + 1;
      this.suggestions.push({ number, neededBy: day, quantity, usable, balance, missing, sized });
      this.supplies.push({ kind: 'suggestion', id: `${this.node.key}#${number}`, day, quantity: usable, usableUntil: null });
      this.balance.other += usable;
    }
  }

  /** The most by which the threshold exceeds the balance in `days` working days, the first included. */
  private mostMissing(day: Day, days: number): bigint {
    const last = Math.min(this.calendar.ahead(day, days - 1), this.horizon);
    const balance: Balance = { lots: this.balance.lots.map((lot) => ({ ...lot })), other: this.balance.other };
    let most = this.threshold - level(balance);
    for (const each of this.days()) {
      if (each <= day) continue;
      if (each > last) break;
      this.passDay(balance, each);
      const missing = this.threshold - level(balance);
      if (missing > most) most = missing;
    }
    return most;
  }

  /** What is missing from this day on through the horizon, each day what it adds to the most that was missing before. */
  private requirements(day: Day): NetRequirement[] {
    const balance: Balance = { lots: this.balance.lots.map((lot) => ({ ...lot })), other: this.balance.other };
    let most = this.threshold - level(balance);
    const found: NetRequirement[] = [{ day, quantity: most }];
    for (const each of this.days()) {
      if (each <= day) continue;
      this.passDay(balance, each);
      const missing = this.threshold - level(balance);
      if (missing <= most) continue;
      found.push({ day: each, quantity: missing - most });
      most = missing;
    }
    return found;
  }

  private receiptOn(receipt: PlanReceipt, day: Day): Supply {
    return { kind: 'receipt', id: receipt.id, day, quantity: receipt.quantity, usableUntil: null };
  }

  private except(kind: ExceptionKind, subject: string, from: Day, to: Day | null, quantity: bigint): void {
    this.exceptions.push({ kind, subject, from, to, quantity });
  }
}

function level(balance: Balance): bigint {
  return balance.lots.reduce((sum, lot) => sum + lot.left, balance.other);
}
