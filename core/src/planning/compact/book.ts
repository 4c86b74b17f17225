/**
 * All that a plan is computed from, by number: items and warehouses by index, quantities as whole numbers of the item's
 * decimals, days as day numbers. A node is `item × number of warehouses + warehouse`. Rows can be put and dropped at any
 * time; the nodes that this touches are marked.
 */
import type { Day, Decimal, WorkingCalendar } from '../../base';
import type { DataProblem, DemandKind } from '../problem';
import type { PlanBomLine, PlanItem, PlanRule } from '../input';
import { ProblemList } from '../problem-list';
import { nodeKey, scanRows, type RowSink, type RowSource } from '../rows';
import { CalendarTable } from './calendar-table';
import { exact, narrow } from './exact';
import { compactRule, type CompactRule } from './rule';

/** No last day. */
export const EVER = 2 ** 31;
export const BOM_STRIDE = 6;

/** Rows of one sort, in columns; a dropped row's place is used again. */
export class RowColumns {
  readonly ids: string[] = [];
  readonly nodes: number[] = [];
  readonly days: number[] = [];
  readonly quantities: number[] = [];
  /** Locked or not for a receipt, the kind of a demand. */
  readonly marks: number[] = [];
  private readonly byId = new Map<string, number>();
  private readonly free: number[] = [];

  find(id: string): number | undefined {
    return this.byId.get(id);
  }

  put(id: string, node: number, day: Day, quantity: number, mark: number): number {
    const slot = this.free.pop() ?? this.ids.length;
    this.ids[slot] = id;
    this.nodes[slot] = node;
    this.days[slot] = day;
    this.quantities[slot] = quantity;
    this.marks[slot] = mark;
    this.byId.set(id, slot);
    return slot;
  }

  drop(id: string): number | undefined {
    const slot = this.byId.get(id);
    if (slot === undefined) return undefined;
    this.byId.delete(id);
    this.free.push(slot);
    return slot;
  }
}

export const DEMAND_KINDS: readonly DemandKind[] = ['order', 'component', 'transfer', 'forecast', 'quote'];
export const ORDER = 0;
export const COMPONENT = 1;
export const TRANSFER = 2;
export const FORECAST = 3;
export const QUOTE = 4;

export interface BookFrame {
  readonly today: Day;
  readonly horizon: Day;
  readonly warehouses: readonly { readonly code: string; readonly calendar: WorkingCalendar }[];
}

export class PlanBook {
  readonly today: Day;
  readonly horizon: Day;
  readonly warehouseCodes: readonly string[];
  readonly calendars: readonly CalendarTable[];
  readonly itemCodes: string[] = [];
  readonly decimals: number[] = [];
  readonly phantoms: boolean[] = [];
  /** Lines of an item, {@link BOM_STRIDE} numbers each: component, factor, its scale, offset, valid from, valid to. */
  readonly boms: (readonly number[])[] = [];
  readonly rules: (CompactRule | undefined)[] = [];
  readonly badRules = new Set<number>();
  /** Usable until and quantity, by turns. */
  readonly stock: (readonly number[] | undefined)[] = [];
  readonly receipts = new RowColumns();
  readonly receiptsOf: (number[] | undefined)[] = [];
  readonly demands = new RowColumns();
  readonly demandsOf: (number[] | undefined)[] = [];
  readonly probabilities = new Map<number, Decimal>();
  /** What is wrong with rows that were left out, by whatever names the row. */
  readonly rowProblems = new Map<string, DataProblem>();
  /** Nodes that have to be planned anew. */
  readonly touched = new Set<number>();
  /** True while the first rows come, when everything is to be planned anyway. */
  filling = false;
  /** True where what calls for what may have changed. */
  reshaped = true;
  private readonly itemIndex = new Map<string, number>();
  private readonly warehouseIndex: ReadonlyMap<string, number>;

  constructor(frame: BookFrame) {
    this.today = frame.today;
    this.horizon = frame.horizon;
    this.warehouseCodes = frame.warehouses.map((each) => each.code);
    const tables = new Map<WorkingCalendar, CalendarTable>();
    for (const { calendar } of frame.warehouses)
      if (!tables.has(calendar)) tables.set(calendar, new CalendarTable(calendar, frame.today, frame.horizon));
    this.calendars = frame.warehouses.flatMap(({ calendar }) => tables.get(calendar) ?? []);
    this.warehouseIndex = new Map(this.warehouseCodes.map((code, index) => [code, index]));
  }

  get nodeCount(): number {
    return this.itemCodes.length * this.warehouseCodes.length;
  }

  itemOf(node: number): number {
    return Math.floor(node / this.warehouseCodes.length);
  }

  warehouseOf(node: number): number {
    return node % this.warehouseCodes.length;
  }

