/** Stock that is free, offered to the orders that wait for it: looked at first, then reserved for all of them, or by itself. */
import { and, gt, eq, sql } from 'drizzle-orm';
import type { AnswerOf, api } from '@terrace/contract';
import { outstanding, writeQuantity, type Quantity } from '@terrace/core';
import { customerOf, itemFacts, warehouseOf } from '../catalogue';
import { query } from '../platform/query';
import { changeRow } from '../platform/rows';
import { houseRules } from '../platform/house-rules';
import { keepSetting, settingOf } from '../platform/settings';
import type { Work } from '../platform/work';
import { couldReserve, reservation, reserveFree, type Grant } from '../stores';
import { FROM_STOCK, IN_WORK, stillToShip } from './events';
import { orderOf } from './order-view';
import { openLinesOf, reviewPromises, type OpenLine } from './promises';
import { reservesFor } from './reserve-lines';
import { customerOrder, customerOrderLine as line } from './schema';

const BY_ITSELF = 'reserveByItself';

/** Whether stock that becomes free is reserved by itself for the orders that wait. */
export function reservesByItself(work: Work): boolean {
  return settingOf(work.store, BY_ITSELF) === 'yes';
}

export function setReservesByItself(work: Work, on: boolean): void {
  keepSetting(work.store, BY_ITSELF, on ? 'yes' : 'no');
  work.record(
    'setup',
    0,
    on ? 'free stock is reserved by itself for orders that wait' : 'free stock is reserved for orders that wait when somebody says so',
  );
}

const itemsWaiting = query(
  () => (db) =>
    db
      .selectDistinct({ itemId: line.itemId })
      .from(line)
      .innerJoin(customerOrder, eq(customerOrder.id, line.orderId))
      .leftJoin(reservation, and(eq(reservation.holderKind, 'customerOrder'), eq(reservation.holderId, line.id)))
      .where(and(IN_WORK, FROM_STOCK, gt(stillToShip, sql`coalesce(${reservation.quantity}, 0)`))),
);

/** The company's rule, who comes first: the earlier promise, the earlier wish, the older line. */
const inOrder = (a: OpenLine, b: OpenLine): number =>
  (a.promise ?? a.wanted).localeCompare(b.promise ?? b.wanted) || a.wanted.localeCompare(b.wanted) || a.id - b.id;
const waits = (each: OpenLine): boolean => each.reserved < outstanding(each);

interface Offer {
  readonly itemId: number;
  readonly line: OpenLine;
  /** How much more could be reserved for it. */
  readonly more: Quantity;
}

const holderOf = (each: OpenLine) => ({ kind: 'customerOrder', id: each.id, documentId: each.orderId, documentNumber: each.number }) as const;

/** What could be reserved for lines that wait, in the order of the rule, each beside what those before it get. */
function offersOf(work: Work, itemId: number, gets: (each: OpenLine) => boolean = waits): Offer[] {
  const granted = new Map<number, Grant[]>();
  return openLinesOf(work, itemId)
    .filter(gets)
    .sort(inOrder)
    .flatMap((each) => {
      const holder = holderOf(each);
      const first = granted.get(each.warehouseId) ?? [];
      const more = couldReserve(work, itemId, each.warehouseId, holder, outstanding(each), each.reserved, first);
      granted.set(each.warehouseId, [...first, { holder, quantity: more }]);
      return more > 0 ? [{ itemId, line: each, more }] : [];
    });
}

const stocked = (work: Work, itemId: number): boolean => itemFacts(work, itemId).kind === 'stocked';

function allOffers(work: Work): Offer[] {
  return itemsWaiting.all(work).flatMap(({ itemId }) => (stocked(work, itemId) ? offersOf(work, itemId) : []));
}

/** Free stock, and the lines that wait for it in the order in which they would get it. */
export function freeForWaiting(work: Work): AnswerOf<typeof api.selling.freeForWaiting> {
  return {
    byItself: reservesByItself(work),
    rows: allOffers(work).map(({ itemId, line: each, more }) => {
      const item = itemFacts(work, itemId);
      const order = orderOf(work, each.orderId);
      return {
        lineId: each.id,
        orderId: each.orderId,
        order: each.number,
        position: each.position,
        customer: customerOf(work, order.customerId).name,
        itemId,
        code: item.code,
        description: item.description,
        unit: item.unit,
        warehouse: warehouseOf(work, each.warehouseId).code,
        wanted: each.wanted,
        promised: each.promise,
        waits: writeQuantity(outstanding(each) - each.reserved),
        gets: writeQuantity(more),
      };
    }),
  };
}

/** Reserves what is free for the lines that wait, in the order of the rule; answers for how many. */
export function reserveForWaiting(work: Work): { reserved: number } {
  const items = new Set(allOffers(work).map((each) => each.itemId));
  return { reserved: [...items].reduce((sum, itemId) => sum + reserveFor(work, itemId), 0) };
}

/** Reserves what is free of an item for the lines that wait, in the order of the rule; answers for how many. */
function reserveFor(work: Work, itemId: number, gets?: (each: OpenLine) => boolean): number {
  const offers = offersOf(work, itemId, gets);
  for (const { line: each } of offers) reserveFree(work, itemId, each.warehouseId, holderOf(each), outstanding(each), each.reserved);
  for (const id of new Set(offers.map((each) => each.line.orderId))) {
    changeRow(work, customerOrder, id, {});
    work.record('customerOrder', id, `reserved ${itemFacts(work, itemId).code} that became free`);
  }
  if (offers.length > 0) reviewPromises(work, itemId);
  return offers.length;
}

/** Reserves by itself what has become free of these items, where the company wants that. */
export function reserveByItself(work: Work, items: readonly number[]): void {
  if (items.length === 0 || !reservesByItself(work)) return;
  const gets = (each: OpenLine): boolean => waits(each) && reservesFor(work, each.wanted);
  for (const itemId of items) if (!work.keptFree.has(itemId) && stocked(work, itemId)) reserveFor(work, itemId, gets);
}

/** Reserves for what has come to be wanted soon, where the rules of the house reserve for that alone. */
export function reserveWhatIsSoon(work: Work): void {
  if (houseRules(work.store).reserve !== 'soon') return;
  const gets = (each: OpenLine): boolean => waits(each) && reservesFor(work, each.wanted);
  for (const { itemId } of itemsWaiting.all(work)) if (stocked(work, itemId)) reserveFor(work, itemId, gets);
}
