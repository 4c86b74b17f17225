/** What the stores show but rooms that stand on them know. */
import type { SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Quantity } from '@terrace/core';
import { handedIn } from '../platform/handed-in';
import type { Work } from '../platform/work';

/** A quantity of an item in a warehouse, for lists. */
type ExpectedQuantity = (item: SQLiteColumn, warehouse: SQLiteColumn) => SQL<Quantity>;

interface FromOtherRooms {
  /** What orders bring into a warehouse, and what they take out of it; transfers are the stores' own. */
  readonly expectedIn: readonly ExpectedQuantity[];
  readonly expectedOut: readonly ExpectedQuantity[];
  /** Whether an item is planned in a warehouse, for lists. */
  readonly isPlanned: (item: SQLiteColumn, warehouse: SQLiteColumn) => SQL;
  readonly safetyStock: (work: Work, item: number, warehouse: number) => Quantity;
  /** A receipt of goods. Refuses `notFound`. */
  readonly receiptOf: (work: Work, id: number) => { readonly number: string; readonly reversed: boolean };
  /** The number of a receipt, for lists. */
  readonly receiptNumber: (receipt: SQLiteColumn) => SQL<string | null>;
  /** The number of a production order, for lists. */
  readonly productionNumber: (order: SQLiteColumn) => SQL<string | null>;
}

export const otherRooms = handedIn<FromOtherRooms>('stores');
