/** How an item is planned in a warehouse. */
import type { api } from '@terrace/contract';
import type { BodyOf, ItemView } from '@terrace/contract';
import { and, eq, exists, gte, lt, notInArray, sql, type SQL } from 'drizzle-orm';
import { alias, type SQLiteColumn } from 'drizzle-orm/sqlite-core';
import {
  RULE_FIELDS,
  Refusal,
  addDays,
  asQuantity,
  dayOf,
  dateOf,
  parseQuantity,
  readDecimal,
  safetyForService,
  spreadOf,
  weekdayOf,
  writeQuantity,
  type DemandFigures,
  type LotSizing,
  type Quantity,
  type SafetyBasis,
} from '@terrace/core';
import { purchaseOrder, purchaseOrderLine, receipt, receiptLine } from '../buying';
import { finerIn, firstSupplierOf, itemFacts, itemOf, readWayOfPlanning, setFollows, warehouse, warehouseIdOf, usableWarehouse } from '../catalogue';
import { inner, inserted, plus } from '../platform/expressions';
import { atField } from '../platform/fields';
import { command, query } from '../platform/query';
import { keepRow } from '../platform/rows';
import { assertSeen } from '../platform/versions';
import type { Work } from '../platform/work';
import { productionComponent, productionOrder } from '../production';
import { orderedInPast } from '../selling';
import { textsOf } from './planning-rule-texts';
import { planningRule } from './schema';

type Input = BodyOf<typeof api.planning.setRule>;

const source = alias(warehouse, 'source');
const rules = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({
        warehouseId: planningRule.warehouseId,
        warehouse: warehouse.code,
        source: planningRule.source,
        fromId: planningRule.fromId,
        from: source.code,
        leadDays: planningRule.leadDays,
        safety: planningRule.safety,
        safetyBy: planningRule.safetyBy,
        lotSizing: planningRule.lotSizing,
        minimum: planningRule.minimum,
        multiple: planningRule.multiple,
        maximum: planningRule.maximum,
        usable: planningRule.usable,
        fenceDays: planningRule.fenceDays,
        slackDays: planningRule.slackDays,
        demand: planningRule.demand,
        consumeBack: planningRule.consumeBack,
        consumeForward: planningRule.consumeForward,
        follows: planningRule.follows,
        version: planningRule.version,
      })
      .from(planningRule)
      .innerJoin(warehouse, eq(warehouse.id, planningRule.warehouseId))
      .leftJoin(source, eq(source.id, planningRule.fromId))
      .where(eq(planningRule.itemId, $.itemId))
      .orderBy(warehouse.code),
);
const ruleIn = query(
  ($: { itemId: number; warehouseId: number }) => (db) =>
    db
      .select({ version: planningRule.version, safety: planningRule.safety, leadDays: planningRule.leadDays, demand: planningRule.demand })
      .from(planningRule)
      .where(and(eq(planningRule.itemId, $.itemId), eq(planningRule.warehouseId, $.warehouseId))),
);

/** The rule of an item in a warehouse, where it has one. */
export function ruleOf(work: Work, itemId: number, warehouseId: number): ReturnType<typeof ruleIn.one> {
  return ruleIn.one(work, { itemId, warehouseId });
}

export function rulesOf(work: Work, id: number): ItemView['rules'] {
  return rules.all(work, { itemId: id }).map((each) => {
    const { safetyBy } = each;
    const rule = {
      ...each,
      safety: writeQuantity(each.safety),
      minimum: writeQuantity(each.minimum),
      multiple: writeQuantity(each.multiple),
      maximum: each.maximum === null ? null : writeQuantity(each.maximum),
    };
    return {
      ...rule,
      texts: textsOf(rule),
      safetyWords: safetyBy.by === 'quantity' ? '' : wordsOf(safetyBy, figuresOf(work, id, each.warehouseId, each.leadDays)),
    };
  });
}

const PAST_WEEKS = 26;
const WORKDAYS = 5;

type Past = { itemId: number; warehouseId: number; from: string; through: string };
const neededForProduction = query(
  ($: Past) => (db) =>
    db
      .select({ date: productionOrder.startDate, quantity: sql<number>`${productionComponent.needed}` })
      .from(productionComponent)
      .innerJoin(productionOrder, eq(productionOrder.id, productionComponent.orderId))
      .where(
        and(
          eq(productionComponent.itemId, $.itemId),
          eq(productionOrder.warehouseId, $.warehouseId),
          notInArray(productionOrder.state, ['draft', 'cancelled']),
          gte(productionOrder.startDate, $.from),
          lt(productionOrder.startDate, $.through),
        ),
      ),
);
const daysLate = query(
  ($: { itemId: number; warehouseId: number }) => (db) =>
    db
      .select({ days: sql<number>`julianday(${receipt.date}) - julianday(${purchaseOrderLine.dueDate})` })
      .from(receiptLine)
      .innerJoin(receipt, and(eq(receipt.id, receiptLine.receiptId), eq(receipt.reversed, false)))
      .innerJoin(purchaseOrderLine, eq(purchaseOrderLine.id, receiptLine.orderLineId))
      .innerJoin(purchaseOrder, eq(purchaseOrder.id, purchaseOrderLine.orderId))
      .where(and(eq(purchaseOrderLine.itemId, $.itemId), eq(purchaseOrder.warehouseId, $.warehouseId))),
);

