/** Stock that goes to another inventory account, because its item goes to another group, or the group to another account. */
import { and, eq, gte, sql } from 'drizzle-orm';
import type { AnswerOf, api } from '@terrace/contract';
import { asAmount, writeAmount, type Amount } from '@terrace/core';
import { postEvent } from '../accounts';
import { accountsOfItem, inventoryAccountOf, itemsOfGroup } from '../catalogue';
import { among, total } from '../platform/expressions';
import { query } from '../platform/query';
import { addRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { reclassification, reclassifiedItem } from './document-schema';
import { costPool, stockMove } from './schema';

export interface AccountChange {
  readonly itemId: number;
  readonly from: string;
  readonly to: string;
}

const worths = query(
  ($: { items: readonly number[] }) => (db) =>
    db
      .select({ itemId: costPool.itemId, value: total(costPool.value) })
      .from(costPool)
      .where(among(costPool.itemId, $.items))
      .groupBy(costPool.itemId),
);
const lastMove = query(() => (db) => db.select({ id: sql<number | null>`max(${stockMove.id})` }).from(stockMove));

/** What the stock of these items is worth, by item; those that never had any are left out. */
function worthOf(work: Work, changes: readonly AccountChange[]): ReadonlyMap<number, Amount> {
  return new Map(worths.all(work, { items: changes.map((each) => each.itemId) }).map((each) => [each.itemId, asAmount(each.value)]));
}

/** Posts what the stock of these items is worth from one account to the other; nothing where none of them ever had any. */
export function reclassify(work: Work, changes: readonly AccountChange[], note: string): void {
  const moved = changes.filter((each) => each.from !== each.to);
  const worth = worthOf(work, moved);
  const kept = moved.filter((each) => worth.has(each.itemId));
  if (kept.length === 0) return;
  const number = work.nextNumber('AC');
  const id = addRow(work, reclassification, { number, date: work.today, note });
  const last = lastMove.one(work)?.id ?? 0;
  const stock = kept.map(({ itemId, from, to }) => ({ itemId, from, to, value: worth.get(itemId) ?? asAmount(0) }));
  for (const { itemId, from, to, value } of stock)
    addRow(work, reclassifiedItem, { reclassificationId: id, itemId, fromAccount: from, toAccount: to, value, lastMove: last });
  postEvent(work, { kind: 'reclassification', id, number }, work.today, { kind: 'reclassification', stock });
  work.record('reclassification', id, `${number}: ${note}`);
}

const accountThen = query(
  ($: { itemId: number; moveId: number }) => (db) =>
    db
      .select({ account: reclassifiedItem.fromAccount })
      .from(reclassifiedItem)
      .where(and(eq(reclassifiedItem.itemId, $.itemId), gte(reclassifiedItem.lastMove, $.moveId)))
      .orderBy(reclassifiedItem.id)
      .limit(1),
);

/** The inventory account that a move of an item was booked on; `now` is the item's own. */
export function accountOfMove(work: Work, itemId: number, moveId: number, now: string): string {
  return accountThen.one(work, { itemId, moveId })?.account ?? now;
}

const leftAccounts = query(() => (db) => db.selectDistinct({ account: reclassifiedItem.fromAccount }).from(reclassifiedItem));

/** Inventory accounts that stock has gone from to another. */
export function accountsLeft(work: Work): string[] {
  return leftAccounts.all(work).map((each) => each.account);
}

type Answer = AnswerOf<typeof api.stores.accountChange>;

/** What would go from which account to which, if an item went to a group, or a group to an account. */
export function accountChange(work: Work, asked: { item?: number | undefined; group: string; account?: string | undefined }): Answer {
  const to = asked.account ?? inventoryAccountOf(work, asked.group);
  const items = asked.item === undefined ? itemsOfGroup(work, asked.group) : [asked.item];
  const changes = items
    .map((itemId) => ({ itemId, from: accountsOfItem(work, itemId).inventoryAccount, to }))
    .filter((each) => each.from !== each.to);
  const worth = worthOf(work, changes);
  const from = changes[0]?.from ?? to;
  const value = changes.reduce((sum, { itemId }) => sum + (worth.get(itemId) ?? 0), 0);
  return { from, to, items: changes.filter(({ itemId }) => (worth.get(itemId) ?? 0) !== 0).length, value: writeAmount(value) };
}
