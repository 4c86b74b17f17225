/** What customers call items: their own numbers, by which they order. */
import { and, eq, ne, sql } from 'drizzle-orm';
import type { AnswerOf, BodyOf, api } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import { sameText } from '../platform/expressions';
import { query } from '../platform/query';
import { dropRows, fetching, keepRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { usableItem } from './item-facts';
import { customer, customerItem } from './party-schema';
import { item } from './schema';

const customerBy = fetching(customer, 'customer');
const theirs = query(
  ($: { customerId: number }) => (db) =>
    db
      .select({
        itemId: customerItem.itemId,
        code: item.code,
        description: item.description,
        theirCode: customerItem.code,
        theirDescription: customerItem.description,
      })
      .from(customerItem)
      .innerJoin(item, eq(item.id, customerItem.itemId))
      .where(eq(customerItem.customerId, $.customerId))
      .orderBy(customerItem.code),
);
const taken = query(
  ($: { customerId: number; code: string; except: number }) => (db) =>
    db
      .select({ code: item.code })
      .from(customerItem)
      .innerJoin(item, eq(item.id, customerItem.itemId))
      .where(and(eq(customerItem.customerId, $.customerId), sameText(customerItem.code, $.code), ne(customerItem.itemId, $.except))),
);
const calledSo = query(
  ($: { customerId: number; code: string }) => (db) =>
    db
      .select({ itemId: customerItem.itemId })
      .from(customerItem)
      .where(and(eq(customerItem.customerId, $.customerId), sameText(customerItem.code, $.code), sql`${$.code} <> ''`)),
);

export function customerItems(work: Work, customerId: number): AnswerOf<typeof api.catalogue.customerItems> {
  customerBy(work, customerId);
  return theirs.all(work, { customerId });
}

/** The item that a customer calls so. */
export function itemCalledBy(work: Work, customerId: number, code: string): number | undefined {
  return calledSo.one(work, { customerId, code })?.itemId;
}

/** Says what a customer calls an item. Refuses `codeTaken` where they call another so already. */
export function keepCustomerItem(
  work: Work,
  customerId: number,
  { itemId, theirCode, theirDescription }: BodyOf<typeof api.catalogue.keepCustomerItem>,
): void {
  const { name } = customerBy(work, customerId);
  const { code } = usableItem(work, itemId);
  const other = taken.one(work, { customerId, code: theirCode, except: itemId });
  if (other) throw new Refusal('codeTaken', `${name} call ${other.code} by ${theirCode} already: a number means one item.`, { field: 'theirCode' });
  keepRow(work, customerItem, ['customerId', 'itemId'], { customerId, itemId, code: theirCode, description: theirDescription });
  work.record('customer', customerId, `${name} call ${code} ${theirCode}`);
}

/** Forgets what a customer calls an item. */
export function dropCustomerItem(work: Work, customerId: number, itemId: number): void {
  const { name } = customerBy(work, customerId);
  if (dropRows(work, customerItem, { customerId, itemId }) === 0) throw new Refusal('notFound', `${name} have no number of their own for this item.`);
  work.record('customer', customerId, `forgot what ${name} call an item`);
}
