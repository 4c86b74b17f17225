/** The planning problem of the moment, from what is kept. */
import { addDays, writeQuantity, type PlanProblem } from '@terrace/core';
import { calendarDefinition } from '../catalogue';
import type { Work } from '../platform/work';

const HORIZON_DAYS = 180;

interface RuleRow {
  readonly item: string;
  readonly warehouse: string;
  readonly source: 'buy' | 'make' | 'none';
  readonly leadDays: number;
  readonly safety: number;
  readonly minimum: number;
  readonly multiple: number;
  readonly slackDays: number;
  readonly termLead: number | null;
  readonly termMinimum: number | null;
  readonly termMultiple: number | null;
}

const RULES = `select i.code as item, w.code as warehouse, r.source, r.lead_days as leadDays, r.safety, r.minimum, r.multiple, r.slack_days as slackDays,
    t.lead_days as termLead, t.minimum as termMinimum, t.multiple as termMultiple
  from planning_rule r join item i on i.id = r.item_id join warehouse w on w.id = r.warehouse_id
  left join supplier_term t on r.source = 'buy' and t.id = (select n.id from supplier_term n
    where n.item_id = r.item_id and n.preferred = 1 and n.valid_from <= ?1 and (n.valid_to is null or n.valid_to >= ?1) order by n.valid_from desc limit 1)`;
// A lot counts until the last day on which it has the life that selling asks for, or, where that asks for none, using.
const STOCK = `select i.code as item, w.code as warehouse, sum(b.quantity) as quantity,
    date(l.expiry, '-' || case when coalesce(i.rest_life_days, 0) > 0 then i.rest_life_days else coalesce(t.use_life_days, 0) end || ' days') as usableUntil
  from balance b join item i on i.id = b.item_id join warehouse w on w.id = b.warehouse_id
  left join lot l on b.lot <> '' and l.item_id = b.item_id and l.code = b.lot left join tracking_rule t on t.item_id = i.id
  where b.state = 'available' group by 1, 2, 4`;
const TRANSFERS = `select t.number || '/' || l.position as id, i.code as item, w.code as warehouse, t.due_date as date, case t.state when 'requested' then l.quantity else l.shipped - l.received - l.lost end as quantity
  from transfer_line l join transfer t on t.id = l.transfer_id join item i on i.id = l.item_id join warehouse w on w.id = t.to_id
  where t.state in ('requested', 'shipped', 'partReceived') and l.quantity > l.received + l.lost`;
const SENT = `select t.number || '/' || l.position as id, i.code as item, w.code as warehouse, t.ship_date as date, l.quantity
  from transfer_line l join transfer t on t.id = l.transfer_id join item i on i.id = l.item_id join warehouse w on w.id = t.from_id where t.state = 'requested'`;
const PURCHASES = `select o.number || '/' || l.position as id, i.code as item, w.code as warehouse, l.due_date as date, l.quantity - l.received - l.cancelled as quantity
  from purchase_order_line l join purchase_order o on o.id = l.order_id join item i on i.id = l.item_id join warehouse w on w.id = o.warehouse_id
  where o.state in ('draft', 'approved', 'sent', 'partReceived') and l.quantity > l.received + l.cancelled and i.kind = 'stocked'`;
const MADE = `select o.number as id, i.code as item, w.code as warehouse, o.due_date as date, o.quantity - o.finished as quantity
  from production_order o join item i on i.id = o.item_id join warehouse w on w.id = o.warehouse_id where o.state in ('draft', 'released', 'running') and o.quantity > o.finished`;
const ORDERS = `select o.number || '/' || l.position as id, i.code as item, w.code as warehouse, l.required_date as date, l.quantity - l.shipped - l.cancelled as quantity
  from customer_order_line l join customer_order o on o.id = l.order_id join item i on i.id = l.item_id join warehouse w on w.id = o.warehouse_id
  where o.state in ('confirmed', 'partShipped') and l.quantity > l.shipped + l.cancelled and i.kind = 'stocked'`;
const COMPONENTS = `select o.number || '/' || c.position as id, i.code as item, w.code as warehouse, o.start_date as date, c.offset_days as offsetDays, c.needed - c.issued as quantity
  from production_component c join production_order o on o.id = c.order_id join item i on i.id = c.item_id join warehouse w on w.id = o.warehouse_id
  where o.state in ('draft', 'released', 'running') and c.needed > c.issued and i.kind = 'stocked'`;

