/** Moving or cancelling single lines of purchase orders, as planning asks for. */
import { eq } from 'drizzle-orm';
import { Refusal, asQuantity, writeQuantity } from '@terrace/core';
import { itemFacts, supplierOf } from '../catalogue';
import { queueMail } from '../platform/outbox';
import { query } from '../platform/query';
import { changeRow, orNotFound, setRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { purchaseLines, refreshPurchase, toCome, type PurchaseLineRecord, type PurchaseRecord } from './orders';
import { purchaseOrder, purchaseOrderLine } from './schema';

const byNumber = query(($: { number: string }) => (db) => db.select().from(purchaseOrder).where(eq(purchaseOrder.number, $.number)));
const OPEN: readonly string[] = ['draft', 'approved', 'sent', 'partReceived'];

function openLine(work: Work, number: string, position: number): { order: PurchaseRecord; line: PurchaseLineRecord } {
  const order = orNotFound(byNumber.one(work, { number }), `purchase order ${number}`);
  const line = orNotFound(
    purchaseLines(work, order.id).find((each) => each.position === position),
    `line ${position} of ${number}`,
  );
  if (!OPEN.includes(order.state) || toCome(line) === 0)
    throw new Refusal('wrongState', `Nothing of line ${position} of ${number} is to come any more: look at the plan again.`);
  return { order, line };
}

/** Tells the supplier, where they have the order already. */
function tellSupplier(work: Work, order: PurchaseRecord, sentence: string): void {
  if (order.state !== 'sent' && order.state !== 'partReceived') return;
  const supplier = supplierOf(work, order.supplierId);
  if (supplier.email === '')
    throw new Refusal('noAddress', `${supplier.name} has no mail address, so they can't be asked: add one, or change the order by hand.`, {
      supplier: supplier.code,
    });
  queueMail(work, {
    to: supplier.email,
    subject: `Change of our order ${order.number}`,
    body: `Dear ${supplier.name},\n\n${sentence} Please confirm.\n\n${work.actor.name}`,
    document: { kind: 'purchaseOrder', id: order.id, number: order.number },
  });
}

/** Moves a line to another day; a supplier who has the order is asked by mail. */
export function redatePurchaseLine(work: Work, number: string, position: number, date: string): string {
  const { order, line } = openLine(work, number, position);
  const due = date < work.today ? work.today : date;
  setRow(work, purchaseOrderLine, line.id, { dueDate: due });
  changeRow(work, purchaseOrder, order.id, {});
  tellSupplier(
    work,
    order,
    `please deliver line ${position} (${itemFacts(work, line.itemId).code}, ${writeQuantity(toCome(line))}) on ${due} instead of ${line.dueDate}.`,
  );
  work.record('purchaseOrder', order.id, `moved line ${position} of ${number} to ${due}`, [{ field: 'dueDate', from: line.dueDate, to: due }]);
  work.touch('stock', line.itemId, number);
  return `${number} line ${position} is now due on ${due}`;
}

/** Cancels what is to come of a line; a supplier who has the order is asked by mail. */
export function cancelPurchaseLine(work: Work, number: string, position: number, reason: string): string {
  const { order, line } = openLine(work, number, position);
  const rest = toCome(line);
  setRow(work, purchaseOrderLine, line.id, { cancelled: asQuantity(line.cancelled + rest) });
  tellSupplier(work, order, `please cancel line ${position} (${itemFacts(work, line.itemId).code}, ${writeQuantity(rest)}).`);
  if (order.state === 'draft' || order.state === 'approved') {
    const nothingLeft = purchaseLines(work, order.id).every((each) => toCome(each) === 0);
    if (nothingLeft) changeRow(work, purchaseOrder, order.id, { state: 'cancelled' });
  } else refreshPurchase(work, order.id);
  work.record('purchaseOrder', order.id, `cancelled line ${position} of ${number}: ${reason}`);
  work.touch('stock', line.itemId, number);
  return `${number} line ${position} is cancelled`;
}
