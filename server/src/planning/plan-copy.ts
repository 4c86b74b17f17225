/** The plan copied with all that it counts with, so that a question of what would be if needs nothing more. */
import type { PlanCopyView } from '@terrace/contract';
import { and, eq, gt, inArray, sql } from 'drizzle-orm';
import { unitCostOf, writePrice, writeQuantity, type Amount, type Quantity } from '@terrace/core';
import { IS_EXPECTED, purchaseOrder, purchaseOrderLine, stillToCome } from '../buying';
import { customer, item, supplier, validTerms, warehouse } from '../catalogue';
import { flag } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { IS_OPEN, productionOrder } from '../production';
import { IN_WORK, customerOrder } from '../selling';
import { costPool } from '../stores';
import { gatherProblem, gatherReserved } from './problem';
import { planStateRow } from './plan-state';
import { planFirm, planningRule } from './schema';

const isPlanned = inArray(item.kind, ['stocked', 'phantom']);

const plannedItems = query(
  () => (db) =>
    db
      .select({ id: item.id, code: item.code, description: item.description, unit: item.unitCode, buyPrice: item.buyPrice })
      .from(item)
      .where(isPlanned)
      .orderBy(item.code),
);
const allSuppliers = query(
  () => (db) => db.select({ id: supplier.id, code: supplier.code, name: supplier.name }).from(supplier).orderBy(supplier.name),
);
/** What the rules themselves say, where the supplier's terms may say more. */
const ownFigures = query(
  () => (db) =>
    db
      .select({
        item: item.code,
        warehouse: warehouse.code,
        leadDays: planningRule.leadDays,
        minimum: planningRule.minimum,
        multiple: planningRule.multiple,
      })
      .from(planningRule)
      .innerJoin(item, eq(item.id, planningRule.itemId))
      .innerJoin(warehouse, eq(warehouse.id, planningRule.warehouseId))
      .where(isPlanned),
);
const coming = query(
  () => (db) =>
    db
      .select({
        id: sql<string>`${purchaseOrder.number} || '/' || ${purchaseOrderLine.position}`,
        supplier: supplier.code,
        price: purchaseOrderLine.price,
      })
      .from(purchaseOrderLine)
      .innerJoin(purchaseOrder, eq(purchaseOrder.id, purchaseOrderLine.orderId))
      .innerJoin(supplier, eq(supplier.id, purchaseOrder.supplierId))
      .where(and(IS_EXPECTED, gt(stillToCome, sql`0`))),
);
const keptToBuy = query(
  () => (db) =>
    db
      .select({ id: planFirm.number, supplierId: supplier.id, supplier: supplier.code, itemId: planFirm.itemId })
      .from(planFirm)
      .innerJoin(supplier, eq(supplier.id, planFirm.supplierId))
      .where(eq(planFirm.kind, 'buy')),
);
const making = query(
  () => (db) =>
    db
      .select({ id: productionOrder.number, start: productionOrder.startDate, running: flag(eq(productionOrder.state, 'running')) })
      .from(productionOrder)
      .where(and(IS_OPEN, gt(productionOrder.quantity, productionOrder.finished))),
);
const ordersInWork = query(
  () => (db) =>
    db
      .select({ id: customerOrder.id, number: customerOrder.number, customer: customer.name })
      .from(customerOrder)
      .innerJoin(customer, eq(customer.id, customerOrder.customerId))
      .where(IN_WORK),
);
const worthOfItems = query(
  () => (db) =>
    db
      .select({ itemId: costPool.itemId, quantity: sql<Quantity>`sum(${costPool.quantity})`, value: sql<Amount>`sum(${costPool.value})` })
      .from(costPool)
      .groupBy(costPool.itemId),
);
const placesByCode = query(() => (db) => db.select({ id: warehouse.id, code: warehouse.code }).from(warehouse).orderBy(warehouse.code));

/** What is only written out, so that nothing of it has to be a list that may be changed. */
type Written<T> = T extends readonly (infer Row)[] ? readonly Written<Row>[] : T extends object ? { readonly [Key in keyof T]: Written<T[Key]> } : T;

export function gatherCopy(work: Work): Written<PlanCopyView> {
  const plan = work.inPlan();
  const state = plan && planStateRow(plan);
  const suppliers = allSuppliers.all(work);
  const codes = new Map(suppliers.map((each) => [each.id, each.code]));
  const terms = validTerms(work);
  const worth = new Map(worthOfItems.all(work).map((each) => [each.itemId, each]));
  const items = plannedItems.all(work);
  const asked = (itemId: number, supplierId?: number): number => {
    const offers = terms.get(itemId) ?? [];
    const offer = supplierId === undefined ? offers[0] : offers.find((each) => each.supplierId === supplierId);
    return offer?.prices[0]?.price ?? 0;
  };
  return {
    seq: state?.seq ?? 0,
    historyId: work.lastHistory(),
    problem: gatherProblem(work),
    facts: {
      costs: items.map(({ id, code, buyPrice }) => {
        const here = worth.get(id);
        const kept = here && here.quantity > 0 ? unitCostOf(here.value, here.quantity) : 0;
        return { item: code, cost: writePrice(kept > 0 ? kept : asked(id) || buyPrice) };
      }),
      offers: items.flatMap(({ id, code }) =>
        (terms.get(id) ?? []).map((each) => ({
          item: code,
          supplier: codes.get(each.supplierId) ?? '',
          preferred: each.preferred,
          leadDays: each.leadDays,
          minimum: writeQuantity(each.minimum),
          multiple: writeQuantity(each.multiple),
          prices: each.prices.map((one) => ({ from: writeQuantity(one.from), price: writePrice(one.price) })),
        })),
      ),
      own: ownFigures.all(work).map((each) => ({ ...each, minimum: writeQuantity(each.minimum), multiple: writeQuantity(each.multiple) })),
      coming: [
        ...coming.all(work).map((each) => ({ ...each, price: writePrice(each.price) })),
        ...keptToBuy.all(work).map(({ id, supplier, supplierId, itemId }) => ({ id, supplier, price: writePrice(asked(itemId, supplierId)) })),
      ],
      reserved: [...gatherReserved(work)].map(([demand, quantity]) => ({ demand, quantity })),
      making: making.all(work),
    },
    words: {
      items: items.map(({ id, code, description, unit }) => ({ id, code, description, unit })),
      suppliers,
      orders: ordersInWork.all(work),
      warehouses: placesByCode.all(work),
    },
  };
}