interface EventRow {
  readonly id: string;
  readonly item: string;
  readonly warehouse: string;
  readonly date: string;
  readonly quantity: number;
}

/** Gathers rules, stock, receipts and demands into one problem. */
export function gatherProblem(work: Work): PlanProblem {
  const dated = (row: EventRow): { id: string; item: string; warehouse: string; date: string; quantity: string } => ({
    id: row.id,
    item: row.item,
    warehouse: row.warehouse,
    date: row.date,
    quantity: writeQuantity(row.quantity),
  });
  const receipts = [
    ...work.rows<EventRow>(PURCHASES),
    ...work.rows<EventRow>(MADE),
    ...work.rows<EventRow>(TRANSFERS).filter((row) => row.quantity > 0),
  ];
  const components = work.rows<EventRow & { offsetDays: number }>(COMPONENTS).map((row) => ({ ...row, date: addDays(row.date, row.offsetDays) }));
  return {
    today: work.today,
    horizon: addDays(work.today, HORIZON_DAYS),
    calendars: work.rows<{ code: string }>('select code from calendar').map(({ code }) => calendarDefinition(work, code)),
    warehouses: work.rows('select code, calendar from warehouse'),
    items: work
      .rows<{ code: string; decimals: number; phantom: number }>(
        "select i.code, u.decimals, i.kind = 'phantom' as phantom from item i join unit u on u.code = i.unit_code where i.kind in ('stocked', 'phantom')",
      )
      .map((each) => ({ ...each, phantom: each.phantom === 1 })),
    rules: work.rows<RuleRow>(RULES, work.today).map(ruleOf),
    boms: bomsOf(work),
    stock: work
      .rows<{ item: string; warehouse: string; quantity: number; usableUntil: string | null }>(STOCK)
      .map((row) => ({ ...row, quantity: writeQuantity(row.quantity) })),
    receipts: receipts.map((row) => ({ ...dated(row), locked: false })),
    demands: [
      ...work.rows<EventRow>(ORDERS).map((row) => ({ ...dated(row), kind: 'order' as const, probability: null })),
      ...work.rows<EventRow>(SENT).map((row) => ({ ...dated(row), kind: 'order' as const, probability: null })),
      ...components.map((row) => ({ ...dated(row), kind: 'component' as const, probability: null })),
    ],
  };
}

/** What the preferred supplier asks for stands where the rule itself says nothing. */
function ruleOf(row: RuleRow): PlanProblem['rules'][number] {
  return {
    item: row.item,
    warehouse: row.warehouse,
    source: row.source,
    from: null,
    leadDays: row.leadDays > 0 ? row.leadDays : (row.termLead ?? 0),
    safety: writeQuantity(row.safety),
    lotSizing: { kind: 'lotForLot' },
    minimum: writeQuantity(row.minimum > 0 ? row.minimum : (row.termMinimum ?? 0)),
    multiple: writeQuantity(row.multiple > 0 ? row.multiple : (row.termMultiple ?? 0)),
    maximum: null,
    yield: '1',
    fenceDays: 0,
    slackDays: row.slackDays,
    demand: 'orders',
    consumeBack: 0,
    consumeForward: 0,
    quotesFrom: null,
    quotesWeighted: false,
  };
}

function bomsOf(work: Work): PlanProblem['boms'] {
  const boms = new Map<string, PlanProblem['boms'][number]['lines'][number][]>();
  const rows = work.rows<{
    parent: string;
    component: string;
    quantity: string;
    scrap: string;
    offsetDays: number;
    from: string | null;
    to: string | null;
  }>(
    `select p.code as parent, c.code as component, b.quantity, b.scrap, b.offset_days as offsetDays, b.valid_from as "from", b.valid_to as "to" from bom_line b join item p on p.id = b.item_id join item c on c.id = b.component_id where c.kind in ('stocked', 'phantom') order by p.code, b.position`,
  );
  for (const { parent, ...line } of rows) boms.set(parent, [...(boms.get(parent) ?? []), line]);
  return [...boms].map(([item, lines]) => ({ item, lines }));
}
