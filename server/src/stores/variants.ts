/** The variants of an item's family side by side. */
import type { api } from '@terrace/contract';
import type { AnswerOf } from '@terrace/contract';
import { writeQuantity } from '@terrace/core';
import { familyWith, warehouses } from '../catalogue';
import type { Work } from '../platform/work';
import { eventsWithLosses } from './lot-life';
import { stockOf } from './reservations';

/** What is there and free of each variant, and what is to come, in one warehouse or in all. */
export function variantsOf(work: Work, item: number, warehouse: number | undefined): AnswerOf<typeof api.stores.variants> {
  const family = familyWith(work, item);
  if (!family) return { family: null, attributes: [], variants: [] };
  const places = warehouses(work).filter((each) => warehouse === undefined || each.id === warehouse);
  return {
    family: family.code,
    attributes: family.attributes.map((each) => ({ name: each.name, values: each.values.map((value) => value.code) })),
    variants: family.items.map((each) => {
      const stock = places.map((place) => stockOf(work, each.id, place.id));
      const coming = places.flatMap((place) => eventsWithLosses(work, each.id, place.id).filter((event) => event.firm && event.kind === 'supply'));
      return {
        id: each.id,
        code: each.code,
        values: { ...each.variant },
        onHand: writeQuantity(stock.reduce((sum, one) => sum + one.onHand, 0)),
        free: writeQuantity(stock.reduce((sum, one) => sum + one.free, 0)),
        expectedIn: writeQuantity(coming.reduce((sum, event) => sum + event.quantity, 0)),
      };
    }),
  };
}
