/** The sentence that says why a suggestion is made, in the figures that it follows from. */
import type { Reason, Suggestion } from './problem';

const VERB = { buy: 'Buy', make: 'Make', transfer: 'Transfer' } as const;

/**
 * One sentence with figures in the item's base unit.
 * @example "Balance would be 3 on 2027-03-12, 5 under the safety level of 8. Serves CO-1001/1 (5). …"
 */
export function explainSuggestion(suggestion: Suggestion, reason: Reason, unit: string): string {
  const level = reason.threshold === '0' ? 'short of what is wanted' : `under the level of ${reason.threshold} to be kept`;
  const served = suggestion.pegs.filter((peg) => peg.demand !== 'safety');
  const parts = [`Balance would be ${reason.balance} ${unit} on ${suggestion.neededBy}, ${reason.missing} ${level}.`];
  if (served.length > 0) {
    const named = served.slice(0, 3).map((peg) => `${peg.demand} (${peg.quantity})`);
    parts.push(`Serves ${named.join(', ')}${served.length > 3 ? ` and ${served.length - 3} more` : ''}.`);
  }
  const rounded = reason.sized === suggestion.quantity ? '' : ` from ${reason.missing}, rounded by its rule`;
  parts.push(`${VERB[suggestion.kind]} ${suggestion.quantity} ${unit}${rounded}, placed by ${suggestion.placeBy}.`);
  if (suggestion.daysLate > 0)
    parts.push(
      `That is ${suggestion.daysLate} ${suggestion.daysLate === 1 ? 'day' : 'days'} late: the lead time does not fit before ${suggestion.neededBy}.`,
    );
  return parts.join(' ');
}
