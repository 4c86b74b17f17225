/** The planning problem of the moment, from what is kept: all of it, or what one document or item says now. */
import type { HouseRules } from '@terrace/contract';
import {
  addDays,
  dateOf,
  dayOf,
  planExplosion,
  weekdayOf,
  writeQuantity,
  type DocumentRows,
  type ItemRows,
  type LotSizing,
  type PlanProblem,
  type PlanningRule,
  type RowSource,
} from '@terrace/core';
import { calendarDefinition, itemFacts, validTerms, workingDayAfter, type BuyingTerms } from '../catalogue';
import { houseRules } from '../platform/house-rules';
import type { Work } from '../platform/work';
import {
  boms,
  calendarCodes,
  componentIds,
  components,
  forecast,
  kept,
  orders,
  places,
  plannedItems,
  production,
  purchases,
  quotes,
  reserved,
  rules,
  stock,
  transfersComing,
  transfersLeaving,
} from './problem-queries';

export const HORIZON_DAYS = 180;

/** What a purchase, production, customer's order or transfer says to the plan. */
export type PlannedDocument = 'customerOrder' | 'purchaseOrder' | 'productionOrder' | 'transfer' | 'firm';

interface EventRow {
  readonly id: string;
  readonly item: string;
  readonly warehouse: string;
  readonly date: string;
  readonly quantity: number;
}

type Receipt = PlanProblem['receipts'][number];
type Demand = PlanProblem['demands'][number];

const receiptOf = ({ id, item, warehouse, date, quantity, locked }: EventRow & { locked: boolean }): Receipt => ({
  id,
  item,
  warehouse,
  date,
  quantity: writeQuantity(quantity),
  locked,
});
const demandOf = ({ id, item, warehouse, date, quantity }: EventRow, kind: Demand['kind']): Demand => ({
  id,
  item,
  warehouse,
  date,
  quantity: writeQuantity(quantity),
  kind,
  probability: null,
});

const PERCENT = 100;
/** Whether a quote still holds: one that has lapsed is nothing to count on. */
const holds = ({ validUntil }: { validUntil: string | null }, today: string): boolean => validUntil !== null && validUntil >= today;
const quoteOf = ({ probability, ...row }: EventRow & { probability: number }): Demand => ({
  ...demandOf(row, 'quote'),
  probability: String(probability / PERCENT),
});

/** Gathers rules, stock, receipts and demands into one problem. */
export function gatherProblem(work: Work): PlanProblem {
  const { today, horizon, calendars, warehouses, items, rules, boms, stock, receipts, demands } = gatherRows(work);
  return {
    today,
    horizon,
    calendars: [...calendars],
    warehouses: [...warehouses],
    items: [...items],
    rules: [...rules],
    boms: [...boms],
    stock: [...stock],
    receipts: [...receipts],
    demands: [...demands],
  };
}

/** The same, told row by row as it is read, so that a large company is never in memory twice. */
export function gatherRows(work: Work): RowSource {
  const firm = firmRows(work, kept.all.all(work));
  return {
    today: work.today,
    horizon: addDays(work.today, HORIZON_DAYS),
    calendars: calendarCodes.all(work).map(({ code }) => calendarDefinition(work, code)),
    warehouses: places.all(work).map(({ code, calendar }) => ({ code, calendar })),
    items: plannedItems.each(work),
    rules: rulesOf(rules.all.each(work), validTerms(work), houseRules(work.store)),
    boms: bomsOf(work),
    stock: stockOf(stock.all.each(work)),
    receipts: receiptsOf(work, firm),
    demands: demandsOf(work, firm),
  };
}

function* receiptsOf(work: Work, firm: DocumentRows): Generator<Receipt> {
  for (const row of purchases.all.each(work)) yield receiptOf(row);
  for (const row of production.all.each(work)) yield receiptOf(row);
  for (const row of transfersComing.all.each(work)) if (row.quantity > 0) yield receiptOf(row);
  yield* firm.receipts;
}

function* demandsOf(work: Work, firm: DocumentRows): Generator<Demand> {
  for (const row of orders.all.each(work)) yield demandOf(row, 'order');
  for (const row of quotes.all.each(work)) if (holds(row, work.today)) yield quoteOf(row);
  for (const row of transfersLeaving.all.each(work)) yield demandOf(row, 'transfer');
  yield* componentsOf(work, components.all.each(work));
  yield* firm.demands;
  yield* forecastRows(forecast.all.all(work));
}

