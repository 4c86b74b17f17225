/**
 * Turns the rows of a problem into what the engine counts with, leaving out what has a data problem. Quantities become
 * integers of the item's own decimals, dates become day numbers.
 */
import { WorkingCalendar, readDay, readDecimal, toScale, type Day, type Decimal } from '../base';
import {
  byCodePoint,
  type BomLineRow,
  type DataProblem,
  type DataProblemCode,
  type DemandKind,
  type PlanProblem,
  type PlanningRule,
} from './problem';

export interface PlanItem {
  readonly code: string;
  readonly decimals: number;
  readonly phantom: boolean;
  /** Its place among the items. */
  readonly index: number;
  /** Lines that are good; of an item without a BOM, none. */
  bom: readonly PlanBomLine[];
}

export interface PlanBomLine {
  readonly component: string;
  /** Per one of the parent, without scrap. */
  readonly quantity: Decimal;
  readonly scrap: Decimal;
  readonly offsetDays: number;
  readonly from: Day | null;
  readonly to: Day | null;
}

export type PlanLotSizing =
  | { readonly kind: 'lotForLot' }
  | { readonly kind: 'fixed'; readonly quantity: bigint }
  | { readonly kind: 'period'; readonly days: number }
  | { readonly kind: 'reorderPoint'; readonly quantity: bigint }
  | { readonly kind: 'minMax'; readonly max: bigint }
  /** Integers of one small unit of money: of an order, and of holding the smallest quantity for a day. */
  | { readonly kind: 'leastCost'; readonly orderCost: bigint; readonly holding: bigint };

/** A rule that can be planned by. */
export interface PlanRule {
  readonly source: PlanningRule['source'];
  readonly from: string | null;
  readonly leadDays: number;
  /** Safety, or the reorder point or minimum where that is greater. */
  readonly threshold: bigint;
  readonly lotSizing: PlanLotSizing;
  readonly minimum: bigint;
  readonly multiple: bigint;
  readonly maximum: bigint | null;
  readonly yield: Decimal;
  readonly fenceDays: number;
  readonly slackDays: number;
  readonly demand: PlanningRule['demand'];
  readonly consumeBack: number;
  readonly consumeForward: number;
  readonly quotesFrom: Decimal | null;
  readonly quotesWeighted: boolean;
}

export interface PlanDemand {
  readonly id: string;
  readonly kind: DemandKind;
  readonly date: Day;
  readonly quantity: bigint;
  readonly probability: Decimal | null;
}

export interface PlanReceipt {
  readonly id: string;
  readonly date: Day;
  readonly quantity: bigint;
  readonly locked: boolean;
}

export interface PlanStock {
  readonly usableUntil: Day | null;
  readonly quantity: bigint;
}

/** An item in a warehouse, with all that is known of it before planning. */
export interface PlanNode {
  readonly key: string;
  readonly item: PlanItem;
  readonly warehouse: string;
  rule: PlanRule | null;
  badRule: boolean;
  readonly stock: PlanStock[];
  readonly receipts: PlanReceipt[];
  readonly demands: PlanDemand[];
}

/** Collects data problems; the same code and subject once. */
export class ProblemList {
  private readonly found = new Map<string, DataProblem>();

  add(code: DataProblemCode, subject: string, message: string): void {
    const key = JSON.stringify([code, subject]);
    if (!this.found.has(key)) this.found.set(key, { code, subject, message });
  }

  sorted(): DataProblem[] {
    return [...this.found.values()].sort((a, b) => byCodePoint(a.code, b.code) || byCodePoint(a.subject, b.subject));
  }
}

export interface PlanInput {
  readonly today: Day;
  readonly horizon: Day;
  readonly items: ReadonlyMap<string, PlanItem>;
  readonly calendars: ReadonlyMap<string, WorkingCalendar>;
  /** By {@link nodeKey}; grows as explosion reaches further nodes. */
  readonly nodes: Map<string, PlanNode>;
  readonly problems: ProblemList;
}

/** The name of a node, as results show it. */
export function nodeKey(item: string, warehouse: string): string {
  return `${item}@${warehouse}`;
}

/** The node of an item in a warehouse, made when it is first reached. */
export function nodeOf(input: PlanInput, item: PlanItem, warehouse: string): PlanNode {
  const key = nodeKey(item.code, warehouse);
  let node = input.nodes.get(key);
  if (!node) {
    node = { key, item, warehouse, rule: null, badRule: false, stock: [], receipts: [], demands: [] };
    input.nodes.set(key, node);
  }
  return node;
}

/** Rows of a problem, in lists or told one by one as they are read. */
export type RowSource = {
  readonly [Part in keyof PlanProblem]: PlanProblem[Part] extends readonly (infer Row)[] ? Iterable<Row> : PlanProblem[Part];
};

