/** What the check must not find: what can be derived by a query, and what contradicts itself. */
import { and, eq, exists, gt, isNotNull, isNull, lt, ne, not, or, sql, type SQL } from 'drizzle-orm';
import { unionAll, type SQLiteColumn, type SQLiteTable } from 'drizzle-orm/sqlite-core';
import { invoice, invoiceLine } from '../accounts';
import { item } from '../catalogue';
import type { Database } from '../platform/database';
import { inner, or0, scalar, total } from '../platform/expressions';
import { query, type Query } from '../platform/query';
import { trailLink } from '../platform/schema';
import { customerReturn, customerReturnLine } from '../returns';
import { FROM_STOCK, IN_WORK, customerOrder, customerOrderLine, stillToShip } from '../selling';
import {
  balance,
  costLayer,
  costPool,
  lot,
  promisedUnreserved,
  reservation,
  reservedStock,
  serialNumber,
  sumOfBalances,
  transfer,
  transferLine,
  transferPiece,
  worthChange,
} from '../stores';

/** Of an item in a warehouse: something kept, and what it must be made up of with the other sign. */
type Side = SQLiteColumn | SQL;
function side(db: Database, from: SQLiteTable, item: Side, warehouse: Side, quantity: Side, value: Side, where?: SQL) {
  return db
    .select({
      item: sql`${item}`.as('item'),
      warehouse: sql`${warehouse}`.as('warehouse'),
      quantity: sql`${quantity}`.as('quantity'),
      value: sql`${value}`.as('value'),
    })
    .from(from)
    .where(where);
}

type Sides = ReturnType<typeof side>;

/** Items in warehouses where the two sides do not come to nothing together. */
function differing(db: Database, one: Sides, other: Sides) {
  const both = unionAll(one, other).as('both');
  return db
    .select({ item: both.item })
    .from(both)
    .groupBy(sql`${both.item}`, sql`${both.warehouse}`)
    .having(sql`sum(${both.quantity}) <> 0 or sum(${both.value}) <> 0`);
}

const none = sql`0`;
const less = (column: SQLiteColumn): SQL => sql`-${column}`;
const isFifo = exists(
  inner
    .select({ one: sql`1` })
    .from(item)
    .where(and(eq(item.id, costPool.itemId), eq(item.costing, 'fifo'))),
);
const lotKnown = exists(
  inner
    .select({ one: sql`1` })
    .from(lot)
    .where(and(eq(lot.itemId, balance.itemId), eq(lot.code, balance.lot))),
);
const serialKnown = exists(
  inner
    .select({ one: sql`1` })
    .from(serialNumber)
    .where(and(eq(serialNumber.itemId, balance.itemId), eq(serialNumber.code, balance.serial))),
);
const ONE_PIECE = 100_000;

