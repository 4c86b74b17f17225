/** Purchase orders: entering, approving, sending, cancelling. */
import { and, desc, eq, exists, inArray, like, lt, lte, not, or, sql, type SQL } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type ListQuery, type PurchaseView } from '@terrace/contract';
import {
  Refusal,
  asAmount,
  asPrice,
  asQuantity,
  extend,
  overAgreed,
  parseAskedPrice,
  parsePositiveQuantity,
  standing,
  toleranceOf,
  writeAmount,
  writePrice,
  writeQuantity,
  type Quantity,
  type UnitPrice,
} from '@terrace/core';
import {
  askedPrice,
  customColumns,
  customOf,
  item,
  keepCustom,
  supplier,
  supplierOf,
  supplierTerm,
  unit,
  usableItem,
  warehouse,
  usableWarehouse,
  warehouseOf,
} from '../catalogue';
import { allOf, countOf, inner, scalar } from '../platform/expressions';
import { asAmountText, asFlag, asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { houseRules } from '../platform/house-rules';
import { query } from '../platform/query';
import { queueMail } from '../platform/outbox';
import { atField } from '../platform/fields';
import { addRow, changeRow, dropRows, fetching, fetchingAll, setRow } from '../platform/rows';
import { history } from '../platform/schema';
import { assertVersion, changesBetween } from '../platform/versions';
import type { Work } from '../platform/work';
import { purchaseOrder, purchaseOrderLine as line, receipt, receiptLine } from './schema';

const term = alias(supplierTerm, 'term');
const NONE = asQuantity(0);

const isComplete = sql`${line.received} + ${line.cancelled} >= ${line.quantity}`;
const itsLines = eq(line.orderId, purchaseOrder.id);
const nextDue = scalar(
  inner
    .select({ due: sql`min(${line.dueDate})` })
    .from(line)
    .where(and(itsLines, not(isComplete))),
);
const progress = scalar(
  inner
    .select({ words: sql`sum(${isComplete}) || ' of ' || count(*)` })
    .from(line)
    .where(itsLines),
);

const hasLineDue = (day: SQL, compared: typeof lt): SQL =>
  allOf(
    inArray(purchaseOrder.state, ['draft', 'approved', 'sent', 'partReceived']),
    exists(
      inner
        .select({ one: sql`1` })
        .from(line)
        .where(and(itsLines, not(isComplete), compared(line.dueDate, day))),
    ),
  );

const purchases = list(($: { today: string }) => ({
  columns: {
    id: asNumber(purchaseOrder.id),
    number: asText(purchaseOrder.number),
    supplier: asText(supplier.name),
    state: asText(purchaseOrder.state),
    warehouse: asText(warehouse.code),
    orderDate: asText(purchaseOrder.orderDate),
    dueDate: asText(nextDue),
    lines: asNumber(countOf(line, itsLines)),
    progress: asText(progress),
    // What is not sent yet comes no sooner for that.
    late: asFlag(hasLineDue(sql`${$.today}`, lt)),
    due: asFlag(hasLineDue(sql`date(${$.today}, '+7 days')`, lte)),
    total: asAmountText(purchaseOrder.total),
  },
  from: purchaseOrder,
  joins: [refersTo(supplier, eq(supplier.id, purchaseOrder.supplierId)), refersTo(warehouse, eq(warehouse.id, purchaseOrder.warehouseId))],
  find: [purchaseOrder.number, supplier.name],
  order: [sql`${purchaseOrder.id} desc`],
  tie: [purchaseOrder.id],
}));

export function listPurchases(work: Work, asked: ListQuery): AnswerOf<typeof api.buying.listPurchases> {
  return listPage(work, purchases, asked, { today: work.today }, { more: customColumns(work, 'purchaseOrder', purchaseOrder.id) });
}

export type PurchaseRecord = typeof purchaseOrder.$inferSelect;
export type PurchaseLineRecord = typeof line.$inferSelect;

/** A purchase order as kept. Refuses `notFound`. */
export const purchaseOf = fetching(purchaseOrder, 'purchase order');

/** The lines of a purchase order, in order. */
export const purchaseLines = fetchingAll(line, line.orderId, line.position);

/** The latest terms of the supplier for the item of a line. */
const latestTerm = (supplierId: number) =>
  inner
    .select({ id: term.id })
    .from(term)
    .where(and(eq(term.itemId, line.itemId), eq(term.supplierId, supplierId)))
    .orderBy(desc(term.validFrom))
    .limit(1);
const linesShown = query(
  ($: { orderId: number; supplierId: number }) => (db) =>
    db
      .select({
        id: line.id,
        position: line.position,
        itemId: line.itemId,
        code: item.code,
        description: item.description,
        supplierItemCode: supplierTerm.supplierItemCode,
        unit: item.unitCode,
        decimals: unit.decimals,
        tracking: item.tracking,
        quantity: line.quantity,
        price: line.price,
        dueDate: line.dueDate,
        received: line.received,
        cancelled: line.cancelled,
      })
      .from(line)
      .innerJoin(item, eq(item.id, line.itemId))
      .innerJoin(unit, eq(unit.code, item.unitCode))
      .leftJoin(supplierTerm, eq(supplierTerm.id, latestTerm($.supplierId)))
      .where(eq(line.orderId, $.orderId))
      .orderBy(line.position),
);
const receiptsOf = query(
  ($: { orderId: number }) => (db) =>
    db
      .select({ id: receipt.id, number: receipt.number, date: receipt.date, deliveryNote: receipt.deliveryNote, reversed: receipt.reversed })
      .from(receipt)
      .where(eq(receipt.purchaseOrderId, $.orderId))
      .orderBy(receipt.id),
);
const linesOfReceipt = query(
  ($: { receiptId: number }) => (db) =>
    db
      .select({ code: item.code, quantity: receiptLine.quantity, unit: item.unitCode })
      .from(receiptLine)
      .innerJoin(line, eq(line.id, receiptLine.orderLineId))
      .innerJoin(item, eq(item.id, line.itemId))
      .where(eq(receiptLine.receiptId, $.receiptId))
      .orderBy(receiptLine.id),
);

/** What of a line is still to come. */
export function toCome(line: Pick<PurchaseLineRecord, 'quantity' | 'received' | 'cancelled'>): Quantity {
  return asQuantity(Math.max(0, line.quantity - line.received - line.cancelled));
}

/** The most that may still arrive on a line: what is to come and the tolerance on what was ordered. */
export function mostToReceive(work: Work, line: Pick<PurchaseLineRecord, 'quantity' | 'received' | 'cancelled'>, decimals: number): Quantity {
  const tolerance = toleranceOf(line.quantity, houseRules(work.store).overDelivery, decimals);
  return asQuantity(Math.max(0, line.quantity - line.cancelled + tolerance - line.received));
}

/** Why an order needs somebody's approval, in words; empty where it may be sent as it is. */
export function approvalWords(work: Work, order: Pick<PurchaseRecord, 'supplierId' | 'total'>, lines: readonly PricedLine[]): string {
  const { approvedUpTo, priceDifference } = houseRules(work.store);
  if (approvedUpTo === null) return 'Every purchase order is approved.';
  if (order.total > approvedUpTo) return `${writeAmount(order.total)} are more than the ${writeAmount(approvedUpTo)} that need no approval.`;
  for (const { itemId, code, quantity, price } of lines) {
    const agreed = askedPrice(work, itemId, order.supplierId, quantity);
    if (agreed === null) return `No price of ${code} is agreed with the supplier.`;
    const over = overAgreed(price, agreed);
    if (over > priceDifference) return `${code} at ${writePrice(price)} is dearer than the ${writePrice(agreed)} agreed with the supplier.`;
  }
  return '';
}
/** Approves what needs nobody's approval, by the rules of the house. */
function approveByRule(work: Work, id: number): void {
  const order = purchaseOf(work, id);
  if (approvalWords(work, order, linesShown.all(work, { orderId: id, supplierId: order.supplierId })) !== '') return;
  setRow(work, purchaseOrder, id, { state: 'approved' });
  work.record('purchaseOrder', id, `${order.number} needs no approval, by the rules of the house`);
}

type PricedLine = Pick<PurchaseLineRecord, 'itemId' | 'quantity' | 'price'> & { readonly code: string };

export function purchaseView(work: Work, id: number): PurchaseView {
  const order = purchaseOf(work, id);
  const lines = linesShown.all(work, { orderId: id, supplierId: order.supplierId });
  const amounts = lines.map((line) => extend(standing(line), line.price));
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
    approval: order.state === 'draft' ? approvalWords(work, order, lines) : '',
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
      most: writeQuantity(mostToReceive(work, line, line.decimals)),
      amount: writeAmount(amounts[index] ?? 0),
    })),
    receipts: receiptsOf.all(work, { orderId: id }).map((each) => ({
      ...each,
      lines: linesOfReceipt.all(work, { receiptId: each.id }).map((one) => ({ ...one, quantity: writeQuantity(one.quantity) })),
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
  lines.forEach((each, index) => addRow(work, line, { orderId: id, position: index + 1, ...each, received: NONE, cancelled: NONE }));
  for (const each of lines) work.touch('stock', each.itemId, 'purchase order');
  keepTotal(work, id);
}

/** What is ordered and not cancelled, each line rounded once. */
export function keepTotal(work: Work, id: number): void {
  const amounts = purchaseLines(work, id).map((line) => extend(standing(line), line.price));
  setRow(work, purchaseOrder, id, { total: asAmount(amounts.reduce((sum, each) => sum + each, 0)) });
}

/** Enters a purchase order as a draft; prices come from the supplier's terms where none is typed. */
export function createPurchase(work: Work, input: Input): PurchaseView {
  const seller = atField('supplierId', () => supplierOf(work, input.supplierId));
  if (!seller.active) throw new Refusal('inactiveSupplier', `${seller.name} is inactive: no new order may name them.`, { field: 'supplierId' });
  atField('warehouseId', () => usableWarehouse(work, input.warehouseId));
  const lines = readLines(work, input);
  const number = work.nextNumber('PO');
  const { supplierId, warehouseId, note } = input;
  const id = addRow(work, purchaseOrder, { number, supplierId, warehouseId, orderDate: work.today, state: 'draft', note });
  writeLines(work, id, lines);
  keepCustom(work, 'purchaseOrder', id, input.custom);
  work.record('purchaseOrder', id, `entered ${number}`);
  approveByRule(work, id);
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
  dropRows(work, line, { orderId: id });
  writeLines(work, id, lines);
  const { supplierId, warehouseId, note } = input;
  changeRow(work, purchaseOrder, id, { supplierId, warehouseId, note, state: 'draft' });
  const custom = keepCustom(work, 'purchaseOrder', id, input.custom);
  approveByRule(work, id);
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

/** Who entered an order, or changed it last: what is approved is theirs. */
const enteredBy = query(
  ($: { id: number }) => (db) =>
    db
      .select({ userId: history.userId })
      .from(history)
      .where(and(eq(history.kind, 'purchaseOrder'), eq(history.recordId, $.id), or(like(history.what, 'entered %'), like(history.what, 'changed %'))))
      .orderBy(desc(history.id))
      .limit(1),
);

export function approvePurchase(work: Work, id: number, version: number): PurchaseView {
  const order = purchaseOf(work, id);
  assertVersion(work, 'purchaseOrder', order, version, order.number);
  if (order.state !== 'draft') throw new Refusal('wrongState', `${order.number} is ${order.state}: only a draft can be approved.`);
  if (!houseRules(work.store).ownApproval && enteredBy.one(work, { id })?.userId === work.actor.id)
    throw new Refusal('ownOrder', `You entered ${order.number} yourself: somebody else approves it, by the rules of the house.`);
  changeRow(work, purchaseOrder, id, { state: 'approved' });
  work.record('purchaseOrder', id, `approved ${order.number}`);
  return purchaseView(work, id);
}

/** Sends an approved order to the supplier by mail; the outbox attaches the order as PDF. */
export function sendPurchase(work: Work, id: number, version: number): PurchaseView {
  const order = purchaseOf(work, id);
  assertVersion(work, 'purchaseOrder', order, version, order.number);
  const why = order.state === 'draft' ? approvalWords(work, order, linesShown.all(work, { orderId: id, supplierId: order.supplierId })) : '';
  if (why !== '') throw new Refusal('wrongState', `${order.number} is not approved yet: have it approved, then send it. ${why}`);
  if (order.state !== 'approved' && order.state !== 'draft')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: it has been sent already.`);
  const seller = supplierOf(work, order.supplierId);
  if (seller.email === '')
    throw new Refusal('noAddress', `${seller.name} has no mail address: add one, or print the order.`, { supplier: seller.code });
  changeRow(work, purchaseOrder, id, { state: 'sent' });
  queueMail(work, {
    to: seller.email,
    subject: `Purchase order ${order.number}`,
    body: `Dear ${seller.name},\n\nplease find our order ${order.number} attached. Please confirm dates and prices.\n\n${work.actor.name}`,
    document: { kind: 'purchaseOrder', id, number: order.number },
  });
  work.record('purchaseOrder', id, `sent ${order.number} to ${seller.email}`);
  return purchaseView(work, id);
}

/** Cancels what has not been received. */
export function cancelPurchase(work: Work, id: number, version: number, reason: string): PurchaseView {
  const order = purchaseOf(work, id);
  assertVersion(work, 'purchaseOrder', order, version, order.number);
  if (order.state === 'received' || order.state === 'cancelled')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: nothing of it is left to cancel.`);
  for (const each of purchaseLines(work, id)) {
    setRow(work, line, each.id, { cancelled: asQuantity(each.cancelled + toCome(each)) });
    work.touch('stock', each.itemId, order.number);
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
  changeRow(work, purchaseOrder, id, { state });
}
