/** What transfers take from a warehouse and bring to it. */
import { and, eq, or } from 'drizzle-orm';
import { asQuantity } from '@terrace/core';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { transfer, transferLine } from './document-schema';
import type { StockEvent } from './events';
import { UNDER_WAY, stillToMove } from './transfer-quantities';

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
      })
      .from(transferLine)
      .innerJoin(transfer, eq(transfer.id, transferLine.transferId))
      .where(and(eq(transferLine.itemId, $.item), or(eq(transfer.toId, $.warehouse), eq(transfer.fromId, $.warehouse)), UNDER_WAY)),
);

/** What transfers take from a warehouse and bring to it. */
export function transferEvents(work: Work, item: number, place: number): StockEvent[] {
  return moving.all(work, { item, warehouse: place }).flatMap((row): StockEvent[] => {
    if (row.open === 0) return [];
    const event = { quantity: asQuantity(row.open), document: row.number, firm: true, link: { kind: 'transfer' as const, id: row.id } };
    if (row.fromId !== place) return [{ ...event, date: row.dueDate, kind: 'supply', holder: null }];
    return row.state === 'requested' ? [{ ...event, date: row.shipDate, kind: 'demand', holder: { kind: 'transfer', id: row.lineId } }] : [];
  });
}
