/**
 * The planning rules as they are told in docs/planning.md, done step by step and day by day with no thought of speed: what the
 * engines that Terrace runs are held against. It shares nothing with them but the calendar.
 */
import { WorkingCalendar, dateOf, dayOf, type Day } from '../../base';
import { byCodePoint, type PlanException, type PlanProblem, type Suggestion } from '../problem';
import { Accepted, type Demand, type Node, type Rule } from './accepted';
import { Fraction } from './fraction';

interface Wanted {
  readonly id: string;
  readonly day: Day;
  readonly quantity: Fraction;
}
interface Made extends Omit<Suggestion, 'pegs'> {
  readonly number: number;
  readonly pegs: Map<string, Fraction>;
}
interface Supply {
  readonly until: Day;
  left: Fraction;
  readonly of: Made | null;
}
/** What a node has at the end of a day. */
interface Held {
  readonly lots: { until: Day; left: Fraction }[];
  /** Of receipts and suggestions, what no demand has taken. */
  open: Fraction;
  owed: Fraction;
}
interface Result {
  readonly suggestions: readonly Suggestion[];
  readonly exceptions: readonly PlanException[];
  readonly problems: readonly { readonly code: string; readonly subject: string }[];
}

const EVER = 10_000_000;

const sum = (each: readonly Fraction[]): Fraction => each.reduce((total, one) => total.plus(one), Fraction.ZERO);
const balanceOf = (held: Held): Fraction =>
  sum(held.lots.map(({ left }) => left))
    .plus(held.open)
    .minus(held.owed);

/** Plans by the letter of the rules. Least-cost sizes are not among them. */
export function planByTheLetter(problem: PlanProblem): Result {
  return new Plan(problem).made();
}

class Plan {
  private readonly accepted: Accepted;
  private readonly today: Day;
  private readonly horizon: Day;
  private readonly calendars: ReadonlyMap<string, WorkingCalendar>;
  private readonly called = new Map<string, Wanted[]>();
  private readonly suggestions: Made[] = [];
  private readonly exceptions: PlanException[] = [];
  private readonly looping = new Set<string>();

  constructor(problem: PlanProblem) {
    this.accepted = new Accepted(problem);
    [this.today, this.horizon] = [dayOf(problem.today), dayOf(problem.horizon)];
    const calendars = new Map(problem.calendars.map((each) => [each.code, new WorkingCalendar(each)]));
    this.calendars = new Map(problem.warehouses.flatMap(({ code, calendar }) => [[code, calendars.get(calendar) as WorkingCalendar] as const]));
  }

  made(): Result {
    for (const node of this.inOrder()) {
      const isNamed = node.demands.length > 0;
      if (isNamed || !this.accepted.isPhantom(node.item)) this.net(node);
    }
    const text = (...each: readonly (string | null)[]): string => each.map((one) => one ?? '').join('\u0000');
    const name = (each: PlanException): string => text(each.kind, each.item, each.warehouse, each.subject, each.from);
    return {
      suggestions: this.suggestions
        .sort((a, b) => byCodePoint(text(a.item, a.warehouse), text(b.item, b.warehouse)) || a.number - b.number)
        .map(({ number: _number, pegs, ...each }) => ({
          ...each,
          pegs: [...pegs].map(([demand, quantity]) => ({ demand, quantity: String(quantity) })),
        })),
      exceptions: this.exceptions.sort((a, b) => byCodePoint(name(a), name(b))),
      problems: [...this.accepted.problems].sort(byCodePoint).map((each) => {
        const [code = '', ...subject] = each.split(' ');
        return { code, subject: subject.join(' ') };
      }),
    };
  }

  /** Nodes that a node leads to: what it is made from, or where it comes from. */
  private ahead(key: string): string[] {
    const node = this.accepted.nodes.get(key);
    if (!node) return [];
    const { item, warehouse, rule } = node;
    if (rule?.source === 'transfer') return [`${item}@${rule.from ?? ''}`];
    if (rule?.source !== 'make' && !this.accepted.isPhantom(item)) return [];
    return (this.accepted.boms.get(item) ?? []).map(({ component }) => `${component}@${warehouse}`);
  }

  private reached(from: string): Set<string> {
    const found = new Set<string>();
    const look = (key: string): void => {
      for (const next of this.ahead(key)) {
        if (found.has(next)) continue;
        found.add(next);
        const [item = '', warehouse = ''] = next.split('@');
        this.accepted.node(item, warehouse);
        look(next);
      }
    };
    look(from);
    return found;
  }

