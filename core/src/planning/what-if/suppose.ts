/** What may be supposed of a plan, and how its rows read then. */
import { definedOf, Refusal, dateOf, dayOf, parsePositiveQuantity, readDay, WorkingCalendar } from '../../base';
import { documentOf, type DocumentRows, type ItemRows } from '../compact/keeper';
import { UNSAID_RULE, type PlanProblem, type PlanningRule } from '../problem';

/** What of a rule may be supposed to be different. */
export type RuleChange = { readonly [Part in Exclude<keyof PlanningRule, 'item' | 'warehouse'>]?: PlanningRule[Part] | undefined };

export type Supposition =
  /** An order more; `name` tells it from others that are supposed. */
  | {
      readonly kind: 'order';
      readonly name: string;
      readonly item: string;
      readonly warehouse: string;
      readonly quantity: string;
      readonly date: string;
    }
  /**
   * A line of a customer's order is wanted, or one of a purchase or an order of production comes, on another day. With
   * `seen` only while it is still of that item on that day: a copy made later may call another line so.
   */
  | { readonly kind: 'move'; readonly id: string; readonly date: string; readonly seen?: { readonly item: string; readonly date: string } }
  /** A supplier delivers nothing any more: not what is ordered, and nothing new. */
  | { readonly kind: 'lose'; readonly supplier: string }
  /** An item is planned differently in a warehouse. */
  | { readonly kind: 'rule'; readonly item: string; readonly warehouse: string; readonly change: RuleChange };

/** What a copy of the plan knows besides the problem; decimals as texts. */
export interface PlanFacts {
  /** What one base unit is worth. */
  readonly costs: readonly { readonly item: string; readonly cost: string }[];
  /** Terms that hold, of an item the preferred first, then the cheapest. Prices in the books' currency, the least quantity first. */
  readonly offers: readonly {
    readonly item: string;
    readonly supplier: string;
    readonly preferred: boolean;
    readonly leadDays: number;
    readonly minimum: string;
    readonly multiple: string;
    readonly prices: readonly { readonly from: string; readonly price: string }[];
  }[];
  /** What rules that buy say themselves; 0 is left to the supplier. */
  readonly own: readonly {
    readonly item: string;
    readonly warehouse: string;
    readonly leadDays: number;
    readonly minimum: string;
    readonly multiple: string;
  }[];
  /** Receipts that a supplier delivers, kept suggestions included, with the price of one base unit. */
  readonly coming: readonly { readonly id: string; readonly supplier: string; readonly price: string }[];
  /** Orders of production with the day on which they start; what runs has begun and keeps its start. */
  readonly making: readonly { readonly id: string; readonly start: string; readonly running: boolean }[];
  /** Stock that is kept for a demand, by its id. */
  readonly reserved: readonly { readonly demand: string; readonly quantity: string }[];
}

export interface PlanCopy {
  readonly problem: PlanProblem;
  readonly facts: PlanFacts;
}

/** Documents and items that read differently. */
export interface Overlay {
  readonly documents: ReadonlyMap<string, DocumentRows>;
  readonly items: ReadonlyMap<string, ItemRows>;
}

type Receipt = PlanProblem['receipts'][number];
type Demand = PlanProblem['demands'][number];
type Offer = PlanFacts['offers'][number];

function grouped<T>(rows: readonly T[], keyOf: (row: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const row of rows) {
    const key = keyOf(row);
    const group = groups.get(key);
    if (group) group.push(row);
    else groups.set(key, [row]);
  }
  return groups;
}

/** A copy's rows, found by document and item. */
export class CopyRows {
  readonly offers: ReadonlyMap<string, readonly Offer[]>;
  private readonly receipts: ReadonlyMap<string, readonly Receipt[]>;
  private readonly demands: ReadonlyMap<string, readonly Demand[]>;
  private readonly rules: ReadonlyMap<string, readonly PlanningRule[]>;
  private readonly boms: ReadonlyMap<string, PlanProblem['boms'][number]['lines']>;
  private readonly stock: ReadonlyMap<string, PlanProblem['stock']>;
  private readonly own: ReadonlyMap<string, PlanFacts['own'][number]>;
  private readonly making: ReadonlyMap<string, PlanFacts['making'][number]>;
  private readonly decimals: ReadonlyMap<string, number>;
  private readonly calendars: ReadonlyMap<string, WorkingCalendar>;

