/** Figures of selling, worked out from orders, shipments, invoices and the moves of stock. */
import { and, eq, gte, isNotNull, lte, ne, notInArray, sql } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import type { QueryOf, SellingFigures } from '@terrace/contract';
import { addDays, asAmount, inFullBy, marginShare, standing, weekOf, weeksBetween, writeAmount, type Amount, type Quantity } from '@terrace/core';
import { invoice, invoiceLine } from '../accounts';
import { customer, item, itemGroup } from '../catalogue';
import { shipment, shipmentLine } from '../dispatch';
import { total } from '../platform/expressions';
import { query } from '../platform/query';
import { user } from '../platform/schema';
import type { Work } from '../platform/work';
import { customerReturn } from '../returns';
import { IS_GOODS, IS_ORDER, backlogOf, customerOrder, customerOrderLine } from '../selling';
import { isStanding, stockMove } from '../stores';

const line = customerOrderLine;
const CONFIRMED = and(IS_ORDER, notInArray(customerOrder.state, ['draft', 'cancelled']));
type Period = { from: string; until: string };

const taken = query(
  ($: Period) => (db) =>
    db
      .select({ date: customerOrder.orderDate, net: total(customerOrder.booksNet) })
      .from(customerOrder)
      .where(and(CONFIRMED, gte(customerOrder.orderDate, $.from), lte(customerOrder.orderDate, $.until)))
      .groupBy(customerOrder.orderDate),
);
const dueLines = query(
  ($: Period) => (db) =>
    db
      .select({
        id: line.id,
        orderId: customerOrder.id,
        order: customerOrder.number,
        customer: customer.name,
        code: item.code,
        wished: line.requiredDate,
        promised: line.promiseDate,
        quantity: line.quantity,
        cancelled: line.cancelled,
      })
      .from(line)
      .innerJoin(customerOrder, eq(customerOrder.id, line.orderId))
      .innerJoin(customer, eq(customer.id, customerOrder.customerId))
      .innerJoin(item, eq(item.id, line.itemId))
      .where(
        and(
          CONFIRMED,
          IS_GOODS,
          eq(line.direct, false),
          sql`${line.quantity} > ${line.cancelled}`,
          sql`((${line.requiredDate} between ${$.from} and ${$.until}) or (${line.promiseDate} between ${$.from} and ${$.until}))`,
        ),
      ),
);
const leftOf = query(
  ($: Period) => (db) =>
    db
      .select({ lineId: shipmentLine.orderLineId, date: shipment.date, quantity: shipmentLine.quantity })
      .from(shipmentLine)
      .innerJoin(shipment, eq(shipment.id, shipmentLine.shipmentId))
      .innerJoin(line, eq(line.id, shipmentLine.orderLineId))
      .where(
        and(
          eq(shipment.state, 'shipped'),
          sql`((${line.requiredDate} between ${$.from} and ${$.until}) or (${line.promiseDate} between ${$.from} and ${$.until}))`,
        ),
      ),
);
/** What was charged, and given back, of the orders' items. */
const charged = query(
  ($: Period) => (db) =>
    db
      .select({ orderId: line.orderId, itemId: invoiceLine.itemId, amount: total(invoiceLine.booksAmount) })
      .from(invoiceLine)
      .innerJoin(invoice, eq(invoice.id, invoiceLine.invoiceId))
      .innerJoin(line, eq(line.id, invoiceLine.orderLineId))
      .where(and(ne(invoice.state, 'reversed'), gte(invoice.date, $.from), lte(invoice.date, $.until)))
      .groupBy(line.orderId, invoiceLine.itemId),
);
/** What the ledger booked for a move, whatever of it the stock took. */
const worthOfMove = sql<number>`${stockMove.value} + ${stockMove.variance}`;
/** What left with shipments that are invoiced in the period cost; and what came back of orders. */
const cost = query(
  ($: Period) => (db) =>
    db
      .select({ orderId: shipment.orderId, itemId: stockMove.itemId, amount: total(worthOfMove) })
      .from(stockMove)
      .innerJoin(shipment, eq(shipment.id, stockMove.documentId))
      .where(
        and(
          eq(stockMove.documentKind, 'shipment'),
          isStanding,
          eq(shipment.state, 'shipped'),
          gte(stockMove.date, $.from),
          lte(stockMove.date, $.until),
        ),
      )
      .groupBy(shipment.orderId, stockMove.itemId),
);
const costBack = query(
  ($: Period) => (db) =>
    db
      .select({ orderId: customerReturn.orderId, itemId: stockMove.itemId, amount: total(worthOfMove) })
      .from(stockMove)
      .innerJoin(customerReturn, eq(customerReturn.id, stockMove.documentId))
      .where(
        and(
          eq(stockMove.documentKind, 'customerReturn'),
          eq(stockMove.fromKind, 'customer'),
          isStanding,
          gte(stockMove.date, $.from),
          lte(stockMove.date, $.until),
        ),
      )
      .groupBy(customerReturn.orderId, stockMove.itemId),
);
const heads = query(
  () => (db) =>
    db
      .select({
        id: customerOrder.id,
        number: customerOrder.number,
        customerId: customer.id,
        customer: customer.name,
        personId: sql<number>`coalesce(${customerOrder.salesPersonId}, 0)`,
        person: sql<string>`coalesce(${user.name}, 'nobody')`,
      })
      .from(customerOrder)
      .innerJoin(customer, eq(customer.id, customerOrder.customerId))
      .leftJoin(user, eq(user.id, customerOrder.salesPersonId))
      .where(IS_ORDER),
);
const groups = query(
  () => (db) => db.select({ itemId: item.id, group: itemGroup.name }).from(item).innerJoin(itemGroup, eq(itemGroup.code, item.groupCode)),
);
const lost = query(
  ($: Period) => (db) =>
    db
      .select({ reason: customerOrder.lostReason, quotes: sql<number>`count(*)`, value: total(customerOrder.lostNet) })
      .from(customerOrder)
      .where(
        and(
          eq(customerOrder.kind, 'quote'),
          ne(customerOrder.lostReason, ''),
          isNotNull(customerOrder.validUntil),
          gte(customerOrder.orderDate, $.from),
          lte(customerOrder.orderDate, $.until),
        ),
      )
      .groupBy(customerOrder.lostReason)
      .orderBy(sql`count(*) desc`),
);

