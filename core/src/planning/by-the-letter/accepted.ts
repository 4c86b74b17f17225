/** What of a planning problem is accepted, row by row; what is not is listed. */
import { readDay, type Day } from '../../base';
import type { PlanProblem, PlanningRule } from '../problem';
import { Fraction } from './fraction';

export interface Rule extends Omit<PlanningRule, 'safety' | 'minimum' | 'multiple' | 'maximum' | 'yield' | 'quotesFrom'> {
  readonly threshold: Fraction;
  readonly each: Fraction;
  readonly max: Fraction;
  readonly minimum: Fraction;
  readonly multiple: Fraction;
  readonly maximum: Fraction | null;
  readonly yield: Fraction;
  readonly quotesFrom: Fraction | null;
}
export interface Line {
  readonly component: string;
  readonly factor: Fraction;
  readonly offsetDays: number;
  readonly from: Day;
  readonly to: Day;
}
export interface Receipt {
  readonly id: string;
  readonly date: Day;
  readonly quantity: Fraction;
  readonly locked: boolean;
}
export interface Demand {
  readonly id: string;
  readonly date: Day;
  readonly quantity: Fraction;
  readonly kind: PlanProblem['demands'][number]['kind'];
  readonly probability: Fraction | null;
}
export interface Node {
  readonly item: string;
  readonly warehouse: string;
  rule: Rule | null;
  badRule: boolean;
  readonly stock: { readonly until: Day; quantity: Fraction }[];
  readonly receipts: Receipt[];
  readonly demands: Demand[];
}

const ALWAYS = 10_000_000;

export class Accepted {
  readonly nodes = new Map<string, Node>();
  readonly boms = new Map<string, Line[]>();
  readonly problems = new Set<string>();
  readonly items: ReadonlyMap<string, PlanProblem['items'][number]>;
  private readonly warehouses: ReadonlySet<string>;

  constructor(problem: PlanProblem) {
    this.items = new Map(problem.items.map((item) => [item.code, item]));
    this.warehouses = new Set(problem.warehouses.map(({ code }) => code));
    for (const row of problem.rules) this.takeRule(row);
    for (const bom of problem.boms) this.takeBom(bom);
    for (const row of problem.stock) {
      const subject = `${row.item}@${row.warehouse}`;
      const until = row.usableUntil === null ? ALWAYS : readDay(row.usableUntil);
      const quantity = this.takeRow(row, subject, until, true);
      if (quantity && until !== null) this.node(row.item, row.warehouse).stock.push({ until, quantity });
    }
    for (const row of problem.receipts) {
      const date = row.date === null ? null : readDay(row.date);
      const quantity = this.takeRow(row, row.id, date, false);
      if (quantity && date !== null) this.node(row.item, row.warehouse).receipts.push({ ...row, date, quantity });
    }
    for (const row of problem.demands) {
      const date = row.date === null ? null : readDay(row.date);
      const quantity = this.takeRow(row, row.id, date, false);
      const probability = row.probability === null ? null : Fraction.read(row.probability);
      if (quantity && date !== null) this.node(row.item, row.warehouse).demands.push({ ...row, date, quantity, probability });
    }
  }

  list(code: string, subject: string): void {
    this.problems.add(`${code} ${subject}`);
  }

  decimals(item: string): number {
    return this.items.get(item)?.decimals ?? 0;
  }

  isPhantom(item: string): boolean {
    return this.items.get(item)?.phantom ?? false;
  }

  node(item: string, warehouse: string): Node {
    const key = `${item}@${warehouse}`;
    const node = this.nodes.get(key) ?? { item, warehouse, rule: null, badRule: false, stock: [], receipts: [], demands: [] };
    this.nodes.set(key, node);
    return node;
  }

  private isPlaced(row: { readonly item: string; readonly warehouse: string }, subject: string): boolean {
    if (!this.items.has(row.item)) this.list('unknownItem', subject);
    else if (!this.warehouses.has(row.warehouse)) this.list('unknownWarehouse', subject);
    else return true;
    return false;
  }

