/** Rules that follow their item and group, and many of them changed at once. */
import type { api } from '@terrace/contract';
import { ruleInput, type AnswerOf, type BodyOf, type ItemView, type ListQuery, type RuleColumn } from '@terrace/contract';
import {
  Refusal,
  lineage,
  ruleGivenBy,
  writeQuantity,
  type LotSizing,
  type RuleField,
  type RuleOrigin,
  type RuleTexts,
  type SafetyBasis,
} from '@terrace/core';
import { asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import { assertSeen, atField, type Work } from '../platform/work';
import { groupsOf } from './groups';
import { itemOf } from './item-facts';
import { inputOf, readSource, textsOf, writeSource } from './rule-texts';
import { keepRule, rulesOf, setOwnRule } from './rules';

type RuleView = ItemView['rules'][number];

/** What the rules of an item take where they say nothing themselves. */
export function ruleGiven(work: Work, id: number): Readonly<Record<RuleField, RuleOrigin>> {
  const { code, groupCode } = itemOf(work, id);
  const { planning } = work.row<{ planning: string }>('select planning from item where id = ?', id) ?? { planning: '{}' };
  return ruleGivenBy({ code, planning: JSON.parse(planning) as RuleTexts }, lineage(groupCode, groupsOf(work)));
}

/** Keeps a rule with some figures taken from further up. */
function keep(work: Work, id: number, rule: RuleView, own: RuleTexts, follows: readonly RuleField[], more: object = {}): void {
  const given = ruleGiven(work, id);
  const taken = Object.fromEntries(follows.map((field) => [field, given[field].value]));
  const input = ruleInput.parse({ ...rule, ...inputOf({ ...own, ...taken }), ...more, follows: [...follows] });
  if (Object.keys(more).length > 0 || own.leadDays !== undefined) setOwnRule(work, id, input);
  else keepRule(work, id, input);
}

/** Sets how an item is planned in a warehouse; what follows is taken from the item or its group, whatever is said of it here. */
export function setRule(work: Work, id: number, input: BodyOf<typeof api.catalogue.setRule>): void {
  const given = ruleGiven(work, id);
  const taken = inputOf(Object.fromEntries(input.follows.map((field) => [field, given[field].value])));
  setOwnRule(work, id, ruleInput.parse({ ...input, ...taken }));
}

/** Has the rules of items take what is said further up now; those that it changes nothing of stay as they are. */
export function followRules(work: Work, ids: readonly number[]): number {
  let changed = 0;
  for (const id of ids) {
    const given = ruleGiven(work, id);
    for (const rule of rulesOf(work, id)) {
      if (rule.follows.every((field) => rule.texts[field] === given[field].value)) continue;
      try {
        keep(work, id, rule, {}, rule.follows);
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        const { code } = itemOf(work, id);
        throw new Refusal(error.code, `${code} in ${rule.warehouse} can't follow: ${error.message}`, { ...error.details, item: code });
      }
      changed += 1;
    }
  }
  return changed;
}

/** Says how an item is planned where its rules do not; they follow. */
export function setItemPlanning(work: Work, id: number, input: BodyOf<typeof api.catalogue.setItemPlanning>): void {
  const item = itemOf(work, id);
  assertSeen(item, input.version, item.code);
  inputOf(input.planning, 'planning.');
  work.run('update item set planning = ?, version = version + 1 where id = ?', JSON.stringify(input.planning), id);
  const changed = followRules(work, [id]);
  work.record('item', id, `set how ${item.code} is planned where its rules do not say: ${changed} follow`);
}

/** Changes many rules: all of them or none. A refusal names the row and the field. */
export function changeRules(work: Work, changes: BodyOf<typeof api.catalogue.changeRules>['changes']): { changed: number } {
  changes.forEach(({ id: ruleId, version, fields }, index) => {
    atRow(index, () => {
      const row = work.row<{ itemId: number; warehouseId: number }>(
        'select item_id as itemId, warehouse_id as warehouseId from planning_rule where rowid = ?',
        ruleId,
      );
      const rule = row && rulesOf(work, row.itemId).find((each) => each.warehouseId === row.warehouseId);
      if (!row || !rule) throw new Refusal('notFound', 'There is no such rule any more.');
      const { code } = itemOf(work, row.itemId);
      assertSeen(rule, version, `How ${code} is planned in ${rule.warehouse}`);
      const { source, ...figures } = fields;
      const said = Object.entries(figures) as [Exclude<RuleColumn, 'source'>, string][];
      const own: RuleTexts = Object.fromEntries(said.filter(([, text]) => text.trim() !== ''));
      const follows = new Set(rule.follows);
      for (const [field, text] of said) {
        if (text.trim() === '') follows.add(field);
        else follows.delete(field);
      }
      const from = source === undefined ? {} : atField('source', () => readSource(work, source.trim()));
      keep(work, row.itemId, rule, own, [...follows], from);
    });
  });
  return { changed: changes.length };
}

function atRow(index: number, act: () => void): void {
  try {
    act();
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    const field = typeof error.details['field'] === 'string' ? `.${error.details['field']}` : '';
    throw new Refusal(error.code, error.message, { ...error.details, field: `changes.${index}${field}` });
  }
}

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

interface Listed {
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
  readonly leadDays: number;
  readonly safety: number;
  readonly safetyBy: string;
  readonly sizing: string;
  readonly minimum: number;
  readonly multiple: number;
  readonly maximum: number | null;
  readonly usable: string;
  readonly fenceDays: number;
  readonly slackDays: number;
  readonly demand: string;
  readonly consumeBack: number;
  readonly consumeForward: number;
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
