/** What of an item is there, what comes and goes, and from when a quantity can be promised: availability and the balance strip. */
import { type Availability, type BalanceStrip } from '@terrace/contract';
import {
  addDays,
  asQuantity,
  firstPromiseDate,
  firstShort,
  parsePositiveQuantity,
  projectBalance,
  writeQuantity,
  type Quantity,
} from '@terrace/core';
import { itemFacts, warehouseOf, warehouses } from '../catalogue';
import { atField } from '../platform/fields';
import type { Work } from '../platform/work';
import { stockEvents, type StockEvent } from './events';
import { otherRooms } from './handed-in';
import { lossesAmong } from './lot-life';
import { promiseSteps } from './promise-steps';
import { stockOf } from './reservations';

const STRIP_WEEKS = 10;

const sum = (events: readonly { quantity: Quantity }[]): Quantity => asQuantity(events.reduce((all, each) => all + each.quantity, 0));
const firmOf = (events: readonly StockEvent[], kind: StockEvent['kind']): StockEvent[] => events.filter((each) => each.firm && each.kind === kind);

/** What is there, what comes, and from when a quantity can be promised without taking what others count on. */
export function availabilityOf(
  work: Work,
  item: number,
  warehouse: number,
  quantityText: string | undefined,
  exceptLine: number | undefined,
): Availability {
  const facts = itemFacts(work, item);
  const stock = stockOf(work, item, warehouse);
  const events = stockEvents(work, item, warehouse).filter(
    (each) => !(exceptLine !== undefined && each.holder?.kind === 'customerOrder' && each.holder.id === exceptLine),
  );
  const supplies = firmOf(events, 'supply');
  const demands = firmOf(events, 'demand');
  const steps = promiseSteps(work, item, warehouse, exceptLine === undefined ? undefined : { kind: 'customerOrder', id: exceptLine });
  const wanted = quantityText === undefined ? null : atField('quantity', () => parsePositiveQuantity(quantityText, facts.decimals));
  const others = warehouses(work).filter((each) => each.id !== warehouse);
  return {
    item: { id: item, code: facts.code, description: facts.description, unit: facts.unit, decimals: facts.decimals },
    warehouse: warehouseOf(work, warehouse).code,
    onHand: writeQuantity(stock.onHand),
    reserved: writeQuantity(stock.reserved),
    free: writeQuantity(stock.free),
    expectedIn: writeQuantity(sum(supplies)),
    expectedOut: writeQuantity(sum(demands)),
    expected: [...supplies]
      .sort((a, b) => a.date.localeCompare(b.date))
      .slice(0, 6)
      .map((each) => ({ date: each.date, quantity: writeQuantity(each.quantity), document: each.document })),
    elsewhere: others.map((each) => ({ warehouseId: each.id, warehouse: each.code, free: writeQuantity(stockOf(work, item, each.id).free) })),
    promise: {
      date: wanted === null ? null : firstPromiseDate(steps, wanted),
      quantityNow: writeQuantity(steps[0]?.quantity ?? 0),
      steps: steps.slice(0, 12).map((each) => ({ date: each.date, quantity: writeQuantity(each.quantity) })),
    },
  };
}

/** The projected balance of the focus item over the next weeks. */
export function balanceStrip(work: Work, item: number, warehouse: number): BalanceStrip {
  const facts = itemFacts(work, item);
  const stock = stockOf(work, item, warehouse);
  const expected = stockEvents(work, item, warehouse);
  const losses = lossesAmong(work, item, warehouse, expected);
  const events = [...expected, ...losses];
  const projected = projectBalance(stock.available, events, work.today);
  const safety = otherRooms.get().safetyStock(work, item, warehouse);
  const links = new Map(events.map((each) => [each.document, each.link]));
  const through = addDays(work.today, STRIP_WEEKS * 7);
  return {
    item: { id: item, code: facts.code, description: facts.description, unit: facts.unit, decimals: facts.decimals },
    warehouse: warehouseOf(work, warehouse).code,
    today: work.today,
    through,
    onHand: writeQuantity(stock.onHand),
    reserved: writeQuantity(stock.reserved),
    free: writeQuantity(stock.free),
    available: writeQuantity(stock.available),
    expectedIn: writeQuantity(sum(firmOf(expected, 'supply'))),
    expectedOut: writeQuantity(sum(firmOf(expected, 'demand'))),
    expiring: writeQuantity(sum(losses)),
    safety: writeQuantity(safety),
    firstShort: firstShort(
      stock.available,
      projected.filter((each) => each.firm),
      safety,
      work.today,
    ),
    events: projected
      .filter((each) => each.countedOn <= through)
      .map((each) => ({
        date: each.countedOn,
        kind: each.kind,
        quantity: writeQuantity(each.quantity),
        document: each.document,
        link: links.get(each.document) ?? null,
        firm: each.firm,
        balance: writeQuantity(each.balance),
        planned: writeQuantity(each.planned),
      })),
  };
}
