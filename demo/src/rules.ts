/** How items of the demo company are planned besides lot for lot, so that every way of planning is there to look at. */
import { ruleInput, type BodyIn, type BodyOf, type api } from '@terrace/contract';
import { RULE_FIELDS, type RuleTexts } from '@terrace/core';

type Rule = Partial<Omit<BodyIn<typeof api.planning.setRule>, 'warehouseId' | 'fromId'>>;

const FIELD_OF: Readonly<Record<string, string>> = { lotSizing: 'sizing', safetyBy: 'safety' };

/** A rule that takes from its item and group whatever it does not say itself. */
export function followed(rule: Readonly<Record<string, unknown>>): BodyOf<typeof api.planning.setRule> {
  const said = new Set(Object.keys(rule).map((key) => FIELD_OF[key] ?? key));
  return ruleInput.parse({ ...rule, follows: RULE_FIELDS.filter((field) => field === 'slackDays' || !said.has(field)) });
}

/** In WORKS. */
export const WORKS_RULES: Readonly<Record<string, Rule>> = {
  SCREW: { lotSizing: { kind: 'reorderPoint', point: '2000', quantity: '5000' } },
  NAIL: { lotSizing: { kind: 'minMax', min: '2000', max: '10000' } },
  FRAME: { lotSizing: { kind: 'period', days: 5 } },
  BARSET: { lotSizing: { kind: 'period', days: 5 } },
  CARTON: { lotSizing: { kind: 'fixed', quantity: '50' } },
  SMOKER: { lotSizing: { kind: 'leastCost', orderCost: '25', holdingPerUnitDay: '0.02' } },
  GLOVES: { safetyBy: { by: 'service', level: '0.95' } },
  HIVETOOL: { safetyBy: { by: 'days', days: 10 } },
  WAXSHEET: { usable: '0.97' },
  DRUM: { maximum: '4' },
  PAINTSET: { multiple: '6' },
};

/** What items say for all their rules: a few days more or less of cheap small parts are not worth a call. */
export const ITEM_PLANNING: Readonly<Record<string, RuleTexts>> = { SCREW: { slackDays: '5' }, NAIL: { slackDays: '5' } };

/** In DEPOT, where most things are brought over from WORKS. */
export const DEPOT_RULES: Readonly<Record<string, Rule>> = {
  'JAR-500': { source: 'transfer', leadDays: 2, lotSizing: { kind: 'period', days: 10 }, multiple: '72' },
  'SUIT-M': { source: 'transfer', leadDays: 2 },
  GLOVES: { source: 'transfer', leadDays: 2, lotSizing: { kind: 'minMax', min: '5', max: '25' } },
};

/** Two people each thought that the other warehouse buys these: the plan lists it as a loop. */
export const EACH_FROM_THE_OTHER = { item: 'LID-63', ways: [['WORKS', 'DEPOT'] as const, ['DEPOT', 'WORKS'] as const] };
