/** How many of an item could be built from what is in a warehouse. */
import type { api } from '@terrace/contract';
import type { AnswerOf } from '@terrace/contract';
import { QUANTITY_SCALE, asQuantity, howManyCouldBeBuilt, isLineValid, writeQuantity, type PartFacts } from '@terrace/core';
import { bomOf, itemFacts } from '../catalogue';
import type { Work } from '../platform/work';
import { stockOf } from './reservations';

/** How many of an item the parts in a warehouse allow. */
export function buildableOf(work: Work, item: number, warehouse: number): AnswerOf<typeof api.stores.howMany> {
  const facts = new Map<string, PartFacts & { readonly id: number; readonly description: string; readonly unit: string }>();
  const byId = (id: number): PartFacts & { readonly id: number; readonly description: string; readonly unit: string } => {
    const part = itemFacts(work, id);
    const known = facts.get(part.code);
    if (known) return known;
    const lines = bomOf(work, id)
      .map((line) => ({ ...line, id: line.componentId }))
      .filter((line) => isLineValid(line, work.today) && ['stocked', 'phantom'].includes(itemFacts(work, line.id).kind));
    const made = {
      id,
      code: part.code,
      description: part.description,
      unit: part.unit,
      decimals: part.decimals,
      phantom: part.kind === 'phantom',
      inHand: part.kind === 'phantom' ? asQuantity(0) : stockOf(work, id, warehouse, 'use').free,
      lines,
    };
    facts.set(part.code, made);
    for (const line of lines) byId(line.id);
    return made;
  };
  const { code, decimals } = byId(item);
  const partOf = (name: string): PartFacts => {
    const part = facts.get(name);
    if (!part) throw new RangeError(`${name} is in no bill of ${code}`);
    return part;
  };
  const built = howManyCouldBeBuilt(code, partOf, asQuantity(10 ** (QUANTITY_SCALE - decimals)));
  return {
    quantity: writeQuantity(built.quantity),
    straight: writeQuantity(built.straight),
    bottlenecks: [...built.bottlenecks],
    parts: built.parts.map((need) => {
      const part = facts.get(need.code);
      return {
        itemId: part?.id ?? 0,
        code: need.code,
        description: part?.description ?? '',
        unit: part?.unit ?? '',
        level: need.level,
        inHand: writeQuantity(need.inHand),
        needed: writeQuantity(need.needed),
        toMake: writeQuantity(need.toMake),
        missing: writeQuantity(need.missing),
      };
    }),
  };
}