const DAYS_BACK = 84;
const DAYS_AHEAD = 42;
const MOST_LATE = 50;

/** Figures of a period; the last twelve weeks where none is said. The backlog goes as far ahead as anything is promised. */
export function sellingFigures(work: Work, asked: QueryOf<typeof api.selling.figures>): SellingFigures {
  const until = asked.until ?? work.today;
  const from = asked.from ?? addDays(until, -DAYS_BACK);
  const period = { from, until };
  const weekly = weeksOf(work, period);
  return {
    ...period,
    ...weekly,
    ...onTime(work, period),
    by: asked.by,
    ...marginsOf(work, period, asked.by),
    lost: lost.all(work, period).map((each) => ({ ...each, value: writeAmount(each.value) })),
  };
}

function weeksOf(work: Work, { from, until }: Period): Pick<SellingFigures, 'weeks' | 'intake' | 'backlog'> {
  const intake = new Map<string, number>();
  for (const { date, net } of taken.all(work, { from, until })) intake.set(weekOf(date), (intake.get(weekOf(date)) ?? 0) + net);
  const backlog = new Map<string, number>();
  const thisWeek = weekOf(work.today);
  for (const { days } of backlogOf(work).values())
    for (const { day, value } of days) {
      const week = weekOf(day) < thisWeek ? thisWeek : weekOf(day);
      backlog.set(week, (backlog.get(week) ?? 0) + value);
    }
  const sum = (of: ReadonlyMap<string, number>): Amount => asAmount([...of.values()].reduce((all, each) => all + each, 0));
  const last = [...backlog.keys(), until].sort().at(-1) ?? until;
  const ahead = last > addDays(work.today, DAYS_AHEAD) ? addDays(work.today, DAYS_AHEAD) : last;
  return {
    weeks: weeksBetween(from, ahead > until ? ahead : until).map((week) => ({
      week,
      intake: writeAmount(intake.get(week) ?? 0),
      backlog: writeAmount(backlog.get(week) ?? 0),
    })),
    intake: writeAmount(sum(intake)),
    backlog: writeAmount(sum(backlog)),
  };
}

