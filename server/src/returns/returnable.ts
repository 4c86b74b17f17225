/** What left with an order and may come back, by lot and serial number. */
import { and, eq, isNull, ne } from 'drizzle-orm';
import type { Returnable } from '@terrace/contract';
import { asAmount, asQuantity, proportion, writeQuantity, type Amount, type Quantity } from '@terrace/core';
import { itemFacts } from '../catalogue';
import { shipment, shipmentLine } from '../dispatch';
import { total } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { orderOf } from '../selling';
import { stockMove } from '../stores';
import { customerReturn, customerReturnLine } from './schema';

/** Pieces of one shipment line that are alike: the same lot, or the one serial number. */
export interface Shipped {
  readonly shipmentId: number;
  readonly shipment: string;
  readonly shippedOn: string;
  readonly shipmentLineId: number;
  readonly orderLineId: number;
  readonly itemId: number;
  readonly lot: string;
  readonly serial: string;
  readonly quantity: Quantity;
  /** The cost at which they left. */
  readonly value: Amount;
}

const linesThatLeft = query(
  ($: { orderId: number }) => (db) =>
    db
      .select({
        shipmentId: shipment.id,
        shipment: shipment.number,
        shippedOn: shipment.date,
        shipmentLineId: shipmentLine.id,
        orderLineId: shipmentLine.orderLineId,
        itemId: shipmentLine.itemId,
        quantity: shipmentLine.quantity,
      })
      .from(shipmentLine)
      .innerJoin(shipment, eq(shipment.id, shipmentLine.shipmentId))
      .where(and(eq(shipment.orderId, $.orderId), eq(shipment.state, 'shipped')))
      .orderBy(shipment.id, shipmentLine.id),
);
const movesThatLeft = query(
  ($: { shipmentId: number; itemId: number }) => (db) =>
    db
      .select({ lot: stockMove.fromLot, serial: stockMove.fromSerial, quantity: stockMove.quantity, value: stockMove.value })
      .from(stockMove)
      .where(
        and(
          eq(stockMove.documentKind, 'shipment'),
          eq(stockMove.documentId, $.shipmentId),
          eq(stockMove.itemId, $.itemId),
          isNull(stockMove.reversalOf),
        ),
      )
      .orderBy(stockMove.id),
);
const onReturns = query(
  ($: { shipmentLineId: number; lot: string; serial: string }) => (db) =>
    db
      .select({ quantity: total(customerReturnLine.quantity), received: total(customerReturnLine.received), value: total(customerReturnLine.value) })
      .from(customerReturnLine)
      .innerJoin(customerReturn, eq(customerReturn.id, customerReturnLine.returnId))
      .where(
        and(
          eq(customerReturnLine.shipmentLineId, $.shipmentLineId),
          eq(customerReturnLine.lot, $.lot),
          eq(customerReturnLine.serial, $.serial),
          ne(customerReturn.state, 'cancelled'),
        ),
      ),
);

/** All that left with an order: what a shipment took of an item goes to its lines of it one after the other. */
export function shippedPieces(work: Work, orderId: number): Shipped[] {
  const pieces = new Map<string, Shipped>();
  const moves = new Map<string, { lot: string; serial: string; quantity: number; value: number }[]>();
  for (const { quantity, ...line } of linesThatLeft.all(work, { orderId })) {
    const at = `${line.shipmentId}/${line.itemId}`;
    const rest = moves.get(at) ?? movesThatLeft.all(work, line).map((move) => ({ ...move }));
    moves.set(at, rest);
    let open: number = quantity;
    for (const move of rest) {
      if (open <= 0) break;
      if (move.quantity === 0) continue;
      const taken = Math.min(open, move.quantity);
      const worth = proportion(asAmount(move.value), asQuantity(taken), asQuantity(move.quantity));
      const key = `${line.shipmentLineId}/${move.lot}/${move.serial}`;
      const before = pieces.get(key);
      pieces.set(key, {
        ...line,
        lot: move.lot,
        serial: move.serial,
        quantity: asQuantity((before?.quantity ?? 0) + taken),
        value: asAmount((before?.value ?? 0) + worth),
      });
      move.quantity -= taken;
      move.value -= worth;
      open -= taken;
    }
  }
  return [...pieces.values()];
}

const onReturn = query(
  ($: { shipmentId: number }) => (db) =>
    db
      .select({ number: customerReturn.number })
      .from(customerReturnLine)
      .innerJoin(customerReturn, eq(customerReturn.id, customerReturnLine.returnId))
      .innerJoin(shipmentLine, eq(shipmentLine.id, customerReturnLine.shipmentLineId))
      .where(and(eq(shipmentLine.shipmentId, $.shipmentId), ne(customerReturn.state, 'cancelled')))
      .limit(1),
);

/** The number of a return on which something of a shipment comes back. */
export function returnOfShipment(work: Work, shipmentId: number): string | undefined {
  return onReturn.one(work, { shipmentId })?.number;
}

/** What of pieces that left is on returns: agreed on, come in, and worth. */
export function returningOf(work: Work, piece: Pick<Shipped, 'shipmentLineId' | 'lot' | 'serial'>) {
  const { shipmentLineId, lot, serial } = piece;
  const sums = onReturns.one(work, { shipmentLineId, lot, serial });
  return {
    quantity: asQuantity(sums?.quantity ?? 0),
    received: asQuantity(sums?.received ?? 0),
    value: asAmount(sums?.value ?? 0),
  };
}

export function returnable(work: Work, orderId: number): Returnable[] {
  orderOf(work, orderId);
  return shippedPieces(work, orderId).map((piece) => {
    const { code, description, unit } = itemFacts(work, piece.itemId);
    const { shipmentId, shipment: number, shippedOn, shipmentLineId, itemId, lot, serial } = piece;
    return {
      shipmentId,
      shipment: number,
      shippedOn,
      shipmentLineId,
      itemId,
      code,
      description,
      unit,
      lot,
      serial,
      shipped: writeQuantity(piece.quantity),
      returning: writeQuantity(returningOf(work, piece).quantity),
    };
  });
}