/** What the last half year's demand was like in a warehouse, and how late what was ordered came. */
function figuresOf(work: Work, itemId: number, warehouseId: number, ruleLead: number): DemandFigures {
  const since = addDays(work.today, -7 * PAST_WEEKS);
  const asked = { itemId, warehouseId, from: since, through: work.today };
  const byDay = new Map<string, number>();
  for (const row of [...orderedInPast.all(work, asked), ...neededForProduction.all(work, asked)])
    byDay.set(row.date, (byDay.get(row.date) ?? 0) + row.quantity);
  const rows = [...byDay].map(([date, quantity]) => ({ date, quantity }));
  const wanted = new Map(rows.map((row) => [row.date, row.quantity / 100_000]));
  const first = rows.reduce((least, row) => (row.date < least ? row.date : least), work.today);
  const days: number[] = [];
  for (let day = dayOf(first); day < dayOf(work.today); day += 1) {
    const date = dateOf(day);
    if (weekdayOf(day) <= WORKDAYS || wanted.has(date)) days.push(wanted.get(date) ?? 0);
  }
  const late = daysLate.all(work, { itemId, warehouseId });
  const lead = ruleLead > 0 ? ruleLead : (firstSupplierOf(work, itemId)?.leadDays ?? 0);
  return { ...spreadOf(days), leadDays: lead, leadDeviation: spreadOf(late.map((each) => each.days)).deviation };
}

function short(value: number): string {
  return String(Math.round(value * 100) / 100);
}

function wordsOf(basis: SafetyBasis, figures: DemandFigures): string {
  const demand = `${short(figures.mean)} a working day on average`;
  if (basis.by === 'days') return `${demand}, for ${basis.days} days`;
  if (basis.by === 'quantity') return '';
  const { z } = safetyForService(figures, Number(basis.level));
  return `${demand}, give or take ${short(figures.deviation)}; ${short(figures.leadDays)} days to come, give or take ${short(figures.leadDeviation)}; ${short(z)} deviations for ${basis.level}`;
}

/** The safety stock as written, or as computed from the past, rounded up to the item's unit. */
function safetyOf(work: Work, id: number, input: Input, read: (field: 'safety', text: string) => Quantity, decimals: number): Quantity {
  const basis = input.safetyBy;
  if (basis.by === 'quantity') return read('safety', input.safety);
  const figures = figuresOf(work, id, input.warehouseId, input.leadDays);
  const level = basis.by === 'service' ? readDecimal(basis.level) : null;
  if (basis.by === 'service' && (!level || Number(basis.level) <= 0.5 || Number(basis.level) >= 1))
    throw new Refusal('badShare', `A service level of ${basis.level} can't be: it lies between 0.5 and 1, such as 0.95.`, { field: 'safetyBy' });
  const wanted = basis.by === 'days' ? figures.mean * basis.days : safetyForService(figures, Number(basis.level)).safety;
  const unit = 10 ** decimals;
  return asQuantity(Math.ceil(wanted * unit - 1e-9) * 10 ** (5 - decimals));
}

function checkedSizing(sizing: LotSizing, decimals: number): LotSizing {
  const positive = (text: string, what: string): void => {
    if (parseQuantity(text, decimals, what) <= 0) throw new Refusal('negative', `${what} has to be above 0.`);
  };
  const level = (text: string, what: string): number => {
    const quantity = parseQuantity(text, decimals, what);
    if (quantity < 0) throw new Refusal('negative', `${what} can't be below 0.`);
    return quantity;
  };
  const money = (text: string, what: string): void => {
    const value = readDecimal(text);
    if (!value || value.mantissa < 0n) throw new Refusal('notANumber', `"${text}" can't be ${what}.`);
  };
  switch (sizing.kind) {
    case 'fixed':
      positive(sizing.quantity, 'The quantity of an order');
      break;
    case 'reorderPoint':
      level(sizing.point, 'The level to order at');
      positive(sizing.quantity, 'The quantity of an order');
      break;
    case 'minMax':
      if (level(sizing.max, 'The maximum level') < Math.max(1, level(sizing.min, 'The least level')))
        throw new Refusal('badLevels', 'The maximum level can’t be below the minimum level.');
      break;
    case 'leastCost':
      money(sizing.orderCost, 'the cost of an order');
      money(sizing.holdingPerUnitDay, 'the cost of holding one for a day');
      break;
    case 'lotForLot':
    case 'period':
  }
  return sizing;
}

