/** Bills of materials. */
import type { api } from '@terrace/contract';
import { type BodyOf, type ItemView } from '@terrace/contract';
import { Refusal, findCycle, parsePositiveQuantity, readDecimal } from '@terrace/core';
import { atField, type Work } from '../platform/work';
import { itemFacts, itemView, usableItem } from './items';

/** Finer than any unit: a quantity per piece may be a fraction of what can be stored. */
const PER_DECIMALS = 5;

/** Sets what an item is made from. Refuses `cycle`, naming the path, and lines that make no sense. */
export function setBom(work: Work, id: number, { lines }: BodyOf<typeof api.catalogue.setBom>): ItemView {
  const { code } = itemFacts(work, id);
  const componentsOf = (parent: string): string[] =>
    work
      .rows<{ code: string }>(
        'select c.code from bom_line b join item p on p.id = b.item_id join item c on c.id = b.component_id where p.code = ?',
        parent,
      )
      .map((each) => each.code);
  work.run('delete from bom_line where item_id = ?', id);
  lines.forEach((line, index) => {
    const component = atField(`lines.${index}.componentId`, () => usableItem(work, line.componentId));
    atField(`lines.${index}.quantity`, () => parsePositiveQuantity(line.quantity, PER_DECIMALS, 'the quantity per piece'));
    const scrap = readDecimal(line.scrap);
    if (!scrap || scrap.mantissa < 0n || scrap.mantissa >= 10n ** BigInt(scrap.scale)) {
      throw new Refusal('badScrap', `A scrap share of ${line.scrap} makes no sense: give 0.05 for 5 %.`, { field: `lines.${index}.scrap` });
    }
    const cycle = findCycle(code, component.code, componentsOf);
    if (cycle)
      throw new Refusal('cycle', `${component.code} can't be in ${code}: it leads back to it (${cycle.join(' → ')}).`, {
        field: `lines.${index}.componentId`,
        path: cycle,
      });
    work.run(
      'insert into bom_line (item_id, position, component_id, quantity, scrap, offset_days, valid_from, valid_to) values (?, ?, ?, ?, ?, ?, ?, ?)',
      id,
      index + 1,
      line.componentId,
      line.quantity,
      line.scrap,
      line.offsetDays,
      line.validFrom,
      line.validTo,
    );
  });
  work.run('update item set version = version + 1 where id = ?', id);
  work.record('item', id, `set what ${code} is made from`);
  return itemView(work, id);
}
