/** New standard costs: what is in stock is worth that from now on. */
import type { api } from '@terrace/contract';
import type { AnswerOf, BodyOf } from '@terrace/contract';
import { Refusal, asAmount, parseAskedPrice, parsePrice, writeAmount, writePrice } from '@terrace/core';
import { postEvent } from '../accounts';
import { accountsOfItem, setStandard } from '../catalogue';
import { atField } from '../platform/fields';
import { addRow } from '../platform/rows';
import { assertMay, type Work } from '../platform/work';
import { revaluePools } from './costing';
import { revaluation } from './document-schema';

/** Sets a new standard cost; what is in stock is worth that from now on, with an entry over the difference. */
export function setStandardCost(
  work: Work,
  item: number,
  input: BodyOf<typeof api.stores.setStandardCost>,
): AnswerOf<typeof api.stores.setStandardCost> {
  assertMay(work.actor, 'catalogue.edit');
  const facts = accountsOfItem(work, item);
  if (facts.costing !== 'standard')
    throw new Refusal('noStandard', `${facts.code} has no standard cost: its costing method is the cost of its receipts.`);
  if (parsePrice(input.seen, 'the cost seen') !== facts.standardCost)
    throw new Refusal(
      'staleVersion',
      `The standard cost of ${facts.code} is ${writePrice(facts.standardCost)} meanwhile: look again and repeat what you wanted.`,
      {
        current: writePrice(facts.standardCost),
      },
    );
  const fresh = atField('unitCost', () => parseAskedPrice(input.unitCost, 'the standard cost'));
  if (fresh === facts.standardCost) throw new Refusal('nothingChanges', `${writePrice(fresh)} is the standard cost already.`, { field: 'unitCost' });
  const changes = revaluePools(work, facts, item, fresh, work.today);
  const value = changes.reduce((sum, change) => sum + change.value, 0);
  const number = work.nextNumber('RV');
  const id = addRow(work, revaluation, {
    number,
    date: work.today,
    itemId: item,
    before: facts.standardCost,
    after: fresh,
    value: asAmount(value),
    note: input.note,
  });
  setStandard(work, item, fresh);
  postEvent(work, { kind: 'revaluation', id, number }, work.today, {
    kind: 'revaluation',
    stock: changes.map((change) => ({ inventoryAccount: facts.inventoryAccount, value: change.value })),
  });
  work.record('item', item, `set the standard cost of ${facts.code}`, [
    { field: 'standardCost', from: writePrice(facts.standardCost), to: writePrice(fresh) },
  ]);
  work.record('revaluation', id, `${number}: ${facts.code} at ${writePrice(fresh)}`);
  work.touch('stock', item, number, true);
  return { number, change: writeAmount(value), unitCost: writePrice(fresh) };
}
