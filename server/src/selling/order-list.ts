/** The order book: every customer order as a list. */
import { and, eq, sql, type SQL } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import type { AnswerOf, ListQuery, OrderRow } from '@terrace/contract';
import { extend, parseAmount, standing, writeAmount, type UnitPrice } from '@terrace/core';
import { paidOf } from '../accounts';
import { customColumns, customer, item, warehouse } from '../catalogue';
import { among, countOf, inner } from '../platform/expressions';
import { narrowed } from '../platform/list-narrowing';
import { asAmountText, asFlag, asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { user } from '../platform/schema';
import type { Work } from '../platform/work';
import { reservation } from '../stores';
import { IN_WORK, hasLateLine, stillToShip } from './events';
import { otherRooms } from './handed-in';
import { linesOf } from './order-view';
import { currentCost } from './pricing';
import { customerOrder, customerOrderLine as line } from './schema';

const open = sql`max(0, ${stillToShip})`;
/** What is ready of a line: what is reserved, or all of it where nothing is kept in stock. */
const held = sql`case when ${item.kind} = 'stocked' or ${line.direct} then coalesce(${reservation.quantity}, 0) else ${open} end`;
const readyLines = inner
  .select({
    ready: sql`case when sum(${held} < ${open}) = 0 then 'all' when sum(${held}) > 0 then 'part' else 'nothing' end`,
  })
  .from(line)
  .innerJoin(item, eq(item.id, line.itemId))
  .leftJoin(reservation, and(eq(reservation.holderKind, 'customerOrder'), eq(reservation.holderId, line.id)))
  .where(eq(line.orderId, customerOrder.id));
const ready = sql`case when ${IN_WORK} then ${readyLines} when ${customerOrder.state} = 'draft' then 'nothing' else 'done' end`;

interface Asked {
  today: string;
  /** Numbers of the orders that the plan has in danger. */
  inDanger: readonly string[];
}
const bookOf = (orderBy: ($: Asked) => SQL[]) =>
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
      lines: asNumber(countOf(line, eq(line.orderId, customerOrder.id))),
      ready: asText(ready),
      late: asFlag(hasLateLine(sql`${$.today}`)),
      endangered: asFlag(among(customerOrder.number, $.inDanger)),
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
    from: customerOrder,
    joins: [
      refersTo(customer, eq(customer.id, customerOrder.customerId)),
      refersTo(warehouse, eq(warehouse.id, customerOrder.warehouseId)),
      { table: user, on: eq(user.id, customerOrder.salesPersonId), left: true },
    ],
    where: eq(customerOrder.kind, 'order'),
    find: [customerOrder.number, customer.name, customerOrder.reference],
    order: orderBy($),
    tie: [sql`${customerOrder.id} desc`],
  }));
const latestFirst = sql`${customerOrder.requiredDate} desc`;
const orders = bookOf(() => [latestFirst]);
/** What is in danger before the rest: of open ones, which are few; all that ever were would have to be sorted for it. */
const dangerFirst = bookOf(($) => [sql`${among(customerOrder.number, $.inDanger)} desc`, latestFirst]);

export function listOrders(work: Work, asked: ListQuery): AnswerOf<typeof api.selling.listOrders> {
  const more = customColumns(work, 'customerOrder', customerOrder.id);
  const values = { today: work.today, inDanger: otherRooms.get().endangeredOrders(work) };
  const said = values.inDanger.length > 0 && narrowed(asked).filters.some(({ name }) => name === 'open') ? dangerFirst : orders;
  const { rows, total } = listPage<OrderRow & { warehouseId: number }, Asked>(work, said, asked, values, { more });
  const costs = new Map<string, UnitPrice>();
  const costOf = (itemId: number, warehouseId: number): UnitPrice => {
    const key = `${itemId} ${warehouseId}`;
    const known = costs.get(key) ?? currentCost(work, itemId, warehouseId);
    costs.set(key, known);
    return known;
  };
  return {
    rows: rows.map(({ warehouseId, ...row }) => ({
      ...row,
      margin: writeAmount(
        linesOf(work, row.id).reduce<number>((left, each) => left - extend(standing(each), costOf(each.itemId, warehouseId)), parseAmount(row.net)),
      ),
    })),
    total,
  };
}
