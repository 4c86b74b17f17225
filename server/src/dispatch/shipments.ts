/** Shipments: made from what is reserved, picked, shipped, taken back. */
import { eq, sql } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type ListQuery, type PieceInput, type PieceView, type ShipmentView } from '@terrace/contract';
import { Refusal, asQuantity, outstanding, parsePositiveQuantity, writeQuantity, type Quantity } from '@terrace/core';
import { customerOf, itemFacts, warehouseOf } from '../catalogue';
import { asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import { assertVersion, atField, atRow, orNotFound, type Work } from '../platform/work';
import { linesOf, orderOf, refreshOrder } from '../selling';
import {
  binsHolding,
  lowerReservation,
  postMoves,
  proposedPieces,
  reserveFree,
  reservedFor,
  reverseMoves,
  takeFromBins,
  takeNamed,
  trackingOf,
  warrantyEnd,
  type MoveRequest,
  type Take,
} from '../stores';
import * as tables from './schema';

const shipments: ListDefinition = {
  columns: {
    id: asNumber('s.id'),
    number: asText('s.number'),
    order: asText('o.number'),
    orderId: asNumber('s.order_id'),
    customer: asText('c.name'),
    warehouse: asText('w.code'),
    state: asText('s.state'),
    date: asText('s.date'),
    carrier: asText('s.carrier'),
    lines: asNumber('(select count(*) from shipment_line l where l.shipment_id = s.id)'),
  },
  from: 'shipment s join customer_order o on o.id = s.order_id join customer c on c.id = o.customer_id join warehouse w on w.id = s.warehouse_id',
  countFrom: 'shipment s',
  find: ['s.number', 'o.number', 'c.name', 's.carrier'],
  order: 's.id desc',
  tie: 's.id',
};

export function listShipments(work: Work, query: ListQuery): AnswerOf<typeof api.dispatch.listShipments> {
  return listPage(work, shipments, query);
}

type ShipmentRecord = typeof tables.shipment.$inferSelect;
type LineRecord = typeof tables.shipmentLine.$inferSelect;

function shipmentOf(work: Work, id: number): ShipmentRecord {
  return orNotFound(
    work.store
      .query('shipment', (db) =>
        db
          .select()
          .from(tables.shipment)
          .where(eq(tables.shipment.id, sql.placeholder('id')))
          .prepare(),
      )
      .all({ id: id })[0],
    'shipment',
  );
}

function shipmentLines(work: Work, id: number): LineRecord[] {
  return work.store
    .query('shipmentLine', (db) =>
      db
        .select()
        .from(tables.shipmentLine)
        .where(eq(tables.shipmentLine.shipmentId, sql.placeholder('id')))
        .orderBy(tables.shipmentLine.id)
        .prepare(),
    )
    .all({ id: id });
}

export function shipmentView(work: Work, id: number): ShipmentView {
  const shipment = shipmentOf(work, id);
  const order = orderOf(work, shipment.orderId);
  const customer = customerOf(work, order.customerId);
  const ordered = linesOf(work, order.id);
  const here = shipment.state === 'draft' || shipment.state === 'picking';
  return {
    id,
    number: shipment.number,
    order: order.number,
    orderId: order.id,
    customerId: customer.id,
    customer: customer.name,
    address: customer.address,
    warehouseId: shipment.warehouseId,
    warehouse: warehouseOf(work, shipment.warehouseId).code,
    state: shipment.state,
    date: shipment.date,
    carrier: shipment.carrier,
    version: shipment.version,
    invoiced:
      work.row(
        "select 1 from trail_link t join invoice v on v.id = t.to_id where t.from_kind = 'shipment' and t.from_id = ? and t.to_kind = 'invoice' and v.state <> 'reversed'",
        id,
      ) !== undefined,
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
        bin: [...new Set(binsHolding(work, item.id, shipment.warehouseId).map((each) => each.bin))].slice(0, 3).join(', '),
        tracking,
        picked: shipment.state === 'shipped' ? leftAs(work, id, line.itemId) : picksOf(work, line.id),
        proposed: tracking === 'none' || !here ? [] : proposedPieces(work, item.id, shipment.warehouseId, 'sell', shipment.date),
      };
    }),
  };
}

