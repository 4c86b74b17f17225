/** Reservations: who holds how much of what is available. */
import { asQuantity, freeStock, reservable, type Quantity } from '@terrace/core';
import type { Work } from '../platform/work';
import type { HolderKind } from './schema';

export interface Holding {
  readonly kind: HolderKind;
  readonly id: number;
  readonly documentId: number;
  readonly documentNumber: string;
}

/** Available (not held, rejected or in transit) and reserved stock of an item in a warehouse. */
export function stockOf(
  work: Work,
  item: number,
  warehouse: number,
): { readonly onHand: Quantity; readonly available: Quantity; readonly reserved: Quantity; readonly free: Quantity } {
  const row = work.row<{ onHand: number; available: number; reserved: number }>(STOCK, item, warehouse, item, warehouse, item, warehouse);
  const available = asQuantity(row?.available ?? 0);
  const reserved = asQuantity(row?.reserved ?? 0);
  return { onHand: asQuantity(row?.onHand ?? 0), available, reserved, free: freeStock(available, reserved) };
}

const STOCK = `select
  coalesce((select sum(quantity) from balance where item_id = ? and warehouse_id = ? and state <> 'inTransit'), 0) as onHand,
  coalesce((select sum(quantity) from balance where item_id = ? and warehouse_id = ? and state = 'available'), 0) as available,
  coalesce((select quantity from reserved_stock where item_id = ? and warehouse_id = ?), 0) as reserved`;

/** What a holder has reserved. */
export function reservedFor(work: Work, kind: HolderKind, id: number): Quantity {
  return asQuantity(
    work.row<{ quantity: number }>('select quantity from reservation where holder_kind = ? and holder_id = ?', kind, id)?.quantity ?? 0,
  );
}

/** Reserves what is free, up to what is wanted in all; returns what the holder then has. Who knows what the holder has says so. */
export function reserveFree(
  work: Work,
  item: number,
  warehouse: number,
  holder: Holding,
  wanted: Quantity,
  has = reservedFor(work, holder.kind, holder.id),
): Quantity {
  const more = reservable(stockOf(work, item, warehouse).free, wanted, has);
  if (more > 0) {
    work.run(
      `insert into reservation (item_id, warehouse_id, holder_kind, holder_id, document_id, document_number, quantity) values (?, ?, ?, ?, ?, ?, ?)
       on conflict (holder_kind, holder_id) do update set quantity = quantity + excluded.quantity`,
      item,
      warehouse,
      holder.kind,
      holder.id,
      holder.documentId,
      holder.documentNumber,
      more,
    );
    work.touch('stock', item, holder.documentNumber);
  }
  return asQuantity(has + more);
}

/** Lowers a holder's reservation by what was taken or given up; never below nothing. */
export function lowerReservation(work: Work, kind: HolderKind, id: number, by: Quantity): void {
  work.run('delete from reservation where holder_kind = ? and holder_id = ? and quantity <= ?', kind, id, by);
  work.run('update reservation set quantity = quantity - ? where holder_kind = ? and holder_id = ?', by, kind, id);
}

/** Gives up all that a holder has reserved. */
export function dropReservation(work: Work, kind: HolderKind, id: number): void {
  work.run('delete from reservation where holder_kind = ? and holder_id = ?', kind, id);
}
