/** Bills of materials. */
import type { api } from '@terrace/contract';
import { type BodyOf, type ItemView } from '@terrace/contract';
import { and, eq } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import { Refusal, findCycle, parsePositiveQuantity, readDecimal } from '@terrace/core';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { addRow, changeRow, dropRows } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { itemFacts, itemOf, usableItem } from './item-facts';
import { bomLine, item } from './schema';

/** Finer than any unit: a quantity per piece may be a fraction of what can be stored. */
const PER_DECIMALS = 5;

/** Sets what an item is made from. Refuses `cycle`, naming the path, and lines that make no sense. */
export function setBom(work: Work, id: number, input: BodyOf<typeof api.catalogue.setBom>): void {
  const own = itemOf(work, id);
  if (input.version !== undefined) assertVersion(work, 'item', own, input.version, own.code);
  keepBom(work, id, input.lines);
  work.record('item', id, `set what ${own.code} is made from`);
}

const parent = alias(item, 'parent');
const components = query(
  ($: { parent: string }) => (db) =>
    db
      .select({ code: item.code })
      .from(bomLine)
      .innerJoin(parent, eq(parent.id, bomLine.itemId))
      .innerJoin(item, eq(item.id, bomLine.componentId))
      .where(eq(parent.code, $.parent)),
);

/** Keeps the lines of a bill of materials. */
export function keepBom(work: Work, id: number, lines: BodyOf<typeof api.catalogue.setBom>['lines']): void {
  const { code } = itemFacts(work, id);
  const componentsOf = (parent: string): string[] => components.all(work, { parent }).map((each) => each.code);
  dropRows(work, bomLine, { itemId: id });
  lines.forEach((line, index) => {
    const component = atField(`lines.${index}.componentId`, () => usableItem(work, line.componentId));
    atField(`lines.${index}.quantity`, () => parsePositiveQuantity(line.quantity, PER_DECIMALS, 'the quantity per piece'));
    const scrap = readDecimal(line.scrap);
    if (!scrap || scrap.mantissa < 0n || scrap.mantissa >= 10n ** BigInt(scrap.scale)) {
      throw new Refusal('badScrap', `A scrap allowance of ${line.scrap} makes no sense: give 0.05 for 5 % on top.`, {
        field: `lines.${index}.scrap`,
      });
    }
    const cycle = findCycle(code, component.code, componentsOf);
    if (cycle)
      throw new Refusal('cycle', `${component.code} can't be in ${code}: it leads back to it (${cycle.join(' → ')}).`, {
        field: `lines.${index}.componentId`,
        path: cycle,
      });
    addRow(work, bomLine, { itemId: id, position: index + 1, ...line });
  });
  changeRow(work, item, id, {});
}

const linesOf = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({
        position: bomLine.position,
        componentId: bomLine.componentId,
        component: item.code,
        description: item.description,
        unit: item.unitCode,
        quantity: bomLine.quantity,
        scrap: bomLine.scrap,
        offsetDays: bomLine.offsetDays,
        validFrom: bomLine.validFrom,
        validTo: bomLine.validTo,
      })
      .from(bomLine)
      .innerJoin(item, eq(item.id, bomLine.componentId))
      .where(eq(bomLine.itemId, $.itemId))
      .orderBy(bomLine.position),
);
const parentsOf = query(
  ($: { componentId: number }) => (db) =>
    db
      .select({ id: item.id, code: item.code, description: item.description, quantity: bomLine.quantity })
      .from(bomLine)
      .innerJoin(item, eq(item.id, bomLine.itemId))
      .where(eq(bomLine.componentId, $.componentId))
      .orderBy(item.code),
);
const activeParents = query(
  ($: { componentId: number }) => (db) =>
    db
      .select({ code: item.code })
      .from(bomLine)
      .innerJoin(item, eq(item.id, bomLine.itemId))
      .where(and(eq(bomLine.componentId, $.componentId), eq(item.active, true))),
);

export function bomOf(work: Work, id: number): ItemView['bom'] {
  return linesOf.all(work, { itemId: id });
}

export function usesOf(work: Work, id: number): ItemView['usedIn'] {
  return parentsOf.all(work, { componentId: id });
}

/** The bills of materials of active items that name an item, in words. */
export function billsNaming(work: Work, id: number): string[] {
  return activeParents.all(work, { componentId: id }).map((each) => `bill of materials of ${each.code}`);
}
