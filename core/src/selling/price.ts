/**
 * Prices to customers: price lists state prices in five ways, the most specific entry that holds wins, and every result
 * says step by step how it came about.
 */
import {
  Refusal,
  asPrice,
  fromBooks,
  toBooks,
  writePrice,
  writeQuantity,
  divideRounded,
  type Quantity,
  type Rate,
  type UnitPrice,
  writePoints,
} from '../base';
import { holdsOn } from '../catalogue';

/**
 * How an entry states its price: an amount; a percentage off the item's list price; a mark-up on current or on standard
 * cost; a margin to reach on current cost, `cost ÷ (1 − margin)`.
 */
export const PRICE_WAYS = ['amount', 'offList', 'overCost', 'overStandard', 'marginOnCost'] as const;
export type PriceWay = (typeof PRICE_WAYS)[number];

/** What a computed price is rounded to; the last two end on .99 and .95, never below what was computed by more than one unit. */
export const ROUNDINGS = ['none', '0.01', '0.05', '0.10', '1.00', '.99', '.95'] as const;
export type Rounding = (typeof ROUNDINGS)[number];

export interface PriceBreak {
  /** From this quantity on, in base units. */
  readonly from: Quantity;
  /** A price (10⁻⁶) where the way is an amount, else basis points. */
  readonly value: number;
}

export interface PriceList {
  readonly id: number;
  readonly code: string;
  readonly name: string;
  readonly currency: string;
  /** Whom it is for: one customer, a group of them, or everybody. */
  readonly audience: 'customer' | 'group' | 'everybody';
  readonly validFrom: string | null;
  readonly validTo: string | null;
  readonly rounding: Rounding;
}

export interface PriceEntry {
  readonly id: number;
  readonly list: PriceList;
  /** What it is for: one item, an item group and those below it, or everything. */
  readonly target: 'item' | 'group' | 'everything';
  /** Of an entry for a group: its code, and how far it is above the item's own, which is 0. */
  readonly group?: { readonly code: string; readonly above: number };
  readonly way: PriceWay;
  readonly validFrom: string | null;
  readonly validTo: string | null;
  readonly breaks: readonly PriceBreak[];
}

export interface PriceQuestion {
  readonly quantity: Quantity;
  readonly day: string;
  readonly unit: string;
  /** Currency of the books, in which the figures below are. */
  readonly books: string;
  /** What the price is wanted in; the books' own where nobody says. */
  readonly wanted?: string;
  readonly listPrice: UnitPrice;
  readonly cost: UnitPrice;
  readonly standardCost: UnitPrice;
  /** Rate of each currency that the entries' lists use, and of the one that is wanted. */
  readonly rates: ReadonlyMap<string, Rate>;
}

export interface PriceAnswer {
  /** Price of one base unit in the books' currency. */
  readonly price: UnitPrice;
  /** The same in the currency that is wanted. */
  readonly wanted: UnitPrice;
  /** The same in the currency of the list it is from. */
  readonly stated: UnitPrice;
  readonly currency: string;
  readonly entry: PriceEntry | null;
  /** One sentence a step: which list, which rule, which cost, which break, which rounding. */
  readonly steps: readonly string[];
  /** Basis points of the price that are left over current cost, or `null` where there is no price or no cost. */
  readonly margin: number | null;
}

const POINTS = 10_000n;
const CENT = 10_000n;

/** Rounds a price by a list's rule; halves go up. */
export function roundPrice(price: UnitPrice, rounding: Rounding): UnitPrice {
  if (rounding === 'none' || price <= 0) return price;
  if (rounding === '.99' || rounding === '.95') {
    // The nearest figure with that ending; never below the first one.
    const unit = 100n * CENT;
    const short = (rounding === '.99' ? 1n : 5n) * CENT;
    const whole = divideRounded(BigInt(price) + short, unit);
    return asPrice(Number((whole > 1n ? whole : 1n) * unit - short));
  }
  const step = { '0.01': 1n, '0.05': 5n, '0.10': 10n, '1.00': 100n }[rounding] * CENT;
  return asPrice(Number(divideRounded(BigInt(price), step) * step));
}

