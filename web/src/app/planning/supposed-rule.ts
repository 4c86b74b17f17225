/** Another rule, as it is typed to be supposed: what of it differs from the one that holds, and how that is said. */
import type { LotSizing, PlanningRule, RuleChange, UNSAID_RULE } from '@terrace/core';
import { grouped } from '../ui/format';
import { sizingWords } from '../ui/sizing-field';

/** A rule as it is typed. */
export interface RuleDraft {
  readonly source: PlanningRule['source'];
  readonly from: string | null;
  readonly leadDays: string;
  readonly safety: string;
  readonly lotSizing: LotSizing;
  readonly minimum: string;
  readonly multiple: string;
  readonly maximum: string;
}

export function draftOf({ source, from, leadDays, safety, lotSizing, minimum, multiple, maximum }: typeof UNSAID_RULE): RuleDraft {
  return { source, from: from ?? null, leadDays: String(leadDays), safety, lotSizing, minimum, multiple, maximum: maximum ?? '' };
}

function ruleOf({ leadDays, safety, minimum, multiple, maximum, ...rest }: RuleDraft) {
  return {
    ...rest,
    leadDays: Math.max(0, Math.round(Number(leadDays) || 0)),
    safety: safety || '0',
    minimum: minimum || '0',
    multiple: multiple || '0',
    maximum: maximum === '' ? null : maximum,
  };
}

/** What of a rule is to be different from the one that holds; all that was typed where none does. */
export function changeOf(known: PlanningRule | null, draft: RuleDraft): RuleChange {
  const rule = ruleOf(draft);
  const before = known && ruleOf(draftOf(known));
  const differs = (Object.keys(rule) as (keyof typeof rule)[]).filter((key) => !before || JSON.stringify(rule[key]) !== JSON.stringify(before[key]));
  return Object.fromEntries(differs.map((key) => [key, rule[key]]));
}

/** A changed rule in a few words. */
export function changeWords(change: RuleChange): string {
  const words: string[] = [];
  if (change.source !== undefined) words.push(change.source === 'transfer' ? `transferred from ${change.from ?? ''}` : `source ${change.source}`);
  if (change.leadDays !== undefined) words.push(`lead time ${change.leadDays} days`);
  if (change.safety !== undefined) words.push(`safety stock ${grouped(change.safety)}`);
  if (change.lotSizing !== undefined) words.push(sizingWords(change.lotSizing) || 'lot-for-lot');
  if (change.minimum !== undefined) words.push(`at least ${grouped(change.minimum)}`);
  if (change.multiple !== undefined) words.push(`by ${grouped(change.multiple)}`);
  if (change.maximum !== undefined) words.push(change.maximum === null ? 'orders of any size' : `at most ${grouped(change.maximum)}`);
  return words.join(', ');
}
