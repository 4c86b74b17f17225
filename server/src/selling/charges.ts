/** Charges by rule: freight, handling and the like, kept as rules and added to orders as lines of their own. */
import { and, eq } from 'drizzle-orm';
import type { BodyOf, ChargeRuleView, api } from '@terrace/contract';
import {
  Refusal,
  amountOfLine,
  amountToBooks,
  asAmount,
  asQuantity,
  askedIn,
  chargesFor,
  parseAmount,
  parseAskedPrice,
  parseQuantity,
  type ChargeRule,
  type Rate,
} from '@terrace/core';
import { booksCurrency, item, itemFacts, weightOf } from '../catalogue';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { addRow, changeRow, fetching } from '../platform/rows';
import { assertSeen } from '../platform/versions';
import type { Work } from '../platform/work';
import type { EnteredLine } from './order-lines';
import type { LineRecord } from './order-view';
import { chargeRule } from './price-schema';

type Input = BodyOf<typeof api.selling.addChargeRule>;

const rules = query(
  () => (db) =>
    db
      .select({ rule: chargeRule, code: item.code, description: item.description })
      .from(chargeRule)
      .innerJoin(item, eq(item.id, chargeRule.itemId))
      .orderBy(item.code, chargeRule.carrier, chargeRule.id),
);
const rulesInUse = query(
  () => (db) =>
    db
      .select({ rule: chargeRule })
      .from(chargeRule)
      .innerJoin(item, eq(item.id, chargeRule.itemId))
      .where(and(eq(chargeRule.active, true), eq(item.active, true)))
      .orderBy(item.code, chargeRule.id),
);
const ruleOf = fetching(chargeRule, 'rule of charges');

/** All rules, by their charges. */
export function chargeRules(work: Work): ChargeRuleView[] {
  return rules.all(work).map(({ rule, code, description }) => ({ ...rule, code, description }));
}

const GRAMS = 3;
/** A step in the measures that rules are computed in. Refuses `negative` and what is no figure. */
function readStep(by: Input['by'], { from, price }: Input['steps'][number], at: number): ChargeRule['steps'][number] {
  const start = atField(`steps.${at}.from`, () => {
    const read = by === 'weight' ? parseQuantity(from, GRAMS, 'the weight') / 100 : parseAmount(from, 'the value');
    if (read < 0) throw new Refusal('negative', 'A charge begins at 0 or above.');
    return read;
  });
  return { from: start, price: atField(`steps.${at}.price`, () => parseAskedPrice(price, 'the charge')) };
}

function valuesOf(work: Work, { itemId, by, carrier, steps, active }: Input) {
  const { kind, code } = itemFacts(work, itemId);
  if (kind !== 'charge') throw new Refusal('notACharge', `${code} is no charge: choose an item of that kind.`, { field: 'itemId' });
  const read = steps.map((step, at) => readStep(by, step, at));
  const twice = read.findIndex(({ from }, at) => read.findIndex((each) => each.from === from) < at);
  if (twice >= 0) throw new Refusal('twice', `${steps[twice]?.from ?? ''} is there twice: give one charge for it.`, { field: `steps.${twice}.from` });
  const order = read.map((_, at) => at).sort((a, b) => (read[a]?.from ?? 0) - (read[b]?.from ?? 0));
  return { itemId, by, carrier, active, steps: order.flatMap((at) => steps[at] ?? []) };
}

const viewOf = (work: Work, id: number): ChargeRuleView => {
  const kept = ruleOf(work, id);
  const { code, description } = itemFacts(work, kept.itemId);
  return { ...kept, code, description };
};

/** Has something charged by rule. Refuses `notACharge`, `twice`. */
export function addChargeRule(work: Work, input: Input): ChargeRuleView {
  const id = addRow(work, chargeRule, valuesOf(work, input));
  work.record('setup', id, `has ${viewOf(work, id).code} charged by ${input.by}`);
  return viewOf(work, id);
}

/** Changes a rule; orders that are confirmed keep what they have. Refuses `notACharge`, `twice`, `staleVersion`. */
export function changeChargeRule(work: Work, id: number, { version, ...input }: Input & { version: number }): ChargeRuleView {
  const kept = ruleOf(work, id);
  const { code } = itemFacts(work, kept.itemId);
  assertSeen(kept, version, `The rule for ${code}`);
  changeRow(work, chargeRule, id, valuesOf(work, input));
  work.record('setup', id, `changed how ${code} is charged`);
  return viewOf(work, id);
}

/** What of an order its charges go by, besides its lines. */
interface Charging {
  readonly charges: boolean;
  readonly carrier: string;
  readonly currency: string;
  readonly rate: Rate;
  readonly requiredDate: string;
}

/**
 * The lines of an order with what is charged by rule: what a rule added before is worked out anew, and a charge that somebody
 * typed takes the place of the rule's.
 */
export function withCharges(work: Work, order: Charging, lines: readonly EnteredLine[], before: readonly LineRecord[] = []): EnteredLine[] {
  const typed = lines.filter(({ byRule }) => !byRule);
  if (!order.charges) return typed;
  const inUse = rulesInUse.all(work).map(({ rule }) => ({ ...rule, steps: rule.steps.map((step, at) => readStep(rule.by, step, at)) }));
  const open = inUse.filter(({ itemId }) => !typed.some((line) => line.itemId === itemId));
  if (open.length === 0) return typed;
  const goods = typed.filter(({ itemId }) => itemFacts(work, itemId).kind !== 'charge');
  if (goods.length === 0) return typed;
  const worth = goods.reduce((sum, line) => sum + amountOfLine({ ...line, quantity: asQuantity(line.quantity - line.free) }), 0);
  const charges = chargesFor(open, {
    carrier: order.carrier,
    weight: goods.reduce((sum, { itemId, quantity }) => sum + weightOf(work, itemId, quantity), 0),
    value: amountToBooks(asAmount(worth), order.rate),
  });
  const books = booksCurrency(work);
  return [
    ...typed,
    ...charges.map(({ itemId, price: ours, words }): EnteredLine => {
      const theirs = order.currency === books ? null : askedIn(ours, order.currency, order.rate);
      return {
        id: before.find((line) => line.byRule && line.itemId === itemId)?.id,
        itemId,
        quantity: ONE,
        price: theirs?.price ?? ours,
        discount: 0,
        requiredDate: order.requiredDate,
        priceSteps: theirs ? [words, theirs.words] : [words],
        discountReason: '',
        free: NONE,
        note: '',
        shipTo: '',
        carrier: '',
        direct: false,
        byRule: true,
      };
    }),
  ];
}
const NONE = asQuantity(0);
const ONE = asQuantity(100_000);
