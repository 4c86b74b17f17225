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
  /** Lines that are good; of an item without a BOM, none. */
  readonly bom: readonly PlanBomLine[];
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

/** Reads a problem's rows; what has a data problem is listed and left out. */
export function readRows(problem: PlanProblem): PlanInput {
  const problems = new ProblemList();
  const calendarOf = new Map(problem.calendars.map((each) => [each.code, new WorkingCalendar(each)]));
  const calendars = new Map<string, WorkingCalendar>();
  for (const warehouse of problem.warehouses) {
    const calendar = calendarOf.get(warehouse.calendar);
    if (!calendar) throw new RangeError(`warehouse ${warehouse.code} has no calendar ${warehouse.calendar}`);
    calendars.set(warehouse.code, calendar);
  }
  const known = new Set(problem.items.map((each) => each.code));
  const boms = readBoms(problem, known, problems);
  const items = new Map(problem.items.map((each) => [each.code, { ...each, bom: boms.get(each.code) ?? [] }]));
  const input: PlanInput = {
    today: knownDay(problem.today),
    horizon: knownDay(problem.horizon),
    items,
    calendars,
    nodes: new Map(),
    problems,
  };
  const place = (row: { item: string; warehouse: string }, subject: string): PlanNode | null => {
    const item = items.get(row.item);
    if (!item) problems.add('unknownItem', subject, `There is no item ${row.item}.`);
    else if (!calendars.has(row.warehouse)) problems.add('unknownWarehouse', subject, `There is no warehouse ${row.warehouse}.`);
    else return nodeOf(input, item, row.warehouse);
    return null;
  };
  // A row with a later problem must not make a node, so a node is only reached once the whole row is good.
  const isPlaced = (row: { item: string; warehouse: string }): boolean => items.has(row.item) && calendars.has(row.warehouse);

  for (const row of problem.rules) {
    const node = place(row, nodeKey(row.item, row.warehouse));
    if (!node) continue;
    const rule = readRule(row, node.item, calendars);
    if (typeof rule === 'string') {
      problems.add('badRule', node.key, rule);
      node.badRule = true;
    } else node.rule = rule;
  }
  for (const row of problem.stock) {
    const subject = nodeKey(row.item, row.warehouse);
    if (!isPlaced(row)) {
      place(row, subject);
      continue;
    }
    const usableUntil = row.usableUntil === null ? null : readDay(row.usableUntil);
    const quantity = readUnits(row.quantity, items.get(row.item)?.decimals ?? 0);
    if (row.usableUntil !== null && usableUntil === null) problems.add('badDate', subject, `Stock can't be usable until "${row.usableUntil}".`);
    else if (quantity === null || quantity < 0n) problems.add('badQuantity', subject, `"${row.quantity}" can't be a stock of ${row.item}.`);
    else place(row, subject)?.stock.push({ usableUntil, quantity });
  }
  for (const row of problem.receipts) {
    const good = readDated(row, 'receipt', isPlaced(row), place, items, problems);
    good?.node.receipts.push({ id: row.id, date: good.date, quantity: good.quantity, locked: row.locked });
  }
  for (const row of problem.demands) {
    const probability = row.probability === null ? null : readDecimal(row.probability);
    const good = readDated(row, 'demand', isPlaced(row), place, items, problems);
    good?.node.demands.push({ id: row.id, kind: row.kind, date: good.date, quantity: good.quantity, probability });
  }
  return input;
}

function knownDay(text: string): Day {
  const day = readDay(text);
  if (day === null) throw new RangeError(`${text} is not a date`);
  return day;
}

/** An integer of the item's decimals, or `null` where the text is no decimal or finer than that. */
function readUnits(text: string, decimals: number): bigint | null {
  const value = readDecimal(text);
  return value && toScale(value, decimals);
}

function readDated(
  row: { id: string; item: string; warehouse: string; date: string | null; quantity: string },
  word: string,
  placed: boolean,
  place: (row: { item: string; warehouse: string }, subject: string) => PlanNode | null,
  items: ReadonlyMap<string, PlanItem>,
  problems: ProblemList,
): { node: PlanNode; date: Day; quantity: bigint } | null {
  if (!placed) {
    place(row, row.id);
    return null;
  }
  const date = row.date === null ? null : readDay(row.date);
  const quantity = readUnits(row.quantity, items.get(row.item)?.decimals ?? 0);
  if (date === null)
    problems.add(
      'badDate',
      row.id,
      row.date === null ? `The ${word} ${row.id} has no date.` : `"${row.date}" is not a date: the ${word} ${row.id} is left out.`,
    );
  else if (quantity === null || quantity <= 0n)
    problems.add('badQuantity', row.id, `"${row.quantity}" can't be a quantity of ${row.item}: the ${word} ${row.id} is left out.`);
  else {
    const node = place(row, row.id);
    return node && { node, date, quantity };
  }
  return null;
}

function readBoms(problem: PlanProblem, known: ReadonlySet<string>, problems: ProblemList): Map<string, PlanBomLine[]> {
  const boms = new Map<string, PlanBomLine[]>();
  for (const bom of problem.boms) {
    if (!known.has(bom.item)) {
      problems.add('unknownItem', bom.item, `There is a bill of materials for ${bom.item}, but no such item.`);
      continue;
    }
    const lines = boms.get(bom.item) ?? [];
    for (const row of bom.lines) {
      const line = readBomLine(row, `${bom.item}/${row.component}`, known, problems);
      if (line) lines.push(line);
    }
    boms.set(bom.item, lines);
  }
  return boms;
}

function readBomLine(row: BomLineRow, subject: string, known: ReadonlySet<string>, problems: ProblemList): PlanBomLine | null {
  const quantity = readDecimal(row.quantity);
  const scrap = readDecimal(row.scrap);
  const from = row.from === null ? null : readDay(row.from);
  const to = row.to === null ? null : readDay(row.to);
  if (!known.has(row.component)) problems.add('unknownItem', subject, `There is no item ${row.component}.`);
  else if ((row.from !== null && from === null) || (row.to !== null && to === null))
    problems.add('badDate', subject, `The line is valid from "${row.from ?? ''}" to "${row.to ?? ''}", which are not both dates.`);
  else if (!quantity || quantity.mantissa <= 0n) problems.add('badQuantity', subject, `"${row.quantity}" can't be a quantity per piece.`);
  else if (!scrap || scrap.mantissa < 0n) problems.add('badQuantity', subject, `"${row.scrap}" can't be a scrap share.`);
  else return { component: row.component, quantity, scrap, offsetDays: row.offsetDays, from, to };
  return null;
}

/** The rule ready to plan by, or the sentence that says what is wrong with it. */
function readRule(row: PlanningRule, item: PlanItem, calendars: ReadonlyMap<string, unknown>): PlanRule | string {
  if (item.phantom) return `${item.code} is a phantom: it exists only inside a bill of materials and needs no rule.`;
  const units = (text: string): bigint | null => {
    const value = readUnits(text, item.decimals);
    return value === null || value < 0n ? null : value;
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
