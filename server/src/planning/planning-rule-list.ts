/** Every planning rule there is, in one list. */
import type { AnswerOf, ListQuery, api } from '@terrace/contract';
import type { RuleField, RuleOrigin } from '@terrace/core';
import { eq, sql } from 'drizzle-orm';
import { alias, type SQLiteColumn } from 'drizzle-orm/sqlite-core';
import { item, warehouse } from '../catalogue';
import { asNumber, asQuantityText, asText, list, listPage, mayReferTo, refersTo, type Column } from '../platform/list';
import type { Work } from '../platform/work';
import { ruleGiven } from './inherited-rules';
import { planningRule } from './schema';

/** Days are typed as text, and compared as what they are. */
const asDays = (of: SQLiteColumn): Column => ({ type: 'number', of, written: sql`cast(${of} as text)` });

const source = alias(warehouse, 'source');

const rules = list(() => ({
  columns: {
    id: asNumber(sql`${planningRule}.rowid`),
    itemId: asNumber(item.id),
    code: asText(item.code),
    description: asText(item.description),
    unit: asText(item.unitCode),
    group: asText(item.groupCode),
    warehouseId: asNumber(warehouse.id),
    warehouse: asText(warehouse.code),
    source: asText(sql`${planningRule.source} || coalesce(' from ' || ${source.code}, '')`),
    leadDays: asDays(planningRule.leadDays),
    safety: { ...asText(sql`written_safety(${planningRule.safetyBy}, ${planningRule.safety})`), sortedBy: planningRule.safety },
    safetyStock: asQuantityText(planningRule.safety),
    sizing: asText(sql`written_sizing(${planningRule.lotSizing})`),
    minimum: asQuantityText(planningRule.minimum),
    multiple: asQuantityText(planningRule.multiple),
    maximum: { type: 'quantity', of: planningRule.maximum, written: sql`coalesce(written_quantity(${planningRule.maximum}), 'any')` },
    usable: asText(planningRule.usable),
    fenceDays: asDays(planningRule.fenceDays),
    slackDays: asDays(planningRule.slackDays),
    demand: asText(planningRule.demand),
    consumeBack: asDays(planningRule.consumeBack),
    consumeForward: asDays(planningRule.consumeForward),
    follows: { ...asText(planningRule.follows), afterwards: true },
    version: asNumber(planningRule.version),
  },
  from: planningRule,
  joins: [
    refersTo(item, eq(item.id, planningRule.itemId)),
    refersTo(warehouse, eq(warehouse.id, planningRule.warehouseId)),
    mayReferTo(source, eq(source.id, planningRule.fromId)),
  ],
  find: [item.code, item.description, item.groupCode],
  order: [item.code, warehouse.code],
  tie: [sql`${planningRule}.rowid`],
}));

type RuleRow = AnswerOf<typeof api.planning.listRules>['rows'][number];

const SHORT: Readonly<Record<RuleField, string>> = {
  leadDays: 'lead time',
  safety: 'safety stock',
  sizing: 'lot sizing',
  minimum: 'minimum order',
  multiple: 'order multiple',
  maximum: 'maximum order',
  usable: 'yield',
  fenceDays: 'time fence',
  slackDays: 'slack',
  demand: 'demand counted',
  consumeBack: 'forecast consumed back',
  consumeForward: 'forecast consumed ahead',
};

/** What is taken from further up, where somebody there says it. */
function followsWords(follows: readonly RuleField[], given: Readonly<Record<RuleField, RuleOrigin>>): string {
  const said = follows.filter((field) => given[field].from !== 'plain');
  return said.map((field) => `${SHORT[field]} ${given[field].value} (${given[field].name})`).join(', ');
}

/** Every rule there is, its figures as people type them. */
export function listRules(work: Work, asked: ListQuery): AnswerOf<typeof api.planning.listRules> {
  const { rows, total } = listPage<RuleRow>(work, rules, asked);
  const known = new Map<number, ReturnType<typeof ruleGiven>>();
  const givenOf = (itemId: number): ReturnType<typeof ruleGiven> => {
    const given = known.get(itemId) ?? ruleGiven(work, itemId);
    known.set(itemId, given);
    return given;
  };
  return {
    rows: rows.map((row) => ({ ...row, follows: followsWords(JSON.parse(row.follows) as RuleField[], givenOf(row.itemId)) })),
    total,
  };
}
