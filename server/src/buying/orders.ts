/** Purchase orders: entering, approving, sending, cancelling. */
import { eq, sql } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type ListQuery, type PurchaseView } from '@terrace/contract';
import {
  Refusal,
  asAmount,
  asPrice,
  asQuantity,
  extend,
  parsePositiveQuantity,
  parseAskedPrice,
  writeAmount,
  writePrice,
  writeQuantity,
  type Quantity,
  type UnitPrice,
} from '@terrace/core';
import { askedPrice, customColumns, customFind, customOf, keepCustom, supplierOf, usableItem, warehouseOf } from '../catalogue';
import { asAmountText, asFlag, asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import { queueMail } from '../platform/outbox';
import { assertVersion, atField, changesBetween, orNotFound, type Work } from '../platform/work';
import * as tables from './schema';

/** How much more than ordered may arrive, in basis points of the line. */
const OVER_DELIVERY = 500;
const OPEN_STATES = "('draft', 'approved', 'sent', 'partReceived')";

function purchases(work: Work): ListDefinition {
  const { today } = work;
  return {
    columns: {
      id: asNumber('o.id'),
      number: asText('o.number'),
      supplier: asText('s.name'),
      state: asText('o.state'),
      warehouse: asText('w.code'),
      orderDate: asText('o.order_date'),
      dueDate: asText('(select min(l.due_date) from purchase_order_line l where l.order_id = o.id and l.received + l.cancelled < l.quantity)'),
      lines: asNumber('(select count(*) from purchase_order_line l where l.order_id = o.id)'),
      progress: asText(
        "(select sum(l.received + l.cancelled >= l.quantity) || ' of ' || count(*) from purchase_order_line l where l.order_id = o.id)",
      ),
      late: asFlag(
        `o.state in ('sent', 'partReceived') and exists (select 1 from purchase_order_line l where l.order_id = o.id and l.received + l.cancelled < l.quantity and l.due_date < '${today}')`,
      ),
      total: asAmountText('o.total'),
      ...customColumns(work, 'purchaseOrder', 'o.id'),
    },
    from: 'purchase_order o join supplier s on s.id = o.supplier_id join warehouse w on w.id = o.warehouse_id',
    countFrom: 'purchase_order o',
    find: ['o.number', 's.name', ...customFind(work, 'purchaseOrder', 'o.id')],
    order: 'o.id desc',
    tie: 'o.id',
  };
}

export function listPurchases(work: Work, query: ListQuery): AnswerOf<typeof api.buying.listPurchases> {
  return listPage(work, purchases(work), query);
}

export type PurchaseRecord = typeof tables.purchaseOrder.$inferSelect;
export type PurchaseLineRecord = typeof tables.purchaseOrderLine.$inferSelect;

export function purchaseOf(work: Work, id: number): PurchaseRecord {
  return orNotFound(
    work.store
      .query('purchaseOrder', (db) =>
        db
          .select()
          .from(tables.purchaseOrder)
          .where(eq(tables.purchaseOrder.id, sql.placeholder('id')))
          .prepare(),
      )
      .all({ id: id })[0],
    'purchase order',
  );
}

export function purchaseLines(work: Work, orderId: number): PurchaseLineRecord[] {
  return work.store
    .query('purchaseOrderLine', (db) =>
      db
        .select()
        .from(tables.purchaseOrderLine)
        .where(eq(tables.purchaseOrderLine.orderId, sql.placeholder('id')))
        .orderBy(tables.purchaseOrderLine.position)
        .prepare(),
    )
    .all({ id: orderId });
}

/** What of a line is still to come. */
export function toCome(line: Pick<PurchaseLineRecord, 'quantity' | 'received' | 'cancelled'>): Quantity {
  return asQuantity(Math.max(0, line.quantity - line.received - line.cancelled));
}

/** The most that may still arrive on a line: what is to come and the tolerance on what was ordered. */
export function mostToReceive(line: Pick<PurchaseLineRecord, 'quantity' | 'received' | 'cancelled'>, decimals: number): Quantity {
  const step = 10 ** (5 - decimals);
  const tolerance = Math.floor((line.quantity * OVER_DELIVERY) / 10_000 / step) * step;
  return asQuantity(Math.max(0, line.quantity - line.cancelled + tolerance - line.received));
}

export function purchaseView(work: Work, id: number): PurchaseView {
  const order = purchaseOf(work, id);
  const lines = work.rows<
    PurchaseLineRecord & {
      code: string;
      description: string;
      unit: string;
      decimals: number;
      tracking: 'none' | 'lot' | 'serial';
      supplierItemCode: string | null;
    }
  >(
    `select l.id, l.position, l.item_id as itemId, l.quantity, l.price, l.due_date as dueDate, l.received, l.cancelled, i.code, i.description, i.unit_code as unit, u.decimals, i.tracking, t.supplier_item_code as supplierItemCode
     from purchase_order_line l join item i on i.id = l.item_id join unit u on u.code = i.unit_code
     left join supplier_term t on t.id = (select n.id from supplier_term n where n.item_id = l.item_id and n.supplier_id = ? order by n.valid_from desc limit 1)
     where l.order_id = ? order by l.position`,
    order.supplierId,
    id,
  );
  const receipts = work.rows<{ id: number; number: string; date: string; deliveryNote: string; reversed: number }>(
    'select id, number, date, delivery_note as deliveryNote, reversed from receipt where purchase_order_id = ? order by id',
    id,
  );
  const amounts = lines.map((line) => extend(asQuantity(line.quantity - line.cancelled), asPrice(line.price)));
  return {
    id,
    number: order.number,
    state: order.state,
    supplierId: order.supplierId,
    supplier: supplierOf(work, order.supplierId).name,
    warehouseId: order.warehouseId,
    warehouse: warehouseOf(work, order.warehouseId).code,
    orderDate: order.orderDate,
    note: order.note,
    custom: customOf(work, 'purchaseOrder', id),
    version: order.version,
    total: writeAmount(order.total),
    lines: lines.map((line, index) => ({
      id: line.id,
      position: line.position,
      itemId: line.itemId,
      code: line.code,
      description: line.description,
      supplierItemCode: line.supplierItemCode ?? '',
      unit: line.unit,
      decimals: line.decimals,
      tracking: line.tracking,
      quantity: writeQuantity(line.quantity),
      price: writePrice(line.price),
      dueDate: line.dueDate,
      received: writeQuantity(line.received),
      cancelled: writeQuantity(line.cancelled),
      outstanding: writeQuantity(toCome(line)),
      most: writeQuantity(mostToReceive(line, line.decimals)),
      amount: writeAmount(amounts[index] ?? 0),
    })),
    receipts: receipts.map((each) => ({
      ...each,
      reversed: each.reversed === 1,
      lines: work
        .rows<{ code: string; quantity: number; unit: string }>(
          'select i.code, r.quantity, i.unit_code as unit from receipt_line r join purchase_order_line l on l.id = r.order_line_id join item i on i.id = l.item_id where r.receipt_id = ? order by r.id',
          each.id,
        )
        .map((line) => ({ ...line, quantity: writeQuantity(line.quantity) })),
    })),
  };
}

type Input = BodyOf<typeof api.buying.createPurchase>;

function readLines(work: Work, input: Input): { itemId: number; quantity: Quantity; price: UnitPrice; dueDate: string }[] {
  return input.lines.map((line, index) => {
    const item = atField(`lines.${index}.itemId`, () => usableItem(work, line.itemId));
    if (item.kind === 'phantom')
      throw new Refusal('notBought', `${item.code} exists only inside a bill of materials: it can't be bought.`, { field: `lines.${index}.itemId` });
    const quantity = atField(`lines.${index}.quantity`, () => parsePositiveQuantity(line.quantity, item.decimals, `the quantity of ${item.code}`));
    const price = line.price;
    const micro =
      price === undefined
        ? (askedPrice(work, item.id, input.supplierId, quantity) ?? 0)
        : atField(`lines.${index}.price`, () => parseAskedPrice(price));
    if (line.dueDate < work.today)
      throw new Refusal('badDate', `${line.dueDate} has passed: nothing can arrive before today, ${work.today}.`, {
        field: `lines.${index}.dueDate`,
      });
    return {
      itemId: item.id,
      price: asPrice(micro),
      dueDate: line.dueDate,
      quantity,
    };
  });
}

function writeLines(work: Work, id: number, lines: ReturnType<typeof readLines>): void {
  lines.forEach((line, index) =>
    work.run(
      'insert into purchase_order_line (order_id, position, item_id, quantity, price, due_date, received, cancelled) values (?, ?, ?, ?, ?, ?, 0, 0)',
      id,
      index + 1,
      line.itemId,
      line.quantity,
      line.price,
      line.dueDate,
    ),
  );
  for (const line of lines) work.touch('stock', line.itemId, 'purchase order');
  keepTotal(work, id);
}

/** What is ordered and not cancelled, each line rounded once. */
function keepTotal(work: Work, id: number): void {
  const amounts = purchaseLines(work, id).map((line) => extend(asQuantity(line.quantity - line.cancelled), asPrice(line.price)));
  work.run('update purchase_order set total = ? where id = ?', asAmount(amounts.reduce((sum, each) => sum + each, 0)), id);
}

/** Enters a purchase order as a draft; prices come from the supplier's terms where none is typed. */
export function createPurchase(work: Work, input: Input): PurchaseView {
  const supplier = atField('supplierId', () => supplierOf(work, input.supplierId));
  if (supplier.active === 0)
    throw new Refusal('inactiveSupplier', `${supplier.name} is inactive: no new order may name them.`, { field: 'supplierId' });
  atField('warehouseId', () => warehouseOf(work, input.warehouseId));
  const lines = readLines(work, input);
  const number = work.nextNumber('PO');
  const { id } = work.run(
    "insert into purchase_order (number, supplier_id, warehouse_id, order_date, state, note) values (?, ?, ?, ?, 'draft', ?)",
    number,
    input.supplierId,
    input.warehouseId,
    work.today,
    input.note,
  );
  writeLines(work, id, lines);
  keepCustom(work, 'purchaseOrder', id, input.custom);
  work.record('purchaseOrder', id, `entered ${number}`);
  return purchaseView(work, id);
}

/** Changes an order that is not sent; one that was approved needs approval again. */
export function changePurchase(work: Work, id: number, input: Input & { version: number }): PurchaseView {
  const order = purchaseOf(work, id);
  const before = purchaseView(work, id);
  assertVersion(work, 'purchaseOrder', order, input.version, order.number);
  if (order.state !== 'draft' && order.state !== 'approved')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: the supplier has it, so it can't be changed here.`);
  atField('supplierId', () => supplierOf(work, input.supplierId));
  const lines = readLines(work, input);
  work.run('delete from purchase_order_line where order_id = ?', id);
  writeLines(work, id, lines);
  work.run(
    "update purchase_order set supplier_id = ?, warehouse_id = ?, note = ?, state = 'draft', version = version + 1 where id = ?",
    input.supplierId,
    input.warehouseId,
    input.note,
    id,
  );
  const custom = keepCustom(work, 'purchaseOrder', id, input.custom);
  const after = purchaseView(work, id);
  const short = (view: PurchaseView): Record<string, string> => ({
    supplier: view.supplier,
    note: view.note,
    total: view.total,
    lines: view.lines.map((line) => `${line.quantity} ${line.code} at ${line.price} by ${line.dueDate}`).join('; '),
  });
  work.record('purchaseOrder', id, `changed ${order.number}`, [...changesBetween(short(before), short(after)), ...custom]);
  return after;
}

export function approvePurchase(work: Work, id: number, version: number): PurchaseView {
  const order = purchaseOf(work, id);
  assertVersion(work, 'purchaseOrder', order, version, order.number);
  if (order.state !== 'draft') throw new Refusal('wrongState', `${order.number} is ${order.state}: only a draft can be approved.`);
  work.run("update purchase_order set state = 'approved', version = version + 1 where id = ?", id);
  work.record('purchaseOrder', id, `approved ${order.number}`);
  return purchaseView(work, id);
}

/** Sends an approved order to the supplier by mail; the outbox attaches the order as PDF. */
export function sendPurchase(work: Work, id: number, version: number): PurchaseView {
  const order = purchaseOf(work, id);
  assertVersion(work, 'purchaseOrder', order, version, order.number);
  if (order.state === 'draft') throw new Refusal('wrongState', `${order.number} is not approved yet: have it approved, then send it.`);
  if (order.state !== 'approved') throw new Refusal('wrongState', `${order.number} is ${order.state}: it has been sent already.`);
  const supplier = supplierOf(work, order.supplierId);
  if (supplier.email === '')
    throw new Refusal('noAddress', `${supplier.name} has no mail address: add one, or print the order.`, { supplier: supplier.code });
  work.run("update purchase_order set state = 'sent', version = version + 1 where id = ?", id);
  queueMail(work, {
    to: supplier.email,
    subject: `Purchase order ${order.number}`,
    body: `Dear ${supplier.name},\n\nplease find our order ${order.number} attached. Please confirm dates and prices.\n\n${work.actor.name}`,
    document: { kind: 'purchaseOrder', id, number: order.number },
  });
  work.record('purchaseOrder', id, `sent ${order.number} to ${supplier.email}`);
  return purchaseView(work, id);
}

/** Cancels what has not been received. */
export function cancelPurchase(work: Work, id: number, version: number, reason: string): PurchaseView {
  const order = purchaseOf(work, id);
  assertVersion(work, 'purchaseOrder', order, version, order.number);
  if (order.state === 'received' || order.state === 'cancelled')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: nothing of it is left to cancel.`);
  for (const line of purchaseLines(work, id)) {
    work.run('update purchase_order_line set cancelled = cancelled + ? where id = ?', toCome(line), line.id);
    work.touch('stock', line.itemId, order.number);
  }
  keepTotal(work, id);
  refreshPurchase(work, id);
  work.record('purchaseOrder', id, `cancelled the rest of ${order.number}: ${reason}`);
  return purchaseView(work, id);
}

/** Brings an order's state up to its lines. */
export function refreshPurchase(work: Work, id: number): void {
  const lines = purchaseLines(work, id);
  const any = lines.some((line) => line.received > 0);
  const done = lines.every((line) => toCome(line) === 0);
  const state = done ? (any ? 'received' : 'cancelled') : any ? 'partReceived' : 'sent';
  work.run('update purchase_order set state = ?, version = version + 1 where id = ?', state, id);
}

/** States in which a purchase order is still expected. */
export const EXPECTED_STATES = OPEN_STATES;
