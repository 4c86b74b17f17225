/** Shipping: stock leaves at cost, and comes back at the cost it left with. */
import { eq } from 'drizzle-orm';
import type { PieceInput, ShipmentView } from '@terrace/contract';
import { Refusal, asQuantity, writeQuantity } from '@terrace/core';
import { isInvoiced } from '../accounts';
import { itemFacts } from '../catalogue';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { changeRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { assertNotHeld, bookShipped, linesOf, orderOf, refreshOrder } from '../selling';
import {
  beginWarranty,
  lowerReservation,
  postMoves,
  reserveFree,
  reservedFor,
  reverseMoves,
  takeForAll,
  trackingOf,
  warrantyEnd,
  type MoveRequest,
} from '../stores';
import { otherRooms } from './handed-in';
import { shipment, shipmentPick } from './schema';
import { assertHere, shipmentLines, shipmentOf, shipmentView, type LineRecord } from './shipments';

/** Ships: stock leaves at cost. What others have reserved is never taken. */
export function ship(work: Work, id: number, version: number, date: string | undefined): ShipmentView {
  const kept = shipmentOf(work, id);
  assertVersion(work, 'shipment', kept, version, kept.number);
  assertHere(kept);
  const order = orderOf(work, kept.orderId);
  assertNotHeld(order);
  const shippedOn = date ?? work.today;
  const lines = shipmentLines(work, id);
  const stocked = lines.flatMap((line, index) => (itemFacts(work, line.itemId).kind === 'stocked' ? [{ line, index }] : []));
  const takes = takeForAll(
    work,
    stocked.map(({ line, index }) => ({
      item: line.itemId,
      warehouse: kept.warehouseId,
      quantity: line.quantity,
      pieces: atField(`lines.${index}.quantity`, () => namedFor(work, line)),
      purpose: 'sell',
      date: shippedOn,
      at: (act) => atField(`lines.${index}.quantity`, act),
    })),
  );
  const moves = stocked.flatMap(({ line }, at) =>
    (takes[at] ?? []).map((take): MoveRequest => ({
      item: line.itemId,
      quantity: take.quantity,
      from: { kind: 'stock', key: take.key },
      to: { kind: 'customer', id: order.customerId },
      holder: { kind: 'customerOrder', id: line.orderLineId },
    })),
  );
  const { entryId } = postMoves(work, {
    document: { kind: 'shipment', id, number: kept.number },
    date: shippedOn,
    moves,
    entry: {
      event: (valued) => ({
        kind: 'shipment',
        stock: valued.map((move) => ({ inventoryAccount: move.inventoryAccount, costOfSalesAccount: move.costOfSalesAccount, value: move.worth })),
      }),
    },
  });
  startWarranties(work, moves, shippedOn);
  for (const line of lines) {
    lowerReservation(work, 'customerOrder', line.orderLineId, line.quantity);
    bookShipped(work, line.orderLineId, line.quantity);
  }
  changeRow(work, shipment, id, { state: 'shipped', date: shippedOn, entryId });
  refreshOrder(work, order.id);
  work.record('shipment', id, `shipped ${kept.number}`);
  work.notify('shipped', `${kept.number} left for ${order.number}`, { kind: 'shipment', id });
  return shipmentView(work, id);
}

const picked = query(
  ($: { lineId: number }) => (db) =>
    db
      .select({ lot: shipmentPick.lot, serial: shipmentPick.serial, quantity: shipmentPick.quantity })
      .from(shipmentPick)
      .where(eq(shipmentPick.lineId, $.lineId))
      .orderBy(shipmentPick.id),
);

/**
 * The pieces that were named for a line when it was picked, wherever in the warehouse they are by now; none where what
 * expires first leaves. Serial numbers must be named.
 */
function namedFor(work: Work, line: LineRecord): PieceInput[] {
  const picks = picked.all(work, { lineId: line.id });
  const serials = picks.flatMap(({ serial }) => (serial === '' ? [] : [serial]));
  if (serials.length > 0) return [{ serials: serials.join(' ') }];
  if (picks.length === 0 && trackingOf(work, line.itemId).tracking === 'serial')
    throw new Refusal(
      'serialNeeded',
      `Name the serial numbers of ${itemFacts(work, line.itemId).code} that leave: each customer's piece is known by its number.`,
    );
  return picks.map(({ lot, quantity }) => ({ lot, quantity: writeQuantity(quantity) }));
}

/** A warranty begins on the day on which the piece leaves. */
function startWarranties(work: Work, moves: readonly MoveRequest[], date: string): void {
  for (const move of moves) {
    if (move.from.kind !== 'stock' || move.from.key.serial === '') continue;
    const until = warrantyEnd(date, trackingOf(work, move.item).warrantyMonths);
    if (until !== null) beginWarranty(work, move.item, move.from.key.serial, until);
  }
}

/** Takes a shipment back that is not invoiced: stock returns at the cost it left with and is reserved again. */
export function reverseShipment(work: Work, id: number, version: number): ShipmentView {
  const kept = shipmentOf(work, id);
  assertVersion(work, 'shipment', kept, version, kept.number);
  if (kept.state !== 'shipped') throw new Refusal('wrongState', `${kept.number} is ${kept.state}: only what has shipped can be taken back.`);
  const back = otherRooms.get().returnOf(work, id);
  if (back !== undefined) throw new Refusal('wrongState', `Something of ${kept.number} comes back on ${back}: the shipment stands.`);
  const order = orderOf(work, kept.orderId);
  const lines = shipmentLines(work, id);
  const ordered = linesOf(work, order.id);
  for (const line of lines) {
    const orderLine = ordered.find((each) => each.id === line.orderLineId);
    if (isInvoiced(work, id) || (orderLine && orderLine.shipped - line.quantity < orderLine.invoiced))
      throw new Refusal('invoiced', `${kept.number} is invoiced: take the invoice back first.`);
  }
  reverseMoves(work, { kind: 'shipment', id, number: kept.number }, work.today);
  for (const line of lines) {
    bookShipped(work, line.orderLineId, asQuantity(-line.quantity));
    if (itemFacts(work, line.itemId).kind === 'stocked') {
      const wanted = asQuantity(reservedFor(work, 'customerOrder', line.orderLineId) + line.quantity);
      reserveFree(
        work,
        line.itemId,
        kept.warehouseId,
        { kind: 'customerOrder', id: line.orderLineId, documentId: order.id, documentNumber: order.number },
        wanted,
      );
    }
  }
  changeRow(work, shipment, id, { state: 'reversed' });
  refreshOrder(work, order.id);
  work.record('shipment', id, `took ${kept.number} back`);
  return shipmentView(work, id);
}