/** Stock that is kept for a demand, by the demand's id. */
export function gatherReserved(work: Work): Map<string, string> {
  return new Map(reserved.all(work).map(({ demand, quantity }) => [demand, writeQuantity(quantity)]));
}

/** What one document says now; its name is what the ids of its rows begin with. */
export function gatherDocument(work: Work, kind: PlannedDocument, id: number): DocumentRows {
  const one = { id };
  switch (kind) {
    case 'customerOrder':
      return {
        receipts: [],
        demands: [
          ...orders.of.all(work, one).map((row) => demandOf(row, 'order')),
          ...quotes.of
            .all(work, one)
            .filter((row) => holds(row, work.today))
            .map(quoteOf),
        ],
      };
    case 'purchaseOrder':
      return { receipts: purchases.of.all(work, one).map(receiptOf), demands: [] };
    case 'productionOrder':
      return { receipts: production.of.all(work, one).map(receiptOf), demands: [...componentsOf(work, components.of.all(work, one))] };
    case 'transfer':
      return {
        receipts: transfersComing.of
          .all(work, one)
          .filter((row) => row.quantity > 0)
          .map(receiptOf),
        demands: transfersLeaving.of.all(work, one).map((row) => demandOf(row, 'transfer')),
      };
    case 'firm':
      return firmRows(work, kept.of.all(work, one));
  }
}

/** What one item says now. */
export function gatherItem(work: Work, id: number, code: string): ItemRows {
  return {
    code,
    rules: [...rulesOf(rules.of.all(work, { id }), validTerms(work, id), houseRules(work.store))],
    bom: linesOf(work, id),
    stock: gatherStock(work, id),
  };
}

/** An item's stock as it is now. */
export function gatherStock(work: Work, id: number): PlanProblem['stock'] {
  return [...stockOf(stock.of.all(work, { id }))];
}

/** The name of the rows that an item's forecast in a warehouse gives. */
export function forecastName(item: string, warehouse: string): string {
  return `forecast ${item} ${warehouse}`;
}

/** What is forecast for an item, by warehouse, as the plan counts it. */
export function gatherForecast(work: Work, itemId: number, warehouseId: number): DocumentRows {
  return { receipts: [], demands: forecastRows(forecast.of.all(work, { itemId, warehouseId })) };
}

function* stockOf(rows: Iterable<ReturnType<typeof stock.all.all>[number]>): Generator<PlanProblem['stock'][number]> {
  for (const { item, warehouse, quantity, usableUntil } of rows) yield { item, warehouse, quantity: writeQuantity(quantity), usableUntil };
}

function* componentsOf(work: Work, rows: Iterable<ReturnType<typeof components.all.all>[number]>): Generator<Demand> {
  for (const row of rows) yield demandOf({ ...row, date: workingDayAfter(work, row.warehouseId, row.date, row.offsetDays) }, 'component');
}

type BomLine = PlanProblem['boms'][number]['lines'][number];

/** What one item is made from. */
function linesOf(work: Work, id: number): BomLine[] {
  return boms.of.all(work, { id }).map(({ parent: _parent, ...line }) => line);
}

/** What the preferred supplier asks for stands where the rule itself says nothing. */
function* rulesOf(
  rows: Iterable<ReturnType<typeof rules.all.all>[number]>,
  terms: ReadonlyMap<number, readonly BuyingTerms[]>,
  house: Pick<HouseRules, 'quotesFrom' | 'quotesWeighted'>,
): Generator<PlanningRule> {
  const sizings = new Map<string, LotSizing>();
  for (const row of rows) {
    const term = row.source === 'buy' ? terms.get(row.itemId)?.find((each) => each.preferred) : undefined;
    let lotSizing = sizings.get(row.lotSizing);
    if (!lotSizing) {
      lotSizing = JSON.parse(row.lotSizing) as LotSizing;
      sizings.set(row.lotSizing, lotSizing);
    }
    yield {
      item: row.item,
      warehouse: row.warehouse,
      source: row.source,
      from: row.from,
      leadDays: row.leadDays > 0 ? row.leadDays : (term?.leadDays ?? 0),
      safety: writeQuantity(row.safety),
      lotSizing,
      minimum: writeQuantity(row.minimum > 0 ? row.minimum : (term?.minimum ?? 0)),
      multiple: writeQuantity(row.multiple > 0 ? row.multiple : (term?.multiple ?? 0)),
      maximum: row.maximum === null ? null : writeQuantity(row.maximum),
      yield: row.usable,
      fenceDays: row.fenceDays,
      slackDays: row.slackDays,
      demand: row.demand,
      consumeBack: row.consumeBack,
      consumeForward: row.consumeForward,
      quotesFrom: house.quotesFrom === null ? null : String(house.quotesFrom / PERCENT),
      quotesWeighted: house.quotesWeighted,
    };
  }
}