  /** Each node after all that call for it; those that lead back to themselves are left out and listed. */
  private inOrder(): Node[] {
    for (const key of [...this.accepted.nodes.keys()]) this.reached(key);
    const keys = [...this.accepted.nodes.keys()];
    const reach = new Map(keys.map((key) => [key, this.reached(key)]));
    for (const key of keys) if (reach.get(key)?.has(key)) this.looping.add(key);
    for (const key of this.looping) {
      const loop = keys.filter((other) => reach.get(key)?.has(other) && reach.get(other)?.has(key));
      this.accepted.list('cycle', loop.sort(byCodePoint).join(' > '));
    }
    const left = new Set(keys.filter((key) => !this.looping.has(key)));
    const order: string[] = [];
    while (left.size > 0) {
      const next = [...left].find((key) => [...left].every((other) => !this.ahead(other).includes(key)));
      if (next === undefined) throw new Error('a loop is left');
      order.push(next);
      left.delete(next);
    }
    return order.flatMap((key) => this.accepted.nodes.get(key) ?? []);
  }

  private except(node: Node, kind: PlanException['kind'], subject: string, from: Day, to: Day | null, quantity: Fraction): void {
    const dates = { from: dateOf(from), to: to === null ? null : dateOf(to) };
    this.exceptions.push({ kind, subject, item: node.item, warehouse: node.warehouse, ...dates, quantity: String(quantity) });
  }

  private calendar(node: Node): WorkingCalendar {
    return this.calendars.get(node.warehouse) as WorkingCalendar;
  }

  private countsOf(node: Node): Demand[] {
    const { rule } = node;
    const how = rule?.demand ?? 'orders';
    const counted = node.demands.flatMap((each): Demand[] => {
      if (each.kind === 'order') return how === 'forecast' ? [] : [each];
      if (each.kind === 'forecast') return how === 'orders' || how === 'consume' || each.date < this.today ? [] : [each];
      if (each.kind !== 'quote') return [each];
      if (how === 'forecast' || !rule?.quotesFrom || !each.probability || each.probability.isBelow(rule.quotesFrom)) return [];
      return [rule.quotesWeighted ? { ...each, quantity: each.quantity.times(each.probability).up(this.accepted.decimals(node.item)) } : each];
    });
    return [...counted, ...(how === 'consume' && rule ? this.leftOfForecast(node, rule) : [])];
  }

  private leftOfForecast(node: Node, rule: Rule): Demand[] {
    const left = node.demands.filter(({ kind, date }) => kind === 'forecast' && date >= this.today).map((each) => ({ ...each }));
    const orders = node.demands.filter(({ kind }) => kind === 'order').sort((a, b) => a.date - b.date || byCodePoint(a.id, b.id));
    for (const { date, quantity } of orders) {
      const behind = left.filter((each) => each.date <= date && each.date >= date - rule.consumeBack);
      const ahead = left.filter((each) => each.date > date && each.date <= date + rule.consumeForward);
      behind.sort((a, b) => b.date - a.date || byCodePoint(a.id, b.id));
      ahead.sort((a, b) => a.date - b.date || byCodePoint(a.id, b.id));
      let hunger = quantity;
      for (const each of [...behind, ...ahead]) {
        const eaten = each.quantity.least(hunger);
        each.quantity = each.quantity.minus(eaten);
        hunger = hunger.minus(eaten);
      }
    }
    return left;
  }

  private wantedOf(node: Node): Wanted[] {
    const counted = this.countsOf(node).filter(({ quantity, date }) => quantity.isAbove(Fraction.ZERO) && date <= this.horizon);
    for (const each of counted) if (each.date < this.today) this.except(node, 'overdueDemand', each.id, each.date, this.today, each.quantity);
    const called = (this.called.get(`${node.item}@${node.warehouse}`) ?? []).filter(({ day }) => day <= this.horizon);
    const given = counted.map(({ id, date, quantity }) => ({ id, day: Math.max(date, this.today), quantity }));
    return [...given, ...called].sort((a, b) => a.day - b.day || byCodePoint(a.id, b.id));
  }

