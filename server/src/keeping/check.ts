/** The check of everything kept: what can be derived is derived again and compared. */
import { and, eq, exists, gt, isNotNull, isNull, lt, ne, not, or, sql, type SQL } from 'drizzle-orm';
import { unionAll, type SQLiteColumn, type SQLiteTable } from 'drizzle-orm/sqlite-core';
import { keyText, rebuildBalances, type Move, type Place, type StockKey } from '@terrace/core';
import { invoice, invoiceLine, proveAccounts } from '../accounts';
import { importRun } from '../bulk';
import { item } from '../catalogue';
import { damageOf } from '../platform/database-file';
import type { Database, Store } from '../platform/database';
import { documentSpecs } from '../platform/documents';
import { inner, or0, scalar, total } from '../platform/expressions';
import { query, type Query } from '../platform/query';
import { sequence, trailLink } from '../platform/schema';
import { NOBODY, Work } from '../platform/work';
import { customerReturn, customerReturnLine } from '../returns';
import { registerRooms } from '../rooms';
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
  stockMove,
  sumOfBalances,
  transfer,
  transferLine,
  transferPiece,
  worthChange,
} from '../stores';

export interface CheckLine {
  readonly check: string;
  readonly holds: boolean;
  readonly detail: string;
}

const moves = query(
  () => (db) =>
    db
      .select({
        item: stockMove.itemId,
        quantity: stockMove.quantity,
        fromKind: stockMove.fromKind,
        fromId: stockMove.fromId,
        fromBin: stockMove.fromBinId,
        fromLot: stockMove.fromLot,
        fromSerial: stockMove.fromSerial,
        fromState: stockMove.fromState,
        toKind: stockMove.toKind,
        toId: stockMove.toId,
        toBin: stockMove.toBinId,
        toLot: stockMove.toLot,
        toSerial: stockMove.toSerial,
        toState: stockMove.toState,
      })
      .from(stockMove)
      .orderBy(stockMove.id),
);
const balances = query(
  () => (db) =>
    db
      .select({
        item: balance.itemId,
        warehouse: balance.warehouseId,
        bin: balance.binId,
        lot: balance.lot,
        serial: balance.serial,
        state: balance.state,
        quantity: balance.quantity,
      })
      .from(balance),
);

function placeOf(item: number, kind: Place['kind'], id: number, key: { bin: number; lot: string; serial: string; state: string }): Place {
  return kind === 'stock' ? { kind, key: { item, warehouse: id, ...key, state: key.state as StockKey['state'] } } : { kind, id };
}

function* movesOf(work: Work): Generator<Move> {
  for (const row of moves.each(work)) {
    const from = { bin: row.fromBin, lot: row.fromLot, serial: row.fromSerial, state: row.fromState };
    const to = { bin: row.toBin, lot: row.toLot, serial: row.toSerial, state: row.toState };
    yield {
      item: row.item,
      quantity: row.quantity,
      from: placeOf(row.item, row.fromKind, row.fromId, from),
      to: placeOf(row.item, row.toKind, row.toId, to),
    };
  }
}

function line(check: string, holds: boolean, detail: string): CheckLine {
  return { check, holds, detail };
}

function checkLedger(work: Work): CheckLine {
  const rebuilt = rebuildBalances(movesOf(work));
  const kept = balances.all(work);
  const wrong = kept.filter((row) => rebuilt.get(keyText(row)) !== row.quantity).length + Math.max(0, rebuilt.size - kept.length);
  return line('Ledger rebuilt equals balances', wrong === 0, `${kept.length} balances, ${wrong} differ`);
}

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
const NOTHING_WRONG: readonly (readonly [string, Query<Record<never, never>, object>])[] = [
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

const numbersGiven = query(
  () => (db) =>
    db
      .select({ kind: sequence.kind, n: sql<number>`sum(${sequence.given})` })
      .from(sequence)
      .groupBy(sequence.kind),
);
const rowsOf = new Map<string, Query<Record<never, never>, { n: number }>>();

/** Kinds of documents of which there are not as many as numbers were given out. */
function numbersWrong(work: Work): string[] {
  const given = new Map(numbersGiven.all(work).map((each) => [each.kind, each.n]));
  return numberedTables().flatMap(({ prefix, table, ownNumber }) => {
    const counted =
      rowsOf.get(prefix) ??
      query(
        () => (db) =>
          db
            .select({ n: sql<number>`count(*)` })
            .from(table)
            .where(ownNumber),
      );
    rowsOf.set(prefix, counted);
    return (counted.one(work)?.n ?? 0) === (given.get(prefix) ?? 0) ? [] : [prefix];
  });
}

/** Checks a database without changing it. */
export function checkStore(store: Store, today: string): CheckLine[] {
  registerRooms();
  const { integrity, orphans } = damageOf(store);
  const work = new Work(store, { ...NOBODY, name: 'check' }, today, today);
  const nothing = (check: string, found: number): CheckLine => line(check, found === 0, found === 0 ? 'none' : `${found} found`);
  return [
    line('Database is whole', integrity === 'ok', integrity),
    line('References lead somewhere', orphans === 0, `${orphans} lead nowhere`),
    checkLedger(work),
    ...NOTHING_WRONG.map(([check, wrong]) => nothing(check, wrong.all(work).length)),
    nothing('No document number twice or missing', numbersWrong(work).length),
    ...proveAccounts(work).checks.map((each) =>
      line(each.name, each.holds, each.holds ? each.found : `expected ${each.expected}, found ${each.found}`),
    ),
  ];
}

/** The tables whose rows have numbers of their own; suggestions that are kept are no documents: they go when they are released. */
function numberedTables(): { readonly prefix: string; readonly table: SQLiteTable; readonly ownNumber?: SQL | undefined }[] {
  const documents = documentSpecs().flatMap(({ prefix, table, ownNumber, alsoNumbered = [] }) => [
    ...(prefix === null ? [] : [{ prefix, table, ownNumber }]),
    ...alsoNumbered.map((each) => ({ prefix: each.prefix, table, ownNumber: each.which })),
  ]);
  return [...documents, { prefix: 'IM', table: importRun }];
}
