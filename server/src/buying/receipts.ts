/** Receiving goods against a purchase order, and taking a receipt back. */
import { eq, sql } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import { type BodyOf, type PurchaseView } from '@terrace/contract';
import { Refusal, asAmount, asPrice, asQuantity, extend, parsePositiveQuantity, splitByWeights, writeQuantity } from '@terrace/core';
import { binOf, itemFacts } from '../catalogue';
import { assertVersion, atField, atRow, orNotFound, type Work } from '../platform/work';
import { piecesComing, postMoves, reverseMoves, type MoveRequest } from '../stores';
import { mostToReceive, purchaseLines, purchaseOf, purchaseView, refreshPurchase } from './orders';
import * as tables from './schema';

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
  const { id: receiptId } = work.run(
    'insert into receipt (number, purchase_order_id, date, delivery_note) values (?, ?, ?, ?)',
    number,
    id,
    date,
    input.deliveryNote,
  );
  const lines = purchaseLines(work, id);
  const seen = new Set<number>();
  const moves = input.lines.flatMap(({ lineId, quantity: text, pieces }, index): MoveRequest[] => {
    const field = `lines.${index}.quantity`;
    const line = lines.find((each) => each.id === lineId);
    if (!line || seen.has(lineId)) throw new Refusal('unknownLine', `This line does not belong to ${order.number}, or is there twice.`, { field });
    seen.add(lineId);
    const item = itemFacts(work, line.itemId);
    const quantity = atField(field, () => parsePositiveQuantity(text, item.decimals, `the quantity of ${item.code}`));
    const most = mostToReceive(line, item.decimals);
    if (quantity > most) {
      throw new Refusal(
        'tooMuch',
        `${text} ${item.unit} of ${item.code} are more than may arrive: ordered ${writeQuantity(line.quantity)}, received ${writeQuantity(line.received)}, at most ${writeQuantity(most)} more with tolerance. Receive ${writeQuantity(most)} and send the rest back, or order more.`,
        { field, most: writeQuantity(most) },
      );
    }
    work.run('insert into receipt_line (receipt_id, order_line_id, quantity) values (?, ?, ?)', receiptId, line.id, quantity);
    work.run('update purchase_order_line set received = received + ? where id = ?', quantity, line.id);
    if (item.kind !== 'stocked') return [];
    const named = atRow(`lines.${index}`, () => piecesComing(work, item.id, quantity, pieces, { date, supplierId: order.supplierId }));
    const worth = splitByWeights(
      extend(quantity, asPrice(line.price)),
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
  work.run('update receipt set entry_id = ? where id = ?', entryId, receiptId);
  refreshPurchase(work, id);
  work.link('purchaseOrder', id, 'receipt', receiptId);
  work.record('purchaseOrder', id, `received ${number} for ${order.number}`);
  work.notify(['manager', 'buyer', 'sales'], `${number} arrived for ${order.number}`, { kind: 'purchaseOrder', id });
  return purchaseView(work, id);
}

/** Takes a receipt back: the goods leave again, the order expects them again. Refused where they are used or promised. */
export function reverseReceipt(work: Work, receiptId: number): PurchaseView {
  const receipt = orNotFound(
    work.store
      .query('receipt', (db) =>
        db
          .select()
          .from(tables.receipt)
          .where(eq(tables.receipt.id, sql.placeholder('id')))
          .prepare(),
      )
      .all({ id: receiptId })[0],
    'receipt',
  );
  if (receipt.reversed) throw new Refusal('alreadyReversed', `${receipt.number} has been taken back already.`);
  reverseMoves(work, { kind: 'receipt', id: receiptId, number: receipt.number }, work.today);
  for (const line of work.rows<{ orderLineId: number; quantity: number }>(
    'select order_line_id as orderLineId, quantity from receipt_line where receipt_id = ?',
    receiptId,
  )) {
    work.run('update purchase_order_line set received = received - ? where id = ?', asQuantity(line.quantity), line.orderLineId);
  }
  work.run('update receipt set reversed = 1 where id = ?', receiptId);
  refreshPurchase(work, receipt.purchaseOrderId);
  work.record('purchaseOrder', receipt.purchaseOrderId, `took ${receipt.number} back`);
  return purchaseView(work, receipt.purchaseOrderId);
}
