/** What accounts prove and show but other rooms know. */
import type { SQL, SQLWrapper } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Amount, Quantity } from '@terrace/core';
import { handedIn } from '../platform/handed-in';
import type { Work } from '../platform/work';

/** Of a line of an order: how many pieces were given back, above 0. */
export interface CreditedLine {
  readonly orderLineId: number;
  readonly quantity: Quantity;
}

/** Of a payment, in the books' currency. */
interface DrawnCash {
  readonly paymentId: number;
  readonly amount: Amount;
}

interface FromOtherRooms {
  /** What all stock is worth, and what of it belongs to each inventory account; amounts. */
  readonly stockValue: (work: Work) => number;
  readonly stockValueByAccount: (work: Work) => { readonly account: string; readonly value: number }[];
  /** Worth of goods received, less what was taken back, as the moves say it. */
  readonly receivedValue: (work: Work) => number;
  /** What went into production and has not come out, as the moves say it. */
  readonly workInProcess: (work: Work) => number;
  /** A customer's order by its number. Refuses `notFound`. */
  readonly orderNamed: (work: Work, orderId: number) => { readonly number: string; readonly customerId: number; readonly currency: string };
  /** An order and all that it was divided with, by their numbers in the database. */
  readonly orderFamily: (work: Work, orderId: number) => readonly number[];
  /** The order of a line, and its number, for lists. */
  readonly orderOfLine: (line: SQLiteColumn) => SQL<number | null>;
  readonly orderOfLineNumber: (line: SQLiteColumn) => SQL<string | null>;
  /** Whether a line is of an order, for queries. */
  readonly isLineOf: (line: SQLiteColumn, orderId: SQLWrapper) => SQL;
  /** The number of a customer's order, for lists. */
  readonly orderNumber: (order: SQLiteColumn) => SQL<string | null>;
  /** Lines of an order are not invoiced any more. */
  readonly invoiceTakenBack: (
    work: Work,
    lines: readonly { readonly orderLineId: number; readonly quantity: Quantity; readonly free: Quantity }[],
  ) => void;
  /** A credit note is taken back: whatever it gave back may be given back once more. */
  readonly creditTakenBack: (work: Work, credit: { readonly id: number; readonly number: string }, lines: readonly CreditedLine[]) => void;
  /** Cash of a payment goes into a drawer; of one that is given back it comes out. Refuses `wrongState`, `noDrawer`. */
  readonly cashInto: (work: Work, drawerId: number, cash: DrawnCash) => void;
  /** What is given back of a payment comes out of the drawer that is open now where it went in. Refuses `noDrawer`. */
  readonly cashBack: (work: Work, drawerId: number, cash: DrawnCash) => void;
  /** What is in all drawers, as far as anybody knows. */
  readonly cashInDrawers: (work: Work) => Amount;
  /** Drawers that are open. */
  readonly openDrawers: (work: Work) => { readonly id: number; readonly number: string; readonly warehouse: string }[];
  /** The invoices of an order have changed: its state follows. */
  readonly invoicesChanged: (work: Work, orderId: number) => void;
}

export const otherRooms = handedIn<FromOtherRooms>('accounts');