/**
 * What is left of a price over a cost, in basis points of the price; `null` where either is not known. `discount` in basis points
 * comes off the price first.
 *
 * @example marginOf(parsePrice('20'), parsePrice('8'), 2000) // 5000: 16 are charged, and half of it is left
 */
export function marginOf(price: UnitPrice, cost: UnitPrice, discount = 0): number | null {
  const charged = BigInt(price) * (POINTS - BigInt(discount));
  if (charged <= 0n || cost <= 0) return null;
  return Number(divideRounded((charged - BigInt(cost) * POINTS) * POINTS, charged));
}

const AUDIENCES: readonly PriceList['audience'][] = ['customer', 'group', 'everybody'];
const TARGETS: readonly PriceEntry['target'][] = ['item', 'group', 'everything'];

function start(entry: PriceEntry): string {
  const [own, lists] = [entry.validFrom ?? '', entry.list.validFrom ?? ''];
  return own > lists ? own : lists;
}

/**
 * Most specific first: for a customer before a group before everybody, for an item before a group before everything, of
 * groups the item's own before those above it, then the latest start.
 */
function bySpecificity(a: PriceEntry, b: PriceEntry): number {
  return (
    AUDIENCES.indexOf(a.list.audience) - AUDIENCES.indexOf(b.list.audience) ||
    TARGETS.indexOf(a.target) - TARGETS.indexOf(b.target) ||
    (a.group?.above ?? 0) - (b.group?.above ?? 0) ||
    (start(a) === start(b) ? b.id - a.id : start(a) < start(b) ? 1 : -1)
  );
}

function applies(entry: PriceEntry, { quantity, day }: PriceQuestion): boolean {
  return holdsOn(entry, day) && holdsOn(entry.list, day) && entry.breaks.some((each) => each.from <= quantity);
}

function scaled(price: UnitPrice, points: bigint, over = POINTS): UnitPrice {
  return asPrice(Number(divideRounded(BigInt(price) * points, over)));
}

function forWhat({ target, group }: PriceEntry): string {
  if (target === 'item') return 'this item';
  if (target === 'everything' || group === undefined) return target === 'group' ? 'its item group' : 'every item';
  return group.above === 0 ? `its item group ${group.code}` : `item group ${group.code}, above its own`;
}

/** The price that an entry's break makes in the books' currency, with its sentence; `null` with one where it can't. */
function computed(entry: PriceEntry, value: number, question: PriceQuestion): { readonly price: UnitPrice | null; readonly words: string } {
  const { books } = question;
  const percent = writePoints(value);
  const costWords = (cost: UnitPrice): string => `${writePrice(cost)} ${books}`;
  if (entry.way === 'offList') {
    const price = scaled(question.listPrice, POINTS - BigInt(value));
    return { price, words: `${percent} % off the list price of ${costWords(question.listPrice)} is ${costWords(price)}.` };
  }
  const cost = entry.way === 'overStandard' ? question.standardCost : question.cost;
  const name = entry.way === 'overStandard' ? 'standard cost' : 'current cost';
  if (cost <= 0) return { price: null, words: `It builds on the ${name}, and none is known: passed over.` };
  const margin = entry.way === 'marginOnCost';
  const price = margin ? scaled(cost, POINTS, POINTS - BigInt(value)) : scaled(cost, POINTS + BigInt(value));
  const rule = margin ? `A margin of ${percent} % on the ${name}` : `${percent} % on top of the ${name}`;
  return { price, words: `${rule} of ${costWords(cost)} makes ${costWords(price)}.` };
}

/** The rate of a currency on the day of a question. Refuses `noRate`. */
function neededRate({ rates, day }: PriceQuestion, currency: string): Rate {
  const rate = rates.get(currency);
  if (rate === undefined)
    throw new Refusal('noRate', `There is no exchange rate of ${currency} for ${day}: enter one under Catalogue, Groups and units, Currencies.`, {
      currency,
      day,
    });
  return rate;
}

