/** How far production is: what is still to be made, and as long as when. */
import { inArray, sql } from 'drizzle-orm';
import { asQuantity, type Quantity } from '@terrace/core';
import { productionOrder } from './schema';

/** What of an order is neither finished nor cancelled. */
export const stillToMake = sql<Quantity>`${productionOrder.quantity} - ${productionOrder.finished} - ${productionOrder.cancelled}`;
export const toMakeOf = ({
  quantity,
  finished,
  cancelled,
}: Pick<typeof productionOrder.$inferSelect, 'quantity' | 'finished' | 'cancelled'>): Quantity =>
  asQuantity(Math.max(0, quantity - finished - cancelled));
/** States in which something is still to be made. */
export const IS_OPEN = inArray(productionOrder.state, ['draft', 'released', 'running']);
