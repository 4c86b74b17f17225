/** How an item is planned in a warehouse. */
import type { api } from '@terrace/contract';
import type { BodyOf, ItemView } from '@terrace/contract';
import { Refusal, parseQuantity, writeQuantity, type Given } from '@terrace/core';
import { assertSeen, atField, orNotFound, type Work } from '../platform/work';
import { itemFacts } from './item-facts';

export function rulesOf(work: Work, id: number): ItemView['rules'] {
  return work
    .rows<{
      warehouseId: number;
      warehouse: string;
      source: string;
      leadDays: number;
      safety: number;
      minimum: number;
      multiple: number;
      slackDays: number;
      version: number;
    }>(
      `select r.warehouse_id as warehouseId, w.code as warehouse, r.source, r.lead_days as leadDays, r.safety, r.minimum, r.multiple, r.slack_days as slackDays, r.version
       from planning_rule r join warehouse w on w.id = r.warehouse_id where r.item_id = ? order by w.code`,
      id,
    )
    .map((each) => ({
      ...each,
      safety: writeQuantity(each.safety),
      minimum: writeQuantity(each.minimum),
      multiple: writeQuantity(each.multiple),
    }));
}

/** Sets how an item is planned in a warehouse; from then on it is its own and follows no group. */
export function setRule(work: Work, id: number, input: BodyOf<typeof api.catalogue.setRule>): void {
  const { code, decimals } = itemFacts(work, id);
  const warehouse = orNotFound(work.row<{ code: string }>('select code from warehouse where id = ?', input.warehouseId), 'warehouse');
  const kept = work.row<{ version: number }>('select version from planning_rule where item_id = ? and warehouse_id = ?', id, input.warehouseId);
  if (input.version !== undefined) assertSeen(kept, input.version, `How ${code} is planned in ${warehouse.code}`);
  const read = (field: 'safety' | 'minimum' | 'multiple'): number =>
    atField(field, () => {
      const quantity = parseQuantity(input[field], decimals, `the ${field}`);
      if (quantity < 0) throw new Refusal('negative', `The ${field} can't be below 0.`);
      return quantity;
    });
  work.run(
    `insert into planning_rule (item_id, warehouse_id, source, lead_days, safety, minimum, multiple, slack_days) values (?, ?, ?, ?, ?, ?, ?, ?)
     on conflict (item_id, warehouse_id) do update set source = excluded.source, lead_days = excluded.lead_days, safety = excluded.safety,
       minimum = excluded.minimum, multiple = excluded.multiple, slack_days = excluded.slack_days, version = version + 1`,
    id,
    input.warehouseId,
    input.source,
    input.leadDays,
    read('safety'),
    read('minimum'),
    read('multiple'),
    input.slackDays,
  );
  const follows = JSON.parse(work.row<{ follows: string }>('select follows from item where id = ?', id)?.follows ?? '[]') as Given[];
  if (follows.includes('planning'))
    work.run('update item set follows = ? where id = ?', JSON.stringify(follows.filter((each) => each !== 'planning')), id);
  work.record('item', id, `set how ${code} is planned in ${warehouse.code}`);
}
