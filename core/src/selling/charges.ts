/** Charges by rule: freight, handling and the like, from what an order weighs or is worth. */
import { writeAmount, writePrice, type Amount, type UnitPrice } from '../base';

/** What a charge goes by. */
export const chargeBases = ['weight', 'value'] as const;
export type ChargeBasis = (typeof chargeBases)[number];

export interface ChargeStep {
  /** From so much on: grams, or minor units of the books' currency. */
  readonly from: number;
  /** What is charged then, in the books' currency; 0 for nothing. */
  readonly price: UnitPrice;
}

export interface ChargeRule {
  readonly id: number;
  /** The item of kind charge that it adds. */
  readonly itemId: number;
  readonly by: ChargeBasis;
  /** By whom the order must go; empty for anybody. */
  readonly carrier: string;
  readonly steps: readonly ChargeStep[];
}

/** What of an order charges go by. */
export interface Chargeable {
  /** What its goods weigh, in grams. */
  readonly weight: number;
  /** What its goods are worth without tax, in the books' currency. */
  readonly value: Amount;
  readonly carrier: string;
}

export interface RuledCharge {
  readonly itemId: number;
  /** In the books' currency. */
  readonly price: UnitPrice;
  /** Why, in a sentence. */
  readonly words: string;
}

/** Grams as kilograms, in the shortest form: `12.5`. */
export function writeKilograms(grams: number): string {
  return String(grams / 1000);
}

/**
 * What an order is charged by rule: of the rules for an item the one for its carrier before one for anybody, then the first; of
 * its steps the highest that the order reaches. A step of 0, or none reached, charges nothing.
 *
 * @param rules steps in any order
 * @example chargesFor([{ itemId: 9, by: 'weight', carrier: '', steps: [{ from: 0, price: 6_900_000 }, { from: 5000, price: 9_900_000 }], … }], { weight: 7200, … })
 * // [{ itemId: 9, price: 9_900_000, words: 'By weight: 7.2 kg, from 5 kg on 9.90.' }]
 */
export function chargesFor(rules: readonly ChargeRule[], order: Chargeable): RuledCharge[] {
  const apt = rules.filter(({ carrier }) => carrier === '' || carrier === order.carrier);
  const items = [...new Set(apt.map(({ itemId }) => itemId))];
  return items.flatMap((itemId) => {
    const [rule] = apt.filter((each) => each.itemId === itemId).sort((a, b) => Number(a.carrier === '') - Number(b.carrier === '') || a.id - b.id);
    const measure = rule?.by === 'weight' ? order.weight : order.value;
    const step = rule?.steps.filter(({ from }) => from <= measure).sort((a, b) => b.from - a.from)[0];
    if (!rule || !step || step.price === 0) return [];
    return [{ itemId, price: step.price, words: wordsOf(rule, step, order) }];
  });
}

function wordsOf({ by, carrier }: ChargeRule, { from, price }: ChargeStep, order: Chargeable): string {
  const [is, reached] =
    by === 'weight' ? [`${writeKilograms(order.weight)} kg`, `${writeKilograms(from)} kg`] : [writeAmount(order.value), writeAmount(from)];
  const whom = carrier === '' ? '' : `, with ${carrier}`;
  return `By ${by}${whom}: ${is}, from ${reached} on ${writePrice(price)}.`;
}
