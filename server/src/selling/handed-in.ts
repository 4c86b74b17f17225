/** What selling must know of shipments, which dispatch keeps, and of the plan. */
import type { SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Quantity } from '@terrace/core';
import { handedIn } from '../platform/handed-in';
import type { Work } from '../platform/work';

/** When all of an order can be ready as planned, and whether that is too late. */
export interface PlannedOrder {
  /** `null` where a part has no supply at all. */
  readonly ready: string | null;
  readonly endangered: boolean;
}

interface FromOtherRooms {
  /** The number of a shipment that has not left and has a line of an order on it. */
  readonly shipmentHolding: (work: Work, orderLineId: number) => string | undefined;
  /** How many pieces of a line are on shipments that have not left. */
  readonly onTheWay: (work: Work, orderLineId: number) => Quantity;
  /** Whether an order is on a shipment that has not left, for lists. */
  readonly onShipment: (order: SQLiteColumn) => SQL;
  /** Whether a document of another room has had a line on it, one that was taken back or dropped since among them. */
  readonly wasOnDocument: (work: Work, orderLineId: number) => boolean;
  /** The shipments of an order that have left. */
  readonly shippedOf: (work: Work, orderId: number) => number[];
  /** What went with a shipment, by line of its order. */
  readonly linesOfShipment: (work: Work, shipmentId: number) => readonly { readonly orderLineId: number; readonly quantity: Quantity }[];
  /** What the plan says of an order; `null` where it says nothing. */
  readonly plannedOrder: (work: Work, number: string) => PlannedOrder | null;
  /** The numbers of the orders of which the plan has something later than wanted, or not at all. */
  readonly endangeredOrders: (work: Work) => readonly string[];
}

export const otherRooms = handedIn<FromOtherRooms>('selling');