/** Keeps how an item is planned in a warehouse, with these figures; which of them follow the item or its group is kept beside. */
export function keepRule(work: Work, id: number, input: Input): void {
  const { code, decimals } = itemFacts(work, id);
  const place = usableWarehouse(work, input.warehouseId);
  const kept = ruleOf(work, id, input.warehouseId);
  if (input.version !== undefined) assertSeen(kept, input.version, `How ${code} is planned in ${place.code}`);
  const read = (field: 'safety' | 'minimum' | 'multiple' | 'maximum', text: string): Quantity =>
    atField(field, () => {
      const quantity = parseQuantity(text, decimals, `the ${field}`);
      if (quantity < 0) throw new Refusal('negative', `The ${field} can't be below 0.`);
      return quantity;
    });
  const [minimum, multiple] = [read('minimum', input.minimum), read('multiple', input.multiple)];
  const maximum = input.maximum === null ? null : read('maximum', input.maximum);
  if (maximum !== null && maximum < Math.max(minimum, multiple, 1))
    throw new Refusal('badLevels', 'The maximum order can’t be below the minimum order or the order multiple.', { field: 'maximum' });
  const usable = readDecimal(input.usable);
  if (!usable || usable.mantissa <= 0n || Number(input.usable) > 1)
    throw new Refusal('badShare', `A usable share of ${input.usable} can't be: it is above 0 and at most 1.`, { field: 'usable' });
  if (input.source === 'transfer') {
    if (input.fromId === null || input.fromId === input.warehouseId)
      throw new Refusal('sameWarehouse', 'Choose another warehouse that it is transferred from.', { field: 'fromId' });
    usableWarehouse(work, input.fromId);
  }
  const lotSizing = atField('lotSizing', () => checkedSizing(input.lotSizing, decimals));
  keepRow(work, planningRule, ['itemId', 'warehouseId'], {
    itemId: id,
    warehouseId: input.warehouseId,
    source: input.source,
    fromId: input.source === 'transfer' ? input.fromId : null,
    leadDays: input.leadDays,
    safety: safetyOf(work, id, input, read, decimals),
    safetyBy: input.safetyBy,
    lotSizing,
    minimum,
    multiple,
    maximum,
    usable: input.usable,
    fenceDays: input.fenceDays,
    slackDays: input.slackDays,
    demand: input.demand,
    consumeBack: input.consumeBack,
    consumeForward: input.consumeForward,
    follows: input.follows,
  });
  work.record('item', id, `set how ${code} is planned in ${place.code}`);
}

/** Sets how an item is planned in a warehouse; where that comes from is its own then and follows no group. */
export function setOwnRule(work: Work, id: number, input: Input): void {
  keepRule(work, id, input);
  const { follows } = itemOf(work, id);
  if (follows.includes('planning'))
    setFollows(
      work,
      id,
      follows.filter((each) => each !== 'planning'),
    );
}

type Way = {
  itemId: number;
  warehouseId: number;
  source: 'buy' | 'make';
  leadDays: number;
  slackDays: number;
  follows: (typeof RULE_FIELDS)[number][];
};
/** Adds a rule; of one that is there only source and lead time change, and only where they differ. */
const keepWay = command(
  ($: Way) => (db) =>
    db
      .insert(planningRule)
      .values({
        itemId: $.itemId,
        warehouseId: $.warehouseId,
        source: $.source,
        leadDays: $.leadDays,
        safety: NONE,
        minimum: NONE,
        multiple: NONE,
        slackDays: $.slackDays,
        follows: $.follows,
      })
      .onConflictDoUpdate({
        target: [planningRule.itemId, planningRule.warehouseId],
        set: { source: inserted(planningRule.source), leadDays: inserted(planningRule.leadDays), version: plus(planningRule.version, 1) },
        setWhere: sql`${planningRule.source} <> ${inserted(planningRule.source)} or ${planningRule.leadDays} <> ${inserted(planningRule.leadDays)}`,
      }),
);
const NONE = asQuantity(0);
const USUAL_SLACK = 2;

/** Plans an item as its group says ("make in WORKS, 3 days"); safety, minimum and multiple of a rule that is there stay. */
export function planAs(work: Work, itemId: number, text: string): boolean {
  const { source: way, warehouse: code, days } = readWayOfPlanning(text);
  const warehouseId = code === undefined ? undefined : warehouseIdOf(work, code);
  if (way === undefined || warehouseId === undefined) return false;
  const follows = RULE_FIELDS.filter((field) => field !== 'leadDays' || days === undefined);
  return keepWay.run(work, { itemId, warehouseId, source: way, leadDays: days ?? 0, slackDays: USUAL_SLACK, follows }).changes > 0;
}

/** How a unit's narrowing finds quantities of rules that are finer. */
export const finerRules = finerIn(planningRule, planningRule.itemId, planningRule.safety, planningRule.minimum, planningRule.multiple);

/** Whether an item is planned in a warehouse, for lists. */
export const isPlanned = (itemId: SQLiteColumn, warehouseId: SQLiteColumn): SQL =>
  exists(
    inner
      .select({ one: sql`1` })
      .from(planningRule)
      .where(and(eq(planningRule.itemId, itemId), eq(planningRule.warehouseId, warehouseId))),
  );