/** What was named for a line when picking. */
function picksOf(work: Work, lineId: number): PieceView[] {
  return work
    .rows<{ lot: string; serial: string; quantity: number; bin: string; expiry: string | null }>(
      `select p.lot, p.serial, p.quantity, n.code as bin, x.expiry from shipment_pick p join bin n on n.id = p.bin_id join shipment_line l on l.id = p.line_id
       left join lot x on p.lot <> '' and x.item_id = l.item_id and x.code = p.lot where p.line_id = ? order by p.id`,
      lineId,
    )
    .map((pick) => ({ ...pick, quantity: writeQuantity(pick.quantity) }));
}

/** What left of an item with a shipment. */
function leftAs(work: Work, shipmentId: number, itemId: number): PieceView[] {
  return work
    .rows<{ lot: string; serial: string; quantity: number; bin: string; expiry: string | null }>(
      `select m.from_lot as lot, m.from_serial as serial, m.quantity, n.code as bin, x.expiry from stock_move m join bin n on n.id = m.from_bin_id
       left join lot x on m.from_lot <> '' and x.item_id = m.item_id and x.code = m.from_lot
       where m.document_kind = 'shipment' and m.document_id = ? and m.item_id = ? and m.reversal_of is null and (m.from_lot <> '' or m.from_serial <> '') order by m.id`,
      shipmentId,
      itemId,
    )
    .map((move) => ({ ...move, quantity: writeQuantity(move.quantity) }));
}

/** What is on shipments that have not left, per order line. */
function onTheWayOut(work: Work, orderLineId: number, exceptShipment: number): Quantity {
  const row = work.row<{ n: number | null }>(
    "select sum(l.quantity) as n from shipment_line l join shipment s on s.id = l.shipment_id where l.order_line_id = ? and s.state in ('draft', 'picking') and s.id <> ?",
    orderLineId,
    exceptShipment,
  );
  return asQuantity(row?.n ?? 0);
}

type Lines = readonly { orderLineId: number; quantity: string; pieces?: readonly PieceInput[] | undefined }[];

