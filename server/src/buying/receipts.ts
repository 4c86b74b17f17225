/** Receiving goods against a purchase order, and taking a receipt back. */
import { eq, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import { type BodyOf, type PurchaseView } from '@terrace/contract';
import {
  Refusal,
  asAmount,
  asQuantity,
  extend,
  parsePositiveQuantity,
  splitByWeights,
  toleranceOf,
  writeQuantity,
  type Quantity,
} from '@terrace/core';
import { binOf, itemFacts } from '../catalogue';
import { atField, atRow } from '../platform/fields';
import { inner, plus, scalar } from '../platform/expressions';
import { houseRules } from '../platform/house-rules';
import { command, query } from '../platform/query';
import { addRow, fetching, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { piecesComing, postMoves, reverseMoves, type MoveRequest } from '../stores';
import { keepTotal, mostToReceive, purchaseLines, purchaseOf, purchaseView, refreshPurchase, toCome, type PurchaseLineRecord } from './orders';
import { purchaseOrderLine, receipt, receiptLine } from './schema';

const receiveMore = command(
  ($: { id: number; quantity: Quantity }) => (db) =>
    db
      .update(purchaseOrderLine)
      .set({ received: plus(purchaseOrderLine.received, $.quantity) })
      .where(eq(purchaseOrderLine.id, $.id)),
);

const letMoreGo = command(
  ($: { id: number; quantity: Quantity }) => (db) =>
    db
      .update(purchaseOrderLine)
      .set({ cancelled: plus(purchaseOrderLine.cancelled, $.quantity) })
      .where(eq(purchaseOrderLine.id, $.id)),
);

/** What is left of a line where that is within tolerance, and so not expected any more. */
function restWithin(work: Work, line: Pick<PurchaseLineRecord, 'quantity' | 'received' | 'cancelled'>, decimals: number): Quantity {
  const rest = toCome(line);
  return rest > 0 && rest <= toleranceOf(line.quantity, houseRules(work.store).underDelivery, decimals) ? rest : asQuantity(0);
}

/** Receives goods: in full or in part, over the ordered quantity only within tolerance. */
export function receiveGoods(work: Work, id: number, input: BodyOf<typeof api.buying.receive>): PurchaseView {
  const order = purchaseOf(work, id);
  assertVersion(work, 'purchaseOrder', order, input.version, order.number);
  if (order.state !== 'sent' && order.state !== 'partReceived') {
    throw new Refusal('wrongState', `${order.number} is ${order.state}: goods can be received once it is sent and until it is complete.`);
  }
  const date = input.date ?? work.today;
  const binId = binOf(work, order.warehouseId, input.binId);
  const number = work.nextNumber('RC');
  const receiptId = addRow(work, receipt, { number, purchaseOrderId: id, date, deliveryNote: input.deliveryNote });
  const lines = purchaseLines(work, id);
  const seen = new Set<number>();
  const moves = input.lines.flatMap(({ lineId, quantity: text, pieces }, index): MoveRequest[] => {
    const field = `lines.${index}.quantity`;
    const line = lines.find((each) => each.id === lineId);
    if (!line || seen.has(lineId)) throw new Refusal('unknownLine', `This line does not belong to ${order.number}, or is there twice.`, { field });
    seen.add(lineId);
    const item = itemFacts(work, line.itemId);
    const quantity = atField(field, () => parsePositiveQuantity(text, item.decimals, `the quantity of ${item.code}`));
    const most = mostToReceive(work, line, item.decimals);
    if (quantity > most) {
      throw new Refusal(
        'tooMuch',
        `${text} ${item.unit} of ${item.code} are more than may arrive: ordered ${writeQuantity(line.quantity)}, received ${writeQuantity(line.received)}, at most ${writeQuantity(most)} more with tolerance. Receive ${writeQuantity(most)} and send the rest back, or order more.`,
        { field, most: writeQuantity(most) },
      );
    }
    const letGo = restWithin(work, { ...line, received: asQuantity(line.received + quantity) }, item.decimals);
    addRow(work, receiptLine, { receiptId, orderLineId: line.id, quantity, letGo });
    receiveMore.run(work, { id: line.id, quantity });
    if (letGo > 0) letMoreGo.run(work, { id: line.id, quantity: letGo });
    if (item.kind !== 'stocked') return [];
    const named = atRow(`lines.${index}`, () => piecesComing(work, item.id, quantity, pieces, { date, supplierId: order.supplierId }));
    const worth = splitByWeights(
      extend(quantity, line.price),
      named.map((piece) => piece.quantity),
    );
    return named.map((piece, part) => ({
      item: item.id,
      quantity: piece.quantity,
      from: { kind: 'supplier', id: order.supplierId },
      to: {
        kind: 'stock',
        key: { item: item.id, warehouse: order.warehouseId, bin: binId, lot: piece.lot, serial: piece.serial, state: 'available' },
      },
      value: asAmount(worth[part] ?? 0),
    }));
  });
  const document = { kind: 'receipt', id: receiptId, number } as const;
  const { entryId } = postMoves(work, {
    document,
    date,
    moves,
    entry: {
      event: (valued) => ({ kind: 'receipt', stock: valued.map((move) => ({ inventoryAccount: move.inventoryAccount, value: move.worth })) }),
    },
  });
  setRow(work, receipt, receiptId, { entryId });
  keepTotal(work, id);
  refreshPurchase(work, id);
  work.link('purchaseOrder', id, 'receipt', receiptId);
  work.record('purchaseOrder', id, `received ${number} for ${order.number}`);
  work.notify('arrived', `${number} arrived for ${order.number}`, { kind: 'purchaseOrder', id });
  return purchaseView(work, id);
}

/** A receipt. Refuses `notFound`. */
export const receiptOf = fetching(receipt, 'receipt');
const linesReceived = query(
  ($: { receiptId: number }) => (db) =>
    db
      .select({ orderLineId: receiptLine.orderLineId, quantity: receiptLine.quantity, letGo: receiptLine.letGo })
      .from(receiptLine)
      .where(eq(receiptLine.receiptId, $.receiptId)),
);

/** Takes a receipt back: the goods leave again, the order expects them again. Refused where they are used or promised. */
export function reverseReceipt(work: Work, receiptId: number): PurchaseView {
  const kept = receiptOf(work, receiptId);
  if (kept.reversed) throw new Refusal('alreadyReversed', `${kept.number} has been taken back already.`);
  reverseMoves(work, { kind: 'receipt', id: receiptId, number: kept.number }, work.today);
  for (const { orderLineId, quantity, letGo } of linesReceived.all(work, { receiptId })) {
    receiveMore.run(work, { id: orderLineId, quantity: asQuantity(-quantity) });
    // What was let go when it came is expected again with it.
    if (letGo > 0) letMoreGo.run(work, { id: orderLineId, quantity: asQuantity(-letGo) });
  }
  keepTotal(work, kept.purchaseOrderId);
  setRow(work, receipt, receiptId, { reversed: true });
  refreshPurchase(work, kept.purchaseOrderId);
  work.record('purchaseOrder', kept.purchaseOrderId, `took ${kept.number} back`);
  return purchaseView(work, kept.purchaseOrderId);
}

/** The number of a receipt, for lists. */
export const receiptNumber = (id: SQLiteColumn): SQL<string | null> =>
  scalar(inner.select({ number: receipt.number }).from(receipt).where(eq(receipt.id, id)));
