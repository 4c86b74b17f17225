/** A planning rule as it is typed: from what is kept to the fields, and from the fields to what is sent. */
import { type api, demandModes, type planningSources, type BodyIn, type ItemView } from '@terrace/contract';
import { PLAIN_RULE, readSafety, readSizing, type RuleField } from '@terrace/core';
import { grouped } from '../ui/format';
import { sizingWords } from '../ui/sizing-field';

type Source = (typeof planningSources)[number];
export type Rule = ItemView['rules'][number];
type Safety = Rule['safetyBy'];

/** A planning rule as it is typed. */
export interface RuleDraft {
  readonly warehouseId: number;
  readonly source: Source;
  readonly fromId: number | null;
  readonly leadDays: string;
  readonly safety: string;
  readonly safetyBy: Safety['by'];
  readonly safetyDays: string;
  readonly safetyLevel: string;
  readonly lotSizing: Rule['lotSizing'];
  readonly minimum: string;
  readonly multiple: string;
  readonly maximum: string;
  readonly usable: string;
  readonly fenceDays: string;
  readonly slackDays: string;
  readonly demand: (typeof demandModes)[number];
  readonly consumeBack: string;
  readonly consumeForward: string;
  readonly follows: readonly RuleField[];
  readonly version?: number;
}

const { leadDays, safety, minimum, multiple, usable, fenceDays, slackDays, consumeBack, consumeForward } = PLAIN_RULE;

/** A rule as it is before anything is said of it. */
export const EMPTY: RuleDraft = {
  warehouseId: 0,
  source: 'buy',
  fromId: null,
  leadDays,
  safety,
  safetyBy: 'quantity',
  safetyDays: '10',
  safetyLevel: '0.95',
  lotSizing: { kind: 'lotForLot' },
  minimum,
  multiple,
  maximum: '',
  usable,
  fenceDays,
  slackDays,
  demand: 'orders',
  consumeBack,
  consumeForward,
  follows: [],
};

function basisOf({ safetyBy, safetyDays, safetyLevel }: RuleDraft): Safety {
  switch (safetyBy) {
    case 'quantity':
      return { by: 'quantity' };
    case 'days':
      return { by: 'days', days: Number(safetyDays || '0') };
    case 'service':
      return { by: 'service', level: safetyLevel };
  }
}

/** What stands in the fields of the basis of a safety stock. */
function fieldsOf(basis: Safety): Pick<RuleDraft, 'safetyBy' | 'safetyDays' | 'safetyLevel'> {
  return {
    safetyBy: basis.by,
    safetyDays: basis.by === 'days' ? String(basis.days) : EMPTY.safetyDays,
    safetyLevel: basis.by === 'service' ? basis.level : EMPTY.safetyLevel,
  };
}

/** What is sent of it. */
export function bodyOf(draft: RuleDraft): BodyIn<typeof api.planning.setRule> {
  const { version, maximum, fromId, follows, safetyDays: _days, safetyLevel: _level, ...rest } = draft;
  const whole = (text: string): number => Number(text || '0');
  return {
    ...rest,
    follows: [...follows],
    ...(version === undefined ? {} : { version }),
    safetyBy: basisOf(draft),
    fromId: draft.source === 'transfer' && fromId !== null && fromId > 0 ? fromId : null,
    maximum: maximum === '' ? null : maximum,
    leadDays: whole(draft.leadDays),
    slackDays: whole(draft.slackDays),
    fenceDays: whole(draft.fenceDays),
    consumeBack: whole(draft.consumeBack),
    consumeForward: whole(draft.consumeForward),
    safety: draft.safety || '0',
    minimum: draft.minimum || '0',
    multiple: draft.multiple || '0',
  };
}

/** Where a place of what is sent stands in the fields. */
export function placeOf(place: string): string {
  if (place === 'safetyBy.days') return 'safetyDays';
  if (place === 'safetyBy.level') return 'safetyLevel';
  return place.startsWith('lotSizing.') ? 'lotSizing' : place;
}

/** What stands in the fields of a rule that is kept. */
export function draftOf({ safetyBy, ...rule }: Rule): RuleDraft {
  return {
    ...rule,
    ...fieldsOf(safetyBy),
    leadDays: String(rule.leadDays),
    slackDays: String(rule.slackDays),
    fenceDays: String(rule.fenceDays),
    consumeBack: String(rule.consumeBack),
    consumeForward: String(rule.consumeForward),
    maximum: rule.maximum ?? '',
  };
}

/** What stands in the fields where a figure is said here from now on, beginning with what the item or its group gives. */
export function saidAs(field: RuleField, given: string): Partial<RuleDraft> {
  if (field === 'sizing') return { lotSizing: readSizing(given) };
  if (field === 'demand') return { demand: demandModes.find((each) => each === given) ?? 'orders' };
  if (field === 'safety') {
    const { basis, quantity } = readSafety(given);
    return { ...fieldsOf(basis), safety: quantity };
  }
  return { [field]: given === 'any' ? '' : given };
}

/** How a rule sizes its orders, in a few words. */
export function sizingOf(rule: Rule): string {
  const parts = [sizingWords(rule.lotSizing)].filter((each) => each !== '');
  if (rule.minimum !== '0') parts.push(`at least ${grouped(rule.minimum)}`);
  if (rule.multiple !== '0') parts.push(`by ${grouped(rule.multiple)}`);
  if (rule.maximum !== null) parts.push(`at most ${grouped(rule.maximum)}`);
  return parts.join(', ') || 'lot-for-lot';
}
