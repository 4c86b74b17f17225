/** Baskets that were put aside at the counter, and taken up again by whoever comes first. */
import { eq } from 'drizzle-orm';
import { api, type AnswerOf, type BodyOf } from '@terrace/contract';
import { usableWarehouse } from '../catalogue';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { addRow, dropRows, orNotFound } from '../platform/rows';
import { user } from '../platform/schema';
import type { Work } from '../platform/work';
import { parkedSale } from './schema';

type Parked = AnswerOf<typeof api.counter.listParked>[number];

const SHOWN = { id: parkedSale.id, at: parkedSale.at, who: user.name, words: parkedSale.words, basket: parkedSale.basket };
const inWarehouse = query(
  ($: { warehouseId: number }) => (db) =>
    db
      .select(SHOWN)
      .from(parkedSale)
      .innerJoin(user, eq(user.id, parkedSale.userId))
      .where(eq(parkedSale.warehouseId, $.warehouseId))
      .orderBy(parkedSale.id),
);
const one = query(
  ($: { id: number }) => (db) => db.select(SHOWN).from(parkedSale).innerJoin(user, eq(user.id, parkedSale.userId)).where(eq(parkedSale.id, $.id)),
);

function viewOf({ basket: kept, ...row }: ReturnType<typeof one.all>[number]): Parked {
  const basket = api.counter.previewSale.body.parse(kept);
  return { ...row, basket, lines: basket.lines.length };
}

export function listParked(work: Work, warehouseId: number): Parked[] {
  return inWarehouse.all(work, { warehouseId }).map(viewOf);
}

/** Puts a basket aside. */
export function park(work: Work, { words, ...basket }: BodyOf<typeof api.counter.park>): { id: number } {
  atField('warehouseId', () => usableWarehouse(work, basket.warehouseId));
  const id = addRow(work, parkedSale, { at: work.now, userId: work.actor.id, warehouseId: basket.warehouseId, words, basket });
  work.touch('counterSale', 0, 'a basket was put aside');
  return { id };
}

/** Takes a basket up: it is not there for others any more. Refuses `notFound` where somebody was faster. */
export function takeUp(work: Work, id: number): Parked {
  const found = viewOf(orNotFound(one.one(work, { id }), 'basket'));
  dropRows(work, parkedSale, { id });
  work.touch('counterSale', 0, 'a basket was taken up');
  return found;
}
