/** Every planning rule there is, in one list. */
import type { AnswerOf, ListQuery, api } from '@terrace/contract';
import { writeQuantity, type LotSizing, type RuleField, type RuleOrigin, type SafetyBasis } from '@terrace/core';
import { asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import type { Work } from '../platform/work';
import { textsOf, writeSource, type RuleFigures } from './rule-texts';
import { ruleGiven } from './rules-followed';

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
    source: asText('r.source'),
    from: asText("coalesce(f.code, '')"),
    leadDays: asNumber('r.lead_days'),
    safety: asNumber('r.safety'),
    safetyStock: asNumber('r.safety'),
    safetyBy: asText('r.safety_by'),
    sizing: asText('r.lot_sizing'),
    minimum: asNumber('r.minimum'),
    multiple: asNumber('r.multiple'),
    maximum: asNumber('r.maximum'),
    usable: asText('r.usable'),
    fenceDays: asNumber('r.fence_days'),
    slackDays: asNumber('r.slack_days'),
    demand: asText('r.demand'),
    consumeBack: asNumber('r.consume_back'),
    consumeForward: asNumber('r.consume_forward'),
    follows: asText('r.follows'),
    version: asNumber('r.version'),
  },
  from: `planning_rule r join item i on i.id = r.item_id join warehouse w on w.id = r.warehouse_id left join warehouse f on f.id = r.from_id`,
  find: ['i.code', 'i.description', 'i.group_code'],
  order: 'i.code, w.code',
  tie: 'r.rowid',
};

/** A rule as its table keeps it, with the words for item and warehouse. */
interface Listed extends Omit<RuleFigures, 'safety' | 'safetyBy' | 'lotSizing' | 'minimum' | 'multiple' | 'maximum'> {
  readonly id: number;
  readonly itemId: number;
  readonly code: string;
  readonly description: string;
  readonly unit: string;
  readonly group: string;
  readonly warehouseId: number;
  readonly warehouse: string;
  readonly source: string;
  readonly from: string;
  readonly safety: number;
  readonly safetyBy: string;
  readonly sizing: string;
  readonly minimum: number;
  readonly multiple: number;
  readonly maximum: number | null;
  readonly follows: string;
  readonly version: number;
}

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
  const { rows, total } = listPage<Listed>(work, LIST, query);
  const known = new Map<number, ReturnType<typeof ruleGiven>>();
  const givenOf = (itemId: number): ReturnType<typeof ruleGiven> => {
    const given = known.get(itemId) ?? ruleGiven(work, itemId);
    known.set(itemId, given);
    return given;
  };
  return {
    rows: rows.map((row) => {
      const { id, itemId, code, description, unit, group, warehouseId, warehouse, version } = row;
      const texts = textsOf({
        ...row,
        safety: writeQuantity(row.safety),
        safetyBy: JSON.parse(row.safetyBy) as SafetyBasis,
        lotSizing: JSON.parse(row.sizing) as LotSizing,
        minimum: writeQuantity(row.minimum),
        multiple: writeQuantity(row.multiple),
        maximum: row.maximum === null ? null : writeQuantity(row.maximum),
      });
      return {
        ...{ id, itemId, code, description, unit, group, warehouseId, warehouse, version },
        ...texts,
        source: writeSource(row.source, row.from),
        safetyStock: writeQuantity(row.safety),
        follows: followsWords(JSON.parse(row.follows) as RuleField[], givenOf(itemId)),
      };
    }),
    total,
  };
}