  constructor(private readonly copy: PlanCopy) {
    const { problem, facts } = copy;
    this.offers = grouped(facts.offers, (each) => each.item);
    this.receipts = grouped(problem.receipts, (each) => documentOf(each.id));
    this.demands = grouped(problem.demands, (each) => documentOf(each.id));
    this.rules = grouped(problem.rules, (each) => each.item);
    this.boms = new Map(problem.boms.map((each) => [each.item, each.lines]));
    this.stock = grouped(problem.stock, (each) => each.item);
    this.own = new Map(facts.own.map((each) => [`${each.item}@${each.warehouse}`, each]));
    this.making = new Map(facts.making.map((each) => [each.id, each]));
    this.decimals = new Map(problem.items.map((each) => [each.code, each.decimals]));
    const calendars = new Map(problem.calendars.map((each) => [each.code, new WorkingCalendar(each)]));
    this.calendars = new Map(
      problem.warehouses
        .flatMap((each) => [[each.code, calendars.get(each.calendar)] as const])
        .flatMap(([code, calendar]) => (calendar ? [[code, calendar] as const] : [])),
    );
  }

  /** What a document says in the copy. */
  documentRows(name: string): DocumentRows {
    return { receipts: this.receipts.get(name) ?? [], demands: this.demands.get(name) ?? [] };
  }

  /** What an item says in the copy. */
  itemRows(code: string): ItemRows {
    return { code, rules: this.rules.get(code) ?? [], bom: this.boms.get(code) ?? [], stock: this.stock.get(code) ?? [] };
  }

  /**
   * How the rows read that suppositions change, taken one after another. Refuses `unknownItem`, `unknownWarehouse`,
   * `unknownRow`, `unknownSupplier`, `badDate` and quantities that the unit can't hold, naming the supposition by its
   * place in the list as the field.
   */
  overlay(suppositions: readonly Supposition[]): Overlay {
    const documents = new Map<string, DocumentRows>();
    const items = new Map<string, ItemRows>();
    const lost = new Set<string>();
    suppositions.forEach((each, index) => {
      try {
        if (each.kind === 'order') this.addOrder(documents, each);
        else if (each.kind === 'move') this.move(documents, each);
        else if (each.kind === 'lose') this.lose(documents, items, lost, each.supplier);
        else this.changeRule(items, each.item, each.warehouse, each.change);
      } catch (error) {
        if (error instanceof Refusal) throw new Refusal(error.code, error.message, { ...error.details, field: String(index) });
        throw error;
      }
    });
    // What buys goes by the first supplier that is left, wherever its rule leaves something to them.
    for (const [code, rows] of items) items.set(code, { ...rows, rules: rows.rules.map((rule) => this.asBought(rule, lost)) });
    return { documents, items };
  }

  private addOrder(documents: Map<string, DocumentRows>, order: Extract<Supposition, { kind: 'order' }>): void {
    const { name, item, warehouse, quantity, date } = order;
    this.assertPlace(item, warehouse);
    this.assertDay(date);
    parsePositiveQuantity(quantity, this.decimals.get(item) ?? 0, `the quantity of ${item}`);
    const demand: Demand = { id: `${name}/1`, item, warehouse, date, quantity, kind: 'order', probability: null };
    documents.set(name, { receipts: [], demands: [demand] });
  }

  private move(documents: Map<string, DocumentRows>, { id, date, seen }: Extract<Supposition, { kind: 'move' }>): void {
    this.assertDay(date);
    const { today } = this.copy.problem;
    if (date < today) throw new Refusal('badDate', `${date} has passed: suppose a day from today, ${today}, on.`);
    const name = documentOf(id);
    const rows = documents.get(name) ?? this.documentRows(name);
    const receipt = rows.receipts.find((each) => each.id === id);
    const kept = this.documentRows(name);
    const now = kept.receipts.find((each) => each.id === id) ?? kept.demands.find((each) => each.id === id);
    if (now && seen && (now.item !== seen.item || now.date !== seen.date))
      throw new Refusal('staleVersion', `${id} is now ${now.item} on ${now.date}: it was ${seen.item} on ${seen.date}. Look again and suppose anew.`);
    if (!receipt) {
      if (!rows.demands.some((each) => each.id === id)) throw new Refusal('unknownRow', `Nothing of ${id} is open in this copy of the plan.`);
      documents.set(name, { ...rows, demands: rows.demands.map((each) => (each.id === id ? { ...each, date } : each)) });
      return;
    }
    const made = this.making.get(id);
    const demands = made === undefined ? rows.demands : rows.demands.map((each) => this.shifted(each, receipt, made, date));
    documents.set(name, { receipts: rows.receipts.map((each) => (each.id === id ? { ...each, date } : each)), demands });
  }

