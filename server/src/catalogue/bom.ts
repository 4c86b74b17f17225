/** Bills of materials. */
import type { api } from '@terrace/contract';
import { type BodyOf, type ItemView } from '@terrace/contract';
import { Refusal, findCycle, parsePositiveQuantity, readDecimal } from '@terrace/core';
import { assertVersion, atField, type Work } from '../platform/work';
import { itemFacts, itemOf, usableItem } from './item-facts';

/** Finer than any unit: a quantity per piece may be a fraction of what can be stored. */
const PER_DECIMALS = 5;

/** Sets what an item is made from. Refuses `cycle`, naming the path, and lines that make no sense. */
export function setBom(work: Work, id: number, input: BodyOf<typeof api.catalogue.setBom>): void {
  const item = itemOf(work, id);
  if (input.version !== undefined) assertVersion(work, 'item', item, input.version, item.code);
  keepBom(work, id, input.lines);
  work.record('item', id, `set what ${item.code} is made from`);
}

/** Keeps the lines of a bill of materials. */
export function keepBom(work: Work, id: number, lines: BodyOf<typeof api.catalogue.setBom>['lines']): void {
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
}

export function bomOf(work: Work, id: number): ItemView['bom'] {
  return work.rows(
    `select b.position, b.component_id as componentId, c.code as component, c.description, c.unit_code as unit, b.quantity, b.scrap, b.offset_days as offsetDays, b.valid_from as validFrom, b.valid_to as validTo
     from bom_line b join item c on c.id = b.component_id where b.item_id = ? order by b.position`,
    id,
  );
}

export function usesOf(work: Work, id: number): ItemView['usedIn'] {
  return work.rows(
    'select p.id, p.code, p.description, b.quantity from bom_line b join item p on p.id = b.item_id where b.component_id = ? order by p.code',
    id,
  );
}