function* bomsOf(work: Work): Generator<PlanProblem['boms'][number]> {
  let item = '';
  let lines: BomLine[] = [];
  for (const { parent, ...line } of boms.all.each(work)) {
    if (parent !== item) {
      if (lines.length > 0) yield { item, lines };
      item = parent;
      lines = [];
    }
    lines.push(line);
  }
  if (lines.length > 0) yield { item, lines };
}

/** Suggestions that somebody keeps come as receipts that nothing moves, and call for what they need. */
function firmRows(work: Work, rows: ReturnType<typeof kept.all.all>): DocumentRows {
  const receipts: Receipt[] = [];
  const demands: Demand[] = [];
  for (const row of rows) {
    const { id, item, warehouse, due, placeBy } = row;
    const quantity = writeQuantity(row.quantity);
    receipts.push({ id, item, warehouse, date: due, quantity, locked: true });
    if (row.kind === 'transfer' && row.from !== null)
      demands.push({ id: `${id}/1`, item, warehouse: row.from, date: placeBy, quantity, kind: 'transfer', probability: null });
    if (row.kind === 'make') {
      const lines = planExplosion(explosionOf(work, row.itemId), item, quantity, placeBy);
      lines.forEach((line, index) =>
        demands.push({
          id: `${id}/${index + 1}`,
          item: line.component,
          warehouse,
          date: workingDayAfter(work, row.warehouseId, placeBy, line.offsetDays),
          quantity: line.quantity,
          kind: 'component',
          probability: null,
        }),
      );
    }
  }
  return { receipts, demands };
}

/** What an item is made from, down through phantoms only. */
function explosionOf(work: Work, itemId: number): Pick<PlanProblem, 'items' | 'boms'> {
  const items: { code: string; decimals: number; phantom: boolean }[] = [];
  const bills: { item: string; lines: BomLine[] }[] = [];
  const seen = new Set<number>();
  const visit = (id: number): void => {
    if (seen.has(id)) return;
    seen.add(id);
    const item = itemFacts(work, id);
    items.push({ code: item.code, decimals: item.decimals, phantom: item.kind === 'phantom' });
    if (id !== itemId && item.kind !== 'phantom') return;
    bills.push({ item: item.code, lines: linesOf(work, id) });
    for (const component of componentIds.all(work, { itemId: id })) visit(component.id);
  };
  visit(itemId);
  return { items, boms: bills };
}

/** A period's figure is shared out to its weeks by their working days, so that it is not all wanted on one day. */
function forecastRows(rows: ReturnType<typeof forecast.all.all>): Demand[] {
  return rows.flatMap((row) => {
    const weeks = row.period === 'week' ? [{ start: row.start, share: 1 }] : weeksOf(row.start);
    const all = weeks.reduce((sum, week) => sum + week.share, 0);
    const unit = 10 ** (5 - row.decimals);
    let [given, shared] = [0, 0];
    return weeks.flatMap((week): Demand[] => {
      shared += week.share;
      const until = Math.round((row.quantity / unit) * (shared / all)) * unit;
      const quantity = until - given;
      given = until;
      if (quantity <= 0) return [];
      const id = `${forecastName(row.item, row.warehouse)}/${week.start}`;
      return [demandOf({ id, item: row.item, warehouse: row.warehouse, date: week.start, quantity }, 'forecast')];
    });
  });
}

/** The weeks of a month by their first day in it, with how many weekdays each has. */
function weeksOf(start: string): { start: string; share: number }[] {
  const weeks: { start: string; share: number }[] = [];
  const month = start.slice(0, 7);
  for (let day = dayOf(start); dateOf(day).startsWith(month); day += 1) {
    if (weekdayOf(day) > 5) continue;
    const current = weeks[weeks.length - 1];
    if (current && weekdayOf(day) > 1) current.share += 1;
    else weeks.push({ start: dateOf(day), share: 1 });
  }
  return weeks;
}
