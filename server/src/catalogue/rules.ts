/** How an item is planned in a warehouse. */
import type { api } from '@terrace/contract';
import type { BodyOf, ItemView } from '@terrace/contract';
import {
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
  type Given,
  type LotSizing,
  type Quantity,
  type RuleField,
  type SafetyBasis,
} from '@terrace/core';
import { assertSeen, atField, orNotFound, type Work } from '../platform/work';
import { itemFacts } from './item-facts';
import { textsOf } from './rule-texts';

type RuleView = ItemView['rules'][number];
type Input = BodyOf<typeof api.catalogue.setRule>;

const RULES = `select r.warehouse_id as warehouseId, w.code as warehouse, r.source, r.from_id as fromId, f.code as "from", r.lead_days as leadDays, r.safety, r.safety_by as safetyBy,
    r.lot_sizing as lotSizing, r.minimum, r.multiple, r.maximum, r.usable, r.fence_days as fenceDays, r.slack_days as slackDays, r.demand, r.consume_back as consumeBack,
    r.consume_forward as consumeForward, r.follows, r.version
  from planning_rule r join warehouse w on w.id = r.warehouse_id left join warehouse f on f.id = r.from_id where r.item_id = ? order by w.code`;

interface RuleRow extends Omit<
  RuleView,
  'safety' | 'minimum' | 'multiple' | 'maximum' | 'safetyBy' | 'lotSizing' | 'safetyWords' | 'follows' | 'texts'
> {
  readonly follows: string;
  readonly safety: number;
  readonly minimum: number;
  readonly multiple: number;
  readonly maximum: number | null;
  readonly safetyBy: string;
  readonly lotSizing: string;
}

