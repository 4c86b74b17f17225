/** What items weigh. */
import { and, eq, isNotNull, sql } from 'drizzle-orm';
import { asAmount, asQuantity, proportion, unitCodeOf, type Quantity } from '@terrace/core';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { item, packUnit, unitSize } from './schema';

const weighed = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({ weight: unitSize.weight, factor: packUnit.factor })
      .from(unitSize)
      .innerJoin(item, eq(item.id, unitSize.itemId))
      .leftJoin(packUnit, and(eq(packUnit.itemId, unitSize.itemId), eq(packUnit.code, unitSize.unitCode)))
      .where(and(eq(unitSize.itemId, $.itemId), isNotNull(unitSize.weight)))
      .orderBy(sql`${unitSize.unitCode} <> ${item.unitCode}`, unitSize.unitCode)
      .limit(1),
);
const unitOf = query(($: { itemId: number }) => (db) => db.select({ unit: item.unitCode }).from(item).where(eq(item.id, $.itemId)));

const ONE = asQuantity(100_000);
const GRAMS_PER_KILOGRAM = asAmount(1000);

/** What a quantity of an item weighs, in grams: by the weight of one, else of a pack; one kept in kilograms weighs itself. 0 where nothing is known. */
export function weightOf(work: Work, itemId: number, quantity: Quantity): number {
  const known = weighed.one(work, { itemId });
  const weight = known?.weight ?? null;
  if (weight !== null) return proportion(asAmount(weight), quantity, known?.factor ?? ONE);
  return unitCodeOf(unitOf.one(work, { itemId })?.unit ?? '') === 'KGM' ? proportion(GRAMS_PER_KILOGRAM, quantity, ONE) : 0;
}
