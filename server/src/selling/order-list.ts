/** The order book: every customer order as a list. */
import { and, eq, gt, sql, type SQL } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import type { AnswerOf, ListQuery, OrderRow } from '@terrace/contract';
import { extend, parseAmount, standing, writeAmount, type UnitPrice } from '@terrace/core';
import { paidOf } from '../accounts';
import { customColumns, customer, item, warehouse } from '../catalogue';
import { among, countOf, inner } from '../platform/expressions';
import { narrowed } from '../platform/list-narrowing';
import { asAmountText, asFlag, asNumber, asText, list, listPage, listPageInTwo, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { user } from '../platform/schema';
import type { Work } from '../platform/work';
import { reservation } from '../stores';
import { toShipOf } from './backlog';
import { IN_WORK, IS_GOODS, IS_ORDER, hasLateLine, stillToShip } from './events';
import { otherRooms } from './handed-in';
import { currentCost } from './pricing';
import { customerOrder, customerOrderLine as line } from './schema';

const open = sql`max(0, ${stillToShip})`;
/** What is ready of a line: what is reserved, or all of it where nothing is kept in stock. */
const held = sql`case when ${item.kind} = 'stocked' or ${line.direct} then coalesce(${reservation.quantity}, 0) else ${open} end`;
const readyLines = inner
  .select({
    ready: sql`case when coalesce(sum(${held} < ${open}), 0) = 0 then 'all' when sum(${held}) > 0 then 'part' else 'nothing' end`,
  })
  .from(line)
  .innerJoin(item, eq(item.id, line.itemId))
  .leftJoin(reservation, and(eq(reservation.holderKind, 'customerOrder'), eq(reservation.holderId, line.id)))
  .where(and(eq(line.orderId, customerOrder.id), IS_GOODS));
const ready = sql`case when ${IN_WORK} then ${readyLines} when ${customerOrder.state} = 'draft' then 'nothing' else 'done' end`;

interface Asked {
  today: string;
  /** Numbers of the orders that the plan has in danger. */
  inDanger: readonly string[];
}
const inDanger = ($: Asked): SQL => among(customerOrder.number, $.inDanger);
const PARTS = {
  all: () => undefined,
  endangered: () => sql`${customerOrder.number} = danger.value`,
  others: ($: Asked) => sql`not (${inDanger($)})`,
};
type Part = keyof typeof PARTS;
const bookOf = (part: Part) =>
  list(($: Asked) => ({
    columns: {
      id: asNumber(customerOrder.id),
      number: asText(customerOrder.number),
      customer: asText(customer.name),
      reference: asText(customerOrder.reference),
      state: asText(customerOrder.state),
      orderDate: asText(customerOrder.orderDate),
      requiredDate: asText(customerOrder.requiredDate),
      promiseDate: asText(customerOrder.promiseDate),
      warehouse: asText(warehouse.code),
      carrier: asText(customerOrder.carrier),
      held: asText(customerOrder.held),
      lines: asNumber(countOf(line, and(eq(line.orderId, customerOrder.id), gt(line.quantity, sql`0`)))),
      ready: asText(ready),
      late: asFlag(hasLateLine(sql`${$.today}`)),
      endangered: asFlag(inDanger($)),
      onShipment: asFlag(otherRooms.get().onShipment(customerOrder.id)),
      total: asAmountText(customerOrder.booksTotal),
      net: asAmountText(customerOrder.booksNet),
      theirTotal: asAmountText(customerOrder.total),
      currency: asText(customerOrder.currency),
      paid: asText(paidOf(customerOrder.id)),
      salesPerson: asText(sql`coalesce(${user.name}, '')`),
      warehouseId: asNumber(customerOrder.warehouseId),
      open: asFlag(customerOrder.open),
    },
    // From the few that are in danger to their orders, in this order: whatever the database takes to be many.
    ...(part === 'endangered' ? { from: sql`json_each(${$.inDanger}) danger`, times: customerOrder } : { from: customerOrder }),
    joins: [
      refersTo(customer, eq(customer.id, customerOrder.customerId)),
      refersTo(warehouse, eq(warehouse.id, customerOrder.warehouseId)),
      { table: user, on: eq(user.id, customerOrder.salesPersonId), left: true },
    ],
    where: and(IS_ORDER, PARTS[part]($)),
    find: [customerOrder.number, customer.name, customerOrder.reference],
    order: [sql`${customerOrder.requiredDate} desc`],
    tie: [sql`${customerOrder.id} desc`],
  }));
const orders = bookOf('all');
/** What is in danger, and what is not: of open orders the one comes before the other. */
const endangered = bookOf('endangered');
const others = bookOf('others');

type Row = OrderRow & { warehouseId: number };

export function listOrders(work: Work, asked: ListQuery): AnswerOf<typeof api.selling.listOrders> {
  const more = customColumns(work, 'customerOrder', customerOrder.id);
  const values = { today: work.today, inDanger: otherRooms.get().endangeredOrders(work) };
  const dangerFirst = values.inDanger.length > 0 && asked.sort === undefined && narrowed(asked).filters.some(({ name }) => name === 'open');
  const { rows, total } = dangerFirst
    ? listPageInTwo<Row, Asked>(work, { first: endangered, rest: others, whole: orders }, asked, values, more)
    : listPage<Row, Asked>(work, orders, asked, values, { more });
  const costs = costOfLines(work, rows);
  const toShip = toShipOf(work, rows);
  return {
    rows: rows.map(({ warehouseId: _, ...row }) => ({
      ...row,
      margin: writeAmount(parseAmount(row.net) - (costs.get(row.id) ?? 0)),
      toShip: writeAmount(toShip.get(row.id) ?? 0),
    })),
    total,
  };
}

const linesOfAll = query(
  ($: { orders: readonly number[] }) => (db) =>
    db
      .select({ orderId: line.orderId, itemId: line.itemId, quantity: line.quantity, cancelled: line.cancelled })
      .from(line)
      .where(among(line.orderId, $.orders)),
);

/** What the lines of each order cost us as of now, each to the cent; a cost is asked for once. */
function costOfLines(work: Work, rows: readonly Row[]): ReadonlyMap<number, number> {
  const warehouseOf = new Map(rows.map((row) => [row.id, row.warehouseId]));
  const known = new Map<string, UnitPrice>();
  const costOf = (itemId: number, warehouseId: number | undefined): UnitPrice => {
    const key = `${itemId} ${warehouseId}`;
    const cost = known.get(key) ?? currentCost(work, itemId, warehouseId);
    known.set(key, cost);
    return cost;
  };
  const costs = new Map<number, number>();
  for (const each of linesOfAll.all(work, { orders: [...warehouseOf.keys()] }))
    costs.set(each.orderId, (costs.get(each.orderId) ?? 0) + extend(standing(each), costOf(each.itemId, warehouseOf.get(each.orderId))));
  return costs;
}