/** Makes a shipment of what is reserved for an order, or of the quantities given. Refuses `nothingToShip`. */
export function createShipment(work: Work, orderId: number, given: Lines | undefined): ShipmentView {
  const order = orderOf(work, orderId);
  if (order.state !== 'confirmed' && order.state !== 'partShipped')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: only a confirmed order that is not complete can ship.`);
  const number = work.nextNumber('SH');
  const { id } = work.run(
    "insert into shipment (number, order_id, warehouse_id, date, carrier, state) values (?, ?, ?, ?, '', 'draft')",
    number,
    orderId,
    order.warehouseId,
    work.today,
  );
  writeLines(work, id, orderId, given ?? proposed(work, orderId));
  if (shipmentLines(work, id).length === 0)
    throw new Refusal('nothingToShip', `Nothing of ${order.number} can ship now: nothing is reserved that is not on a shipment already.`);
  work.link('customerOrder', orderId, 'shipment', id);
  work.record('shipment', id, `made ${number} for ${order.number}`);
  work.touch('customerOrder', orderId, `shipment ${number} made`);
  return shipmentView(work, id);
}

function proposed(work: Work, orderId: number): Lines {
  return linesOf(work, orderId).flatMap((line) => {
    const open = outstanding(line);
    const reach = itemFacts(work, line.itemId).kind === 'stocked' ? reservedFor(work, 'customerOrder', line.id) : open;
    const quantity = Math.min(open, reach) - onTheWayOut(work, line.id, 0);
    return quantity > 0 ? [{ orderLineId: line.id, quantity: writeQuantity(quantity) }] : [];
  });
}

function writeLines(work: Work, shipmentId: number, orderId: number, lines: Lines): void {
  const ordered = linesOf(work, orderId);
  const shipment = shipmentOf(work, shipmentId);
  work.run('delete from shipment_pick where line_id in (select id from shipment_line where shipment_id = ?)', shipmentId);
  work.run('delete from shipment_line where shipment_id = ?', shipmentId);
  const seen = new Set<number>();
  lines.forEach(({ orderLineId, quantity: text, pieces }, index) => {
    const field = `lines.${index}.quantity`;
    const line = ordered.find((each) => each.id === orderLineId);
    if (!line || seen.has(orderLineId)) throw new Refusal('unknownLine', 'This line does not belong to the order, or is there twice.', { field });
    seen.add(orderLineId);
    const item = itemFacts(work, line.itemId);
    if (/^0(\.0*)?$/.test(text)) return;
    const quantity = atField(field, () => parsePositiveQuantity(text, item.decimals, `the quantity of ${item.code}`));
    const open = outstanding(line) - onTheWayOut(work, line.id, shipmentId);
    if (quantity > open)
      throw new Refusal('tooMuch', `${text} ${item.unit} of ${item.code} are more than the ${writeQuantity(Math.max(0, open))} still to ship.`, {
        field,
        most: writeQuantity(Math.max(0, open)),
      });
    const { id: lineId } = work.run(
      'insert into shipment_line (shipment_id, order_line_id, item_id, quantity) values (?, ?, ?, ?)',
      shipmentId,
      line.id,
      line.itemId,
      quantity,
    );
    if (!pieces || pieces.length === 0) return;
    const takes = atRow(`lines.${index}`, () => takeNamed(work, line.itemId, shipment.warehouseId, quantity, pieces, 'sell', work.today));
    for (const { key, quantity: part } of takes)
      work.run(
        'insert into shipment_pick (line_id, bin_id, lot, serial, quantity) values (?, ?, ?, ?, ?)',
        lineId,
        key.bin,
        key.lot,
        key.serial,
        part,
      );
  });
}

/** Changes quantities and carrier before it leaves. */
export function changeShipment(work: Work, id: number, input: BodyOf<typeof api.dispatch.changeShipment>): ShipmentView {
  const shipment = shipmentOf(work, id);
  assertVersion(work, 'shipment', shipment, input.version, shipment.number);
  assertHere(shipment);
  writeLines(work, id, shipment.orderId, input.lines);
  if (shipmentLines(work, id).length === 0)
    throw new Refusal('nothingToShip', 'A shipment needs a line at least: drop it instead.', { field: 'lines' });
  work.run('update shipment set carrier = ?, version = version + 1 where id = ?', input.carrier, id);
  work.record('shipment', id, `changed ${shipment.number}`);
  return shipmentView(work, id);
}

function assertHere(shipment: ShipmentRecord): void {
  if (shipment.state !== 'draft' && shipment.state !== 'picking')
    throw new Refusal('wrongState', `${shipment.number} is ${shipment.state}: it can't be changed any more.`);
}

export function startPicking(work: Work, id: number, version: number): ShipmentView {
  const shipment = shipmentOf(work, id);
  assertVersion(work, 'shipment', shipment, version, shipment.number);
  if (shipment.state !== 'draft') throw new Refusal('wrongState', `${shipment.number} is ${shipment.state}: picking starts from a draft.`);
  work.run("update shipment set state = 'picking', version = version + 1 where id = ?", id);
  work.record('shipment', id, `picking ${shipment.number}`);
  return shipmentView(work, id);
}

