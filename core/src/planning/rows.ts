/**
 * Turns the rows of a problem into what the engine counts with, leaving out what has a data problem. Quantities become
 * integers of the item's own decimals, dates become day numbers.
 */
import { WorkingCalendar, readDay, readDecimal, type Day, type Decimal } from '../base';
import { readRule } from './rule-rows';
import type { PlanBomLine, PlanInput, PlanItem, PlanNode, PlanRule } from './input';
import { ProblemList } from './problem-list';
import { readUnits } from './units';
import { type BomLineRow, type DemandKind, type PlanProblem } from './problem';

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
  else if (!scrap || scrap.mantissa < 0n) problems.add('badQuantity', subject(), `"${row.scrap}" can't be a scrap allowance.`);
  else return { component: component.code, quantity, scrap, offsetDays: row.offsetDays, from, to };
  return null;
}