  node(item: number, warehouse: number): number {
    return item * this.warehouseCodes.length + warehouse;
  }

  /** The node of an item and warehouse by their codes, where both are known. */
  find(item: string, warehouse: string): number | undefined {
    const [place, row] = [this.itemIndex.get(item), this.warehouseIndex.get(warehouse)];
    return place === undefined || row === undefined ? undefined : this.node(place, row);
  }

  findItem(code: string): number | undefined {
    return this.itemIndex.get(code);
  }

  findWarehouse(code: string): number | undefined {
    return this.warehouseIndex.get(code);
  }

  keyOf(node: number): string {
    return nodeKey(this.itemCodes[this.itemOf(node)] ?? '', this.warehouseCodes[this.warehouseOf(node)] ?? '');
  }

  addItem(code: string, decimals: number, phantom: boolean): number {
    const index = this.itemCodes.length;
    this.itemCodes.push(code);
    this.decimals.push(decimals);
    this.phantoms.push(phantom);
    this.boms.push([]);
    this.itemIndex.set(code, index);
    this.reshaped = true;
    return index;
  }

  setBom(item: number, lines: readonly PlanBomLine[]): void {
    const flat: number[] = [];
    for (const line of lines) {
      const component = this.itemIndex.get(line.component);
      if (component === undefined) continue;
      flat.push(component, factorOf(line), line.quantity.scale + line.scrap.scale);
      flat.push(line.offsetDays, line.from ?? -EVER, line.to ?? EVER);
    }
    if (sameNumbers(this.boms[item], flat)) return;
    this.boms[item] = flat;
    this.reshaped = true;
    if (this.filling) return;
    for (const made of this.madeThrough(item)) for (let w = 0; w < this.warehouseCodes.length; w += 1) this.touched.add(this.node(made, w));
  }

  /** Sets or takes away a node's rule; `bad` where there is one that can't be planned by. */
  setRule(node: number, rule: PlanRule | null, bad = false): void {
    const fresh = rule === null ? undefined : compactRule(rule, (code) => this.warehouseIndex.get(code) ?? -1);
    const before = this.rules[node];
    if (before?.source !== fresh?.source || before?.from !== fresh?.from) this.reshaped = true;
    this.markPresence(node, bad !== this.badRules.has(node));
    this.rules[node] = fresh;
    if (bad) this.badRules.add(node);
    else this.badRules.delete(node);
    this.touched.add(node);
  }

  /** Sets a node's stock: usable until ({@link EVER} for no last day) and quantity, by turns, in any order. */
  setStock(node: number, lots: readonly number[]): void {
    const sorted: number[] = [];
    const order = Array.from({ length: lots.length / 2 }, (_, index) => index * 2).sort((a, b) => (lots[a] ?? 0) - (lots[b] ?? 0));
    for (const at of order) sorted.push(lots[at] ?? 0, exact(lots[at + 1] ?? 0));
    if (sameNumbers(this.stock[node] ?? [], sorted)) return;
    this.markPresence(node, this.stock[node] === undefined || sorted.length === 0);
    this.stock[node] = sorted.length === 0 ? undefined : sorted;
    this.touched.add(node);
  }

  putReceipt(id: string, node: number, day: Day, quantity: number, locked: boolean): void {
    if (this.unchanged(this.receipts, id, node, day, quantity, locked ? 1 : 0)) return;
    this.dropReceipt(id);
    this.list(this.receiptsOf, node).push(this.receipts.put(id, node, day, exact(quantity), locked ? 1 : 0));
    this.touched.add(node);
  }

  dropReceipt(id: string): void {
    this.dropRow(this.receipts, this.receiptsOf, id);
  }

  putDemand(id: string, node: number, day: Day, quantity: number, kind: DemandKind, probability: Decimal | null = null): void {
    const mark = DEMAND_KINDS.indexOf(kind);
    if (mark !== QUOTE && this.unchanged(this.demands, id, node, day, quantity, mark)) return;
    this.dropDemand(id);
    const slot = this.demands.put(id, node, day, exact(quantity), mark);
    if (probability) this.probabilities.set(slot, probability);
    this.list(this.demandsOf, node).push(slot);
    this.touched.add(node);
  }

  dropDemand(id: string): void {
    const slot = this.dropRow(this.demands, this.demandsOf, id);
    if (slot !== undefined) this.probabilities.delete(slot);
  }

  /** True where a node has something of its own to plan: a rule, stock, receipts or demand. */
  isPresent(node: number): boolean {
    return (
      this.rules[node] !== undefined ||
      this.badRules.has(node) ||
      this.stock[node] !== undefined ||
      (this.receiptsOf[node]?.length ?? 0) > 0 ||
      (this.demandsOf[node]?.length ?? 0) > 0
    );
  }