  private net(node: Node): void {
    const { rule } = node;
    const wanted = this.wantedOf(node);
    if (wanted.length > 0 && !rule && !node.badRule) this.accepted.list('noRule', `${node.item}@${node.warehouse}`);
    const lots = node.stock.filter(({ until }) => until >= this.today).map(({ until, quantity }) => ({ until, left: quantity }));
    lots.sort((a, b) => a.until - b.until);
    const supplies: Supply[] = lots.map((lot) => ({ ...lot, of: null }));
    const receipts = node.receipts.filter(({ date }) => date <= this.horizon).sort((a, b) => a.date - b.date || byCodePoint(a.id, b.id));
    const locked = receipts.filter((each) => each.locked).map((each) => ({ ...each, day: Math.max(each.date, this.today) }));
    for (const each of locked)
      if (each.date < this.today) this.except(node, 'overdueReceipt', each.id, each.date, this.calendar(node).onOrAfter(this.today), each.quantity);
    const pool = receipts.filter((each) => !each.locked);
    const threshold = rule?.threshold ?? Fraction.ZERO;
    const held: Held = { lots, open: Fraction.ZERO, owed: Fraction.ZERO };

    const comes = (quantity: Fraction, of: Made | null): void => {
      supplies.push({ until: EVER, left: quantity, of });
      take(held, quantity);
    };
    const pass = (at: Held, day: Day, come: (quantity: Fraction) => void): Fraction => {
      for (const each of locked) if (each.day === day) come(each.quantity);
      for (const each of wanted) if (each.day === day) give(at, day, each.quantity);
      const leaving = at.lots.filter(({ until }) => until === day);
      const gone = sum(leaving.map(({ left }) => left));
      for (const lot of leaving) lot.left = Fraction.ZERO;
      return gone;
    };
    const lowest = (from: Day, to: Day): Fraction => {
      const supposed: Held = { ...held, lots: held.lots.map((lot) => ({ ...lot })) };
      let least = balanceOf(held);
      for (let day = from + 1; day <= to; day += 1) {
        pass(supposed, day, (quantity) => take(supposed, quantity));
        least = least.least(balanceOf(supposed));
      }
      return least;
    };

    let isShort = false;
    let number = 0;
    for (let day = this.today; day <= this.horizon; day += 1) {
      const gone = pass(held, day, (quantity) => comes(quantity, null));
      if (gone.isAbove(Fraction.ZERO)) this.except(node, 'expires', `${node.item}@${node.warehouse}`, day, day, gone);
      while (balanceOf(held).isBelow(threshold)) {
        const receipt = pool.shift();
        if (receipt) {
          comes(receipt.quantity, null);
          this.redate(node, receipt, day);
        } else if (rule && rule.source !== 'none') {
          const until = rule.lotSizing.kind === 'period' ? this.calendar(node).ahead(day, rule.lotSizing.days - 1) : day;
          const missing = threshold.minus(lowest(day, Math.min(until, this.horizon)));
          for (const quantity of this.ordersOf(rule, missing, balanceOf(held))) {
            number += 1;
            const made = this.suggest(node, rule, number, quantity, day);
            comes(quantity.times(rule.yield).down(this.accepted.decimals(node.item)), made);
          }
        } else {
          if (!isShort) this.except(node, 'short', `${node.item}@${node.warehouse}`, day, day, threshold.minus(balanceOf(held)));
          isShort = true;
          break;
        }
      }
    }
    for (const each of pool) this.except(node, 'cancel', each.id, each.date, null, each.quantity);
    peg(wanted, supplies);
  }

  private redate(node: Node, receipt: { readonly id: string; readonly date: Day; readonly quantity: Fraction }, day: Day): void {
    const { id, date, quantity } = receipt;
    const slack = node.rule?.slackDays ?? 0;
    const before = this.calendar(node).onOrBefore(day);
    const to = before < this.today ? this.calendar(node).onOrAfter(this.today) : before;
    if (date < this.today) this.except(node, 'overdueReceipt', id, date, to, quantity);
    else if (date > day && date - to > slack) this.except(node, 'bringForward', id, date, to, quantity);
    else if (date <= day && to - date > slack) this.except(node, 'pushBack', id, date, to, quantity);
  }

  private ordersOf(rule: Rule, missing: Fraction, balance: Fraction): Fraction[] {
    const { kind } = rule.lotSizing;
    const raised = (size: Fraction): Fraction => {
      const least = size.most(rule.minimum);
      return rule.multiple.isAbove(Fraction.ZERO) ? least.upTo(rule.multiple) : least;
    };
    let size = missing;
    if (kind === 'fixed' || kind === 'reorderPoint') size = missing.upTo(rule.each);
    if (kind === 'minMax') size = rule.max.minus(balance);
    size = raised(size.divided(rule.yield).up(this.accepted.decimals(rule.item)));
    const { maximum } = rule;
    if (!maximum?.isBelow(size)) return [size];
    const orders: Fraction[] = [];
    for (; !size.isBelow(maximum); size = size.minus(maximum)) orders.push(maximum);
    return size.isAbove(Fraction.ZERO) ? [...orders, raised(size)] : orders;
  }

