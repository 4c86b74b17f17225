/** Customer orders: entering, changing, confirming, cancelling. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type ListQuery, type OrderRow, type OrderView } from '@terrace/contract';
import {
  Refusal,
  asQuantity,
  assertFree,
  firstPromiseDate,
  outstanding,
  stateOfConfirmed,
  totalOf,
  writeQuantity,
  type Quantity,
} from '@terrace/core';
import { customColumns, customFind, customerOf, keepCustom, usableItem, warehouseOf } from '../catalogue';
import { asAmountText, asFlag, asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import { assertVersion, atField, changesBetween, type Work } from '../platform/work';
import { dropReservation, lowerReservation, promiseSteps, reserveFree, reservedFor, stockOf } from '../stores';
import { readLines, type EnteredLine, type OrderInput } from './order-lines';
import { lineRows, linesOf, orderOf, orderView, viewOf, type LineRow, type OrderRecord } from './order-view';
import { plannedOrder } from './planned';

const LINE_OPEN = 'max(0, l.quantity - l.shipped - l.cancelled)';
const LINE_HELD = `case when i.kind = 'stocked' then coalesce(r.quantity, 0) else ${LINE_OPEN} end`;
const READY = `case when o.state not in ('confirmed', 'partShipped') then case o.state when 'draft' then 'nothing' else 'done' end else
  (select case when sum(${LINE_HELD} < ${LINE_OPEN}) = 0 then 'all' when sum(${LINE_HELD}) > 0 then 'part' else 'nothing' end
   from customer_order_line l join item i on i.id = l.item_id left join reservation r on r.holder_kind = 'customerOrder' and r.holder_id = l.id where l.order_id = o.id) end`;

function orders(work: Work): ListDefinition {
  const { today } = work;
  return {
    columns: {
      id: asNumber('o.id'),
      number: asText('o.number'),
      customer: asText('c.name'),
      reference: asText('o.reference'),
      state: asText('o.state'),
      orderDate: asText('o.order_date'),
      requiredDate: asText('o.required_date'),
      promiseDate: asText('o.promise_date'),
      warehouse: asText('w.code'),
      lines: asNumber('(select count(*) from customer_order_line l where l.order_id = o.id)'),
      ready: asText(READY),
      late: asFlag(
        `o.open = 1 and o.state in ('confirmed', 'partShipped') and (o.required_date < '${today}' or coalesce(o.promise_date, '9999') > o.required_date)`,
      ),
      total: asAmountText('o.total'),
      open: asFlag('o.open'),
      ...customColumns(work, 'customerOrder', 'o.id'),
    },
    from: 'customer_order o join customer c on c.id = o.customer_id join warehouse w on w.id = o.warehouse_id',
    countFrom: 'customer_order o',
    find: ['o.number', 'c.name', 'o.reference', ...customFind(work, 'customerOrder', 'o.id')],
    order: 'o.required_date desc',
    tie: 'o.id desc',
  };
}

export function listOrders(work: Work, query: ListQuery): AnswerOf<typeof api.selling.listOrders> {
  const { rows, total } = listPage<OrderRow>(work, orders(work), query);
  return { rows: rows.map((row) => ({ ...row, endangered: plannedOrder(work, row.number)?.endangered ?? false })), total };
}

function assertHeader(work: Work, input: OrderInput, before: string | null): ReturnType<typeof customerOf> {
  const customer = atField('customerId', () => customerOf(work, input.customerId));
  if (customer.active === 0)
    throw new Refusal('inactiveCustomer', `${customer.name} is inactive: no new order may name them.`, { field: 'customerId' });
  atField('warehouseId', () => warehouseOf(work, input.warehouseId));
  if (input.requiredDate !== before && input.requiredDate < work.today) {
    throw new Refusal('badDate', `${input.requiredDate} has passed: nothing can be delivered before today, ${work.today}.`, {
      field: 'requiredDate',
    });
  }
  return customer;
}

const INSERT_LINE = `insert into customer_order_line (order_id, position, item_id, quantity, price, discount, price_steps, discount_reason, required_date, shipped, invoiced, cancelled)
  values (?, ?, ?, ?, ?, ?, ?, ?, ?, 0, 0, 0)`;

function addLine(work: Work, orderId: number, position: number, line: EnteredLine): void {
  const { itemId, quantity, price, discount, priceSteps, discountReason, requiredDate } = line;
  work.run(INSERT_LINE, orderId, position, itemId, quantity, price, discount, JSON.stringify(priceSteps), discountReason, requiredDate);
}

/** Enters an order as a draft. */
export function createOrder(work: Work, input: OrderInput): OrderView {
  const customer = assertHeader(work, input, null);
  const lines = readLines(work, input, work.today);
  const number = work.nextNumber('CO');
  const { id } = work.run(
    "insert into customer_order (number, customer_id, reference, warehouse_id, order_date, required_date, state, note, total) values (?, ?, ?, ?, ?, ?, 'draft', ?, ?)",
    number,
    input.customerId,
    input.reference,
    input.warehouseId,
    work.today,
    input.requiredDate,
    input.note,
    totalOf(lines, customer.taxRate).total,
  );
  lines.forEach((line, index) => addLine(work, id, index + 1, line));
  keepCustom(work, 'customerOrder', id, input.custom);
  work.record('customerOrder', id, `entered ${number}`);
  return orderView(work, id);
}

