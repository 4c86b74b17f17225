/** What of a transfer is still to move, for lists. */
import { and, eq, gt, inArray, or, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { Quantity } from '@terrace/core';
import { item } from '../catalogue';
import { inner, or0, scalar, total } from '../platform/expressions';
import { transfer, transferLine, transferPiece } from './document-schema';
import { lot, trackingRule } from './tracking-schema';

/** Shipped and not arrived. */
export const onTheWay = sql<Quantity>`${transferLine.shipped} - ${transferLine.received} - ${transferLine.lost}`;

/** What of a line is to move: all of it until it has left, then what is on the way. */
export const stillToMove = sql<Quantity>`case ${transfer.state} when 'requested' then ${transferLine.quantity} else ${onTheWay} end`;

/** The last day on which a lot counts: with the life that selling asks for, or, where that asks for none, using. */
const life = sql`case when coalesce(${item.restLifeDays}, 0) > 0 then ${item.restLifeDays} else coalesce(${trackingRule.useLifeDays}, 0) end`;
export const lotUsableUntil = sql<string | null>`date(${lot.expiry}, '-' || ${life} || ' days')`;

/** What is on the way and will be nobody's when it arrives: lots that are blocked, or too old by then. */
const spoiltOnTheWay = or0(
  scalar(
    inner
      .select({ quantity: total(sql<number>`${transferPiece.quantity} - ${transferPiece.arrived}`) })
      .from(transferPiece)
      .innerJoin(lot, and(eq(lot.itemId, transferLine.itemId), eq(lot.code, transferPiece.lot)))
      .innerJoin(item, eq(item.id, lot.itemId))
      .leftJoin(trackingRule, eq(trackingRule.itemId, lot.itemId))
      .where(
        and(
          eq(transferPiece.lineId, transferLine.id),
          gt(transferPiece.quantity, transferPiece.arrived),
          or(eq(lot.blocked, true), sql`${lotUsableUntil} < ${transfer.dueDate}`),
        ),
      ),
  ),
);

/** What a line of a transfer brings that can be counted on. */
export const stillToBring = sql<Quantity>`${stillToMove} - ${spoiltOnTheWay}`;

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

export const transfersIn = (itemId: SQLiteColumn, warehouse: SQLiteColumn): SQL<Quantity> =>
  sumOf(stillToBring, and(eq(transferLine.itemId, itemId), eq(transfer.toId, warehouse), UNDER_WAY));

export const transfersOut = (itemId: SQLiteColumn, warehouse: SQLiteColumn): SQL<Quantity> =>
  sumOf(
    sql<Quantity>`${transferLine.quantity}`,
    and(eq(transferLine.itemId, itemId), eq(transfer.fromId, warehouse), eq(transfer.state, 'requested')),
  );
