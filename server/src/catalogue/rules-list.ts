/** Every planning rule there is, in one list. */
import type { AnswerOf, ListQuery, api } from '@terrace/contract';
import type { RuleField, RuleOrigin } from '@terrace/core';
import { asNumber, asQuantityText, asText, listPage, type Column, type ListDefinition } from '../platform/list';
import type { Work } from '../platform/work';
import { ruleGiven } from './rules-followed';

/** Days are typed as text, and compared as what they are. */
const asDays = (sql: string): Column => ({ type: 'number', sql, written: `cast(${sql} as text)` });

const LIST: ListDefinition = {
  columns: {
    id: asNumber('r.rowid'),
    itemId: asNumber('i.id'),
    code: asText('i.code'),
    description: asText('i.description'),
    unit: asText('i.unit_code'),
    group: asText('i.group_code'),
    warehouseId: asNumber('w.id'),
    warehouse: asText('w.code'),
    source: asText("r.source || coalesce(' from ' || f.code, '')"),
    leadDays: asDays('r.lead_days'),
    safety: { ...asText('written_safety(r.safety_by, r.safety)'), sortedBy: 'r.safety' },
    safetyStock: asQuantityText('r.safety'),
    sizing: asText('written_sizing(r.lot_sizing)'),
    minimum: asQuantityText('r.minimum'),
    multiple: asQuantityText('r.multiple'),
    maximum: { type: 'quantity', sql: 'r.maximum', written: "coalesce(written_quantity(r.maximum), 'any')" },
    usable: asText('r.usable'),
    fenceDays: asDays('r.fence_days'),
    slackDays: asDays('r.slack_days'),
    demand: asText('r.demand'),
    consumeBack: asDays('r.consume_back'),
    consumeForward: asDays('r.consume_forward'),
    follows: { ...asText('r.follows'), afterwards: true },
    version: asNumber('r.version'),
  },
  from: `planning_rule r join item i on i.id = r.item_id join warehouse w on w.id = r.warehouse_id left join warehouse f on f.id = r.from_id`,
  find: ['i.code', 'i.description', 'i.group_code'],
  order: 'i.code, w.code',
  tie: 'r.rowid',
};

type RuleRow = AnswerOf<typeof api.catalogue.listRules>['rows'][number];

const SHORT: Readonly<Record<RuleField, string>> = {
  leadDays: 'lead days',
  safety: 'safety',
  sizing: 'orders of',
  minimum: 'minimum',
  multiple: 'multiple',
  maximum: 'most',
  usable: 'usable',
  fenceDays: 'days without new',
  slackDays: 'days early',
  demand: 'counts',
  consumeBack: 'days back',
  consumeForward: 'days ahead',
};

/** What is taken from further up, where somebody there says it. */
function followsWords(follows: readonly RuleField[], given: Readonly<Record<RuleField, RuleOrigin>>): string {
  const said = follows.filter((field) => given[field].from !== 'plain');
  return said.map((field) => `${SHORT[field]} ${given[field].value} (${given[field].name})`).join(', ');
}

/** Every rule there is, its figures as people type them. */
export function listRules(work: Work, query: ListQuery): AnswerOf<typeof api.catalogue.listRules> {
  const { rows, total } = listPage<RuleRow>(work, LIST, query);
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