/**
 * Changes an order. A draft changes freely; of a confirmed one, what is shipped stays, and reservations follow what is
 * still wanted.
 */
export function changeOrder(work: Work, id: number, input: OrderInput & { version: number }): OrderView {
  const order = orderOf(work, id);
  const before = orderView(work, id);
  assertVersion(work, 'customerOrder', order, input.version, order.number);
  if (!order.open || order.state === 'shipped' || order.state === 'invoiced')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: it can't be changed any more. Enter a new order for what is missing.`);
  const customer = assertHeader(work, input, order.requiredDate);
  if (order.state !== 'draft' && (input.customerId !== order.customerId || input.warehouseId !== order.warehouseId)) {
    throw new Refusal('wrongState', `${order.number} is confirmed: customer and warehouse stay. Cancel it and enter a new one.`, {
      field: 'customerId',
    });
  }
  const lines = readLines(work, input, order.orderDate);
  const old = linesOf(work, id);
  for (const line of old.filter((each) => !lines.some((kept) => kept.id === each.id))) {
    if (line.shipped > 0) throw new Refusal('alreadyShipped', `Line ${line.position} has shipped in part and can't be removed.`, { field: 'lines' });
    assertNotOnShipment(work, line.id, line.position);
    dropReservation(work, 'customerOrder', line.id);
    work.run('delete from customer_order_line where id = ?', line.id);
  }
  lines.forEach((line, index) => {
    const existing = old.find((each) => each.id === line.id);
    if (!existing) {
      addLine(work, id, index + 1, line);
      return;
    }
    if (line.quantity < existing.shipped)
      throw new Refusal('alreadyShipped', `${writeQuantity(existing.shipped)} have shipped: the quantity can't be below that.`, {
        field: `lines.${index}.quantity`,
      });
    if (line.itemId !== existing.itemId) {
      if (existing.shipped > 0)
        throw new Refusal('alreadyShipped', 'Of this line something has shipped: its item stays.', { field: `lines.${index}.itemId` });
      assertNotOnShipment(work, existing.id, existing.position);
      dropReservation(work, 'customerOrder', existing.id);
    }
    const held = reservedFor(work, 'customerOrder', existing.id);
    const stillWanted = line.quantity - existing.shipped;
    if (held > stillWanted) lowerReservation(work, 'customerOrder', existing.id, asQuantity(held - stillWanted));
    work.run(
      'update customer_order_line set position = ?, item_id = ?, quantity = ?, price = ?, discount = ?, price_steps = ?, discount_reason = ?, required_date = ?, cancelled = 0 where id = ?',
      index + 1,
      line.itemId,
      line.quantity,
      line.price,
      line.discount,
      JSON.stringify(line.priceSteps),
      line.discountReason,
      line.requiredDate,
      existing.id,
    );
  });
  work.run(
    'update customer_order set customer_id = ?, reference = ?, warehouse_id = ?, required_date = ?, note = ?, total = ?, version = version + 1 where id = ?',
    input.customerId,
    input.reference,
    input.warehouseId,
    input.requiredDate,
    input.note,
    totalOf(lines, customer.taxRate).total,
    id,
  );
  if (order.state !== 'draft') reserveLines(work, orderOf(work, id), lineRows(work, id));
  const custom = keepCustom(work, 'customerOrder', id, input.custom);
  const after = orderView(work, id);
  const short = (view: OrderView): Record<string, string> => ({
    reference: view.reference,
    requiredDate: view.requiredDate,
    note: view.note,
    total: view.total,
    lines: view.lines.map((line) => `${line.quantity} ${line.code} at ${line.price}`).join('; '),
  });
  work.record('customerOrder', id, `changed ${order.number}`, [...changesBetween(short(before), short(after)), ...custom]);
  return after;
}

function assertNotOnShipment(work: Work, lineId: number, position: number): void {
  const shipment = work.row<{ number: string }>(
    "select s.number from shipment_line l join shipment s on s.id = l.shipment_id where l.order_line_id = ? and s.state in ('draft', 'picking')",
    lineId,
  );
  if (shipment) throw new Refusal('onShipment', `Line ${position} is on shipment ${shipment.number}: drop that first.`, { field: 'lines' });
}

