/** What was only supposed becomes real, by the commands that would have done it one by one. */
import type { AnswerOf, BodyOf, api } from '@terrace/contract';
import { orderInput, ruleInput } from '@terrace/contract';
import { Refusal, definedOf } from '@terrace/core';
import { and, eq, gt, sql } from 'drizzle-orm';
import { IS_EXPECTED, cancelPurchaseLine, purchaseOrder, purchaseOrderLine, redatePurchaseLine, stillToCome } from '../buying';
import { customerOf, giveUpSupplier, itemByCode, supplier, warehouseIdOf } from '../catalogue';
import { query } from '../platform/query';
import { orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';
import { redateProduction } from '../production';
import { createOrder, customerOrder, redateOrderLine } from '../selling';
import { assertAsSeen } from './as-seen';
import { setRule } from './inherited-rules';
import { dropFirm } from './keep-suggestions';
import { rulesOf } from './planning-rules';
import { planFirm } from './schema';

type Body = BodyOf<typeof api.planning.adopt>;
type Adopted = Body['suppositions'][number];
type RuleChange = Extract<Adopted, { kind: 'rule' }>['change'];

/** Adopts everything, or nothing. Refuses what the single commands refuse, naming the supposition as the field. */
export function adopt(work: Work, input: Body): AnswerOf<typeof api.planning.adopt> {
  assertAsSeen(
    work,
    input.suppositions.flatMap((each, index) => (each.kind === 'move' ? [{ name: each.id, field: `suppositions.${index}` }] : [])),
    input.historyId,
  );
  const done = input.suppositions.flatMap((each, index) => {
    try {
      return adoptOne(work, each);
    } catch (error) {
      if (error instanceof Refusal) throw new Refusal(error.code, error.message, { ...error.details, field: `suppositions.${index}` });
      throw error;
    }
  });
  return { done };
}

function adoptOne(work: Work, each: Adopted): string[] {
  switch (each.kind) {
    case 'order': {
      work.assertMay('selling.edit');
      const input = orderInput.parse({
        customerId: each.customerId,
        requiredDate: each.date,
        warehouseId: numberOfWarehouse(work, each.warehouse),
        lines: [{ itemId: numberOfItem(work, each.item), quantity: each.quantity }],
      });
      const { number } = createOrder(work, input);
      return [`${number} is entered for ${customerOf(work, each.customerId).name}, as a draft: confirm it to have it planned`];
    }
    case 'move':
      return [move(work, each.id, each.date)];
    case 'lose':
      return lose(work, each.supplier);
    case 'rule':
      return [changeRule(work, each.item, each.warehouse, each.change)];
  }
}

const numberOfItem = (work: Work, code: string): number => orNotFound(itemByCode(work, code)?.id, `item ${code}`);
const numberOfWarehouse = (work: Work, code: string): number => orNotFound(warehouseIdOf(work, code), `warehouse ${code}`);
const numberOfSupplier = (work: Work, code: string): number => orNotFound(supplierCalled.one(work, { code })?.id, `supplier ${code}`);

const supplierCalled = query(($: { code: string }) => (db) => db.select({ id: supplier.id }).from(supplier).where(eq(supplier.code, $.code)));
const hasNumber = (table: typeof customerOrder | typeof purchaseOrder) =>
  query(($: { number: string }) => (db) => db.select({ id: table.id }).from(table).where(eq(table.number, $.number)));
const isCustomerOrder = hasNumber(customerOrder);
const isPurchaseOrder = hasNumber(purchaseOrder);
const expectedFrom = query(
  ($: { supplierId: number }) => (db) =>
    db
      .select({ number: purchaseOrder.number, position: purchaseOrderLine.position })
      .from(purchaseOrder)
      .innerJoin(purchaseOrderLine, eq(purchaseOrderLine.orderId, purchaseOrder.id))
      .where(and(eq(purchaseOrder.supplierId, $.supplierId), IS_EXPECTED, gt(stillToCome, sql`0`)))
      .orderBy(purchaseOrder.number, purchaseOrderLine.position),
);
const keptFrom = query(
  ($: { supplierId: number }) => (db) =>
    db
      .select({ id: planFirm.id, number: planFirm.number })
      .from(planFirm)
      .where(and(eq(planFirm.supplierId, $.supplierId), eq(planFirm.kind, 'buy'))),
);

function move(work: Work, id: string, date: string): string {
  const [number = '', position] = id.split('/');
  if (position === undefined) return redateProduction(work, number, date);
  if (isCustomerOrder.one(work, { number })) {
    work.assertMay('selling.edit');
    return redateOrderLine(work, number, Number(position), date);
  }
  if (isPurchaseOrder.one(work, { number })) return redatePurchaseLine(work, number, Number(position), date);
  throw new Refusal('notOffered', `${id} can't be moved from here: open it.`);
}

function lose(work: Work, code: string): string[] {
  work.assertMay('catalogue.edit');
  const id = numberOfSupplier(work, code);
  const done: string[] = [];
  const lines = expectedFrom.all(work, { supplierId: id });
  for (const { number, position } of lines) done.push(cancelPurchaseLine(work, number, position, 'the supplier is given up'));
  for (const firm of keptFrom.all(work, { supplierId: id })) {
    dropFirm(work, firm.id);
    done.push(`${firm.number} is left to the plan again`);
  }
  const unsold = giveUpSupplier(work, id, 'adopted from what was supposed');
  done.push(`nothing is bought from ${code} any more`);
  for (const item of unsold) {
    for (const rule of rulesOf(work, item.id).filter((each) => each.source === 'buy')) {
      setRule(work, item.id, { ...rule, source: 'none' });
      done.push(`${item.code} in ${rule.warehouse} is only reported, since nobody sells it`);
    }
  }
  return done;
}

function changeRule(work: Work, code: string, warehouse: string, { from, source, ...change }: RuleChange): string {
  work.assertMay('catalogue.edit');
  const id = numberOfItem(work, code);
  const warehouseId = numberOfWarehouse(work, warehouse);
  const { version: _seen, ...kept } =
    rulesOf(work, id).find((each) => each.warehouseId === warehouseId) ?? ruleInput.parse({ warehouseId, source: 'buy', leadDays: 0 });
  // What is said here is its own from now on.
  const said: readonly string[] = Object.keys(definedOf(change)).map((field) => (field === 'lotSizing' ? 'sizing' : field));
  setRule(work, id, {
    ...kept,
    ...definedOf(change),
    ...(source === undefined ? {} : { source }),
    ...(change.safety === undefined ? {} : { safetyBy: { by: 'quantity' } }),
    ...(from === undefined ? {} : { fromId: from === null ? null : numberOfWarehouse(work, from) }),
    warehouseId,
    follows: kept.follows.filter((field) => !said.includes(field)),
  });
  return `${code} is planned anew in ${warehouse}`;
}
