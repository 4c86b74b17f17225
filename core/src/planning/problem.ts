/**
 * What a planning problem and its answer look like: decimal strings and `YYYY-MM-DD` dates, so that both travel as
 * JSON without loss. The exact rules are told in docs/planning.md.
 */
import type { CalendarDefinition } from '../base';

export type Source = 'buy' | 'make' | 'transfer' | 'none';

export type LotSizing =
  | { readonly kind: 'lotForLot' }
  | { readonly kind: 'fixed'; readonly quantity: string }
  | { readonly kind: 'period'; readonly days: number }
  | { readonly kind: 'reorderPoint'; readonly point: string; readonly quantity: string }
  | { readonly kind: 'minMax'; readonly min: string; readonly max: string }
  /** Costs in one currency: of an order, and of holding one unit for one calendar day. */
  | { readonly kind: 'leastCost'; readonly orderCost: string; readonly holdingPerUnitDay: string };

export interface PlanningRule {
  readonly item: string;
  readonly warehouse: string;
  readonly source: Source;
  readonly from: string | null;
  /** Working days of the receiving warehouse. */
  readonly leadDays: number;
  readonly safety: string;
  readonly lotSizing: LotSizing;
  readonly minimum: string;
  readonly multiple: string;
  readonly maximum: string | null;
  /** Usable part of what is ordered, above 0 and at most 1. */
  readonly yield: string;
  /** Working days from today in which nothing new is suggested. */
  readonly fenceDays: number;
  /** Calendar days of re-dating that are not worth proposing. */
  readonly slackDays: number;
  readonly demand: 'orders' | 'forecast' | 'both' | 'consume';
  readonly consumeBack: number;
  readonly consumeForward: number;
  readonly quotesFrom: string | null;
  readonly quotesWeighted: boolean;
}

/** A rule of which nothing is said: buys just what is missing for orders, at once. */
export const UNSAID_RULE: Omit<PlanningRule, 'item' | 'warehouse'> = {
  source: 'buy',
  from: null,
  leadDays: 0,
  safety: '0',
  lotSizing: { kind: 'lotForLot' },
  minimum: '0',
  multiple: '0',
  maximum: null,
  yield: '1',
  fenceDays: 0,
  slackDays: 0,
  demand: 'orders',
  consumeBack: 0,
  consumeForward: 0,
  quotesFrom: null,
  quotesWeighted: false,
};

export interface BomLineRow {
  readonly component: string;
  readonly quantity: string;
  readonly scrap: string;
  readonly offsetDays: number;
  readonly from: string | null;
  readonly to: string | null;
}

export type DemandKind = 'order' | 'component' | 'transfer' | 'forecast' | 'quote';

export interface PlanProblem {
  readonly today: string;
  readonly horizon: string;
  readonly calendars: readonly CalendarDefinition[];
  readonly warehouses: readonly { readonly code: string; readonly calendar: string }[];
  readonly items: readonly { readonly code: string; readonly decimals: number; readonly phantom: boolean }[];
  readonly rules: readonly PlanningRule[];
  readonly boms: readonly { readonly item: string; readonly lines: readonly BomLineRow[] }[];
  readonly stock: readonly { readonly item: string; readonly warehouse: string; readonly quantity: string; readonly usableUntil: string | null }[];
  readonly receipts: readonly {
    readonly id: string;
    readonly item: string;
    readonly warehouse: string;
    readonly date: string | null;
    readonly quantity: string;
    readonly locked: boolean;
  }[];
  readonly demands: readonly {
    readonly id: string;
    readonly item: string;
    readonly warehouse: string;
    readonly date: string | null;
    readonly quantity: string;
    readonly kind: DemandKind;
    readonly probability: string | null;
  }[];
}

export interface Peg {
  /** A demand's id, the id of the suggestion that calls for it, or `safety`. */
  readonly demand: string;
  readonly quantity: string;
}

export interface Suggestion {
  /** `item@warehouse#n`, n from 1 in the order made. */
  readonly id: string;
  readonly kind: 'buy' | 'make' | 'transfer';
  readonly item: string;
  readonly warehouse: string;
  readonly from: string | null;
  readonly quantity: string;
  readonly placeBy: string;
  readonly due: string;
  readonly neededBy: string;
  /** Calendar days that `due` lies after `neededBy`. */
  readonly daysLate: number;
  readonly pegs: readonly Peg[];
}

export type ExceptionKind = 'bringForward' | 'pushBack' | 'cancel' | 'overdueReceipt' | 'overdueDemand' | 'placeLate' | 'expires' | 'short';

export interface PlanException {
  readonly kind: ExceptionKind;
  readonly subject: string;
  readonly item: string;
  readonly warehouse: string;
  readonly from: string;
  readonly to: string | null;
  readonly quantity: string;
}

export type DataProblemCode = 'unknownItem' | 'unknownWarehouse' | 'badDate' | 'badQuantity' | 'badRule' | 'noRule' | 'noBom' | 'cycle';

export interface DataProblem {
  readonly code: DataProblemCode;
  readonly subject: string;
  readonly message: string;
}

export interface PlanResult {
  readonly suggestions: readonly Suggestion[];
  readonly exceptions: readonly PlanException[];
  readonly problems: readonly DataProblem[];
}

/** The figures from which one suggestion follows, for the sentence that says why. */
export interface Reason {
  /** Projected balance at the end of the day on which it is needed, before the suggestion. */
  readonly balance: string;
  readonly threshold: string;
  readonly missing: string;
  /** What the lot sizing asked for, before yield, minimum, multiple and maximum. */
  readonly sized: string;
}

/** A peg from any supply, stock and receipts included, for the trail from demand to supply. */
export interface SupplyPeg {
  readonly item: string;
  readonly warehouse: string;
  readonly supplyKind: 'stock' | 'receipt' | 'suggestion';
  /** `stock`, a receipt's id or a suggestion's id. */
  readonly supply: string;
  /** Day from which the supply counts. */
  readonly day: string;
  readonly demand: string;
  readonly quantity: string;
}

/** A plan with what the desk shows besides: why each suggestion, and every peg. */
export interface ExplainedPlan {
  readonly result: PlanResult;
  readonly reasons: ReadonlyMap<string, Reason>;
  readonly pegs: readonly SupplyPeg[];
}

const FIRST_SURROGATE = 0xd800;
const AFTER_SURROGATES = 0xe000;

/** Sorts by plain code-point order, whatever the language of the machine. */
export function byCodePoint(a: string, b: string): number {
  if (a === b) return 0;
  const shorter = Math.min(a.length, b.length);
  for (let index = 0; index < shorter; index += 1) {
    const [left, right] = [a.charCodeAt(index), b.charCodeAt(index)];
    if (left !== right) return codePointRank(left) - codePointRank(right);
  }
  return a.length - b.length;
}

/** UTF-16 puts surrogates, which stand for the highest code points, below the last of the others. */
function codePointRank(unit: number): number {
  if (unit < FIRST_SURROGATE) return unit;
  return unit >= AFTER_SURROGATES ? unit - 0x800 : unit + 0x2000;
}
