/** Figures of a planning rule in the text that people type, and back. */
import type { api } from '@terrace/contract';
import type { BodyIn } from '@terrace/contract';
import {
  PLAIN_RULE,
  Refusal,
  readDecimal,
  readSafety,
  readSizing,
  writeDecimal,
  writeSafety,
  writeSizing,
  type LotSizing,
  type RuleField,
  type RuleTexts,
  type SafetyBasis,
} from '@terrace/core';
import { demandModes, planningSources } from '@terrace/contract';
import { warehouseIdOf } from '../catalogue';
import { atField } from '../platform/fields';
import { orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';

type Input = BodyIn<typeof api.planning.setRule>;

/** A rule's figures as they are kept, quantities written. */
export interface RuleFigures {
  readonly leadDays: number;
  readonly safety: string;
  readonly safetyBy: SafetyBasis;
  readonly lotSizing: LotSizing;
  readonly minimum: string;
  readonly multiple: string;
  readonly maximum: string | null;
  readonly usable: string;
  readonly fenceDays: number;
  readonly slackDays: number;
  readonly demand: string;
  readonly consumeBack: number;
  readonly consumeForward: number;
}

export function textsOf(rule: RuleFigures): Record<RuleField, string> {
  return {
    leadDays: String(rule.leadDays),
    safety: writeSafety(rule.safetyBy, rule.safety),
    sizing: writeSizing(rule.lotSizing),
    minimum: rule.minimum,
    multiple: rule.multiple,
    maximum: rule.maximum ?? 'any',
    usable: rule.usable,
    fenceDays: String(rule.fenceDays),
    slackDays: String(rule.slackDays),
    demand: rule.demand,
    consumeBack: String(rule.consumeBack),
    consumeForward: String(rule.consumeForward),
  };
}

const MOST_DAYS: Readonly<Partial<Record<RuleField, number>>> = {
  leadDays: 730,
  slackDays: 60,
  fenceDays: 400,
  consumeBack: 400,
  consumeForward: 400,
};

function readFigure(field: RuleField, text: string): Partial<Input> {
  switch (field) {
    case 'safety': {
      const { basis, quantity } = readSafety(text);
      return { safetyBy: basis, safety: decimal(quantity) };
    }
    case 'sizing':
      return { lotSizing: readSizing(text) };
    case 'maximum':
      return { maximum: text === 'any' ? null : decimal(text) };
    case 'minimum':
    case 'multiple':
    case 'usable':
      return { [field]: decimal(text) };
    case 'demand': {
      const demand = demandModes.find((each) => each === text);
      if (!demand) throw new Refusal('unknownWord', `"${text}" is none of ${demandModes.join(', ')}.`);
      return { demand };
    }
    default: {
      const most = MOST_DAYS[field] ?? 0;
      if (!/^\d{1,3}$/.test(text) || Number(text) > most)
        throw new Refusal('badDays', `"${text}" can't be: a whole number of days, ${most} at most.`);
      return { [field]: Number(text) };
    }
  }
}

/** A decimal in its shortest form. */
function decimal(text: string): string {
  const value = readDecimal(text);
  if (!value || value.mantissa < 0n) throw new Refusal('notANumber', `"${text}" is no figure from 0 on.`);
  return writeDecimal(value.mantissa, value.scale);
}

/** What texts say of a rule. Refuses what a field can't hold, by its name after `prefix`. */
export function inputOf(texts: RuleTexts, prefix = ''): Partial<Input> {
  const entries = Object.entries(texts) as [RuleField, string][];
  return Object.assign({}, ...entries.map(([field, text]) => atField(`${prefix}${field}`, () => readFigure(field, text.trim())))) as Partial<Input>;
}

/** Texts in the one form that each has, so that what says the same is the same. Refuses like {@link inputOf}. */
export function plainTexts(texts: RuleTexts, prefix = ''): RuleTexts {
  const written = textsOf(inputOf({ ...PLAIN_RULE, ...texts }, prefix) as RuleFigures);
  return Object.fromEntries(Object.keys(texts).map((field) => [field, written[field as RuleField]]));
}

/** Reads where an item comes from: buy, make, none, or "transfer from DEPOT". */
export function readSource(work: Work, text: string): Pick<Input, 'source' | 'fromId'> {
  const [, code] = /^transfer from (\S+)$/.exec(text) ?? [];
  if (code !== undefined)
    return {
      source: 'transfer',
      fromId: orNotFound(warehouseIdOf(work, code), `warehouse ${code}`),
    };
  const source = planningSources.find((each) => each === text && each !== 'transfer');
  if (!source) throw new Refusal('unknownWord', `"${text}" is no source: write buy, make, none, or "transfer from" and a warehouse.`);
  return { source, fromId: null };
}
