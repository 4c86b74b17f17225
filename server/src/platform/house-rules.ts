/** What the company decided once for all documents: tolerances, approval, reservation. */
import type { HouseRules } from '@terrace/contract';
import type { Store } from './database';
import { settingOf } from './settings';

const KEY = 'houseRules';
export const HOUSE_RULES_KEY = KEY;

/** As they stand where nobody has decided otherwise. */
export const PROPOSED_RULES: HouseRules = {
  overDelivery: 500,
  underDelivery: 0,
  priceDifference: 0,
  approvedUpTo: null,
  ownApproval: true,
  reserve: 'all',
  reserveDays: 14,
  divideBy: [],
  quotesFrom: null,
  quotesWeighted: false,
  remindAfter: [7, 14, 14],
};

let last: { readonly text: string; readonly rules: HouseRules } | null = null;

export function houseRules(store: Store): HouseRules {
  const text = settingOf(store, KEY) ?? '{}';
  if (last?.text !== text) last = { text, rules: { ...PROPOSED_RULES, ...(JSON.parse(text) as Partial<HouseRules>) } };
  return last.rules;
}