/** Reserves what is free for each line and works out what can be promised for the rest; answers the lines as they are then. */
export function reserveLines(
  work: Work,
  order: OrderRecord,
  lines: readonly LineRow[],
): { readonly lines: LineRow[]; readonly promiseDate: string | null } {
  const { id } = order;
  let promise: string | null = order.requiredDate;
  const after = lines.map((line): LineRow => {
    const open = outstanding(line);
    let date: string | null = line.requiredDate;
    let { reserved } = line;
    if (line.kind === 'stocked' && open > 0) {
      const holder = { kind: 'customerOrder', id: line.id, documentId: id, documentNumber: order.number } as const;
      reserved = reserveFree(work, line.itemId, order.warehouseId, holder, open, line.reserved);
      if (reserved < open) date = promiseDate(work, line, order.warehouseId, open);
    }
    const kept = date === null || date > line.requiredDate ? date : line.requiredDate;
    if (kept !== line.promiseDate) work.run('update customer_order_line set promise_date = ? where id = ?', kept, line.id);
    promise = promise === null || kept === null ? null : promise > kept ? promise : kept;
    return { ...line, reserved, promiseDate: kept };
  });
  work.run('update customer_order set promise_date = ? where id = ?', promise, id);
  return { lines: after, promiseDate: promise };
}

function promiseDate(work: Work, line: LineRow, warehouse: number, wanted: Quantity): string | null {
  const steps = promiseSteps(work, line.itemId, warehouse, { kind: 'customerOrder', id: line.id });
  return firstPromiseDate(steps, wanted);
}

/**
 * Confirms an order: reserves what is free and promises dates for the rest. With `allOrNothing` it refuses
 * `heldByOthers` where a line is not wholly free, naming who holds the rest.
 */
export function confirmOrder(work: Work, id: number, version: number, allOrNothing: boolean): OrderView {
  const order = orderOf(work, id);
  assertVersion(work, 'customerOrder', order, version, order.number);
  if (order.state !== 'draft') throw new Refusal('wrongState', `${order.number} is ${order.state}: only a draft can be confirmed.`);
  const customer = customerOf(work, order.customerId);
  if (customer.onHold === 1)
    throw new Refusal('customerOnHold', `${customer.name} is on hold: nothing is confirmed for them until accounts lift it.`);
  const lines = lineRows(work, id);
  for (const line of lines) {
    if (line.active === 0) usableItem(work, line.itemId);
  }
  if (allOrNothing) for (const line of lines) if (line.kind === 'stocked') assertAllFree(work, order.warehouseId, line);
  work.run("update customer_order set state = 'confirmed', version = version + 1 where id = ?", id);
  const after = reserveLines(work, order, lines);
  work.record('customerOrder', id, `confirmed ${order.number}`);
  return viewOf(work, { ...order, state: 'confirmed', version: order.version + 1, promiseDate: after.promiseDate }, customer, after.lines);
}

function assertAllFree(work: Work, warehouse: number, line: LineRow): void {
  const holders = work.rows<{ document: string; quantity: number }>(
    'select document_number as document, quantity from reservation where item_id = ? and warehouse_id = ? order by id',
    line.itemId,
    warehouse,
  );
  assertFree(
    line.code,
    line.quantity,
    stockOf(work, line.itemId, warehouse).available,
    holders.map((each) => ({ document: each.document, quantity: asQuantity(each.quantity) })),
  );
}

/** Reserves what has become free since confirmation. */
export function reserveOrder(work: Work, id: number): OrderView {
  const order = orderOf(work, id);
  if (order.state !== 'confirmed' && order.state !== 'partShipped')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: there is nothing to reserve.`);
  reserveLines(work, order, lineRows(work, id));
  work.run('update customer_order set version = version + 1 where id = ?', id);
  work.record('customerOrder', id, `reserved stock for ${order.number}`);
  return orderView(work, id);
}

/** Cancels what has not shipped; what is on a shipment that has not left must be dropped first. */
export function cancelOrder(work: Work, id: number, version: number, reason: string): OrderView {
  const order = orderOf(work, id);
  assertVersion(work, 'customerOrder', order, version, order.number);
  const lines = linesOf(work, id);
  if (!order.open || lines.every((line) => outstanding(line) === 0))
    throw new Refusal('wrongState', `${order.number} is ${order.state}: nothing of it is left to cancel.`);
  for (const line of lines) {
    assertNotOnShipment(work, line.id, line.position);
    dropReservation(work, 'customerOrder', line.id);
    work.run('update customer_order_line set cancelled = cancelled + ? where id = ?', outstanding(line), line.id);
    work.touch('stock', line.itemId, order.number);
  }
  const left = linesOf(work, id).map((line) => ({ ...line, quantity: asQuantity(line.quantity - line.cancelled) }));
  work.run('update customer_order set total = ? where id = ?', totalOf(left, customerOf(work, order.customerId).taxRate).total, id);
  refreshOrder(work, id);
  work.record('customerOrder', id, `cancelled ${order.number}: ${reason}`);
  return orderView(work, id);
}

/** Brings an order's state up to its lines and invoices. */
export function refreshOrder(work: Work, id: number): void {
  const unpaid = work.row<{ n: number }>("select count(*) as n from invoice where order_id = ? and state = 'open'", id)?.n ?? 0;
  const state = stateOfConfirmed(linesOf(work, id), unpaid === 0);
  work.run(
    'update customer_order set state = ?, open = ?, version = version + 1 where id = ?',
    state,
    state === 'closed' || state === 'cancelled' ? 0 : 1,
    id,
  );
  work.touch('customerOrder', id, `now ${state}`);
}