/** What must not be there: a name for each, and a query of what was found. */
export const NOTHING_WRONG: readonly (readonly [string, Query<Record<never, never>, object>])[] = [
  ['No balance below zero', query(() => (db) => db.select({ item: balance.itemId }).from(balance).where(lt(balance.quantity, none)))],
  [
    'Pieces valued equal pieces kept',
    query(
      () => (db) =>
        differing(
          db,
          side(db, balance, balance.itemId, balance.warehouseId, balance.quantity, none),
          side(db, costPool, costPool.itemId, costPool.warehouseId, less(costPool.quantity), none),
        ),
    ),
  ],
  [
    'Layers of stock costed first in, first out equal what is kept',
    query(
      () => (db) =>
        differing(
          db,
          side(db, costLayer, costLayer.itemId, costLayer.warehouseId, costLayer.quantity, costLayer.value),
          side(db, costPool, costPool.itemId, costPool.warehouseId, less(costPool.quantity), less(costPool.value), isFifo),
        ),
    ),
  ],
  [
    'Changes of worth add up to what stock is worth',
    query(
      () => (db) =>
        differing(
          db,
          side(db, worthChange, worthChange.itemId, worthChange.warehouseId, worthChange.quantity, worthChange.value),
          side(db, costPool, costPool.itemId, costPool.warehouseId, less(costPool.quantity), less(costPool.value)),
        ),
    ),
  ],
  [
    'Every lot and serial number in stock is known and fits its item',
    query(
      () => (db) =>
        db
          .select({ item: balance.itemId })
          .from(balance)
          .innerJoin(item, eq(item.id, balance.itemId))
          .where(
            or(
              sql`(${item.tracking} = 'lot') <> (${balance.lot} <> '')`,
              sql`(${item.tracking} = 'serial') <> (${balance.serial} <> '')`,
              sql`${balance.serial} <> '' and ${balance.quantity} <> ${ONE_PIECE}`,
              and(sql`${balance.lot} <> ''`, not(lotKnown)),
              and(sql`${balance.serial} <> ''`, not(serialKnown)),
            ),
          ),
    ),
  ],
  [
    'No serial number in two places',
    query(
      () => (db) =>
        db
          .select({ item: balance.itemId })
          .from(balance)
          .where(sql`${balance.serial} <> ''`)
          .groupBy(balance.itemId, balance.serial)
          .having(sql`count(*) > 1`),
    ),
  ],
  [
    'Nothing of a blocked lot is available',
    query(
      () => (db) =>
        db
          .select({ item: balance.itemId })
          .from(balance)
          .innerJoin(lot, and(eq(lot.itemId, balance.itemId), eq(lot.code, balance.lot)))
          .where(and(sql`${balance.lot} <> ''`, eq(lot.blocked, true), eq(balance.state, 'available'))),
    ),
  ],
  ['What is in transit equals what transfers have under way', query(() => (db) => inTransitWrong(db))],
  [
    'Reservations within what is available',
    query(
      () => (db) =>
        db
          .select({ item: reservation.itemId })
          .from(reservation)
          .groupBy(reservation.itemId, reservation.warehouseId)
          .having(
            sql`sum(${reservation.quantity}) > ${sumOfBalances(
              eq(balance.itemId, reservation.itemId),
              eq(balance.warehouseId, reservation.warehouseId),
              eq(balance.state, 'available'),
            )}`,
          ),
    ),
  ],
  [
    'Reserved in all equals reservations',
    query(
      () => (db) =>
        differing(
          db,
          side(db, reservation, reservation.itemId, reservation.warehouseId, reservation.quantity, none),
          side(db, reservedStock, reservedStock.itemId, reservedStock.warehouseId, less(reservedStock.quantity), none),
        ),
    ),
  ],
  [
    'No order line has more reserved than it still wants',
    query(
      () => (db) =>
        db
          .select({ id: reservation.id })
          .from(reservation)
          .innerJoin(customerOrderLine, and(eq(reservation.holderKind, 'customerOrder'), eq(customerOrderLine.id, reservation.holderId)))
          .where(gt(reservation.quantity, stillToShip)),
    ),
  ],
  [
    'Whoever is promised what they have not reserved is known',
    query(
      () => (db) =>
        db
          .select({ id: customerOrderLine.id })
          .from(customerOrderLine)
          .innerJoin(customerOrder, eq(customerOrder.id, customerOrderLine.orderId))
          .innerJoin(item, and(eq(item.id, customerOrderLine.itemId), eq(item.kind, 'stocked')))
          .leftJoin(reservation, and(eq(reservation.holderKind, 'customerOrder'), eq(reservation.holderId, customerOrderLine.id)))
          .leftJoin(
            promisedUnreserved,
            and(eq(promisedUnreserved.itemId, customerOrderLine.itemId), eq(promisedUnreserved.warehouseId, customerOrder.warehouseId)),
          )
          .where(
            and(
              IN_WORK,
              FROM_STOCK,
              isNotNull(customerOrderLine.promiseDate),
              gt(stillToShip, sql`coalesce(${reservation.quantity}, 0)`),
              isNull(promisedUnreserved.itemId),
            ),
          ),
    ),
  ],
  [
    'What returns have given back stands on credit notes',
    query(
      () => (db) =>
        db
          .select({ id: customerReturn.id })
          .from(customerReturn)
          .where(sql`${or0(scalar(givenBack))} <> -${or0(scalar(onCreditNotes))}`),
    ),
  ],
];

/** Pieces that a return says it gave back in money, and those on its credit notes, which are below 0. */
const givenBack = inner
  .select({ credited: total(customerReturnLine.credited) })
  .from(customerReturnLine)
  .where(eq(customerReturnLine.returnId, customerReturn.id));
const onCreditNotes = inner
  .select({ quantity: total(invoiceLine.quantity) })
  .from(trailLink)
  .innerJoin(invoice, and(eq(invoice.id, trailLink.toId), ne(invoice.state, 'reversed')))
  .innerJoin(invoiceLine, eq(invoiceLine.invoiceId, invoice.id))
  .where(and(eq(trailLink.fromKind, 'customerReturn'), eq(trailLink.fromId, customerReturn.id), eq(trailLink.toKind, 'invoice')));

/** Pieces in transit by lot and serial number that differ from what transfers have under way. */
function inTransitWrong(db: Database) {
  const pieces = (from: SQLiteTable, columns: readonly [Side, Side, Side, Side, Side]) => {
    const [itemId, warehouseId, lotCode, serial, quantity] = columns;
    return db
      .select({
        item: sql`${itemId}`.as('item'),
        warehouse: sql`${warehouseId}`.as('warehouse'),
        lot: sql`${lotCode}`.as('lot'),
        serial: sql`${serial}`.as('serial'),
        quantity: sql`${quantity}`.as('quantity'),
      })
      .from(from);
  };
  const both = unionAll(
    pieces(balance, [balance.itemId, balance.warehouseId, balance.lot, balance.serial, balance.quantity]).where(eq(balance.state, 'inTransit')),
    pieces(transferPiece, [
      transferLine.itemId,
      transfer.toId,
      transferPiece.lot,
      transferPiece.serial,
      sql`${transferPiece.arrived} - ${transferPiece.quantity}`,
    ])
      .innerJoin(transferLine, eq(transferLine.id, transferPiece.lineId))
      .innerJoin(transfer, eq(transfer.id, transferLine.transferId)),
  ).as('both');
  return db
    .select({ item: both.item })
    .from(both)
    .groupBy(sql`${both.item}`, sql`${both.warehouse}`, sql`${both.lot}`, sql`${both.serial}`)
    .having(sql`sum(${both.quantity}) <> 0`);
}
