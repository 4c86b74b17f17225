/** Reservations: who holds how much of what is available. */
import { asQuantity, freeStock, reservable, type Quantity } from '@terrace/core';
import type { Work } from '../platform/work';
import { shortDatedNow } from './lives';
import type { HolderKind } from './schema';
import { lifeFor } from './take';

export interface Holding {
  readonly kind: HolderKind;
  readonly id: number;
  readonly documentId: number;
  readonly documentNumber: string;
}

/**
 * Available (not held, rejected, in transit or short-dated) and reserved stock of an item in a warehouse. What is to be
 * used in production may be closer to its end than what is sold.
 */
export function stockOf(
  work: Work,
  item: number,
  warehouse: number,
  purpose: 'sell' | 'use' = 'sell',
): { readonly onHand: Quantity; readonly available: Quantity; readonly reserved: Quantity; readonly free: Quantity } {
  const row = work.row<{ onHand: number; available: number; reserved: number; lots: number }>(STOCK, item, warehouse);
  const short = row?.lots === 1 ? shortDatedNow(work, item, warehouse, lifeFor(work, item, purpose)) : 0;
  const available = asQuantity((row?.available ?? 0) - short);
  const reserved = asQuantity(row?.reserved ?? 0);
  return { onHand: asQuantity(row?.onHand ?? 0), available, reserved, free: freeStock(available, reserved) };
}

const STOCK = `select
  coalesce((select sum(quantity) from balance where item_id = ?1 and warehouse_id = ?2 and state <> 'inTransit'), 0) as onHand,
  coalesce((select sum(quantity) from balance where item_id = ?1 and warehouse_id = ?2 and state = 'available'), 0) as available,
  coalesce((select quantity from reserved_stock where item_id = ?1 and warehouse_id = ?2), 0) as reserved,
  exists (select 1 from balance where item_id = ?1 and warehouse_id = ?2 and lot <> '') as lots`;

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
  const more = reservable(stockOf(work, item, warehouse, holder.kind === 'productionOrder' ? 'use' : 'sell').free, wanted, has);
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