  private takeRow(
    row: { readonly item: string; readonly warehouse: string; readonly quantity: string },
    subject: string,
    date: Day | null,
    mayBeNothing: boolean,
  ): Fraction | null {
    if (!this.isPlaced(row, subject)) return null;
    const quantity = Fraction.read(row.quantity);
    if (date === null) this.list('badDate', subject);
    else if (!quantity || this.isFiner(row.item, quantity) || quantity.isBelow(Fraction.ZERO)) this.list('badQuantity', subject);
    else if (!mayBeNothing && !quantity.isAbove(Fraction.ZERO)) this.list('badQuantity', subject);
    else return quantity;
    return null;
  }

  private isFiner(item: string, quantity: Fraction): boolean {
    return quantity.down(this.decimals(item)).isBelow(quantity);
  }

  private takeRule(row: PlanningRule): void {
    const subject = `${row.item}@${row.warehouse}`;
    if (!this.isPlaced(row, subject)) return;
    const node = this.node(row.item, row.warehouse);
    node.rule = this.isPhantom(row.item) ? null : this.readRule(row);
    node.badRule = node.rule === null;
    if (node.badRule) this.list('badRule', subject);
  }

  private readRule(row: PlanningRule): Rule | null {
    let good = [row.leadDays, row.fenceDays, row.slackDays, row.consumeBack, row.consumeForward].every((days) => days >= 0);
    const figure = (text: string): Fraction => {
      const read = Fraction.read(text);
      if (!read || read.isBelow(Fraction.ZERO) || this.isFiner(row.item, read)) good = false;
      return read ?? Fraction.ZERO;
    };
    const share = (text: string): Fraction => {
      const read = Fraction.read(text);
      if (!read || read.isBelow(Fraction.ZERO)) good = false;
      return read ?? Fraction.ZERO;
    };
    const { lotSizing: lot } = row;
    const [safety, minimum, multiple, usable] = [figure(row.safety), figure(row.minimum), figure(row.multiple), share(row.yield)];
    const maximum = row.maximum === null ? null : figure(row.maximum);
    const each = lot.kind === 'fixed' || lot.kind === 'reorderPoint' ? figure(lot.quantity) : Fraction.ONE;
    const [min, max] = lot.kind === 'minMax' ? [figure(lot.min), figure(lot.max)] : [Fraction.ZERO, Fraction.ONE];
    const threshold = safety.most(lot.kind === 'reorderPoint' ? figure(lot.point) : min);
    const quotesFrom = row.quotesFrom === null ? null : share(row.quotesFrom);
    if (!usable.isAbove(Fraction.ZERO) || usable.isAbove(Fraction.ONE) || !each.isAbove(Fraction.ZERO)) return null;
    if (lot.kind === 'period' && lot.days < 1) return null;
    if (lot.kind === 'minMax' && (!max.isAbove(Fraction.ZERO) || max.isBelow(threshold))) return null;
    if (maximum && (maximum.isBelow(minimum) || maximum.isBelow(multiple))) return null;
    if (maximum && !maximum.times(usable).down(this.decimals(row.item)).isAbove(Fraction.ZERO)) return null;
    if (row.source === 'transfer' && (row.from === null || row.from === row.warehouse || !this.warehouses.has(row.from))) return null;
    return good ? { ...row, threshold, each, max, minimum, multiple, maximum, yield: usable, quotesFrom } : null;
  }

  private takeBom(bom: PlanProblem['boms'][number]): void {
    if (!this.items.has(bom.item)) {
      this.list('unknownItem', bom.item);
      return;
    }
    const lines: Line[] = [];
    for (const row of bom.lines) {
      const subject = `${bom.item}/${row.component}`;
      const [from, to] = [row.from === null ? -ALWAYS : readDay(row.from), row.to === null ? ALWAYS : readDay(row.to)];
      const [quantity, scrap] = [Fraction.read(row.quantity), Fraction.read(row.scrap)];
      if (!this.items.has(row.component)) this.list('unknownItem', subject);
      else if (from === null || to === null) this.list('badDate', subject);
      else if (!quantity?.isAbove(Fraction.ZERO) || !scrap || scrap.isBelow(Fraction.ZERO)) this.list('badQuantity', subject);
      else lines.push({ component: row.component, factor: quantity.times(Fraction.ONE.plus(scrap)), offsetDays: row.offsetDays, from, to });
    }
    this.boms.set(bom.item, lines);
  }
}
