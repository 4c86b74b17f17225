/** What was only supposed becomes real, by the commands that would have done it one by one. */
import type { AnswerOf, BodyOf, api } from '@terrace/contract';
import { orderInput, ruleInput } from '@terrace/contract';
import { Refusal, definedOf } from '@terrace/core';
import { cancelPurchaseLine, redatePurchaseLine } from '../buying';
import { customerOf, giveUpSupplier, rulesOf, setRule } from '../catalogue';
import { orNotFound, type Work } from '../platform/work';
import { redateProduction } from '../production';
import { createOrder, redateOrderLine } from '../selling';
import { dropFirm } from './desk-changes';

type Body = BodyOf<typeof api.planning.adopt>;
type Adopted = Body['suppositions'][number];
type RuleChange = Extract<Adopted, { kind: 'rule' }>['change'];

/** Adopts everything, or nothing. Refuses what the single commands refuse, naming the supposition as the field. */
export function adopt(work: Work, input: Body): AnswerOf<typeof api.planning.adopt> {
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
        warehouseId: idOf(work, 'warehouse', each.warehouse),
        lines: [{ itemId: idOf(work, 'item', each.item), quantity: each.quantity }],
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

function idOf(work: Work, table: 'item' | 'warehouse' | 'supplier', code: string): number {
  return orNotFound(work.row<{ id: number }>(`select id from ${table} where code = ?`, code), `${table} ${code}`).id;
}

function move(work: Work, id: string, date: string): string {
  const [number = '', position] = id.split('/');
  if (position === undefined) return redateProduction(work, number, date);
  if (work.row('select 1 from customer_order where number = ?', number)) {
    work.assertMay('selling.edit');
    return redateOrderLine(work, number, Number(position), date);
  }
  if (work.row('select 1 from purchase_order where number = ?', number)) return redatePurchaseLine(work, number, Number(position), date);
  throw new Refusal('notOffered', `${id} can't be moved from here: open it.`);
}

function lose(work: Work, code: string): string[] {
  work.assertMay('catalogue.edit');
  const id = idOf(work, 'supplier', code);
  const done: string[] = [];
  const lines = work.rows<{ number: string; position: number }>(
    `select o.number, l.position from purchase_order o join purchase_order_line l on l.order_id = o.id
     where o.supplier_id = ? and o.state in ('draft', 'approved', 'sent', 'partReceived') and l.quantity > l.received + l.cancelled order by o.number, l.position`,
    id,
  );
  for (const { number, position } of lines) done.push(cancelPurchaseLine(work, number, position, 'the supplier is given up'));
  for (const firm of work.rows<{ id: number; number: string }>("select id, number from plan_firm where supplier_id = ? and kind = 'buy'", id)) {
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
  const id = idOf(work, 'item', code);
  const warehouseId = idOf(work, 'warehouse', warehouse);
  const { version: _seen, ...kept } =
    rulesOf(work, id).find((each) => each.warehouseId === warehouseId) ?? ruleInput.parse({ warehouseId, source: 'buy', leadDays: 0 });
  // What is said here is its own from now on.
  const said: readonly string[] = Object.keys(definedOf(change)).map((field) => (field === 'lotSizing' ? 'sizing' : field));
  setRule(work, id, {
    ...kept,
    ...definedOf(change),
    ...(source === undefined ? {} : { source }),
    ...(change.safety === undefined ? {} : { safetyBy: { by: 'quantity' } }),
    ...(from === undefined ? {} : { fromId: from === null ? null : idOf(work, 'warehouse', from) }),
    warehouseId,
    follows: kept.follows.filter((field) => !said.includes(field)),
  });
  return `${code} is planned anew in ${warehouse}`;
}
