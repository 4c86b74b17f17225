/** The sentence that says why a suggestion is made, in the figures that it follows from. */
import { dateOf, dayWords, divideUp, readDay, readDecimal, toScale, writeDecimal } from '../base';
import type { PlanningRule, Reason, Suggestion } from './problem';

const VERB = { buy: 'Buy', make: 'Make', transfer: 'Transfer' } as const;
const NAMED = 3;

/** What is known of the item besides: what one of it is called, how fine it is kept, and the rule that it is planned by. */
export interface Explained {
  readonly unit: string;
  readonly decimals: number;
  readonly rule: PlanningRule | null;
}

const days = (count: number): string => `${count} ${count === 1 ? 'day' : 'days'}`;

/** A demand as people call it; the name of a forecast ends with the day from which it is. */
function named(demand: string): string {
  const [, day = ''] = /^forecast .*\/(\d{4}-\d{2}-\d{2})$/.exec(demand) ?? [];
  const from = readDay(day);
  return from === null ? demand : `the forecast from ${dayWords(dateOf(from))}`;
}

/** How what the lot sizing asks for came about. */
function sizingWords({ lotSizing }: PlanningRule): string {
  switch (lotSizing.kind) {
    case 'lotForLot':
      return 'lot-for-lot';
    case 'fixed':
    case 'reorderPoint':
      return `in lots of ${lotSizing.quantity}`;
    case 'period':
      return `for ${lotSizing.days} working ${lotSizing.days === 1 ? 'day' : 'days'} together`;
    case 'minMax':
      return `to fill up to ${lotSizing.max}`;
    case 'leastCost':
      return 'with what is cheapest to order along';
  }
}

/** From what is missing to what is ordered, each step with its figure; nothing where they are the same. */
function roundingSteps({ quantity }: Suggestion, { missing, sized }: Reason, { rule, decimals }: Explained): string[] {
  if (!rule) return [];
  const units = (text: string): bigint => {
    const value = readDecimal(text);
    return (value && toScale(value, decimals)) ?? 0n;
  };
  const steps: string[] = [];
  const step = (from: bigint, to: bigint, how: string): bigint => {
    if (to !== from) steps.push(`${writeDecimal(to, decimals)} ${how}`);
    return to;
  };
  const share = readDecimal(rule.yield) ?? { mantissa: 1n, scale: 0 };
  const percent = writeDecimal(share.mantissa * 100n, share.scale);
  const [minimum, multiple] = [units(rule.minimum), units(rule.multiple)];
  const lot = step(units(missing), units(sized), sizingWords(rule));
  const gross = step(lot, divideUp(lot * 10n ** BigInt(share.scale), share.mantissa), `for a yield of ${percent} %`);
  const least = step(gross, gross < minimum ? minimum : gross, 'as the minimum order');
  const whole = step(least, multiple === 0n ? least : divideUp(least, multiple) * multiple, `in multiples of ${rule.multiple}`);
  step(whole, units(quantity), rule.maximum === null ? 'by now' : `since the maximum order is ${rule.maximum}`);
  return steps;
}

/** What keeps a suggestion from coming in time. */
function lateWords(rule: PlanningRule | null, day: string): string {
  if (rule && rule.fenceDays > rule.leadDays) return `nothing new is placed for the next ${rule.fenceDays} working days`;
  if (rule && rule.leadDays > 0) return `${rule.leadDays} working ${rule.leadDays === 1 ? 'day' : 'days'} of lead time do not fit before ${day}`;
  return `${day} is no working day, or has passed`;
}

/**
 * A few sentences with figures in the item's base unit.
 * @example "On 5 Mar 28 m would be missing, below the safety stock of 10 m. For CO-9/1 (28). Buy 48 m: 38 → 48 in multiples of 12. To be placed by 3 Mar."
 */
export function explainSuggestion(suggestion: Suggestion, reason: Reason, item: Explained): string {
  const { unit, rule } = item;
  const { kind, quantity, neededBy, placeBy, daysLate, pegs } = suggestion;
  const [day, short] = [dayWords(neededBy), reason.balance.startsWith('-')];
  const balance = reason.balance.replace(/^-/, '');
  const kept =
    reason.threshold === '0'
      ? ''
      : short
        ? `, below the safety stock of ${reason.threshold} ${unit}`
        : `, below the safety stock of ${reason.threshold}`;
  const parts = [`On ${day} ${balance} ${unit} would be ${short ? 'missing' : 'left'}${kept}.`];
  const served = pegs.filter((peg) => peg.demand !== 'safety');
  if (served.length > 0) {
    const first = served.slice(0, NAMED).map((peg) => `${named(peg.demand)} (${peg.quantity})`);
    parts.push(`For ${first.join(', ')}${served.length > NAMED ? ` and ${served.length - NAMED} more` : ''}.`);
  }
  const steps = [reason.missing, ...roundingSteps(suggestion, reason, item)];
  parts.push(`${VERB[kind]} ${quantity} ${unit}${steps.length === 1 ? '' : `: ${steps.join(' → ')}`}. To be placed by ${dayWords(placeBy)}.`);
  if (daysLate > 0) parts.push(`It comes ${days(daysLate)} late: ${lateWords(rule, day)}.`);
  return parts.join(' ');
}
