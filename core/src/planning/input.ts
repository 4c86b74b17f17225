/** What the engine counts with: the good rows of a problem, quantities as integers of the item's own decimals. */
import type { Day, Decimal, WorkingCalendar } from '../base';
import type { DemandKind, PlanningRule } from './problem';
import type { ProblemList } from './problem-list';
export interface PlanItem {
  readonly code: string;
  readonly decimals: number;
  readonly phantom: boolean;
  /** Its place among the items. */
  readonly index: number;
  /** Lines that are good; of an item without a BOM, none. */
  bom: readonly PlanBomLine[];
}

export interface PlanBomLine {
  readonly component: string;
  /** Per one of the parent, without scrap. */
  readonly quantity: Decimal;
  readonly scrap: Decimal;
  readonly offsetDays: number;
  readonly from: Day | null;
  readonly to: Day | null;
}

export type PlanLotSizing =
  | { readonly kind: 'lotForLot' }
  | { readonly kind: 'fixed'; readonly quantity: bigint }
  | { readonly kind: 'period'; readonly days: number }
  | { readonly kind: 'reorderPoint'; readonly quantity: bigint }
  | { readonly kind: 'minMax'; readonly max: bigint }
  /** Integers of one small unit of money: of an order, and of holding the smallest quantity for a day. */
  | { readonly kind: 'leastCost'; readonly orderCost: bigint; readonly holding: bigint };

/** A rule that can be planned by. */
export interface PlanRule {
  readonly source: PlanningRule['source'];
  readonly from: string | null;
  readonly leadDays: number;
  /** Safety, or the reorder point or minimum where that is greater. */
  readonly threshold: bigint;
  readonly lotSizing: PlanLotSizing;
  readonly minimum: bigint;
  readonly multiple: bigint;
  readonly maximum: bigint | null;
  readonly yield: Decimal;
  readonly fenceDays: number;
  readonly slackDays: number;
  readonly demand: PlanningRule['demand'];
  readonly consumeBack: number;
  readonly consumeForward: number;
  readonly quotesFrom: Decimal | null;
  readonly quotesWeighted: boolean;
}

export interface PlanDemand {
  readonly id: string;
  readonly kind: DemandKind;
  readonly date: Day;
  readonly quantity: bigint;
  readonly probability: Decimal | null;
}

export interface PlanReceipt {
  readonly id: string;
  readonly date: Day;
  readonly quantity: bigint;
  readonly locked: boolean;
}

export interface PlanStock {
  readonly usableUntil: Day | null;
  readonly quantity: bigint;
}

/** An item in a warehouse, with all that is known of it before planning. */
export interface PlanNode {
  readonly key: string;
  readonly item: PlanItem;
  readonly warehouse: string;
  rule: PlanRule | null;
  badRule: boolean;
  readonly stock: PlanStock[];
  readonly receipts: PlanReceipt[];
  readonly demands: PlanDemand[];
}

export interface PlanInput {
  readonly today: Day;
  readonly horizon: Day;
  readonly items: ReadonlyMap<string, PlanItem>;
  readonly calendars: ReadonlyMap<string, WorkingCalendar>;
  /** By {@link nodeKey}; grows as explosion reaches further nodes. */
  readonly nodes: Map<string, PlanNode>;
  readonly problems: ProblemList;
}
