/** The planning problem of the moment, from what is kept: all of it, or what one document or item says now. */
import {
  addDays,
  asQuantity,
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
import { calendarDefinition, validTerms, workingDayAfter, type BuyingTerms } from '../catalogue';
import type { Work } from '../platform/work';

export const HORIZON_DAYS = 180;

interface RuleRow {
  readonly itemId: number;
  readonly item: string;
  readonly warehouse: string;
  readonly source: PlanningRule['source'];
  readonly from: string | null;
  readonly leadDays: number;
  readonly safety: number;
  readonly minimum: number;
  readonly multiple: number;
  readonly maximum: number | null;
  readonly usable: string;
  readonly fenceDays: number;
  readonly slackDays: number;
  readonly lotSizing: string;
  readonly demand: PlanningRule['demand'];
  readonly consumeBack: number;
  readonly consumeForward: number;
}

const RULES = `select r.item_id as itemId, i.code as item, w.code as warehouse, r.source, f.code as "from", r.lead_days as leadDays, r.safety, r.minimum, r.multiple, r.maximum, r.usable,
    r.fence_days as fenceDays, r.slack_days as slackDays, r.lot_sizing as lotSizing, r.demand, r.consume_back as consumeBack, r.consume_forward as consumeForward
  from planning_rule r join item i on i.id = r.item_id join warehouse w on w.id = r.warehouse_id left join warehouse f on f.id = r.from_id where i.kind in ('stocked', 'phantom')`;
// A lot counts until the last day on which it has the life that selling asks for, or, where that asks for none, using.
const STOCK = `select i.code as item, w.code as warehouse, sum(b.quantity) as quantity,
    date(l.expiry, '-' || case when coalesce(i.rest_life_days, 0) > 0 then i.rest_life_days else coalesce(t.use_life_days, 0) end || ' days') as usableUntil
  from balance b join item i on i.id = b.item_id join warehouse w on w.id = b.warehouse_id
  left join lot l on b.lot <> '' and l.item_id = b.item_id and l.code = b.lot left join tracking_rule t on t.item_id = i.id
  where b.state = 'available' and i.kind = 'stocked'`;
const STOCK_GROUPS = ' group by 1, 2, 4';
const TRANSFERS = `select t.number || '/' || l.position as id, i.code as item, w.code as warehouse, t.due_date as date, case t.state when 'requested' then l.quantity else l.shipped - l.received - l.lost end as quantity,
    t.state <> 'requested' as locked
  from transfer_line l join transfer t on t.id = l.transfer_id join item i on i.id = l.item_id join warehouse w on w.id = t.to_id
  where t.state in ('requested', 'shipped', 'partReceived') and l.quantity > l.received + l.lost`;
const SENT = `select t.number || '/' || l.position as id, i.code as item, w.code as warehouse, t.ship_date as date, l.quantity
  from transfer_line l join transfer t on t.id = l.transfer_id join item i on i.id = l.item_id join warehouse w on w.id = t.from_id where t.state = 'requested'`;
const PURCHASES = `select o.number || '/' || l.position as id, i.code as item, w.code as warehouse, l.due_date as date, l.quantity - l.received - l.cancelled as quantity, 0 as locked
  from purchase_order_line l join purchase_order o on o.id = l.order_id join item i on i.id = l.item_id join warehouse w on w.id = o.warehouse_id
  where o.state in ('draft', 'approved', 'sent', 'partReceived') and l.quantity > l.received + l.cancelled and i.kind = 'stocked'`;
const MADE = `select o.number as id, i.code as item, w.code as warehouse, o.due_date as date, o.quantity - o.finished as quantity, 0 as locked
  from production_order o join item i on i.id = o.item_id join warehouse w on w.id = o.warehouse_id where o.state in ('draft', 'released', 'running') and o.quantity > o.finished`;
const ORDERS = `select o.number || '/' || l.position as id, i.code as item, w.code as warehouse, l.required_date as date, l.quantity - l.shipped - l.cancelled as quantity
  from customer_order_line l join customer_order o on o.id = l.order_id join item i on i.id = l.item_id join warehouse w on w.id = o.warehouse_id
  where o.state in ('confirmed', 'partShipped') and l.quantity > l.shipped + l.cancelled and i.kind = 'stocked'`;
const COMPONENTS = `select o.number || '/' || c.position as id, i.code as item, w.id as warehouseId, w.code as warehouse, o.start_date as date, c.offset_days as offsetDays, c.needed - c.issued as quantity
  from production_component c join production_order o on o.id = c.order_id join item i on i.id = c.item_id join warehouse w on w.id = o.warehouse_id
  where o.state in ('draft', 'released', 'running') and c.needed > c.issued and i.kind = 'stocked'`;
const FIRM = `select f.number as id, f.kind, i.id as itemId, i.code as item, u.decimals, w.id as warehouseId, w.code as warehouse, s.code as "from", f.quantity, f.place_by as placeBy, f.due
  from plan_firm f join item i on i.id = f.item_id join unit u on u.code = i.unit_code join warehouse w on w.id = f.warehouse_id left join warehouse s on s.id = f.from_id where 1 = 1`;
const FORECAST = `select i.code as item, w.code as warehouse, u.decimals, f.start, coalesce(f.typed, f.computed) as quantity, s.period
  from forecast_figure f join forecast_series s on s.item_id = f.item_id and s.warehouse_id = f.warehouse_id join item i on i.id = f.item_id join unit u on u.code = i.unit_code
  join warehouse w on w.id = f.warehouse_id where coalesce(f.typed, f.computed) > 0`;
const BOMS = `select p.code as parent, c.code as component, b.quantity, b.scrap, b.offset_days as offsetDays, b.valid_from as "from", b.valid_to as "to"
  from bom_line b join item p on p.id = b.item_id join item c on c.id = b.component_id where c.kind in ('stocked', 'phantom')`;
const BOM_ORDER = ' order by b.item_id, b.position';

const RESERVED = `select r.document_number || '/' || l.position as demand, r.quantity from reservation r join customer_order_line l on l.id = r.holder_id where r.holder_kind = 'customerOrder'
  union all select r.document_number || '/' || c.position, r.quantity from reservation r join production_component c on c.id = r.holder_id where r.holder_kind = 'productionOrder'
  union all select r.document_number || '/' || l.position, r.quantity from reservation r join transfer_line l on l.id = r.holder_id where r.holder_kind = 'transfer'`;

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

const receiptOf = ({ id, item, warehouse, date, quantity, locked }: EventRow & { locked: number }): Receipt => ({
  id,
  item,
  warehouse,
  date,
  quantity: writeQuantity(quantity),
  locked: locked === 1,
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
  const firm = firmRows(work, '', []);
  return {
    today: work.today,
    horizon: addDays(work.today, HORIZON_DAYS),
    calendars: work.rows<{ code: string }>('select code from calendar').map(({ code }) => calendarDefinition(work, code)),
    warehouses: work.rows<{ code: string; calendar: string }>('select code, calendar from warehouse'),
    items: itemsOf(work),
    rules: rulesOf(work, RULES, [], validTerms(work)),
    boms: bomsOf(work),
    stock: stockOf(work, STOCK + STOCK_GROUPS, []),
    receipts: receiptsOf(work, firm),
    demands: demandsOf(work, firm),
  };
}

function* itemsOf(work: Work): Generator<PlanProblem['items'][number]> {
  const rows = work.each<{ code: string; decimals: number; phantom: number }>(
    "select i.code, u.decimals, i.kind = 'phantom' as phantom from item i join unit u on u.code = i.unit_code where i.kind in ('stocked', 'phantom') order by i.code",
  );
  for (const { code, decimals, phantom } of rows) yield { code, decimals, phantom: phantom === 1 };
}

function* receiptsOf(work: Work, firm: DocumentRows): Generator<Receipt> {
  for (const row of work.each<EventRow & { locked: number }>(PURCHASES)) yield receiptOf(row);
  for (const row of work.each<EventRow & { locked: number }>(MADE)) yield receiptOf(row);
  for (const row of work.each<EventRow & { locked: number }>(TRANSFERS)) if (row.quantity > 0) yield receiptOf(row);
  yield* firm.receipts;
}

function* demandsOf(work: Work, firm: DocumentRows): Generator<Demand> {
  for (const row of work.each<EventRow>(ORDERS)) yield demandOf(row, 'order');
  for (const row of work.each<EventRow>(SENT)) yield demandOf(row, 'transfer');
  yield* componentsOf(work, COMPONENTS, []);
  yield* firm.demands;
  yield* forecastRows(work, FORECAST, []);
}

/** Stock that is kept for a demand, by the demand's id. */
export function gatherReserved(work: Work): Map<string, string> {
  const rows = work.rows<{ demand: string; quantity: number }>(RESERVED);
  return new Map(rows.map(({ demand, quantity }) => [demand, writeQuantity(quantity)]));
}

/** What one document says now; its name is what the ids of its rows begin with. */
export function gatherDocument(work: Work, kind: PlannedDocument, id: number): DocumentRows {
  const rows = (sql: string): (EventRow & { locked: number })[] => work.rows<EventRow & { locked: number }>(sql, id);
  switch (kind) {
    case 'customerOrder':
      return { receipts: [], demands: rows(`${ORDERS} and o.id = ?`).map((row) => demandOf(row, 'order')) };
    case 'purchaseOrder':
      return { receipts: rows(`${PURCHASES} and o.id = ?`).map(receiptOf), demands: [] };
    case 'productionOrder':
      return { receipts: rows(`${MADE} and o.id = ?`).map(receiptOf), demands: [...componentsOf(work, `${COMPONENTS} and o.id = ?`, [id])] };
    case 'transfer':
      return {
        receipts: rows(`${TRANSFERS} and t.id = ?`)
          .filter((row) => row.quantity > 0)
          .map(receiptOf),
        demands: rows(`${SENT} and t.id = ?`).map((row) => demandOf(row, 'transfer')),
      };
    case 'firm':
      return firmRows(work, ' and f.id = ?', [id]);
  }
}

/** What one item says now. */
export function gatherItem(work: Work, id: number, code: string): ItemRows {
  return {
    code,
    rules: [...rulesOf(work, `${RULES} and r.item_id = ?`, [id], validTerms(work, id))],
    bom: work.rows(`${BOMS} and b.item_id = ?${BOM_ORDER}`, id),
    stock: gatherStock(work, id),
  };
}

/** An item's stock as it is now. */
export function gatherStock(work: Work, id: number): PlanProblem['stock'] {
  return [...stockOf(work, `${STOCK} and b.item_id = ?${STOCK_GROUPS}`, [id])];
}

/** The name of the rows that an item's forecast in a warehouse gives. */
export function forecastName(item: string, warehouse: string): string {
  return `forecast ${item} ${warehouse}`;
}

/** What is forecast for an item, by warehouse, as the plan counts it. */
export function gatherForecast(work: Work, itemId: number, warehouseId: number): DocumentRows {
  return { receipts: [], demands: forecastRows(work, `${FORECAST} and f.item_id = ? and f.warehouse_id = ?`, [itemId, warehouseId]) };
}

function* stockOf(work: Work, sql: string, values: readonly unknown[]): Generator<PlanProblem['stock'][number]> {
  const rows = work.each<{ item: string; warehouse: string; quantity: number; usableUntil: string | null }>(sql, ...values);
  for (const { item, warehouse, quantity, usableUntil } of rows) yield { item, warehouse, quantity: writeQuantity(quantity), usableUntil };
}

function* componentsOf(work: Work, sql: string, values: readonly unknown[]): Generator<Demand> {
  for (const row of work.each<EventRow & { warehouseId: number; offsetDays: number }>(sql, ...values))
    yield demandOf({ ...row, date: workingDayAfter(work, row.warehouseId, row.date, row.offsetDays) }, 'component');
}

/** What the preferred supplier asks for stands where the rule itself says nothing. */
function* rulesOf(work: Work, sql: string, values: readonly unknown[], terms: ReadonlyMap<number, readonly BuyingTerms[]>): Generator<PlanningRule> {
  const sizings = new Map<string, LotSizing>();
  for (const row of work.each<RuleRow>(sql, ...values)) {
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
      quotesFrom: null,
      quotesWeighted: false,
    };
  }
}

function* bomsOf(work: Work): Generator<PlanProblem['boms'][number]> {
  let item = '';
  let lines: PlanProblem['boms'][number]['lines'][number][] = [];
  for (const { parent, component, quantity, scrap, offsetDays, from, to } of work.each<
    { parent: string } & PlanProblem['boms'][number]['lines'][number]
  >(BOMS + BOM_ORDER)) {
    if (parent !== item) {
      if (lines.length > 0) yield { item, lines };
      item = parent;
      lines = [];
    }
    lines.push({ component, quantity, scrap, offsetDays, from, to });
  }
  if (lines.length > 0) yield { item, lines };
}

/** Suggestions that somebody keeps come as receipts that nothing moves, and call for what they need. */
function firmRows(work: Work, suffix: string, values: readonly unknown[]): DocumentRows {
  const receipts: Receipt[] = [];
  const demands: Demand[] = [];
  const rows = work.rows<{
    id: string;
    kind: 'buy' | 'make' | 'transfer';
    itemId: number;
    item: string;
    decimals: number;
    warehouseId: number;
    warehouse: string;
    from: string | null;
    quantity: number;
    placeBy: string;
    due: string;
  }>(FIRM + suffix, ...values);
  for (const row of rows) {
    const { id, item, warehouse, due, placeBy } = row;
    const quantity = writeQuantity(asQuantity(row.quantity));
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
  const boms: { item: string; lines: PlanProblem['boms'][number]['lines'] }[] = [];
  const seen = new Set<number>();
  const visit = (id: number): void => {
    if (seen.has(id)) return;
    seen.add(id);
    const item = work.row<{ code: string; decimals: number; kind: string }>(
      'select i.code, u.decimals, i.kind from item i join unit u on u.code = i.unit_code where i.id = ?',
      id,
    );
    if (!item) return;
    items.push({ code: item.code, decimals: item.decimals, phantom: item.kind === 'phantom' });
    if (id !== itemId && item.kind !== 'phantom') return;
    boms.push({ item: item.code, lines: work.rows(`${BOMS} and b.item_id = ?${BOM_ORDER}`, id) });
    for (const { componentId } of work.rows<{ componentId: number }>('select component_id as componentId from bom_line where item_id = ?', id))
      visit(componentId);
  };
  visit(itemId);
  return { items, boms };
}

/** A period's figure is shared out to its weeks by their working days, so that it is not all wanted on one day. */
function forecastRows(work: Work, sql: string, values: readonly unknown[]): Demand[] {
  const rows = work.rows<{ item: string; warehouse: string; decimals: number; start: string; quantity: number; period: 'month' | 'week' }>(
    sql,
    ...values,
  );
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