function onTime(work: Work, period: Period): Pick<SellingFigures, 'promised' | 'wished' | 'late'> {
  const left = new Map<number, { date: string; quantity: Quantity }[]>();
  for (const { lineId, date, quantity } of leftOf.all(work, period)) left.set(lineId, [...(left.get(lineId) ?? []), { date, quantity }]);
  const within = (day: string | null): day is string => day !== null && day >= period.from && day <= period.until && day < work.today;
  const counts = { promised: { lines: 0, kept: 0 }, wished: { lines: 0, kept: 0 } };
  const late: SellingFigures['late'] = [];
  for (const each of dueLines.all(work, period)) {
    const mine = left.get(each.id) ?? [];
    const whole = standing(each);
    let missed = false;
    for (const [key, day] of [
      ['promised', each.promised],
      ['wished', each.wished],
    ] as const) {
      if (!within(day)) continue;
      const kept = inFullBy(mine, whole, day);
      counts[key].lines += 1;
      if (kept) counts[key].kept += 1;
      else missed = true;
    }
    if (!missed) continue;
    const gone = mine.reduce((sum, { quantity }) => sum + quantity, 0) >= whole;
    const { orderId, order, customer: buyer, code, wished, promised } = each;
    late.push({
      orderId,
      order,
      customer: buyer,
      code,
      wished,
      promised,
      left: gone
        ? (mine
            .map(({ date }) => date)
            .sort()
            .at(-1) ?? null)
        : null,
    });
  }
  return { ...counts, late: late.sort((a, b) => (a.wished < b.wished ? 1 : -1)).slice(0, MOST_LATE) };
}

function marginsOf(work: Work, period: Period, by: SellingFigures['by']): Pick<SellingFigures, 'margins' | 'margin'> {
  const orders = new Map(heads.all(work).map((each) => [each.id, each]));
  const groupOf = by === 'group' ? new Map(groups.all(work).map(({ itemId, group }) => [itemId, group])) : new Map<number, string>();
  const of = (orderId: number, itemId: number): { readonly id: number; readonly name: string } => {
    const order = orders.get(orderId);
    switch (by) {
      case 'customer':
        return { id: order?.customerId ?? 0, name: order?.customer ?? '' };
      case 'person':
        return { id: order?.personId ?? 0, name: order?.person ?? '' };
      case 'order':
        return { id: orderId, name: order?.number ?? '' };
      case 'group':
        return { id: 0, name: groupOf.get(itemId) ?? '' };
    }
  };
  const rows = new Map<string, { id: number; name: string; revenue: number; cost: number }>();
  const add = (part: readonly { orderId: number; itemId: number; amount: number }[], to: 'revenue' | 'cost', sign: 1 | -1): void => {
    for (const { orderId, itemId, amount } of part) {
      const { id, name } = of(orderId, itemId);
      const row = rows.get(`${id} ${name}`) ?? { id, name, revenue: 0, cost: 0 };
      row[to] += sign * amount;
      rows.set(`${id} ${name}`, row);
    }
  };
  add(charged.all(work, period), 'revenue', 1);
  add(cost.all(work, period), 'cost', 1);
  add(costBack.all(work, period), 'cost', -1);
  const all = [...rows.values()];
  const sums = { revenue: all.reduce((sum, each) => sum + each.revenue, 0), cost: all.reduce((sum, each) => sum + each.cost, 0) };
  const written = ({ revenue, cost: spent }: typeof sums): SellingFigures['margin'] => ({
    revenue: writeAmount(revenue),
    cost: writeAmount(spent),
    margin: writeAmount(revenue - spent),
    share: marginShare(asAmount(revenue), asAmount(spent)),
  });
  return {
    margins: all.sort((a, b) => b.revenue - b.cost - (a.revenue - a.cost)).map((each) => ({ id: each.id, name: each.name, ...written(each) })),
    margin: written(sums),
  };
}