  private unchanged(rows: RowColumns, id: string, node: number, day: Day, quantity: number, mark: number): boolean {
    const slot = rows.find(id);
    return (
      slot !== undefined && rows.nodes[slot] === node && rows.days[slot] === day && rows.quantities[slot] === quantity && rows.marks[slot] === mark
    );
  }

  private list(lists: (number[] | undefined)[], node: number): number[] {
    const known = lists[node];
    if (known) {
      this.markPresence(node, known.length === 0);
      return known;
    }
    this.markPresence(node, true);
    const made: number[] = [];
    lists[node] = made;
    return made;
  }

  private dropRow(rows: RowColumns, lists: readonly (number[] | undefined)[], id: string): number | undefined {
    const slot = rows.drop(id);
    if (slot === undefined) return undefined;
    const node = rows.nodes[slot] ?? 0;
    const list = lists[node];
    list?.splice(list.indexOf(slot), 1);
    this.markPresence(node, list?.length === 0);
    this.touched.add(node);
    return slot;
  }

  /** A phantom takes part in what calls for what only while it is a node itself. */
  private markPresence(node: number, may: boolean): void {
    if (may && this.phantoms[this.itemOf(node)] === true) this.reshaped = true;
  }

  /** The item itself and, where it is a phantom, all that it passes through to. */
  private madeThrough(item: number): Set<number> {
    const found = new Set([item]);
    if (this.phantoms[item] !== true) return found;
    for (let grew = true; grew;) {
      grew = false;
      this.boms.forEach((lines, parent) => {
        if (found.has(parent)) return;
        for (let at = 0; at < lines.length; at += BOM_STRIDE) {
          const component = lines[at] ?? -1;
          if (!found.has(component) || this.phantoms[component] !== true) continue;
          found.add(parent);
          grew = true;
          return;
        }
      });
    }
    return found;
  }
}

/** Told of each receipt and demand that comes into a book. */
export type RowListener = (sort: 'receipt' | 'demand', id: string) => void;

/** A problem's rows in a book; what is bad is listed there. Throws {@link TooWide} where a number is not exact. */
export function bookOf(problem: RowSource, heard: RowListener = () => undefined): PlanBook {
  const problems = new ProblemList();
  const book = scanRows(problem, problems, ({ today, horizon, items, calendars }) => {
    const made = new PlanBook({ today, horizon, warehouses: [...calendars].map(([code, calendar]) => ({ code, calendar })) });
    made.filling = true;
    for (const item of items.values()) made.addItem(item.code, item.decimals, item.phantom);
    return { sink: sinkOf(made, heard), answer: made };
  });
  book.filling = false;
  for (const each of problems.sorted()) book.rowProblems.set(JSON.stringify([each.code, each.subject]), each);
  return book;
}

function sinkOf(book: PlanBook, heard: RowListener): RowSink {
  const places = new Map(book.warehouseCodes.map((code, index) => [code, index]));
  const at = (item: PlanItem, warehouse: string): number => book.node(item.index, places.get(warehouse) ?? 0);
  const exactly = (quantity: number | bigint): number => (typeof quantity === 'number' ? quantity : narrow(quantity));
  return {
    bom: (item, lines) => book.setBom(item.index, lines),
    rule: (item, warehouse, rule) => book.setRule(at(item, warehouse), rule, rule === null),
    stock: (item, warehouse, usableUntil, quantity) => {
      const node = at(item, warehouse);
      book.setStock(node, [...(book.stock[node] ?? []), usableUntil ?? EVER, exactly(quantity)]);
    },
    receipt: (id, item, warehouse, date, quantity, locked) => {
      book.putReceipt(id, at(item, warehouse), date, exactly(quantity), locked);
      heard('receipt', id);
    },
    demand: (id, item, warehouse, date, quantity, kind, probability) => {
      book.putDemand(id, at(item, warehouse), date, exactly(quantity), kind, probability);
      heard('demand', id);
    },
  };
}

const FACTORS = new WeakMap<Decimal, WeakMap<Decimal, number>>();

/** Quantity with its scrap, as a whole number; the same two decimals come over and over. */
function factorOf({ quantity, scrap }: PlanBomLine): number {
  const known = FACTORS.get(quantity) ?? new WeakMap<Decimal, number>();
  FACTORS.set(quantity, known);
  let factor = known.get(scrap);
  if (factor === undefined) {
    factor = narrow(quantity.mantissa * (10n ** BigInt(scrap.scale) + scrap.mantissa));
    known.set(scrap, factor);
  }
  return factor;
}

/** True where two lists hold the same numbers in the same order. */
export function sameNumbers(a: readonly number[] | undefined, b: readonly number[]): boolean {
  if (a?.length !== b.length) return false;
  for (let index = 0; index < b.length; index += 1) if (a[index] !== b[index]) return false;
  return true;
}