/** Where good rows go. A quantity is a whole number of the item's decimals, wide where it would not be exact. */
export interface RowSink {
  readonly bom: (item: PlanItem, lines: readonly PlanBomLine[]) => void;
  /** `null` for a rule that can't be planned by. */
  readonly rule: (item: PlanItem, warehouse: string, rule: PlanRule | null) => void;
  readonly stock: (item: PlanItem, warehouse: string, usableUntil: Day | null, quantity: number | bigint) => void;
  readonly receipt: (id: string, item: PlanItem, warehouse: string, date: Day, quantity: number | bigint, locked: boolean) => void;
  readonly demand: (
    id: string,
    item: PlanItem,
    warehouse: string,
    date: Day,
    quantity: number | bigint,
    kind: DemandKind,
    probability: Decimal | null,
  ) => void;
}

/** What is known before the first row goes anywhere. */
export interface RowFrame {
  readonly today: Day;
  readonly horizon: Day;
  readonly items: ReadonlyMap<string, PlanItem>;
  /** By warehouse. */
  readonly calendars: ReadonlyMap<string, WorkingCalendar>;
}

/** Reads a problem's rows into nodes; what has a data problem is listed and left out. */
export function readRows(problem: RowSource): PlanInput {
  const problems = new ProblemList();
  return scanRows(problem, problems, (frame) => {
    const input: PlanInput = { ...frame, nodes: new Map(), problems };
    const at = (item: PlanItem, warehouse: string): PlanNode => nodeOf(input, item, warehouse);
    const sink: RowSink = {
      bom: (item, lines) => (item.bom = lines),
      rule: (item, warehouse, rule) => {
        const node = at(item, warehouse);
        if (rule) node.rule = rule;
        else node.badRule = true;
      },
      stock: (item, warehouse, usableUntil, quantity) => at(item, warehouse).stock.push({ usableUntil, quantity: BigInt(quantity) }),
      receipt: (id, item, warehouse, date, quantity, locked) => at(item, warehouse).receipts.push({ id, date, quantity: BigInt(quantity), locked }),
      demand: (id, item, warehouse, date, quantity, kind, probability) =>
        at(item, warehouse).demands.push({ id, kind, date, quantity: BigInt(quantity), probability }),
    };
    return { sink, answer: input };
  });
}

/** Reads a problem's rows and hands on the good ones; what has a data problem is listed. */
export function scanRows<T>(
  problem: RowSource,
  problems: ProblemList,
  begin: (frame: RowFrame) => { readonly sink: RowSink; readonly answer: T },
): T {
  const calendarOf = new Map([...problem.calendars].map((each) => [each.code, new WorkingCalendar(each)]));
  const calendars = new Map<string, WorkingCalendar>();
  for (const warehouse of problem.warehouses) {
    const calendar = calendarOf.get(warehouse.calendar);
    if (!calendar) throw new RangeError(`warehouse ${warehouse.code} has no calendar ${warehouse.calendar}`);
    calendars.set(warehouse.code, calendar);
  }
  const items = new Map<string, PlanItem>();
  for (const { code, decimals, phantom } of problem.items) items.set(code, { code, decimals, phantom, index: items.size, bom: [] });
  const { sink, answer } = begin({ today: knownDay(problem.today), horizon: knownDay(problem.horizon), items, calendars });
  /** The item, where the place of a row is known; of a row with a later problem no more than that is told. */
  const placed = (row: { item: string; warehouse: string }, subject: string): PlanItem | null => {
    const item = items.get(row.item);
    if (!item) problems.add('unknownItem', subject, `There is no item ${row.item}.`);
    else if (!calendars.has(row.warehouse)) problems.add('unknownWarehouse', subject, `There is no warehouse ${row.warehouse}.`);
    else return item;
    return null;
  };
  readBoms(problem, items, problems, sink);
  for (const row of problem.rules) {
    const item = placed(row, nodeKey(row.item, row.warehouse));
    if (!item) continue;
    const rule = readRule(row, item, calendars);
    if (typeof rule === 'string') problems.add('badRule', nodeKey(row.item, row.warehouse), rule);
    sink.rule(item, row.warehouse, typeof rule === 'string' ? null : rule);
  }
  for (const row of problem.stock) {
    const item = placed(row, nodeKey(row.item, row.warehouse));
    if (!item) continue;
    const usableUntil = row.usableUntil === null ? null : readDay(row.usableUntil);
    const quantity = readUnits(row.quantity, item.decimals);
    const subject = nodeKey(row.item, row.warehouse);
    if (row.usableUntil !== null && usableUntil === null) problems.add('badDate', subject, `Stock can't be usable until "${row.usableUntil}".`);
    else if (quantity === null || quantity < 0) problems.add('badQuantity', subject, `"${row.quantity}" can't be a stock of ${row.item}.`);
    else sink.stock(item, row.warehouse, usableUntil, quantity);
  }
  for (const row of problem.receipts) {
    const item = placed(row, row.id);
    const good = item && readDated(row, 'receipt', item, problems);
    if (good) sink.receipt(row.id, item, row.warehouse, good.date, good.quantity, row.locked);
  }
  for (const row of problem.demands) {
    const item = placed(row, row.id);
    const good = item && readDated(row, 'demand', item, problems);
    if (good)
      sink.demand(row.id, item, row.warehouse, good.date, good.quantity, row.kind, row.probability === null ? null : readDecimal(row.probability));
  }
  return answer;
}

