/** Selling over the counter: what is typed or scanned, what is paid and what comes back, the receipt, the drawer. */
import { asAmount, type Amount } from '../base';

/** What a line typed at the counter means. */
export type CounterEntry =
  /** An item by its code, barcode or words; `quantity` as typed before a `*`, else empty. */
  | { readonly kind: 'item'; readonly quantity: string; readonly text: string }
  /** The line in hand has another quantity, a discount in percent, free pieces, another price, or goes. */
  | { readonly kind: 'quantity' | 'discount' | 'free' | 'price'; readonly value: string }
  | { readonly kind: 'drop' }
  /** Nothing was typed: on to paying. */
  | { readonly kind: 'pay' };

const FIGURE = String.raw`\d+(?:[.,]\d+)?`;
const BEFORE = new RegExp(`^(${FIGURE})\\s*\\*\\s*(.+)$`);
const CHANGES: readonly (readonly [RegExp, 'quantity' | 'discount' | 'free' | 'price'])[] = [
  [new RegExp(`^\\*\\s*(${FIGURE})$`), 'quantity'],
  [new RegExp(`^(${FIGURE})\\s*\\*$`), 'quantity'],
  [new RegExp(`^(${FIGURE})\\s*%$`), 'discount'],
  [new RegExp(`^\\+\\s*(${FIGURE})$`), 'free'],
  [new RegExp(`^=\\s*(${FIGURE})$`), 'price'],
];

/**
 * Reads what was typed or scanned at the counter: `SMOKER` or a barcode adds an item, `3*SMOKER` three of it; `*3`, `5%`,
 * `+1` and `=4.50` give the line in hand its quantity, discount, free pieces and price; `-` drops it; nothing goes on to paying.
 *
 * @example readEntry('3*4006000000012') // { kind: 'item', quantity: '3', text: '4006000000012' }
 */
export function readEntry(typed: string): CounterEntry {
  const text = typed.trim();
  if (text === '') return { kind: 'pay' };
  if (text === '-') return { kind: 'drop' };
  for (const [form, kind] of CHANGES) {
    const value = form.exec(text)?.[1];
    if (value !== undefined) return { kind, value: value.replace(',', '.') };
  }
  const [, quantity, rest] = BEFORE.exec(text) ?? [];
  return quantity !== undefined && rest !== undefined
    ? { kind: 'item', quantity: quantity.replace(',', '.'), text: rest.trim() }
    : { kind: 'item', quantity: '', text };
}

/** What was handed over, and what it comes to. */
export interface Tender {
  /** Cash that stays in the drawer, and what is handed back. */
  readonly cash: Amount;
  readonly change: Amount;
  /** What is left open, on account. */
  readonly open: Amount;
  /** What cards and transfers are beyond the total; 0 as a rule. */
  readonly beyond: Amount;
}

/**
 * What is handed back, and what stays open, where a total is paid in several ways: cards and transfers first, as they are;
 * cash for the rest, and only of cash there is change.
 *
 * @param others what is paid without cash, in all
 * @param given the cash that was handed over
 * @example tender(1990, 1000, 1000) // { cash: 990, change: 10, open: 0, beyond: 0 }
 */
export function tender(total: Amount, others: Amount, given: Amount): Tender {
  const due = total - others;
  const cash = Math.max(0, Math.min(given, due));
  return {
    cash: asAmount(cash),
    change: asAmount(given - cash),
    open: asAmount(Math.max(0, due - cash)),
    beyond: asAmount(Math.max(0, -due)),
  };
}

/** What should be in a drawer: what it began with, and the cash of its sales; returns count below 0. */
export function expectedCash(float: Amount, cash: readonly Amount[]): Amount {
  return asAmount(cash.reduce((sum: number, each) => sum + each, float));
}

/** A receipt's parts, in the words and figures in which they are printed. */
export interface Receipt {
  readonly head: readonly string[];
  readonly facts: readonly (readonly [words: string, value: string])[];
  readonly lines: readonly { readonly words: string; readonly detail: string; readonly amount: string }[];
  readonly sums: readonly (readonly [words: string, value: string])[];
  readonly foot: readonly string[];
}

/** Characters across a roll of 80 mm. */
export const RECEIPT_WIDTH = 42;

/**
 * A receipt as lines of text of one width: what is on the left is cut where it would run into the figure on the right.
 *
 * @example receiptText({ …, sums: [['Total', '12.00']] }).at(-1) // 'Total                                12.00'
 */
export function receiptText(receipt: Receipt, width = RECEIPT_WIDTH): string[] {
  const sides = (left: string, right: string): string => {
    const room = width - right.length - (right === '' ? 0 : 1);
    return `${left.slice(0, room).padEnd(width - right.length)}${right}`.trimEnd();
  };
  const middle = (text: string): string => `${' '.repeat(Math.max(0, Math.floor((width - text.length) / 2)))}${text.slice(0, width)}`;
  /** Words on as many lines as they need; one that is wider than the roll is cut. */
  const wrapped = (text: string): string[] =>
    text.split(' ').reduce<string[]>((lines, word) => {
      const last = lines.at(-1);
      const cut = word.slice(0, width);
      if (last !== undefined && last.length + 1 + cut.length <= width) return [...lines.slice(0, -1), `${last} ${cut}`];
      return [...lines, cut];
    }, []);
  const rule = '-'.repeat(width);
  return [
    ...receipt.head.flatMap(wrapped).map(middle),
    ...(receipt.head.length > 0 ? [rule] : []),
    ...receipt.facts.map(([words, value]) => sides(words, value)),
    rule,
    ...receipt.lines.flatMap(({ words, detail, amount }) => [words.slice(0, width), sides(`  ${detail}`, amount)]),
    rule,
    ...receipt.sums.map(([words, value]) => sides(words, value)),
    ...(receipt.foot.length > 0 ? [rule] : []),
    ...receipt.foot.flatMap(wrapped).map(middle),
  ];
}

/** What is typed while somebody pays. */
export type PaymentEntry =
  /** Cash that was handed over; empty for just what is due. */
  | { readonly kind: 'cash'; readonly amount: string }
  /** By card or transfer; empty for all that is due. */
  | { readonly kind: 'card' | 'transfer'; readonly amount: string }
  /** The rest stays open on the customer's account. */
  | { readonly kind: 'account' }
  | { readonly kind: 'unknown' };

const PAYMENT = new RegExp(`^([a-z]*)\\s*(${FIGURE})?$`, 'i');

/**
 * Reads how somebody pays: nothing for just the cash that is due, `50` for cash that was handed over, `c` or `c 20` for a
 * card, `t` for a transfer, `a` for on account.
 *
 * @example readPayment('c 12,50') // { kind: 'card', amount: '12.50' }
 */
export function readPayment(typed: string): PaymentEntry {
  const [, letters, figure = ''] = PAYMENT.exec(typed.trim()) ?? [];
  const amount = figure.replace(',', '.');
  if (letters === undefined) return { kind: 'unknown' };
  if (letters === '') return { kind: 'cash', amount };
  const begins = (word: string): boolean => word.startsWith(letters.toLowerCase());
  if (begins('card')) return { kind: 'card', amount };
  if (begins('transfer')) return { kind: 'transfer', amount };
  return begins('account') && amount === '' ? { kind: 'account' } : { kind: 'unknown' };
}
