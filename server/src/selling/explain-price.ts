/** The price of an item for a customer, and why: tried out, or of the order line in hand. */
import type { api } from '@terrace/contract';
import type { AnswerOf, QueryOf } from '@terrace/contract';
import { fromBooks, marginOf, parsePositiveQuantity, writePoints, writePrice, type UnitPrice } from '@terrace/core';
import { itemOf } from '../catalogue';
import { atField } from '../platform/fields';
import type { Work } from '../platform/work';
import { agreedLine, stillAgreed } from './agreed-price';
import { currentCost, priceFor } from './pricing';

/** The answer of the price trial and of the order line in hand. */
export function explained(work: Work, query: QueryOf<typeof api.selling.explainPrice>): AnswerOf<typeof api.selling.explainPrice> {
  const item = itemOf(work, query.itemId);
  const quantity = atField('quantity', () => parsePositiveQuantity(query.quantity, item.decimals, `the quantity of ${item.code}`));
  const asked = { day: query.date ?? work.today, customerId: query.customerId ?? null, warehouseId: query.warehouseId };
  const kept = query.lineId === undefined ? null : agreedLine(work, query.lineId, asked.customerId);
  const currency = kept?.currency;
  if (kept && currency !== undefined && stillAgreed(work, kept, { itemId: query.itemId, quantity }, { ...asked, currency })) {
    const theirs = (price: UnitPrice): UnitPrice => fromBooks(price, kept.rate);
    const cost = theirs(currentCost(work, query.itemId, query.warehouseId));
    const margin = marginOf(kept.price, cost);
    return {
      price: writePrice(kept.price),
      stated: writePrice(kept.price),
      currency,
      wantedIn: currency,
      list: null,
      steps: kept.priceSteps,
      listPrice: writePrice(theirs(item.sellPrice)),
      cost: writePrice(cost),
      margin: margin === null ? '' : writePoints(margin),
      ceiling: item.discountCeiling === null ? null : writePoints(item.discountCeiling),
    };
  }
  const priced = priceFor(work, { ...asked, currency, itemId: query.itemId, quantity });
  return {
    price: writePrice(priced.price),
    stated: writePrice(priced.stated),
    currency: priced.currency,
    wantedIn: priced.wantedIn,
    list: priced.entry ? { id: priced.entry.list.id, code: priced.entry.list.code } : null,
    steps: [...priced.steps],
    listPrice: writePrice(priced.listPrice),
    cost: writePrice(priced.cost),
    margin: priced.margin === null ? '' : writePoints(priced.margin),
    ceiling: priced.ceiling === null ? null : writePoints(priced.ceiling),
  };
}
