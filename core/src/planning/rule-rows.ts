/** Reads planning rules: what can be planned by, or the sentence that says what is wrong. */
import { readDecimal } from '../base';
import type { PlanningRule } from './problem';
import type { PlanItem, PlanLotSizing, PlanRule } from './input';
import { readUnits } from './units';

/** The rule ready to plan by, or the sentence that says what is wrong with it. */
export function readRule(row: PlanningRule, item: PlanItem, calendars: ReadonlyMap<string, unknown>): PlanRule | string {
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
      if (max < min || max < safety) return `The maximum level, ${sizing.max}, is below the minimum level or the safety stock.`;
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
