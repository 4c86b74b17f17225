/** Items that can stand in for one another. */
import type { api } from '@terrace/contract';
import type { BodyOf, ItemView } from '@terrace/contract';
import { and, eq, not, notExists, sql, type SQLWrapper } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import { Refusal, divideRounded, parsePositiveQuantity, writeQuantity } from '@terrace/core';
import { among } from '../platform/expressions';
import { atField } from '../platform/fields';
import { command, query } from '../platform/query';
import { addRow, changeRow, dropRows } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { itemFacts, itemOf, usableItem } from './item-facts';
import { item, itemSubstitute } from './schema';

const RATIO_DECIMALS = 5;
const ONE = 10n ** 5n;

const other = alias(itemSubstitute, 'other');
const facts = (today: SQLWrapper) => ({
  id: item.id,
  code: item.code,
  description: item.description,
  unit: item.unitCode,
  ratio: itemSubstitute.ratio,
  active: item.active,
  free: otherRooms.get().free(item.id, today),
});
const stated = query(
  ($: { id: number; today: string }) => (db) =>
    db
      .select({ ...facts(sql`${$.today}`), bothWays: itemSubstitute.bothWays })
      .from(itemSubstitute)
      .innerJoin(item, eq(item.id, itemSubstitute.substituteId))
      .where(eq(itemSubstitute.itemId, $.id)),
);
const statedFromTheOtherSide = query(
  ($: { id: number; today: string }) => (db) =>
    db
      .select({ ...facts(sql`${$.today}`), bothWays: itemSubstitute.bothWays })
      .from(itemSubstitute)
      .innerJoin(item, eq(item.id, itemSubstitute.itemId))
      .where(
        and(
          eq(itemSubstitute.substituteId, $.id),
          eq(itemSubstitute.bothWays, true),
          notExists(
            db
              .select({ one: sql`1` })
              .from(other)
              .where(and(eq(other.itemId, $.id), eq(other.substituteId, itemSubstitute.itemId))),
          ),
        ),
      ),
);

/** What can stand in for an item, with what is free of it in all warehouses. */
export function substitutesOf(work: Work, id: number): ItemView['substitutes'] {
  const ours = stated.all(work, { id, today: work.today }).map((each) => ({ ...each, ratio: writeQuantity(each.ratio) }));
  // Stated from the other side: one of ours takes the reverse.
  const theirs = statedFromTheOtherSide
    .all(work, { id, today: work.today })
    .map((each) => ({ ...each, ratio: writeQuantity(Number(divideRounded(ONE * ONE, BigInt(each.ratio)))) }));
  return [...ours, ...theirs]
    .map((each) => ({ ...each, free: writeQuantity(each.free) }))
    .sort((a, b) => (a.code < b.code ? -1 : a.code > b.code ? 1 : 0));
}

const dropStated = command(
  ($: { itemId: number; substituteId: number }) => (db) =>
    db.delete(itemSubstitute).where(and(eq(itemSubstitute.itemId, $.itemId), eq(itemSubstitute.substituteId, $.substituteId))),
);
const dropStatedElsewhere = command(
  ($: { id: number; but: readonly number[] }) => (db) =>
    db
      .delete(itemSubstitute)
      .where(and(eq(itemSubstitute.substituteId, $.id), eq(itemSubstitute.bothWays, true), not(among(itemSubstitute.itemId, $.but)))),
);

/** Sets what can stand in for an item. Refuses `itself` and `sameItem`. */
export function setSubstitutes(work: Work, id: number, { version, lines }: BodyOf<typeof api.catalogue.setSubstitutes>): void {
  const own = itemOf(work, id);
  assertVersion(work, 'item', own, version, own.code);
  dropRows(work, itemSubstitute, { itemId: id });
  lines.forEach((line, index) => {
    const field = `lines.${index}.itemId`;
    if (line.itemId === id) throw new Refusal('itself', `${own.code} can't stand in for itself.`, { field });
    if (lines.findIndex((each) => each.itemId === line.itemId) !== index)
      throw new Refusal('sameItem', `${itemFacts(work, line.itemId).code} is named twice.`, { field });
    atField(field, () => usableItem(work, line.itemId));
    const ratio = atField(`lines.${index}.ratio`, () => parsePositiveQuantity(line.ratio, RATIO_DECIMALS, 'the ratio'));
    // What was stated from the other side is stated here now.
    dropStated.run(work, { itemId: line.itemId, substituteId: id });
    addRow(work, itemSubstitute, { itemId: id, substituteId: line.itemId, ratio, bothWays: line.bothWays });
  });
  dropStatedElsewhere.run(work, { id, but: lines.map((line) => line.itemId) });
  changeRow(work, item, id, {});
  work.record('item', id, `set what can stand in for ${own.code}`);
}