function knownDay(text: string): Day {
  const day = readDay(text);
  if (day === null) throw new RangeError(`${text} is not a date`);
  return day;
}

const SHORT_WHOLE = /^\d{1,15}$/;
const POWERS = [1, 10, 100, 1000, 10_000, 100_000];

/** A whole number of the item's decimals, or `null` where the text is no decimal or finer than that. */
function readUnits(text: string, decimals: number): number | bigint | null {
  if (SHORT_WHOLE.test(text)) {
    const power = POWERS[decimals];
    const units = power === undefined ? Infinity : Number(text) * power;
    if (units <= Number.MAX_SAFE_INTEGER) return units;
  }
  const value = readDecimal(text);
  const units = value && toScale(value, decimals);
  if (units === null) return null;
  const number = Number(units);
  return Number.isSafeInteger(number) ? number : units;
}

function readDated(
  row: { id: string; item: string; date: string | null; quantity: string },
  word: string,
  item: PlanItem,
  problems: ProblemList,
): { readonly date: Day; readonly quantity: number | bigint } | null {
  const date = row.date === null ? null : readDay(row.date);
  const quantity = readUnits(row.quantity, item.decimals);
  if (date === null)
    problems.add(
      'badDate',
      row.id,
      row.date === null ? `The ${word} ${row.id} has no date.` : `"${row.date}" is not a date: the ${word} ${row.id} is left out.`,
    );
  else if (quantity === null || quantity <= 0)
    problems.add('badQuantity', row.id, `"${row.quantity}" can't be a quantity of ${row.item}: the ${word} ${row.id} is left out.`);
  else return { date, quantity };
  return null;
}

/** Reads decimals, each text once: bills of materials say the same few over and over. */
function decimalReader(): (text: string) => Decimal | null {
  const known = new Map<string, Decimal | null>();
  return (text) => {
    let value = known.get(text);
    if (value === undefined) {
      value = readDecimal(text);
      known.set(text, value);
    }
    return value;
  };
}

function readBoms(problem: RowSource, items: ReadonlyMap<string, PlanItem>, problems: ProblemList, sink: RowSink): void {
  const decimal = decimalReader();
  const boms = new Map<PlanItem, PlanBomLine[]>();
  for (const bom of problem.boms) {
    const item = items.get(bom.item);
    if (!item) {
      problems.add('unknownItem', bom.item, `There is a bill of materials for ${bom.item}, but no such item.`);
      continue;
    }
    const lines = boms.get(item) ?? [];
    for (const row of bom.lines) {
      const line = readBomLine(row, bom.item, items, problems, decimal);
      if (line) lines.push(line);
    }
    boms.set(item, lines);
    sink.bom(item, lines);
  }
}

function readBomLine(
  row: BomLineRow,
  parent: string,
  items: ReadonlyMap<string, PlanItem>,
  problems: ProblemList,
  decimal: (text: string) => Decimal | null,
): PlanBomLine | null {
  const quantity = decimal(row.quantity);
  const scrap = decimal(row.scrap);
  const from = row.from === null ? null : readDay(row.from);
  const to = row.to === null ? null : readDay(row.to);
  const subject = (): string => `${parent}/${row.component}`;
  const component = items.get(row.component);
  if (!component) problems.add('unknownItem', subject(), `There is no item ${row.component}.`);
  else if ((row.from !== null && from === null) || (row.to !== null && to === null))
    problems.add('badDate', subject(), `The line is valid from "${row.from ?? ''}" to "${row.to ?? ''}", which are not both dates.`);
  else if (!quantity || quantity.mantissa <= 0n) problems.add('badQuantity', subject(), `"${row.quantity}" can't be a quantity per piece.`);
  else if (!scrap || scrap.mantissa < 0n) problems.add('badQuantity', subject(), `"${row.scrap}" can't be a scrap share.`);
  else return { component: component.code, quantity, scrap, offsetDays: row.offsetDays, from, to };
  return null;
}

