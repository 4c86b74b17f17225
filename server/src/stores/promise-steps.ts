/** What can be promised of an item: what is there and firmly comes, less what others count on and have reserved. */
import { asQuantity, promiseOfLots, type PromiseDemand, type PromiseStep } from '@terrace/core';
import type { Work } from '../platform/work';
import { stockEvents, type StockEvent } from './events';
import { livingStock } from './lot-life';
import { reservationsIn } from './reservations';
import type { HolderKind } from './schema';

interface Holder {
  readonly kind: HolderKind;
  readonly id: number;
}

/** What firmly comes of an item, and what is taken by those who count on it, with what each has reserved. */
export interface CountedOn {
  readonly supplies: readonly StockEvent[];
  /** Who waits without a promise counts on nothing but what they have. What is reserved for what is expected from nobody counts all the same. */
  readonly demands: readonly (PromiseDemand & { readonly holder: Holder | null })[];
}

export function countedOn(work: Work, item: number, warehouse: number): CountedOn {
  const held = new Map(
    reservationsIn(work, item, warehouse).map((each) => [`${each.kind} ${each.holder}`, { ...each, left: Number(each.quantity) }]),
  );
  const events = stockEvents(work, item, warehouse).filter((each) => each.firm);
  const demands = events.flatMap(({ kind, date, quantity, waits = false, holder }) => {
    if (kind !== 'demand') return [];
    const has = holder && held.get(`${holder.kind} ${holder.id}`);
    const reserved = asQuantity(Math.min(quantity, has?.left ?? 0));
    if (has) has.left -= reserved;
    return [{ date, quantity: waits ? reserved : quantity, reserved, holder }];
  });
  const rest = [...held.values()].flatMap(({ kind, holder, left }) =>
    left > 0 ? [{ date: work.today, quantity: asQuantity(left), reserved: asQuantity(left), holder: { kind, id: holder } }] : [],
  );
  return { supplies: events.filter(({ kind }) => kind === 'supply'), demands: [...demands, ...rest] };
}

/** What can be promised from when on: stock, receipts and demand, with lots only while they last. */
export function promiseSteps(work: Work, item: number, warehouse: number, except?: Holder): PromiseStep[] {
  const { supplies, demands } = countedOn(work, item, warehouse);
  const others = demands.filter(({ holder }) => !(except && holder?.kind === except.kind && holder.id === except.id));
  return promiseOfLots(livingStock(work, item, warehouse), supplies, others, work.today);
}