  /** A component of production that moves with it; none is wanted before today. */
  private shifted(component: Demand, receipt: Receipt, { start, running }: PlanFacts['making'][number], due: string): Demand {
    if (component.date === null || receipt.date === null || readDay(component.date) === null || readDay(receipt.date) === null) return component;
    const { today } = this.copy.problem;
    const calendar = this.calendars.get(receipt.warehouse);
    if (!calendar) return component;
    const begins = dateOf(calendar.onOrBefore(dayOf(start) + dayOf(due) - dayOf(receipt.date)));
    const earliest = start < today ? start : today;
    const now = running || begins < today ? earliest : begins;
    // It is wanted so many working days after the start, as its line says.
    const offset = calendar.between(dayOf(start), dayOf(component.date));
    return { ...component, date: dateOf(calendar.ahead(dayOf(now > due ? due : now), offset)) };
  }

  private lose(documents: Map<string, DocumentRows>, items: Map<string, ItemRows>, lost: Set<string>, supplier: string): void {
    const { coming, offers } = this.copy.facts;
    const theirs = new Set(coming.filter((each) => each.supplier === supplier).map((each) => each.id));
    const sold = new Set(offers.filter((each) => each.supplier === supplier).map((each) => each.item));
    if (theirs.size === 0 && sold.size === 0)
      throw new Refusal('unknownSupplier', `Nothing is bought from ${supplier}: losing them changes nothing.`);
    lost.add(supplier);
    for (const name of new Set([...theirs].map(documentOf))) {
      const rows = documents.get(name) ?? this.documentRows(name);
      documents.set(name, { ...rows, receipts: rows.receipts.filter((each) => !theirs.has(each.id)) });
    }
    for (const code of sold) if (this.decimals.has(code)) items.set(code, items.get(code) ?? this.ownRows(code));
  }

  private changeRule(items: Map<string, ItemRows>, item: string, warehouse: string, change: RuleChange): void {
    this.assertPlace(item, warehouse);
    const rows = items.get(item) ?? this.ownRows(item);
    const kept = rows.rules.find((each) => each.warehouse === warehouse);
    const rule: PlanningRule = { ...(kept ?? { ...UNSAID_RULE, item, warehouse }), ...definedOf(change) };
    items.set(item, { ...rows, rules: [...rows.rules.filter((each) => each !== kept), rule] });
  }

  /** An item's rows, its rules with nothing but their own figures. */
  private ownRows(code: string): ItemRows {
    const rows = this.itemRows(code);
    return {
      ...rows,
      rules: rows.rules.map((rule) => {
        const own = this.own.get(`${code}@${rule.warehouse}`);
        return own ? { ...rule, leadDays: own.leadDays, minimum: own.minimum, multiple: own.multiple } : rule;
      }),
    };
  }

  /** A rule with what the supplier says where it says nothing itself; one whose suppliers are all lost only reports. */
  private asBought(rule: PlanningRule, lost: ReadonlySet<string>): PlanningRule {
    if (rule.source !== 'buy') return rule;
    const offers = this.offers.get(rule.item) ?? [];
    if (offers.length === 0) return rule;
    const left = offers.filter((each) => !lost.has(each.supplier));
    if (left.length === 0) return { ...rule, source: 'none' };
    const usual = left.find((each) => each.preferred) ?? (left.length < offers.length ? left[0] : undefined);
    if (!usual) return rule;
    const isNone = (text: string): boolean => Number(text) === 0;
    return {
      ...rule,
      leadDays: rule.leadDays > 0 ? rule.leadDays : usual.leadDays,
      minimum: isNone(rule.minimum) ? usual.minimum : rule.minimum,
      multiple: isNone(rule.multiple) ? usual.multiple : rule.multiple,
    };
  }

  private assertPlace(item: string, warehouse: string): void {
    if (!this.decimals.has(item)) throw new Refusal('unknownItem', `There is no item ${item} that is planned.`);
    if (!this.calendars.has(warehouse)) throw new Refusal('unknownWarehouse', `There is no warehouse ${warehouse}.`);
  }

  private assertDay(date: string): void {
    if (readDay(date) === null) throw new Refusal('badDate', `${date} is not a date.`);
  }
}