/** The rule ready to plan by, or the sentence that says what is wrong with it. */
function readRule(row: PlanningRule, item: PlanItem, calendars: ReadonlyMap<string, unknown>): PlanRule | string {
  if (item.phantom) return `${item.code} is a phantom: it exists only inside a bill of materials and needs no rule.`;
  const units = (text: string): bigint | null => {
    const value = readUnits(text, item.decimals);
    return value === null || value < 0 ? null : BigInt(value);
  };
  const safety = units(row.safety);
  const minimum = units(row.minimum);
  const multiple = units(row.multiple);
  const maximum = row.maximum === null ? null : units(row.maximum);
  if (safety === null) return `"${row.safety}" can't be a safety stock of ${item.code}.`;
  if (minimum === null) return `"${row.minimum}" can't be a minimum of ${item.code}.`;
  if (multiple === null) return `"${row.multiple}" can't be a multiple of ${item.code}.`;
  if (row.maximum !== null && maximum === null) return `"${row.maximum}" can't be a maximum of ${item.code}.`;
  const share = readDecimal(row.yield);
  if (!share || share.mantissa <= 0n || share.mantissa > 10n ** BigInt(share.scale)) return `A yield of "${row.yield}" is not above 0 and at most 1.`;
  const quotesFrom = row.quotesFrom === null ? null : readDecimal(row.quotesFrom);
  if (row.quotesFrom !== null && (!quotesFrom || quotesFrom.mantissa < 0n)) return `"${row.quotesFrom ?? ''}" is not a probability.`;
  const sized = readLotSizing(row, units, safety, item);
  if (typeof sized === 'string') return sized;
  if (maximum !== null) {
    if (maximum < minimum || maximum < multiple) return `The maximum ${row.maximum} is below the minimum or the multiple.`;
    if ((maximum * share.mantissa) / 10n ** BigInt(share.scale) <= 0n) return `Of a maximum of ${row.maximum} nothing usable is left.`;
  }
  if (row.source === 'transfer' && (row.from === null || !calendars.has(row.from) || row.from === row.warehouse)) {
    return `Stock can't be transferred from ${row.from ?? 'nowhere'} to ${row.warehouse}.`;
  }
  return {
    source: row.source,
    from: row.source === 'transfer' ? row.from : null,
    leadDays: row.leadDays,
    threshold: sized.threshold,
    lotSizing: sized.lotSizing,
    minimum,
    multiple,
    maximum,
    yield: share,
    fenceDays: row.fenceDays,
    slackDays: row.slackDays,
    demand: row.demand,
    consumeBack: row.consumeBack,
    consumeForward: row.consumeForward,
    quotesFrom,
    quotesWeighted: row.quotesWeighted,
  };
}

function readLotSizing(
  row: PlanningRule,
  units: (text: string) => bigint | null,
  safety: bigint,
  { code, decimals }: PlanItem,
): { lotSizing: PlanLotSizing; threshold: bigint } | string {
  const above = (level: bigint): bigint => (level > safety ? level : safety);
  const sizing = row.lotSizing;
  switch (sizing.kind) {
    case 'lotForLot':
      return { lotSizing: sizing, threshold: safety };
    case 'period':
      return sizing.days < 1 ? 'An order has to cover at least one day.' : { lotSizing: sizing, threshold: safety };
    case 'fixed': {
      const quantity = units(sizing.quantity);
      if (quantity === null || quantity === 0n) return `"${sizing.quantity}" can't be a fixed quantity of ${code}.`;
      return { lotSizing: { kind: 'fixed', quantity }, threshold: safety };
    }
    case 'reorderPoint': {
      const quantity = units(sizing.quantity);
      const point = units(sizing.point);
      if (quantity === null || quantity === 0n) return `"${sizing.quantity}" can't be an order quantity of ${code}.`;
      if (point === null) return `"${sizing.point}" can't be a reorder point of ${code}.`;
      return { lotSizing: { kind: 'reorderPoint', quantity }, threshold: above(point) };
    }
    case 'minMax': {
      const min = units(sizing.min);
      const max = units(sizing.max);
      if (min === null || max === null || max === 0n) return `"${sizing.min}" to "${sizing.max}" can't be a minimum and maximum of ${code}.`;
      if (max < min || max < safety) return `The level to fill up to, ${sizing.max}, is below the minimum or the safety stock.`;
      return { lotSizing: { kind: 'minMax', max }, threshold: above(min) };
    }
    case 'leastCost': {
      const order = readDecimal(sizing.orderCost);
      const hold = readDecimal(sizing.holdingPerUnitDay);
      if (!order || order.mantissa < 0n) return `"${sizing.orderCost}" can't be the cost of an order of ${code}.`;
      if (!hold || hold.mantissa < 0n) return `"${sizing.holdingPerUnitDay}" can't be the cost of holding ${code} for a day.`;
      const orderCost = order.mantissa * 10n ** BigInt(hold.scale + decimals);
      return { lotSizing: { kind: 'leastCost', orderCost, holding: hold.mantissa * 10n ** BigInt(order.scale) }, threshold: safety };
    }
  }
}
