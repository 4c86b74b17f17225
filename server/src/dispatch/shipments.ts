/** Shipments: made from what is reserved, changed, picked, dropped. */
import { and, eq, exists, inArray, isNull, ne, or, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type ListQuery, type PieceInput, type PieceView, type ShipmentView } from '@terrace/contract';
import { Refusal, asQuantity, isGoods, outstanding, parsePositiveQuantity, writeQuantity, type Quantity } from '@terrace/core';
import { isInvoiced } from '../accounts';
import { bin, customer, customerOf, itemFacts, warehouse, warehouseOf } from '../catalogue';
import { countOf, inner, total } from '../platform/expressions';
import { atField, atRow } from '../platform/fields';
import { asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { command, query } from '../platform/query';
import { addRow, changeRow, dropRows, fetching, fetchingAll } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { assertNotHeld, customerOrder, linesOf, orderOf } from '../selling';
import { binsHolding, lot, proposedPieces, reservedFor, stockMove, takeForAll, trackingOf } from '../stores';
import { shipment, shipmentLine, shipmentPick } from './schema';

const shipments = list(() => ({
  columns: {
    id: asNumber(shipment.id),
    number: asText(shipment.number),
    order: asText(customerOrder.number),
    orderId: asNumber(shipment.orderId),
    customer: asText(customer.name),
    warehouse: asText(warehouse.code),
    state: asText(shipment.state),
    date: asText(shipment.date),
    carrier: asText(shipment.carrier),
    lines: asNumber(countOf(shipmentLine, eq(shipmentLine.shipmentId, shipment.id))),
  },
  from: shipment,
  joins: [
    refersTo(customerOrder, eq(customerOrder.id, shipment.orderId)),
    refersTo(customer, eq(customer.id, customerOrder.customerId)),
    refersTo(warehouse, eq(warehouse.id, shipment.warehouseId)),
  ],
  find: [shipment.number, customerOrder.number, customer.name, shipment.carrier],
  order: [sql`${shipment.id} desc`],
  tie: [shipment.id],
}));

export function listShipments(work: Work, asked: ListQuery): AnswerOf<typeof api.dispatch.listShipments> {
  return listPage(work, shipments, asked);
}

type ShipmentRecord = typeof shipment.$inferSelect;
export type LineRecord = typeof shipmentLine.$inferSelect;

/** A shipment as kept. Refuses `notFound`. */
export const shipmentOf = fetching(shipment, 'shipment');

/** The lines of a shipment, in order. */
export const shipmentLines = fetchingAll(shipmentLine, shipmentLine.shipmentId, shipmentLine.id);

const pieces = query(
  ($: { lineId: number }) => (db) =>
    db
      .select({ lot: shipmentPick.lot, serial: shipmentPick.serial, quantity: shipmentPick.quantity, bin: bin.code, expiry: lot.expiry })
      .from(shipmentPick)
      .innerJoin(bin, eq(bin.id, shipmentPick.binId))
      .innerJoin(shipmentLine, eq(shipmentLine.id, shipmentPick.lineId))
      .leftJoin(lot, and(ne(shipmentPick.lot, sql`''`), eq(lot.itemId, shipmentLine.itemId), eq(lot.code, shipmentPick.lot)))
      .where(eq(shipmentPick.lineId, $.lineId))
      .orderBy(shipmentPick.id),
);
const piecesThatLeft = query(
  ($: { shipmentId: number; itemId: number }) => (db) =>
    db
      .select({ lot: stockMove.fromLot, serial: stockMove.fromSerial, quantity: stockMove.quantity, bin: bin.code, expiry: lot.expiry })
      .from(stockMove)
      .innerJoin(bin, eq(bin.id, stockMove.fromBinId))
      .leftJoin(lot, and(ne(stockMove.fromLot, sql`''`), eq(lot.itemId, stockMove.itemId), eq(lot.code, stockMove.fromLot)))
      .where(
        and(
          eq(stockMove.documentKind, 'shipment'),
          eq(stockMove.documentId, $.shipmentId),
          eq(stockMove.itemId, $.itemId),
          isNull(stockMove.reversalOf),
          or(ne(stockMove.fromLot, sql`''`), ne(stockMove.fromSerial, sql`''`)),
        ),
      )
      .orderBy(stockMove.id),
);
const HAS_NOT_LEFT = inArray(shipment.state, ['draft', 'picking']);
const onOthers = query(
  ($: { orderLineId: number; except: number }) => (db) =>
    db
      .select({ quantity: total(shipmentLine.quantity) })
      .from(shipmentLine)
      .innerJoin(shipment, eq(shipment.id, shipmentLine.shipmentId))
      .where(and(eq(shipmentLine.orderLineId, $.orderLineId), HAS_NOT_LEFT, ne(shipment.id, $.except))),
);
const holding = query(
  ($: { orderLineId: number }) => (db) =>
    db
      .select({ number: shipment.number })
      .from(shipmentLine)
      .innerJoin(shipment, eq(shipment.id, shipmentLine.shipmentId))
      .where(and(eq(shipmentLine.orderLineId, $.orderLineId), HAS_NOT_LEFT))
      .limit(1),
);
const left = query(
  ($: { orderId: number }) => (db) =>
    db
      .select({ id: shipment.id })
      .from(shipment)
      .where(and(eq(shipment.orderId, $.orderId), eq(shipment.state, 'shipped'))),
);

/** Whether an order is on a shipment that has not left, for lists. */
export const onShipment = (order: SQLiteColumn): SQL =>
  exists(
    inner
      .select({ one: sql`1` })
      .from(shipment)
      .where(and(eq(shipment.orderId, order), HAS_NOT_LEFT)),
  );

/** The number of a shipment that has not left and has a line of an order on it. */
export function shipmentHolding(work: Work, orderLineId: number): string | undefined {
  return holding.one(work, { orderLineId })?.number;
}

const anyShipment = query(
  ($: { orderLineId: number }) => (db) =>
    db.select({ id: shipmentLine.id }).from(shipmentLine).where(eq(shipmentLine.orderLineId, $.orderLineId)).limit(1),
);

/** Whether a line of an order has ever been on a shipment, be it one that was dropped or taken back. */
export function wasOnShipment(work: Work, orderLineId: number): boolean {
  return anyShipment.one(work, { orderLineId }) !== undefined;
}

const printed = query(
  ($: { orderId: number }) => (db) =>
    db
      .select({ id: shipment.id, number: shipment.number, state: shipment.state })
      .from(shipment)
      .where(and(eq(shipment.orderId, $.orderId), or(HAS_NOT_LEFT, eq(shipment.state, 'shipped'))))
      .orderBy(shipment.id),
);

/** The shipments of an order of which papers are printed: those to be picked only, or those that have left too. */
export function shipmentsToPrint(work: Work, orderId: number, toPick: boolean): { id: number; number: string }[] {
  return printed.all(work, { orderId }).filter(({ state }) => !toPick || state !== 'shipped');
}

/** The shipments of an order that have left. */
export function shippedOf(work: Work, orderId: number): number[] {
  return left.all(work, { orderId }).map((each) => each.id);
}

export function shipmentView(work: Work, id: number): ShipmentView {
  const kept = shipmentOf(work, id);
  const order = orderOf(work, kept.orderId);
  const buyer = customerOf(work, order.customerId);
  const ordered = linesOf(work, order.id);
  const here = kept.state === 'draft' || kept.state === 'picking';
  return {
    id,
    number: kept.number,
    order: order.number,
    orderId: order.id,
    customerId: buyer.id,
    customer: buyer.name,
    address: kept.shipTo === '' ? buyer.address : kept.shipTo,
    warehouseId: kept.warehouseId,
    warehouse: warehouseOf(work, kept.warehouseId).code,
    state: kept.state,
    date: kept.date,
    carrier: kept.carrier,
    version: kept.version,
    invoiced: isInvoiced(work, id),
    lines: shipmentLines(work, id).map((line) => {
      const item = itemFacts(work, line.itemId);
      const orderLine = ordered.find((each) => each.id === line.orderLineId);
      const { tracking } = trackingOf(work, line.itemId);
      return {
        id: line.id,
        orderLineId: line.orderLineId,
        itemId: item.id,
        code: item.code,
        description: item.description,
        unit: item.unit,
        decimals: item.decimals,
        quantity: writeQuantity(line.quantity),
        ordered: writeQuantity(orderLine?.quantity ?? 0),
        outstanding: writeQuantity(orderLine ? outstanding(orderLine) : 0),
        bin: [...new Set(binsHolding(work, item.id, kept.warehouseId).map((each) => each.bin))].slice(0, 3).join(', '),
        tracking,
        picked: kept.state === 'shipped' ? leftAs(work, id, line.itemId) : picksOf(work, line.id),
        proposed: tracking === 'none' || !here ? [] : proposedPieces(work, item.id, kept.warehouseId, 'sell', kept.date),
      };
    }),
  };
}

/** What was named for a line when picking. */
function picksOf(work: Work, lineId: number): PieceView[] {
  return pieces.all(work, { lineId }).map((pick) => ({ ...pick, quantity: writeQuantity(pick.quantity) }));
}

/** What left of an item with a shipment. */
function leftAs(work: Work, shipmentId: number, itemId: number): PieceView[] {
  return piecesThatLeft.all(work, { shipmentId, itemId }).map((move) => ({ ...move, quantity: writeQuantity(move.quantity) }));
}

/** What is on shipments that have not left, per order line. */
export function onTheWayOut(work: Work, orderLineId: number, exceptShipment = 0): Quantity {
  return onOthers.one(work, { orderLineId, except: exceptShipment })?.quantity ?? asQuantity(0);
}

type Lines = readonly { orderLineId: number; quantity: string; pieces?: readonly PieceInput[] | undefined }[];

/** Makes a shipment of what is reserved for an order, or of the quantities given. Refuses `nothingToShip`. */
export function createShipment(work: Work, orderId: number, given: Lines | undefined): ShipmentView {
  const order = orderOf(work, orderId);
  if (order.state !== 'confirmed' && order.state !== 'partShipped')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: only a confirmed order that is not complete can ship.`);
  assertNotHeld(order);
  const lines = given ?? proposed(work, order);
  const way = wayOf(work, order, lines);
  const number = work.nextNumber('SH');
  const id = addRow(work, shipment, {
    number,
    orderId,
    warehouseId: order.warehouseId,
    date: work.today,
    carrier: way.carrier,
    shipTo: way.shipTo,
    state: 'draft',
  });
  writeLines(work, id, orderId, lines);
  if (shipmentLines(work, id).length === 0)
    throw new Refusal('nothingToShip', `Nothing of ${order.number} can ship now: nothing is reserved that is not on a shipment already.`);
  if (order.complete) assertComplete(work, order);
  work.link('customerOrder', orderId, 'shipment', id);
  work.record('shipment', id, `made ${number} for ${order.number}`);
  work.touch('customerOrder', orderId, `shipment ${number} made`);
  return shipmentView(work, id);
}

type Order = ReturnType<typeof orderOf>;
type OrderLine = ReturnType<typeof linesOf>[number];

/** By whom a line goes, and where, in words. */
function wayOfLine(order: Order, { carrier, shipTo }: Pick<OrderLine, 'carrier' | 'shipTo'>): { readonly carrier: string; readonly shipTo: string } {
  return {
    carrier: carrier === '' ? [order.carrier, order.service].filter(Boolean).join(', ') : carrier,
    shipTo: shipTo === '' ? order.shipTo : shipTo,
  };
}
const sameWay = (a: ReturnType<typeof wayOfLine>, b: ReturnType<typeof wayOfLine>): boolean => a.carrier === b.carrier && a.shipTo === b.shipTo;

const isGoodsLine = (work: Work, { itemId }: OrderLine): boolean => isGoods(itemFacts(work, itemId).kind);

/**
 * What is reserved of an order and goes the same way as the first of it; what the supplier ships is none of ours. Services and
 * charges go along, alone only where no goods are left.
 */
function proposed(work: Work, order: Order): Lines {
  const ordered = linesOf(work, order.id);
  const ready = ordered.flatMap((line) => {
    if (line.direct) return [];
    const open = outstanding(line);
    const reach = itemFacts(work, line.itemId).kind === 'stocked' ? reservedFor(work, 'customerOrder', line.id) : open;
    const quantity = Math.min(open, reach) - onTheWayOut(work, line.id, 0);
    const goods = isGoodsLine(work, line);
    return quantity > 0 ? [{ orderLineId: line.id, quantity: writeQuantity(quantity), way: wayOfLine(order, line), goods }] : [];
  });
  const first = ready.find(({ goods }) => goods);
  if (first) return ready.filter(({ way, goods }) => !goods || sameWay(way, first.way));
  return ordered.some((line) => isGoodsLine(work, line) && outstanding(line) > onTheWayOut(work, line.id, 0)) ? [] : ready;
}

/** The way that all goods of a shipment go. Refuses `otherWay`, `shippedDirect`. */
function wayOf(work: Work, order: Order, lines: Lines): ReturnType<typeof wayOfLine> {
  const named = linesOf(work, order.id).filter(({ id }) =>
    lines.some(({ orderLineId, quantity }) => orderLineId === id && !/^0(\.0*)?$/.test(quantity)),
  );
  const direct = named.find((line) => line.direct);
  if (direct)
    throw new Refusal('shippedDirect', `Line ${direct.position} of ${order.number} is shipped by the supplier: it doesn’t leave from here.`);
  const goods = named.filter((line) => isGoodsLine(work, line));
  const way = wayOfLine(order, goods[0] ?? { carrier: '', shipTo: '' });
  const other = goods.find((line) => !sameWay(way, wayOfLine(order, line)));
  if (other)
    throw new Refusal(
      'otherWay',
      `Line ${other.position} of ${order.number} goes another way than line ${goods[0]?.position}: make a shipment of each.`,
    );
  return way;
}

/** Refuses `shipsComplete` where something of an order that goes as a whole is on no shipment. */
function assertComplete(work: Work, order: Order): void {
  const missing = linesOf(work, order.id).find(
    (line) => !line.direct && isGoodsLine(work, line) && outstanding(line) > onTheWayOut(work, line.id, 0),
  );
  if (missing)
    throw new Refusal(
      'shipsComplete',
      `${order.number} goes as a whole, and of line ${missing.position} ${writeQuantity(outstanding(missing) - onTheWayOut(work, missing.id, 0))} can’t go yet: wait for them, or let it go in parts.`,
    );
}

const dropPicks = command(
  ($: { shipmentId: number }) => (db) =>
    db
      .delete(shipmentPick)
      .where(inArray(shipmentPick.lineId, db.select({ id: shipmentLine.id }).from(shipmentLine).where(eq(shipmentLine.shipmentId, $.shipmentId)))),
);

function writeLines(work: Work, shipmentId: number, orderId: number, lines: Lines): void {
  const ordered = linesOf(work, orderId);
  const kept = shipmentOf(work, shipmentId);
  dropPicks.run(work, { shipmentId });
  dropRows(work, shipmentLine, { shipmentId });
  const seen = new Set<number>();
  const named = lines.flatMap(({ orderLineId, quantity: text, pieces }, index) => {
    const field = `lines.${index}.quantity`;
    const line = ordered.find((each) => each.id === orderLineId);
    if (!line || seen.has(orderLineId)) throw new Refusal('unknownLine', 'This line does not belong to the order, or is there twice.', { field });
    seen.add(orderLineId);
    const item = itemFacts(work, line.itemId);
    if (/^0(\.0*)?$/.test(text)) return [];
    const quantity = atField(field, () => parsePositiveQuantity(text, item.decimals, `the quantity of ${item.code}`));
    const open = outstanding(line) - onTheWayOut(work, line.id, shipmentId);
    if (quantity > open)
      throw new Refusal('tooMuch', `${text} ${item.unit} of ${item.code} are more than the ${writeQuantity(Math.max(0, open))} still to ship.`, {
        field,
        most: writeQuantity(Math.max(0, open)),
      });
    const lineId = addRow(work, shipmentLine, { shipmentId, orderLineId: line.id, itemId: line.itemId, quantity });
    return pieces && pieces.length > 0 ? [{ lineId, item: line.itemId, quantity, pieces, index }] : [];
  });
  const takes = takeForAll(
    work,
    named.map(({ item, quantity, pieces, index }) => ({
      item,
      warehouse: kept.warehouseId,
      quantity,
      pieces,
      purpose: 'sell',
      date: work.today,
      at: (act) => atRow(`lines.${index}`, act),
    })),
  );
  named.forEach(({ lineId }, at) => {
    for (const { key, quantity } of takes[at] ?? [])
      addRow(work, shipmentPick, { lineId, binId: key.bin, lot: key.lot, serial: key.serial, quantity });
  });
}

/** Changes quantities and carrier before it leaves. */
export function changeShipment(work: Work, id: number, input: BodyOf<typeof api.dispatch.changeShipment>): ShipmentView {
  const kept = shipmentOf(work, id);
  assertVersion(work, 'shipment', kept, input.version, kept.number);
  assertHere(kept);
  writeLines(work, id, kept.orderId, input.lines);
  if (shipmentLines(work, id).length === 0)
    throw new Refusal('nothingToShip', 'A shipment needs a line at least: drop it instead.', { field: 'lines' });
  changeRow(work, shipment, id, { carrier: input.carrier });
  work.record('shipment', id, `changed ${kept.number}`);
  return shipmentView(work, id);
}

/** Refuses `wrongState` for a shipment that has left or was dropped. */
export function assertHere(kept: ShipmentRecord): void {
  if (kept.state !== 'draft' && kept.state !== 'picking')
    throw new Refusal('wrongState', `${kept.number} is ${kept.state}: it can't be changed any more.`);
}

export function startPicking(work: Work, id: number, version: number): ShipmentView {
  const kept = shipmentOf(work, id);
  assertVersion(work, 'shipment', kept, version, kept.number);
  if (kept.state !== 'draft') throw new Refusal('wrongState', `${kept.number} is ${kept.state}: picking starts from a draft.`);
  changeRow(work, shipment, id, { state: 'picking' });
  work.record('shipment', id, `picking ${kept.number}`);
  return shipmentView(work, id);
}

/** Drops a shipment that has not left; what was reserved stays reserved. */
export function cancelShipment(work: Work, id: number, version: number): ShipmentView {
  const kept = shipmentOf(work, id);
  assertVersion(work, 'shipment', kept, version, kept.number);
  assertHere(kept);
  changeRow(work, shipment, id, { state: 'cancelled' });
  work.record('shipment', id, `dropped ${kept.number}`);
  return shipmentView(work, id);
}
