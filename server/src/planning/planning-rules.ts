/** How an item is planned in a warehouse. */
import type { api } from '@terrace/contract';
import type { BodyOf, ItemView } from '@terrace/contract';
import { and, eq, exists, sql, type SQL } from 'drizzle-orm';
import { alias, type SQLiteColumn } from 'drizzle-orm/sqlite-core';
import { RULE_FIELDS, Refusal, asQuantity, parseQuantity, readDecimal, writeQuantity, type LotSizing, type Quantity } from '@terrace/core';
import { finerIn, itemFacts, itemOf, readWayOfPlanning, setFollows, warehouse, warehouseIdOf, usableWarehouse } from '../catalogue';
import { inner, inserted, plus } from '../platform/expressions';
import { atField } from '../platform/fields';
import { command, query } from '../platform/query';
import { keepRow } from '../platform/rows';
import { assertSeen } from '../platform/versions';
import type { Work } from '../platform/work';
import { computedSafety, figuresOf, wordsOf } from './computed-safety';
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

/** The safety stock as written, or as computed from the past. */
function safetyOf(work: Work, id: number, input: Input, read: (field: 'safety', text: string) => Quantity, decimals: number): Quantity {
  const basis = input.safetyBy;
  if (basis.by === 'quantity') return read('safety', input.safety);
  const level = basis.by === 'service' ? readDecimal(basis.level) : null;
  if (basis.by === 'service' && (!level || Number(basis.level) <= 0.5 || Number(basis.level) >= 1))
    throw new Refusal('badShare', `A service level of ${basis.level} can't be: it lies between 0.5 and 1, such as 0.95.`, { field: 'safetyBy' });
  return computedSafety(work, { itemId: id, warehouseId: input.warehouseId, leadDays: input.leadDays }, basis, decimals);
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
    safetyOn: input.safetyBy.by === 'quantity' ? null : work.today,
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
