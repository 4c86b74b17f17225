/** When an item comes and goes: supply and demand summed into periods, and one by one. */
import type { api } from '@terrace/contract';
import type { AnswerOf, QueryOf } from '@terrace/contract';
import { addDays, asQuantity, projectBalance, sumByPeriod, writeQuantity } from '@terrace/core';
import { itemFacts, warehouses } from '../catalogue';
import type { Work } from '../platform/work';
import type { StockEvent } from './events';
import { eventsWithLosses } from './lot-life';
import { stockOf } from './reservations';

/** Supply and demand of an item in one warehouse or in all, summed into periods, and one by one. */
export function whenOf(work: Work, item: number, query: QueryOf<typeof api.stores.when>): AnswerOf<typeof api.stores.when> {
  itemFacts(work, item);
  const here = warehouses(work).filter((each) => query.warehouse === undefined || each.id === query.warehouse);
  const places = new Map<StockEvent, string>();
  const events = here.flatMap((warehouse) => {
    const some = eventsWithLosses(work, item, warehouse.id);
    for (const event of some) places.set(event, warehouse.code);
    return some;
  });
  const available = asQuantity(here.reduce((sum, warehouse) => sum + stockOf(work, item, warehouse.id).available, 0));
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