/** Ships: stock leaves at cost. What others have reserved is never taken. */
export function ship(work: Work, id: number, version: number, date: string | undefined): ShipmentView {
  const shipment = shipmentOf(work, id);
  assertVersion(work, 'shipment', shipment, version, shipment.number);
  assertHere(shipment);
  const order = orderOf(work, shipment.orderId);
  const shippedOn = date ?? work.today;
  const lines = shipmentLines(work, id);
  const moves = lines.flatMap((line, index): MoveRequest[] => {
    if (itemFacts(work, line.itemId).kind !== 'stocked') return [];
    return atField(`lines.${index}.quantity`, () =>
      takesOf(work, line, shipment.warehouseId, shippedOn).map((take) => ({
        item: line.itemId,
        quantity: take.quantity,
        from: { kind: 'stock', key: take.key },
        to: { kind: 'customer', id: order.customerId },
        holder: { kind: 'customerOrder', id: line.orderLineId },
      })),
    );
  });
  const { entryId } = postMoves(work, {
    document: { kind: 'shipment', id, number: shipment.number },
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
    work.run('update customer_order_line set shipped = shipped + ? where id = ?', line.quantity, line.orderLineId);
  }
  work.run("update shipment set state = 'shipped', date = ?, entry_id = ?, version = version + 1 where id = ?", shippedOn, entryId, id);
  refreshOrder(work, order.id);
  work.record('shipment', id, `shipped ${shipment.number}`);
  work.notify(['manager', 'sales'], `${shipment.number} left for ${order.number}`, { kind: 'shipment', id });
  return shipmentView(work, id);
}

/** What leaves for a line: the pieces that were named, else what expires first, else bin by bin. Serial numbers must be named. */
function takesOf(work: Work, line: LineRecord, warehouse: number, date: string): Take[] {
  const picks = work.rows<{ bin: number; lot: string; serial: string; quantity: number }>(
    'select bin_id as bin, lot, serial, quantity from shipment_pick where line_id = ? order by id',
    line.id,
  );
  if (picks.length > 0) {
    return picks.map(({ bin, lot, serial, quantity }) => ({
      key: { item: line.itemId, warehouse, bin, lot, serial, state: 'available' },
      quantity: asQuantity(quantity),
    }));
  }
  const { code } = itemFacts(work, line.itemId);
  if (trackingOf(work, line.itemId).tracking === 'serial')
    throw new Refusal('serialNeeded', `Name the serial numbers of ${code} that leave: each customer's piece is known by its number.`);
  return takeFromBins(work, line.itemId, warehouse, line.quantity, 'sell', date);
}

/** A warranty begins on the day on which the piece leaves. */
function startWarranties(work: Work, moves: readonly MoveRequest[], date: string): void {
  for (const move of moves) {
    if (move.from.kind !== 'stock' || move.from.key.serial === '') continue;
    const until = warrantyEnd(date, trackingOf(work, move.item).warrantyMonths);
    if (until !== null)
      work.run(
        'update serial_number set warranty_until = ? where item_id = ? and code = ? and warranty_until is null',
        until,
        move.item,
        move.from.key.serial,
      );
  }
}

/** Drops a shipment that has not left; what was reserved stays reserved. */
export function cancelShipment(work: Work, id: number, version: number): ShipmentView {
  const shipment = shipmentOf(work, id);
  assertVersion(work, 'shipment', shipment, version, shipment.number);
  assertHere(shipment);
  work.run("update shipment set state = 'cancelled', version = version + 1 where id = ?", id);
  work.record('shipment', id, `dropped ${shipment.number}`);
  return shipmentView(work, id);
}

/** Takes a shipment back that is not invoiced: stock returns at the cost it left with and is reserved again. */
export function reverseShipment(work: Work, id: number, version: number): ShipmentView {
  const shipment = shipmentOf(work, id);
  assertVersion(work, 'shipment', shipment, version, shipment.number);
  if (shipment.state !== 'shipped')
    throw new Refusal('wrongState', `${shipment.number} is ${shipment.state}: only what has shipped can be taken back.`);
  const order = orderOf(work, shipment.orderId);
  const lines = shipmentLines(work, id);
  const ordered = linesOf(work, order.id);
  for (const line of lines) {
    const orderLine = ordered.find((each) => each.id === line.orderLineId);
    if (orderLine && orderLine.shipped - line.quantity < orderLine.invoiced)
      throw new Refusal('invoiced', `${shipment.number} is invoiced: take the invoice back first.`);
  }
  reverseMoves(work, { kind: 'shipment', id, number: shipment.number }, work.today);
  for (const line of lines) {
    work.run('update customer_order_line set shipped = shipped - ? where id = ?', line.quantity, line.orderLineId);
    if (itemFacts(work, line.itemId).kind === 'stocked') {
      const wanted = asQuantity(reservedFor(work, 'customerOrder', line.orderLineId) + line.quantity);
      reserveFree(
        work,
        line.itemId,
        shipment.warehouseId,
        { kind: 'customerOrder', id: line.orderLineId, documentId: order.id, documentNumber: order.number },
        wanted,
      );
    }
  }
  work.run("update shipment set state = 'reversed', version = version + 1 where id = ?", id);
  refreshOrder(work, order.id);
  work.record('shipment', id, `took ${shipment.number} back`);
  return shipmentView(work, id);
}
