/** What of a transfer is still to move, for lists. */
import { and, eq, inArray, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Quantity } from '@terrace/core';
import { inner, scalar, total } from '../platform/expressions';
import { transfer, transferLine } from './document-schema';

/** Shipped and not arrived. */
export const onTheWay = sql<Quantity>`${transferLine.shipped} - ${transferLine.received} - ${transferLine.lost}`;

/** What of a line is to move: all of it until it has left, then what is on the way. */
export const stillToMove = sql<Quantity>`case ${transfer.state} when 'requested' then ${transferLine.quantity} else ${onTheWay} end`;

export const UNDER_WAY = inArray(transfer.state, ['requested', 'shipped', 'partReceived']);

function sumOf(quantity: SQL<Quantity>, where: SQL | undefined): SQL<Quantity> {
  return scalar(
    inner
      .select({ quantity: total(quantity) })
      .from(transferLine)
      .innerJoin(transfer, eq(transfer.id, transferLine.transferId))
      .where(where),
  ) as SQL<Quantity>;
}

export const transfersIn = (item: SQLiteColumn, warehouse: SQLiteColumn): SQL<Quantity> =>
  sumOf(stillToMove, and(eq(transferLine.itemId, item), eq(transfer.toId, warehouse), UNDER_WAY));

export const transfersOut = (item: SQLiteColumn, warehouse: SQLiteColumn): SQL<Quantity> =>
  sumOf(sql<Quantity>`${transferLine.quantity}`, and(eq(transferLine.itemId, item), eq(transfer.fromId, warehouse), eq(transfer.state, 'requested')));
