/** What writing a plan to its file takes. */
import type { LivePlan, PlanWriter, Supply, ToBuy } from '@terrace/core';
import type { BuyingTerms } from '../catalogue';

export interface ItemWords {
  readonly id: number;
  readonly code: string;
  readonly description: string;
  readonly unit: string;
  readonly decimals: number;
  readonly group: string;
  readonly kind: string;
  readonly active: boolean;
}

/** What choosing a supplier asks of a suggestion. */
export interface PlannedRow extends ToBuy {
  readonly itemId: number;
  readonly warehouseId: number;
}

/** What happened, and which nodes it touched itself. */
export interface Cause {
  readonly words: string;
  readonly nodes: ReadonlySet<number>;
}

export interface PlanToWrite {
  readonly live: LivePlan;
  readonly writer: PlanWriter;
  /** Nodes whose rows are to be written. */
  readonly nodes: readonly number[];
  readonly whole: boolean;
  readonly items: ReadonlyMap<string, ItemWords>;
  readonly places: ReadonlyMap<string, number>;
  readonly chooseSupplier: (row: PlannedRow) => Supply<BuyingTerms> | null;
  readonly priceOf: (itemId: number, supplierId: number, units: number) => number;
  readonly supplierOf: (itemId: number, supplierId: number) => string | null;
  readonly ignored: ReadonlyMap<string, { readonly until: string; readonly note: string }>;
  readonly firm: ReadonlyMap<
    string,
    {
      readonly id: number;
      readonly kind: 'buy' | 'make' | 'transfer';
      readonly supplierId: number | null;
      readonly fromId: number | null;
      readonly placeBy: string;
      readonly note: string;
    }
  >;
  /** Currencies that suppliers ask for and that have no exchange rate today. */
  readonly unpriced: readonly string[];
  readonly at: string;
  readonly today: string;
  readonly horizon: string;
  readonly historyId: number;
  readonly moveId: number;
  /** Why it was planned anew; none for a first plan, of which nothing is new. */
  readonly causes: readonly Cause[];
  /** When planning began, by the clock of performance. */
  readonly since: number;
}