  private suggest(node: Node, rule: Rule, number: number, quantity: Fraction, day: Day): Made {
    const { item, warehouse } = node;
    const calendar = this.calendar(node);
    let due = calendar.onOrBefore(day);
    if (due < this.today) due = calendar.onOrAfter(this.today);
    let placeBy = calendar.back(due, rule.leadDays);
    if (placeBy < this.today) {
      placeBy = calendar.onOrAfter(this.today);
      due = calendar.ahead(placeBy, rule.leadDays);
    }
    const fence = calendar.ahead(this.today, rule.fenceDays);
    if (rule.fenceDays > 0 && due < fence) {
      due = calendar.onOrAfter(fence);
      placeBy = calendar.back(due, rule.leadDays);
    }
    if (rule.leadDays === 0) placeBy = due;
    const id = `${item}@${warehouse}#${number}`;
    const daysLate = Math.max(0, due - day);
    if (daysLate > 0) this.except(node, 'placeLate', id, day, due, quantity);
    const kind = rule.source as Suggestion['kind'];
    if (kind === 'make') this.explode(node, id, item, quantity, 0, placeBy);
    if (kind === 'transfer') this.call(item, rule.from ?? '', { id, day: placeBy, quantity });
    const dates = { placeBy: dateOf(placeBy), due: dateOf(due), neededBy: dateOf(day), daysLate };
    const made = {
      id,
      kind,
      item,
      warehouse,
      from: kind === 'transfer' ? rule.from : null,
      quantity: String(quantity),
      ...dates,
      number,
      pegs: new Map(),
    };
    this.suggestions.push(made);
    return made;
  }

  private explode(node: Node, id: string, parent: string, quantity: Fraction, offset: number, start: Day): void {
    const { warehouse } = node;
    const lines = this.accepted.boms.get(parent) ?? [];
    if (lines.length === 0) this.accepted.list('noBom', `${parent}@${warehouse}`);
    for (const { component, factor, offsetDays, from, to } of lines) {
      if (start < from || start > to || this.looping.has(`${component}@${warehouse}`)) continue;
      const [called, days] = [quantity.times(factor), offset + offsetDays];
      if (this.accepted.isPhantom(component)) this.explode(node, id, component, called, days, start);
      else
        this.call(component, warehouse, { id, day: this.calendar(node).ahead(start, days), quantity: called.up(this.accepted.decimals(component)) });
    }
  }

  private call(item: string, warehouse: string, wanted: Wanted): void {
    const key = `${item}@${warehouse}`;
    this.called.set(key, [...(this.called.get(key) ?? []), wanted]);
  }
}

/** A receipt or suggestion comes: what is owed is given from it first. */
function take(held: Held, quantity: Fraction): void {
  const owed = quantity.least(held.owed);
  held.owed = held.owed.minus(owed);
  held.open = held.open.plus(quantity.minus(owed));
}

/** A demand takes the stock that leaves first, then what has come; the rest is owed. */
function give(held: Held, day: Day, quantity: Fraction): void {
  let open = quantity;
  for (const lot of held.lots) {
    const taken = lot.until < day ? Fraction.ZERO : lot.left.least(open);
    lot.left = lot.left.minus(taken);
    open = open.minus(taken);
  }
  const taken = held.open.least(open);
  held.open = held.open.minus(taken);
  held.owed = held.owed.plus(open.minus(taken));
}

function peg(wanted: readonly Wanted[], supplies: readonly Supply[]): void {
  const note = (of: Made | null, demand: string, quantity: Fraction): void => {
    if (of && quantity.isAbove(Fraction.ZERO)) of.pegs.set(demand, (of.pegs.get(demand) ?? Fraction.ZERO).plus(quantity));
  };
  for (const { id, day, quantity } of wanted) {
    let open = quantity;
    for (const supply of supplies) {
      const taken = supply.until < day ? Fraction.ZERO : supply.left.least(open);
      supply.left = supply.left.minus(taken);
      open = open.minus(taken);
      note(supply.of, id, taken);
    }
  }
  for (const { left, of } of supplies) note(of, 'safety', left);
}
