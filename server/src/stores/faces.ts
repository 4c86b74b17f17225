/** The faces of the explorer: when, which variants, how many could be built. */
import type { api } from '@terrace/contract';
import type { AnswerOf, QueryOf } from '@terrace/contract';
import {
  QUANTITY_SCALE,
  addDays,
  asQuantity,
  howManyCouldBeBuilt,
  isLineValid,
  projectBalance,
  sumByPeriod,
  writeQuantity,
  type PartFacts,
} from '@terrace/core';
import { itemFacts } from '../catalogue';
import type { Work } from '../platform/work';
import type { StockEvent } from './events';
import { eventsWithLosses } from './lives';
import { stockOf } from './reserve';

/** Supply and demand of an item in one warehouse or in all, summed into periods, and one by one. */
export function whenOf(work: Work, item: number, query: QueryOf<typeof api.stores.when>): AnswerOf<typeof api.stores.when> {
  itemFacts(work, item);
  const warehouses = work.rows<{ id: number; code: string }>(
    'select id, code from warehouse where ?1 is null or id = ?1 order by id',
    query.warehouse ?? null,
  );
  const places = new Map<StockEvent, string>();
  const events = warehouses.flatMap((warehouse) => {
    const here = eventsWithLosses(work, item, warehouse.id);
    for (const event of here) places.set(event, warehouse.code);
    return here;
  });
  const available = asQuantity(warehouses.reduce((sum, warehouse) => sum + stockOf(work, item, warehouse.id).available, 0));
  const projected = projectBalance(available, events, work.today);
  const last = addDays(work.today, query.days);
  const facts = new Map(events.map((event) => [`${event.document} ${event.kind} ${event.date}`, event]));
  return {
    available: writeQuantity(available),
    periods: sumByPeriod(available, projected, [], work.today, last, query.length).map(({ from, through, ...figures }) => ({
      from,
      through,
      supply: writeQuantity(figures.supply),
      demand: writeQuantity(figures.demand),
      forecast: writeQuantity(figures.forecast),
      suggestedSupply: writeQuantity(figures.suggestedSupply),
      suggestedDemand: writeQuantity(figures.suggestedDemand),
      closing: writeQuantity(figures.closing),
      closingWithForecast: writeQuantity(figures.closingWithForecast),
      closingWithPlan: writeQuantity(figures.closingWithPlan),
    })),
    events: projected
      .filter((event) => event.countedOn <= last)
      .map((event) => {
        const known = facts.get(`${event.document} ${event.kind} ${event.date}`);
        return {
          date: event.countedOn,
          kind: event.kind,
          quantity: writeQuantity(event.quantity),
          document: event.document,
          link: known?.link ?? null,
          firm: event.firm,
          balance: writeQuantity(event.balance),
          planned: writeQuantity(event.planned),
          warehouse: (known && places.get(known)) ?? '',
        };
      }),
  };
}

/** How many of an item the parts in a warehouse allow. */
export function buildableOf(work: Work, item: number, warehouse: number): AnswerOf<typeof api.stores.howMany> {
  const facts = new Map<string, PartFacts & { readonly id: number; readonly description: string; readonly unit: string }>();
  const byId = (id: number): PartFacts & { readonly id: number; readonly description: string; readonly unit: string } => {
    const part = itemFacts(work, id);
    const known = facts.get(part.code);
    if (known) return known;
    const lines = work
      .rows<{ component: string; quantity: string; scrap: string; validFrom: string | null; validTo: string | null; id: number }>(
        'select c.id, c.code as component, b.quantity, b.scrap, b.valid_from as validFrom, b.valid_to as validTo from bom_line b join item c on c.id = b.component_id where b.item_id = ? order by b.position',
        id,
      )
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
  const { code } = byId(item);
  const partOf = (name: string): PartFacts => {
    const part = facts.get(name);
    if (!part) throw new RangeError(`${name} is in no bill of ${code}`);
    return part;
  };
  const built = howManyCouldBeBuilt(code, partOf, asQuantity(10 ** QUANTITY_SCALE));
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

/** The variants of an item's family side by side. */
export function variantsOf(work: Work, item: number, warehouse: number | undefined): AnswerOf<typeof api.stores.variants> {
  const family = work.row<{ id: number; code: string; attributes: string }>(
    'select f.id, f.code, f.attributes from item i join item_family f on f.id = i.family_id where i.id = ?',
    item,
  );
  if (!family) return { family: null, attributes: [], variants: [] };
  const warehouses = work.rows<{ id: number }>('select id from warehouse where ?1 is null or id = ?1', warehouse ?? null);
  return {
    family: family.code,
    attributes: (JSON.parse(family.attributes) as { name: string; values: readonly (string | { code: string })[] }[]).map((each) => ({
      name: each.name,
      values: each.values.map((value) => (typeof value === 'string' ? value : value.code)),
    })),
    variants: work
      .rows<{ id: number; code: string; variant: string | null }>('select id, code, variant from item where family_id = ? order by code', family.id)
      .map((each) => {
        const stock = warehouses.map((place) => stockOf(work, each.id, place.id));
        const coming = warehouses.flatMap((place) =>
          eventsWithLosses(work, each.id, place.id).filter((event) => event.firm && event.kind === 'supply'),
        );
        return {
          id: each.id,
          code: each.code,
          values: JSON.parse(each.variant ?? '{}') as Record<string, string>,
          onHand: writeQuantity(stock.reduce((sum, one) => sum + one.onHand, 0)),
          free: writeQuantity(stock.reduce((sum, one) => sum + one.free, 0)),
          expectedIn: writeQuantity(coming.reduce((sum, event) => sum + event.quantity, 0)),
        };
      }),
  };
}
