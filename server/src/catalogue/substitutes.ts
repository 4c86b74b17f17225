/** Items that can stand in for one another. */
import type { api } from '@terrace/contract';
import type { BodyOf, ItemView } from '@terrace/contract';
import { Refusal, divideRounded, parsePositiveQuantity, writeQuantity } from '@terrace/core';
import { assertVersion, atField, type Work } from '../platform/work';
import { itemFacts, itemOf, usableItem } from './item-facts';

const RATIO_DECIMALS = 5;
const ONE = 10n ** 5n;

const SUBSTITUTES = `
  select i.id, i.code, i.description, i.unit_code as unit, s.ratio, s.both_ways as bothWays, 0 as turned, i.active,
    max(0, coalesce((select sum(b.quantity) from balance b where b.item_id = i.id and b.state = 'available'), 0) - coalesce((select sum(r.quantity) from reserved_stock r where r.item_id = i.id), 0)) as free
    from item_substitute s join item i on i.id = s.substitute_id where s.item_id = ?1
  union all
  select i.id, i.code, i.description, i.unit_code, s.ratio, 1, 1, i.active,
    max(0, coalesce((select sum(b.quantity) from balance b where b.item_id = i.id and b.state = 'available'), 0) - coalesce((select sum(r.quantity) from reserved_stock r where r.item_id = i.id), 0))
    from item_substitute s join item i on i.id = s.item_id where s.substitute_id = ?1 and s.both_ways = 1
      and not exists (select 1 from item_substitute o where o.item_id = ?1 and o.substitute_id = s.item_id)
  order by 2`;

/** What can stand in for an item, with what is free of it in all warehouses. */
export function substitutesOf(work: Work, id: number): ItemView['substitutes'] {
  return work
    .rows<{
      id: number;
      code: string;
      description: string;
      unit: string;
      ratio: number;
      bothWays: number;
      turned: number;
      active: number;
      free: number;
    }>(SUBSTITUTES, id)
    .map(({ turned, ...each }) => ({
      ...each,
      // Stated from the other side: one of ours takes the reverse.
      ratio: turned === 1 ? writeQuantity(Number(divideRounded(ONE * ONE, BigInt(each.ratio)))) : writeQuantity(each.ratio),
      bothWays: each.bothWays === 1,
      active: each.active === 1,
      free: writeQuantity(each.free),
    }));
}

/** Sets what can stand in for an item. Refuses `itself` and `sameItem`. */
export function setSubstitutes(work: Work, id: number, { version, lines }: BodyOf<typeof api.catalogue.setSubstitutes>): void {
  const item = itemOf(work, id);
  assertVersion(work, 'item', item, version, item.code);
  work.run('delete from item_substitute where item_id = ?', id);
  lines.forEach((line, index) => {
    const field = `lines.${index}.itemId`;
    if (line.itemId === id) throw new Refusal('itself', `${item.code} can't stand in for itself.`, { field });
    if (lines.findIndex((each) => each.itemId === line.itemId) !== index)
      throw new Refusal('sameItem', `${itemFacts(work, line.itemId).code} is named twice.`, { field });
    atField(field, () => usableItem(work, line.itemId));
    const ratio = atField(`lines.${index}.ratio`, () => parsePositiveQuantity(line.ratio, RATIO_DECIMALS, 'the ratio'));
    // What was stated from the other side is stated here now.
    work.run('delete from item_substitute where item_id = ? and substitute_id = ?', line.itemId, id);
    work.run(
      'insert into item_substitute (item_id, substitute_id, ratio, both_ways) values (?, ?, ?, ?)',
      id,
      line.itemId,
      ratio,
      line.bothWays ? 1 : 0,
    );
  });
  const others = new Set(lines.map((line) => line.itemId));
  work.run(
    `delete from item_substitute where substitute_id = ? and both_ways = 1 and item_id not in (${[...others].map(Number).join(', ') || '0'})`,
    id,
  );
  work.run('update item set version = version + 1 where id = ?', id);
  work.record('item', id, `set what can stand in for ${item.code}`);
}
