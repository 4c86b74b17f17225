/** What transfers take from a warehouse and bring to it. */
import { and, eq, gt, ne, or, sql } from 'drizzle-orm';
import { asQuantity } from '@terrace/core';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { transfer, transferLine, transferPiece } from './document-schema';
import type { StockEvent } from './events';
import { UNDER_WAY, stillToBring, stillToMove } from './transfer-quantities';

const moving = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({
        id: transfer.id,
        lineId: transferLine.id,
        number: transfer.number,
        state: transfer.state,
        fromId: transfer.fromId,
        shipDate: transfer.shipDate,
        dueDate: transfer.dueDate,
        open: stillToMove,
        brings: stillToBring,
      })
      .from(transferLine)
      .innerJoin(transfer, eq(transfer.id, transferLine.transferId))
      .where(and(eq(transferLine.itemId, $.item), or(eq(transfer.toId, $.warehouse), eq(transfer.fromId, $.warehouse)), UNDER_WAY)),
);

/** What transfers take from a warehouse and bring to it that can be counted on. */
export function transferEvents(work: Work, item: number, place: number): StockEvent[] {
  return moving.all(work, { item, warehouse: place }).flatMap((row): StockEvent[] => {
    const quantity = row.fromId === place ? row.open : row.brings;
    if (quantity === 0) return [];
    const event = { quantity: asQuantity(quantity), document: row.number, firm: true, link: { kind: 'transfer' as const, id: row.id } };
    if (row.fromId !== place) return [{ ...event, date: row.dueDate, kind: 'supply', holder: null }];
    return row.state === 'requested' ? [{ ...event, date: row.shipDate, kind: 'demand', holder: { kind: 'transfer', id: row.lineId } }] : [];
  });
}

const carrying = query(
  ($: { itemId: number }) => (db) =>
    db
      .selectDistinct({ id: transfer.id, number: transfer.number })
      .from(transfer)
      .innerJoin(transferLine, eq(transferLine.transferId, transfer.id))
      .innerJoin(transferPiece, eq(transferPiece.lineId, transferLine.id))
      .where(and(UNDER_WAY, eq(transferLine.itemId, $.itemId), ne(transferPiece.lot, sql`''`), gt(transferPiece.quantity, transferPiece.arrived))),
);

/** Transfers that have lots of an item on the way: what is known of a lot, or of the life that it needs, changes what they bring. */
export function lotsOnTheWay(work: Work, itemId: number): { readonly id: number; readonly number: string }[] {
  return carrying.all(work, { itemId });
}
