/** Rules that follow their item and group, and many of them changed at once. */
import type { api } from '@terrace/contract';
import { ruleInput, type BodyOf, type ItemView, type RuleColumn } from '@terrace/contract';
import { eq, sql } from 'drizzle-orm';
import { Refusal, lineage, ruleGivenBy, type RuleField, type RuleOrigin, type RuleTexts } from '@terrace/core';
import { atField, atRow } from '../platform/fields';
import { assertSeen } from '../platform/versions';
import type { Work } from '../platform/work';
import { changePlanning, groupsOf, itemOf } from '../catalogue';
import { query } from '../platform/query';
import { inputOf, plainTexts, readSource } from './planning-rule-texts';
import { keepRule, rulesOf, setOwnRule } from './planning-rules';
import { planningRule } from './schema';

type RuleView = ItemView['rules'][number];

/** What the rules of an item take where they say nothing themselves. */
export function ruleGiven(work: Work, id: number): Readonly<Record<RuleField, RuleOrigin>> {
  const { code, groupCode, planning } = itemOf(work, id);
  return ruleGivenBy({ code, planning }, lineage(groupCode, groupsOf(work)));
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
export function setRule(work: Work, id: number, input: BodyOf<typeof api.planning.setRule>): void {
  const given = ruleGiven(work, id);
  const taken = inputOf(Object.fromEntries(input.follows.map((field) => [field, given[field].value])));
  setOwnRule(work, id, ruleInput.parse({ ...input, ...taken }));
}

/** Has the rules of items take what is said further up now; those that it changes nothing of stay as they are. */
export function followRules(work: Work, ids: readonly number[]): number {
  let changed = 0;
  for (const id of ids) {
    const rules = rulesOf(work, id);
    // A new item has none, and there are files of 50,000.
    if (rules.length === 0) continue;
    const given = ruleGiven(work, id);
    for (const rule of rules) {
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
export function setItemPlanning(work: Work, id: number, input: BodyOf<typeof api.planning.setItemPlanning>): void {
  const item = itemOf(work, id);
  assertSeen(item, input.version, item.code);
  const planning = plainTexts(input.planning, 'planning.');
  changePlanning(work, id, planning);
  const changed = followRules(work, [id]);
  work.record('item', id, `set the planning defaults of ${item.code}: ${changed} follow`);
}

const byNumber = query(
  ($: { id: number }) => (db) =>
    db
      .select({ itemId: planningRule.itemId, warehouseId: planningRule.warehouseId })
      .from(planningRule)
      .where(eq(sql`${planningRule}.rowid`, $.id)),
);

/** Changes many rules: all of them or none. A refusal names the row and the field. */
export function changeRules(work: Work, changes: BodyOf<typeof api.planning.changeRules>['changes']): { changed: number } {
  changes.forEach(({ id: ruleId, version, fields }, index) => {
    atRow(`changes.${index}`, () => {
      const row = byNumber.one(work, { id: ruleId });
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
