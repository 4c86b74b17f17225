/** The rules of the house as they are typed, and what is sent of them. */
import { readDecimal, toScale, writeAmount, writePoints } from '@terrace/core';
import type { HouseRules } from '@terrace/contract';

export type RulesDraft = Omit<
  HouseRules,
  'overDelivery' | 'underDelivery' | 'priceDifference' | 'approvedUpTo' | 'reserveDays' | 'quotesFrom' | 'remindAfter'
> & {
  /** Percent. */
  readonly overDelivery: string;
  readonly underDelivery: string;
  readonly priceDifference: string;
  /** An amount; empty where every purchase order is approved. */
  readonly approvedUpTo: string;
  readonly reserveDays: string;
  /** Percent; empty where quotes don’t count. */
  readonly quotesFrom: string;
  /** Days to each reminder. */
  readonly remindAfter: readonly string[];
};

const SCALE = 2;

/** A figure of two decimals as a whole number of its hundredths; nothing that is taken where it is none. */
function hundredths(text: string): number {
  const decimal = readDecimal(text.trim());
  const whole = decimal && toScale(decimal, SCALE);
  return whole === null ? Number.NaN : Number(whole);
}

/** A whole number as it is typed; nothing that is taken where it is none. */
const wholeOf = (text: string): number => (/^\d+$/.test(text.trim()) ? Number(text) : Number.NaN);

export function draftOf({
  overDelivery,
  underDelivery,
  priceDifference,
  approvedUpTo,
  reserveDays,
  quotesFrom,
  remindAfter,
  ...rules
}: HouseRules): RulesDraft {
  return {
    ...rules,
    overDelivery: writePoints(overDelivery),
    underDelivery: writePoints(underDelivery),
    priceDifference: writePoints(priceDifference),
    approvedUpTo: approvedUpTo === null ? '' : writeAmount(approvedUpTo),
    reserveDays: String(reserveDays),
    quotesFrom: quotesFrom === null ? '' : String(quotesFrom),
    remindAfter: remindAfter.map(String),
  };
}

export function bodyOf({
  overDelivery,
  underDelivery,
  priceDifference,
  approvedUpTo,
  reserveDays,
  ownApproval,
  reserve,
  divideBy,
  quotesFrom,
  quotesWeighted,
  remindAfter: [first = '', second = '', last = ''],
}: RulesDraft): HouseRules {
  return {
    overDelivery: hundredths(overDelivery),
    underDelivery: hundredths(underDelivery),
    priceDifference: hundredths(priceDifference),
    approvedUpTo: approvedUpTo.trim() === '' ? null : hundredths(approvedUpTo),
    ownApproval,
    reserve,
    reserveDays: Number(reserveDays),
    divideBy,
    quotesFrom: quotesFrom.trim() === '' ? null : Number(quotesFrom),
    quotesWeighted,
    remindAfter: [wholeOf(first), wholeOf(second), wholeOf(last)],
  };
}
