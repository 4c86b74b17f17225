/** What a planning rule takes where nothing else is typed: from the item, else the nearest group that says it. */
import { Refusal, readDecimal, writeDecimal } from '../base';
import type { LotSizing } from '../planning';

/** Figures of a planning rule that an item or group may give, in the text that people type. */
export const RULE_FIELDS = [
  'leadDays',
  'safety',
  'sizing',
  'minimum',
  'multiple',
  'maximum',
  'usable',
  'fenceDays',
  'slackDays',
  'demand',
  'consumeBack',
  'consumeForward',
] as const;
export type RuleField = (typeof RULE_FIELDS)[number];
export type RuleTexts = Readonly<Partial<Record<RuleField, string>>>;

/** How a safety stock is found. */
export type SafetyBasis =
  | { readonly by: 'quantity' }
  /** Days of average demand. */
  | { readonly by: 'days'; readonly days: number }
  /** A share served from stock, as a decimal between 0.5 and 1. */
  | { readonly by: 'service'; readonly level: string };

/** What holds where nobody says anything. */
export const PLAIN_RULE: Readonly<Record<RuleField, string>> = {
  leadDays: '0',
  safety: '0',
  sizing: 'lot-for-lot',
  minimum: '0',
  multiple: '0',
  maximum: 'any',
  usable: '1',
  fenceDays: '0',
  slackDays: '2',
  demand: 'orders',
  consumeBack: '0',
  consumeForward: '0',
};

export interface RuleOrigin {
  readonly value: string;
  readonly from: 'item' | 'group' | 'plain';
  /** Code of the item or group that says it. */
  readonly name: string;
}

interface Says {
  readonly code: string;
  readonly planning?: RuleTexts;
}

/** What an item's rules are given; `groups` from its own group up. */
export function ruleGivenBy(item: Says, groups: readonly Says[]): Readonly<Record<RuleField, RuleOrigin>> {
  const originOf = (field: RuleField): RuleOrigin => {
    const own = item.planning?.[field];
    if (own !== undefined) return { value: own, from: 'item', name: item.code };
    for (const group of groups) {
      const value = group.planning?.[field];
      if (value !== undefined) return { value, from: 'group', name: group.code };
    }
    return { value: PLAIN_RULE[field], from: 'plain', name: '' };
  };
  return Object.fromEntries(RULE_FIELDS.map((field) => [field, originOf(field)])) as Record<RuleField, RuleOrigin>;
}

const FIGURE = '(\\d+(?:\\.\\d+)?)';
/** As it was written before, too: texts that are kept may say so. */
const LOT_FOR_LOT = /^(?:lot[- ]for[- ]lot|(?:what is )?missing)$/i;
const EACH_TIME = new RegExp(`^${FIGURE} each time$`);
const DAYS = /^(\d{1,3}) days?$/;
const BELOW = new RegExp(`^${FIGURE} below ${FIGURE}$`);
const UP_TO = new RegExp(`^up to ${FIGURE} below ${FIGURE}$`);
const CHEAPEST = new RegExp(`^cheapest at ${FIGURE} an order and ${FIGURE} a day$`);
const SERVED = /^(\d{1,2}(?:\.\d+)?) ?% served$/;

/** Reads how orders are sized, as {@link writeSizing} writes it. Refuses `badSizing`. */
export function readSizing(text: string): LotSizing {
  const [, each] = EACH_TIME.exec(text) ?? [];
  if (each !== undefined) return { kind: 'fixed', quantity: each };
  const [, days] = DAYS.exec(text) ?? [];
  if (days !== undefined && Number(days) > 0) return { kind: 'period', days: Number(days) };
  const [, quantity, point] = BELOW.exec(text) ?? [];
  if (quantity !== undefined && point !== undefined) return { kind: 'reorderPoint', quantity, point };
  const [, max, min] = UP_TO.exec(text) ?? [];
  if (max !== undefined && min !== undefined) return { kind: 'minMax', min, max };
  const [, orderCost, holdingPerUnitDay] = CHEAPEST.exec(text) ?? [];
  if (orderCost !== undefined && holdingPerUnitDay !== undefined) return { kind: 'leastCost', orderCost, holdingPerUnitDay };
  if (LOT_FOR_LOT.test(text)) return { kind: 'lotForLot' };
  throw new Refusal(
    'badSizing',
    `"${text}" is no way to size orders: write "lot-for-lot", "200 each time", "5 days", "50 below 20", "up to 100 below 20" or "cheapest at 25 an order and 0.01 a day".`,
  );
}

export function writeSizing(sizing: LotSizing): string {
  switch (sizing.kind) {
    case 'lotForLot':
      return 'lot-for-lot';
    case 'fixed':
      return `${sizing.quantity} each time`;
    case 'period':
      return `${sizing.days} days`;
    case 'reorderPoint':
      return `${sizing.quantity} below ${sizing.point}`;
    case 'minMax':
      return `up to ${sizing.max} below ${sizing.min}`;
    case 'leastCost':
      return `cheapest at ${sizing.orderCost} an order and ${sizing.holdingPerUnitDay} a day`;
  }
}

/** Reads a safety stock: a quantity, "10 days" of demand, or "95 % served" from stock. The quantity itself is not checked. */
export function readSafety(text: string): { readonly basis: SafetyBasis; readonly quantity: string } {
  const [, days] = DAYS.exec(text) ?? [];
  if (days !== undefined) return { basis: { by: 'days', days: Number(days) }, quantity: '0' };
  const [, percent] = SERVED.exec(text) ?? [];
  const share = percent === undefined ? null : readDecimal(percent);
  if (share) return { basis: { by: 'service', level: writeDecimal(share.mantissa, share.scale + 2) }, quantity: '0' };
  if (readDecimal(text) === null)
    throw new Refusal('badSafety', `"${text}" is no safety stock: write a quantity, "10 days" of demand, or "95 % served" from stock.`);
  return { basis: { by: 'quantity' }, quantity: text };
}

export function writeSafety(basis: SafetyBasis, quantity: string): string {
  if (basis.by === 'days') return `${basis.days} days`;
  if (basis.by === 'quantity') return quantity;
  const level = readDecimal(basis.level);
  // A percent is a hundredth: two places are shifted.
  return level ? `${writeDecimal(level.mantissa * 100n, level.scale)} % served` : quantity;
}