export function rulesOf(work: Work, id: number): ItemView['rules'] {
  return work.rows<RuleRow>(RULES, id).map((each) => {
    const safetyBy = JSON.parse(each.safetyBy) as SafetyBasis;
    const rule = {
      ...each,
      safety: writeQuantity(each.safety),
      minimum: writeQuantity(each.minimum),
      multiple: writeQuantity(each.multiple),
      maximum: each.maximum === null ? null : writeQuantity(each.maximum),
      lotSizing: JSON.parse(each.lotSizing) as LotSizing,
      safetyBy,
      follows: JSON.parse(each.follows) as RuleField[],
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

/** What the last half year's demand was like in a warehouse, and how late what was ordered came. */
function figuresOf(work: Work, itemId: number, warehouseId: number, ruleLead: number): DemandFigures {
  const since = addDays(work.today, -7 * PAST_WEEKS);
  const rows = work.rows<{ date: string; quantity: number }>(
    `select date, sum(quantity) as quantity from (
       select l.required_date as date, l.quantity - l.cancelled as quantity from customer_order_line l join customer_order o on o.id = l.order_id
         where l.item_id = ?1 and o.warehouse_id = ?2 and o.state not in ('draft', 'cancelled') and l.required_date >= ?3 and l.required_date < ?4
       union all
       select o.start_date, c.needed from production_component c join production_order o on o.id = c.order_id
         where c.item_id = ?1 and o.warehouse_id = ?2 and o.state not in ('draft', 'cancelled') and o.start_date >= ?3 and o.start_date < ?4)
     group by date`,
    itemId,
    warehouseId,
    since,
    work.today,
  );
  const wanted = new Map(rows.map((row) => [row.date, row.quantity / 100_000]));
  const first = rows.reduce((least, row) => (row.date < least ? row.date : least), work.today);
  const days: number[] = [];
  for (let day = dayOf(first); day < dayOf(work.today); day += 1) {
    const date = dateOf(day);
    if (weekdayOf(day) <= WORKDAYS || wanted.has(date)) days.push(wanted.get(date) ?? 0);
  }
  const late = work.rows<{ days: number }>(
    `select julianday(r.date) - julianday(l.due_date) as days from receipt_line x join receipt r on r.id = x.receipt_id and r.reversed = 0
     join purchase_order_line l on l.id = x.order_line_id join purchase_order o on o.id = l.order_id where l.item_id = ? and o.warehouse_id = ?`,
    itemId,
    warehouseId,
  );
  const lead =
    ruleLead > 0
      ? ruleLead
      : (work.row<{ n: number }>('select lead_days as n from supplier_term where item_id = ? order by preferred desc, price limit 1', itemId)?.n ??
        0);
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
      if (level(sizing.max, 'The level to fill up to') < Math.max(1, level(sizing.min, 'The least level')))
        throw new Refusal('badLevels', 'The level to fill up to can’t be below the least level.');
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
  const warehouse = orNotFound(work.row<{ code: string }>('select code from warehouse where id = ?', input.warehouseId), 'warehouse');
  const kept = work.row<{ version: number }>('select version from planning_rule where item_id = ? and warehouse_id = ?', id, input.warehouseId);
  if (input.version !== undefined) assertSeen(kept, input.version, `How ${code} is planned in ${warehouse.code}`);
  const read = (field: 'safety' | 'minimum' | 'multiple' | 'maximum', text: string): Quantity =>
    atField(field, () => {
      const quantity = parseQuantity(text, decimals, `the ${field}`);
      if (quantity < 0) throw new Refusal('negative', `The ${field} can't be below 0.`);
      return quantity;
    });
  const [minimum, multiple] = [read('minimum', input.minimum), read('multiple', input.multiple)];
  const maximum = input.maximum === null ? null : read('maximum', input.maximum);
  if (maximum !== null && maximum < Math.max(minimum, multiple, 1))
    throw new Refusal('badLevels', 'The most of one order can’t be below its minimum or multiple.', { field: 'maximum' });
  const usable = readDecimal(input.usable);
  if (!usable || usable.mantissa <= 0n || Number(input.usable) > 1)
    throw new Refusal('badShare', `A usable share of ${input.usable} can't be: it is above 0 and at most 1.`, { field: 'usable' });
  if (input.source === 'transfer') {
    if (input.fromId === null || input.fromId === input.warehouseId)
      throw new Refusal('sameWarehouse', 'Choose another warehouse that it is transferred from.', { field: 'fromId' });
    orNotFound(work.row('select 1 from warehouse where id = ?', input.fromId), 'warehouse');
  }
  const lotSizing = atField('lotSizing', () => checkedSizing(input.lotSizing, decimals));
  work.run(
    `insert into planning_rule (item_id, warehouse_id, source, from_id, lead_days, safety, safety_by, lot_sizing, minimum, multiple, maximum, usable, fence_days, slack_days, demand, consume_back, consume_forward, follows)
       values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
     on conflict (item_id, warehouse_id) do update set source = excluded.source, from_id = excluded.from_id, lead_days = excluded.lead_days, safety = excluded.safety,
       safety_by = excluded.safety_by, lot_sizing = excluded.lot_sizing, minimum = excluded.minimum, multiple = excluded.multiple, maximum = excluded.maximum, usable = excluded.usable,
       fence_days = excluded.fence_days, slack_days = excluded.slack_days, demand = excluded.demand, consume_back = excluded.consume_back,
       consume_forward = excluded.consume_forward, follows = excluded.follows, version = version + 1`,
    id,
    input.warehouseId,
    input.source,
    input.source === 'transfer' ? input.fromId : null,
    input.leadDays,
    safetyOf(work, id, input, read, decimals),
    JSON.stringify(input.safetyBy),
    JSON.stringify(lotSizing),
    minimum,
    multiple,
    maximum,
    input.usable,
    input.fenceDays,
    input.slackDays,
    input.demand,
    input.consumeBack,
    input.consumeForward,
    JSON.stringify(input.follows),
  );
  work.record('item', id, `set how ${code} is planned in ${warehouse.code}`);
}

/** Sets how an item is planned in a warehouse; where that comes from is its own then and follows no group. */
export function setOwnRule(work: Work, id: number, input: Input): void {
  keepRule(work, id, input);
  const follows = JSON.parse(work.row<{ follows: string }>('select follows from item where id = ?', id)?.follows ?? '[]') as Given[];
  if (follows.includes('planning'))
    work.run('update item set follows = ? where id = ?', JSON.stringify(follows.filter((each) => each !== 'planning')), id);
}