/**
 * A price of the books as it is asked for in another currency: to its minor unit, with a sentence that says so.
 *
 * @param rate what one of that currency is worth in the books'
 * @example askedIn(asPrice(10_000_000), 'GBP', parseRate('1.25')) // { price: 8_000_000, words: 'In GBP that is 8.00 at the rate of the day.' }
 */
export function askedIn(price: UnitPrice, currency: string, rate: Rate): { readonly price: UnitPrice; readonly words: string } {
  const theirs = roundPrice(fromBooks(price, rate), '0.01');
  return { price: theirs, words: `In ${currency} that is ${writePrice(theirs)} at the rate of the day.` };
}

/** A price of the books in the currency that is wanted, and a step that says so. */
function inWanted(price: UnitPrice, question: PriceQuestion, steps: string[]): UnitPrice {
  const { wanted = question.books, books } = question;
  if (wanted === books) return price;
  const asked = askedIn(price, wanted, neededRate(question, wanted));
  steps.push(asked.words);
  return asked.price;
}

/**
 * The price of one unit and why. Without an entry that holds it is the item's own list price.
 *
 * Source: the house rule that the most specific valid entry wins, see docs/prices.md.
 */
export function explainPrice(question: PriceQuestion, entries: readonly PriceEntry[]): PriceAnswer {
  const steps: string[] = [];
  const candidates = entries.filter((each) => applies(each, question)).sort(bySpecificity);
  for (const entry of candidates) {
    const { list } = entry;
    const reached = [...entry.breaks].filter((each) => each.from <= question.quantity).sort((a, b) => b.from - a.from)[0];
    if (!reached) continue;
    const whom = { customer: 'for this customer', group: 'for their customer group', everybody: 'for everybody' }[list.audience];
    const what = forWhat(entry);
    const rest = candidates.length - 1 - candidates.indexOf(entry);
    steps.push(
      `List ${list.code} (${list.name}), ${whom}, has a price for ${what}${rest > 0 ? `; it goes before ${rest} less specific or older ${rest === 1 ? 'entry' : 'entries'}` : ''}.`,
    );
    if (entry.breaks.length > 1 || reached.from > 0)
      steps.push(`${writeQuantity(question.quantity)} ${question.unit} reaches the break from ${writeQuantity(reached.from)} on.`);
    const rate = list.currency === question.books ? null : neededRate(question, list.currency);
    let stated: UnitPrice;
    if (entry.way === 'amount') {
      stated = asPrice(reached.value);
      steps.push(`The list states ${writePrice(stated)} ${list.currency}.`);
    } else {
      const { price, words } = computed(entry, reached.value, question);
      steps.push(words);
      if (price === null) continue;
      stated = rate === null ? price : fromBooks(price, rate);
      if (rate !== null) steps.push(`At the rate of the day that is ${writePrice(stated)} ${list.currency}.`);
    }
    // An amount is meant as it is written; what is computed is rounded.
    const rounded = entry.way === 'amount' ? stated : roundPrice(stated, list.rounding);
    if (rounded !== stated) steps.push(`Rounded by the list’s rule (${list.rounding}) to ${writePrice(rounded)} ${list.currency}.`);
    const price = rate === null ? rounded : roundPrice(toBooks(rounded, rate), '0.01');
    if (rate !== null) steps.push(`In ${question.books} that is ${writePrice(price)} at the rate of the day.`);
    const wanted = list.currency === question.wanted ? rounded : inWanted(price, question, steps);
    return { price, wanted, stated: rounded, currency: list.currency, entry, steps, margin: marginOf(price, question.cost) };
  }
  steps.push(`No price list has a price for it: the item’s own list price of ${writePrice(question.listPrice)} ${question.books} holds.`);
  return {
    price: question.listPrice,
    wanted: inWanted(question.listPrice, question, steps),
    stated: question.listPrice,
    currency: question.books,
    entry: null,
    steps,
    margin: marginOf(question.listPrice, question.cost),
  };
}
